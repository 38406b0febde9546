//! The cloths of a costume.

use crate::document::FabricId;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use ts_rs::TS;

/// A cloth of the costume: a swatch of the swatch book with a colour and an optional print.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Fabric {
    /// Its own within the costume.
    pub id: FabricId,
    /// As the designer called it.
    pub name: String,
    /// Key in the swatch book, see [`crate::swatch`].
    pub swatch: String,
    /// `#rrggbb`.
    pub colour: String,
    /// What is printed on it.
    #[serde(default)]
    pub print: Option<Print>,
    /// Values that differ from the swatch, by key such as `bend-warp`, in the swatch book's units.
    #[serde(default, rename = "own", skip_serializing_if = "BTreeMap::is_empty")]
    #[ts(as = "Option<BTreeMap<String, f64>>", optional)]
    pub overrides: BTreeMap<String, f64>,
}

/// A repeating print that lies along the grain.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Print {
    /// Key of the motif, such as `salt-crystals`.
    pub motif: String,
    /// Side of the square repeat in mm.
    pub repeat: f64,
    /// `#rrggbb` of the motif.
    pub colour: String,
}
