//! Flat patterns of other programs and for them: pieces as plain geometry, SVG and DXF both ways.

mod dxf_curves;
mod dxf_pairs;
mod dxf_reading;
mod dxf_writing;
mod loops;
mod svg_reading;
mod svg_writing;

pub use dxf_writing::dxf;
use kurbo::{BezPath, ParamCurve, ParamCurveDeriv, ParamCurveNearest, Point, Vec2};
pub(crate) use svg_writing::lines as drawn_lines;
pub use svg_writing::{FlatKind, svg};

/// Bounds on what is read; a file beyond one is refused whole.
pub mod pattern_limits {
    /// Of a file.
    pub const FILE_BYTES: usize = 16 << 20;
    /// Closed and open paths in all.
    pub const PATHS: usize = 20_000;
    /// Points of all paths.
    pub const POINTS: usize = 400_000;
    /// Pieces that are made of them.
    pub const PIECES: usize = 400;
    /// Groups or blocks within each other.
    pub const DEPTH: usize = 24;
    /// Farthest from the origin, mm.
    pub const REACH: f64 = 100_000.0;
}

/// A pattern piece as plain geometry, mm with y upwards.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct PlainPiece {
    /// As the file calls it.
    pub name: String,
    /// `#rrggbb` of its fabric.
    pub colour: Option<String>,
    /// How many are cut.
    pub count: Option<u8>,
    /// The sewing line, closed; one segment for every line.
    pub outline: BezPath,
    /// The cutting lines, closed, where they are told apart from the sewing line.
    pub cutting: Vec<BezPath>,
    /// Closed.
    pub cutouts: Vec<BezPath>,
    /// Folds and other lines inside.
    pub inside: Vec<(FlatKind, BezPath)>,
    /// On the outline; double or single.
    pub notches: Vec<(Point, bool)>,
    pub holes: Vec<Point>,
    pub texts: Vec<(Point, String)>,
    /// From its lower to its upper end.
    pub grain: Option<[Point; 2]>,
    /// The line on which its other half begins.
    pub fold: Option<[Point; 2]>,
    /// Points of the outline that are corners, where the file tells; an outline of many short lines is a curve between them.
    pub corners: Vec<Point>,
    /// Of a pattern in several sizes: which of them it is of, counted from 0, and how that is called.
    pub size: Option<(usize, String)>,
}

/// What a file comes to.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct PlainPattern {
    pub pieces: Vec<PlainPiece>,
    /// What was not understood, with its place in the file.
    pub left_out: Vec<String>,
}

/// Reads the pieces of a pattern; the ending of `name` says what it is.
///
/// ```
/// let text = br#"<svg xmlns="http://www.w3.org/2000/svg" width="200mm" height="100mm" viewBox="0 0 200 100">
///   <g id="Pocket"><path d="M10 10 H150 V90 H10 Z"/></g></svg>"#;
/// let found = formats::read_pattern("pocket.svg", text)?;
/// assert_eq!(found.pieces[0].name, "Pocket");
/// assert!(formats::read_pattern("pocket.svg", b"<svg").is_err());
/// # Ok::<(), formats::ReadFault>(())
/// ```
pub fn read_pattern(name: &str, bytes: &[u8]) -> Result<PlainPattern, crate::ReadFault> {
    crate::reading::at_most("bytes", bytes.len(), pattern_limits::FILE_BYTES)?;
    let ending = name.rsplit_once('.').map_or("", |(_, e)| e).to_ascii_lowercase();
    match ending.as_str() {
        "svg" => svg_reading::read(bytes),
        "dxf" => dxf_reading::read(bytes),
        _ => Err(crate::ReadFault::Ending(ending)),
    }
}

/// The direction of an outline at the place nearest to a point, of length 1.
fn along(outline: &BezPath, at: Point) -> Vec2 {
    let near = outline.segments().map(|s| (s, s.nearest(at, 1e-3))).min_by(|a, b| a.1.distance_sq.total_cmp(&b.1.distance_sq));
    let way = near.map(|(segment, place)| segment.to_cubic().deriv().eval(place.t).to_vec2()).unwrap_or_default();
    if way.hypot() > 0.0 { way.normalize() } else { Vec2::new(1.0, 0.0) }
}
