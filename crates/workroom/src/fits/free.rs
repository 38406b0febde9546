//! What may change while a garment is fitted to its ease, and by how much it did.

use costume::{BlockId, Costume, Edit, NodeId, PieceId, Point, Refusal, recipe};
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;
use ts_rs::TS;

/// A change by one number of mm.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(tag = "kind", rename_all = "kebab-case", deny_unknown_fields)]
pub enum FreeValue {
    /// A value of a block, such as its ease at the chest.
    Block { block: BlockId, value: String },
    /// Corners of a piece, moved along a direction (in the frame of the piece, of any length but 0).
    Nodes { piece: PieceId, nodes: Vec<NodeId>, along: Point },
    /// Pieces made wider (or, with `up`, longer) about their middle, all by the same amount.
    Size {
        pieces: Vec<PieceId>,
        #[serde(default)]
        up: bool,
    },
}

/// Most mm by which a value is changed.
const FARTHEST: f64 = 400.0;

impl FreeValue {
    /// How it is called in reports.
    pub fn words(&self, costume: &Costume) -> String {
        let name = |id: &PieceId| costume.piece(*id).map_or_else(|| "a piece".to_owned(), |p| p.name.clone());
        match self {
            Self::Block { block, value } => {
                let used = costume.blocks.iter().find(|b| b.id == *block).and_then(|b| recipe(&b.recipe));
                let known =
                    used.and_then(|r| r.values.iter().find(|v| v.key == value).map(|v| format!("{}, {}", r.name, v.name.to_lowercase())));
                known.unwrap_or_else(|| value.clone())
            }
            Self::Nodes { piece, nodes, .. } => format!("{} of {}", if nodes.len() == 1 { "a corner" } else { "corners" }, name(piece)),
            Self::Size { pieces, up } => {
                let names: Vec<String> = pieces.iter().map(name).collect();
                format!("{} of {}", if *up { "height" } else { "width" }, names.join(", "))
            }
        }
    }

    /// Least and most change, mm.
    pub(super) fn range(&self, costume: &Costume) -> Result<[f64; 2], Refusal> {
        let Self::Block { block, value } = self else { return Ok([-FARTHEST, FARTHEST]) };
        let (known, now) = block_value(costume, *block, value)?;
        if known.unit != "mm" {
            return Err(Refusal::elsewhere(known.name, "is not a length", "choose a value in mm"));
        }
        Ok([(known.range[0] - now).max(-FARTHEST), (known.range[1] - now).min(FARTHEST)])
    }

    /// The step that changes it by `mm` from how the costume has it.
    pub(super) fn edit(&self, costume: &Costume, mm: f64) -> Result<Edit, Refusal> {
        // a hundredth of a mm is as fine as any pattern is cut
        let mm = (100.0 * mm).round() / 100.0;
        match self {
            Self::Block { block, value } => {
                let (_, now) = block_value(costume, *block, value)?;
                let used = costume.blocks.iter().find(|b| b.id == *block).ok_or_else(|| gone("block"))?;
                let mut values = used.values.clone();
                values.insert(value.clone(), now + mm);
                Ok(Edit::ChangeBlock { block: *block, values, measures: Default::default() })
            }
            Self::Nodes { piece, nodes, along } => {
                let length = along.x.hypot(along.y);
                if !(length > 1e-9 && length.is_finite()) {
                    return Err(Refusal::elsewhere("direction", "has no length", "say where the corners are to go"));
                }
                let by = Point::new(along.x / length * mm, along.y / length * mm);
                Ok(Edit::MoveNodes { piece: *piece, nodes: nodes.clone(), by, reach: 0.0 })
            }
            Self::Size { pieces, up } => {
                let cut = costume::resolve(costume);
                let scaled = |id: &PieceId| {
                    let piece = cut.pieces.iter().find(|p| p.id == *id).ok_or_else(|| gone("piece"))?;
                    let size = piece.size()[usize::from(*up)];
                    let factor = (size + mm).max(1.0) / size;
                    let [x, y] = if *up { [1.0, factor] } else { [factor, 1.0] };
                    Ok(Edit::ScalePiece { piece: *id, x, y })
                };
                // a piece and its twin are one drawing
                let owners: BTreeSet<PieceId> = pieces.iter().map(|p| costume.owner(*p)).collect();
                Ok(Edit::Batch { edits: owners.iter().map(scaled).collect::<Result<_, Refusal>>()? })
            }
        }
    }
}

fn gone(what: &str) -> Refusal {
    Refusal::elsewhere(what, "is not in the costume any more", "choose another")
}

/// A value of a block by its recipe, and what it is now.
fn block_value(costume: &Costume, block: BlockId, value: &str) -> Result<(&'static costume::BlockValue, f64), Refusal> {
    let used = costume.blocks.iter().find(|b| b.id == block).ok_or_else(|| gone("block"))?;
    let recipe = recipe(&used.recipe).ok_or_else(|| gone("recipe"))?;
    let known = recipe.values.iter().find(|v| v.key == value);
    let known = known.ok_or_else(|| Refusal::elsewhere(recipe.name, format!("has no value `{value}`"), "choose one of its values"))?;
    let now = recipe.all_values(&used.measures, &used.values).get(value).copied().unwrap_or(known.usual);
    Ok((known, now))
}

/// By how much a value was changed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
pub struct SizeChange {
    /// Which, in words.
    pub name: String,
    /// mm.
    pub by: f64,
}

/// A piece before and after, mm: width and height of the box around it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
pub struct PieceChange {
    pub name: String,
    pub before: [f64; 2],
    pub after: [f64; 2],
}

/// Pieces that are of another size, by more than a tenth of a mm.
pub(super) fn changed_pieces(before: &Costume, after: &Costume) -> Vec<PieceChange> {
    let (before, after) = (costume::resolve(before), costume::resolve(after));
    let pair = |p: &costume::PatternPiece| {
        let now = after.pieces.iter().find(|q| q.id == p.id)?;
        let change = PieceChange { name: p.name.clone(), before: p.size(), after: now.size() };
        (0..2).any(|k| (change.before[k] - change.after[k]).abs() > 0.1).then_some(change)
    };
    before.pieces.iter().filter_map(pair).collect()
}
