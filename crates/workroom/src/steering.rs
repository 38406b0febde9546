//! Blocks steered on the stand: which places of the body move when a value of a block changes, and which way.

use crate::place::{before_station, standing_at};
use body::PosedBody;
use costume::{BlockId, BlockUse, Costume, Edit, Pattern, PieceId, recipe, resolve};
use glam::{DVec2, DVec3};
use kurbo::{ParamCurve, Shape};

/// Values that are steered on the stand: where the neck, a sleeve, a leg and a hem end.
const STEERED: [&str; 4] = ["neck", "sleeve", "leg", "length"];
/// By which a value is changed to see what moves, mm.
const STEP: f64 = 10.0;
/// What moves less than this share of the change is not steered by it.
const LEAST: f64 = 0.2;

/// A place on the stand by which a value of a block is dragged.
#[derive(Clone, Debug, PartialEq)]
pub struct Grip {
    /// The block that it steers.
    pub block: BlockId,
    /// Key and name of the value.
    pub key: &'static str,
    pub name: &'static str,
    /// Where it is, m.
    pub at: [f64; 3],
    /// How it moves when the value grows by a millimetre, mm.
    pub axis: [f64; 3],
    /// The value now, mm, and its limits.
    pub value: f64,
    pub low: f64,
    pub high: f64,
}

/// The places by which the blocks of a costume are steered on a posed body.
///
/// ```
/// use costume::{Costume, Edit, Point};
///
/// let edit = Edit::AddBlock {
///     recipe: "straight-skirt".into(),
///     values: Default::default(),
///     measures: Default::default(),
///     at: Point::new(0.0, 0.0),
/// };
/// let skirt = workroom::apply(&Costume::new("Skirt"), &edit)?;
/// let figure = workroom::rough_figure(&skirt.body)?;
/// let grips = workroom::grips(&skirt, &figure.stand(&figure.rig.skeleton.rotations(&Default::default())));
/// // the hem goes down when the skirt grows longer
/// let hem = grips.iter().find(|g| g.key == "length").unwrap();
/// assert!(hem.axis[1] < -0.9 && hem.at[1] < 0.8);
/// # Ok::<(), costume::Refusal>(())
/// ```
pub fn grips(costume: &Costume, posed: &PosedBody) -> Vec<Grip> {
    let now = resolve(costume);
    costume
        .blocks
        .iter()
        .flat_map(|block| STEERED.iter().filter_map(|key| grip(costume, &now, posed, block, key)).collect::<Vec<_>>())
        .collect()
}

fn grip(costume: &Costume, now: &Pattern, posed: &PosedBody, block: &BlockUse, key: &str) -> Option<Grip> {
    let known = recipe(&block.recipe)?.values.iter().find(|v| v.key == key && v.unit == "mm")?;
    let value = *block.all_values().get(key)?;
    let [low, high] = known.range;
    let step = if value + STEP <= high { STEP } else { -STEP };
    let mut values = block.values.clone();
    values.insert(key.to_owned(), value + step);
    let then = resolve(&crate::apply(costume, &Edit::ChangeBlock { block: block.id, values, measures: block.measures.clone() }).ok()?);
    let moves = block.pieces.iter().flat_map(|piece| moved(now, &then, *piece));
    // the place that goes farthest; of places that go as far, the one most to the right of the piece
    let most = moves.max_by(|a, b| {
        (a.by.length().round(), a.from.x).partial_cmp(&(b.by.length().round(), b.from.x)).unwrap_or(std::cmp::Ordering::Equal)
    })?;
    if most.by.length() < LEAST * STEP {
        return None;
    }
    let placement = costume.piece(most.piece)?.placement.as_ref()?;
    let station = posed.station(&placement.station)?;
    let [from, to] = [most.from, most.from + most.by].map(|p| standing_at(p * 0.001, station));
    let axis: DVec3 = (to? - from?) * 1000.0 / step;
    Some(Grip { block: block.id, key: known.key, name: known.name, at: from?.to_array(), axis: axis.to_array(), value, low, high })
}

/// A corner of a piece: where it is before its station, mm to the right and up, and by how much it moves.
struct Moved {
    piece: PieceId,
    from: DVec2,
    by: DVec2,
}

/// The corners of a drawn piece that is hung.
fn moved(now: &Pattern, then: &Pattern, id: PieceId) -> Vec<Moved> {
    let hung = |pattern: &Pattern| {
        // twins follow their partners, also in this
        let piece = pattern.pieces.iter().find(|p| p.id == id && p.twin_of.is_none())?;
        let middle = piece.outline_path().bounding_box().center();
        let place = before_station(DVec2::new(middle.x, middle.y), piece.placement.as_ref()?);
        let corners = piece.outline.iter().map(|l| piece.lines[*l].curve.start());
        Some(corners.map(|p| place(DVec2::new(p.x, p.y))).collect::<Vec<_>>())
    };
    let Some((before, after)) = hung(now).zip(hung(then)).filter(|(a, b)| a.len() == b.len()) else { return Vec::new() };
    before.iter().zip(after).map(|(from, to)| Moved { piece: id, from: *from, by: to - *from }).collect()
}
