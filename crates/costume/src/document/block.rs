//! Pieces that were drafted from body measures and follow them until they are changed by hand.

use crate::document::{BlockId, PieceId};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use ts_rs::TS;

/// A block on the table: its recipe with the values chosen, the measures it was last drafted from, and its pieces.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct BlockUse {
    /// Its own within the costume.
    pub id: BlockId,
    /// Key of the recipe.
    pub recipe: String,
    /// Values that are not the usual ones, by their keys.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    #[ts(as = "Option<BTreeMap<String, f64>>", optional)]
    pub values: BTreeMap<String, f64>,
    /// Measures in mm, by their keys.
    pub measures: BTreeMap<String, f64>,
    /// In the order of the recipe, twins after them.
    pub pieces: Vec<PieceId>,
}

impl BlockUse {
    /// All values that it is drafted with, chosen or usual on its body; none for a recipe that this build lacks.
    pub fn all_values(&self) -> BTreeMap<String, f64> {
        crate::recipe(&self.recipe).map(|r| r.all_values(&self.measures, &self.values)).unwrap_or_default()
    }
}
