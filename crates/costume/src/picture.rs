//! The flat pieces of a costume as a small drawing.

use crate::{Costume, PatternPiece, resolve};
use kurbo::{Affine, BezPath, Shape};
use serde::Serialize;
use ts_rs::TS;

/// Outlines as they lie on the table, in mm with y downwards.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct FlatPicture {
    /// Left, top, width and height of the drawing.
    pub view: [f64; 4],
    /// All that are not parked, or all when all are.
    pub pieces: Vec<FlatOutline>,
}

/// One outline as the data of an SVG path (SVG 1.1, 8.3), with the colour of its fabric (`#rrggbb`).
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct FlatOutline {
    /// Commands of an SVG path.
    pub path: String,
    /// `#rrggbb` of its fabric.
    pub colour: String,
}

/// The drawing of a costume; none while it has no piece.
///
/// ```
/// use costume::{Costume, Edit, Point, apply, flat_picture};
///
/// let points = [(0.0, 0.0), (300.0, 0.0), (300.0, 200.0), (0.0, 200.0)].map(|(x, y)| Point::new(x, y).into()).to_vec();
/// let band = Edit::AddPiece { name: "Band".into(), at: Point::new(100.0, 0.0), points, fold: None };
/// let costume = apply(&Costume::new("Tabard"), &band)?;
/// assert_eq!(flat_picture(&costume).map(|p| p.view), Some([100.0, -200.0, 300.0, 200.0]));
/// # Ok::<(), costume::Refusal>(())
/// ```
pub fn flat_picture(costume: &Costume) -> Option<FlatPicture> {
    let pattern = resolve(costume);
    let laid: Vec<(&PatternPiece, BezPath)> = pattern.pieces.iter().map(|p| (p, on_table(p))).collect();
    let bounds = laid.iter().map(|(_, path)| path.bounding_box()).reduce(|a, b| a.union(b))?;
    let colour = |p: &PatternPiece| costume.fabric(p.fabric).map_or_else(|| "#ffffff".to_owned(), |f| f.colour.clone());
    Some(FlatPicture {
        view: [bounds.x0, bounds.y0, bounds.width(), bounds.height()],
        pieces: laid.iter().map(|(p, path)| FlatOutline { path: path.to_svg(), colour: colour(p) }).collect(),
    })
}

fn on_table(piece: &PatternPiece) -> BezPath {
    Affine::FLIP_Y * piece.on_table() * piece.path()
}
