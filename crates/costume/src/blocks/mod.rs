//! Blocks: pieces drafted from body measures by recipes. A recipe is a list of values with ranges and a function from
//! measures and values to pieces, seams and stations; `docs/blocks.md` has the formulas.

mod bands;
mod drafting;
mod frame;
mod legs;
mod neckwear;
mod skirts;
mod sleeves;
mod tubes;
mod upper;

pub(crate) use drafting::{Draft, PieceDraft, Side};

use crate::{Quantity, Refusal, RefusalKind};
use std::collections::BTreeMap;

/// A number of a recipe that the designer may choose.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct BlockValue {
    /// As it stands in documents.
    pub key: &'static str,
    /// As it stands in the interface.
    pub name: &'static str,
    /// What it is unless chosen, on a body whose measures are not at hand.
    pub usual: f64,
    /// The measure that it follows unless chosen, its share of it, and what is added to that.
    pub share: Option<(&'static str, f64, f64)>,
    /// Least and greatest.
    pub range: [f64; 2],
    /// `mm`, or what it is counted in.
    pub unit: &'static str,
}

impl BlockValue {
    /// A length.
    const fn mm(key: &'static str, name: &'static str, usual: f64, low: f64, high: f64) -> Self {
        Self { key, name, usual, share: None, range: [low, high], unit: "mm" }
    }
    /// The same number of something else.
    const fn counted(self, unit: &'static str) -> Self {
        Self { unit, ..self }
    }
    /// Usually this share of a measure.
    const fn share_of(self, measure: &'static str, share: f64) -> Self {
        self.grown_from(0.0, measure, share)
    }
    /// Usually a share of a measure more than a number.
    const fn grown_from(self, least: f64, measure: &'static str, share: f64) -> Self {
        Self { share: Some((measure, share, least)), ..self }
    }
    /// What it is unless chosen, on a body with these measures: its share to 5 mm.
    pub fn usual_on(&self, measures: &BTreeMap<String, f64>) -> f64 {
        let [low, high] = self.range;
        let followed = |(key, share, more): (&str, f64, f64)| measures.get(key).map(|mm| ((mm * share + more) / 5.0).round() * 5.0);
        self.share.and_then(followed).map_or(self.usual, |mm| mm.clamp(low, high))
    }
}

/// A way to draft pieces from measures.
#[derive(Debug)]
pub struct Recipe {
    /// As it stands in documents.
    pub key: &'static str,
    /// As it stands in the interface.
    pub name: &'static str,
    /// What it makes, in a line.
    pub help: &'static str,
    /// Keys of the measures that it is drafted from.
    pub measures: &'static [&'static str],
    /// What can be chosen.
    pub values: &'static [BlockValue],
    draft: fn(&Sheet) -> Draft,
}

/// All recipes, in the order in which they are offered.
pub const RECIPES: &[Recipe] = &[
    upper::TEE,
    upper::TUNIC,
    upper::BODICE,
    sleeves::SLEEVE,
    sleeves::TWO_PIECE,
    skirts::STRAIGHT,
    skirts::CIRCLE,
    skirts::PANELLED,
    skirts::GATHERED,
    legs::TROUSERS,
    legs::LEGGINGS,
    neckwear::CAPE,
    neckwear::HOOD,
    neckwear::STAND,
    neckwear::SHIRT,
    bands::WAISTBAND,
    bands::CUFF,
    bands::POCKET,
    tubes::WAIST,
    tubes::CHEST,
    tubes::ARM,
    tubes::NECK,
];

/// The recipe with this key.
pub fn recipe(key: &str) -> Option<&'static Recipe> {
    RECIPES.iter().find(|r| r.key == key)
}

/// Measures of a body, and the values chosen, both in mm.
pub(crate) struct Sheet<'a> {
    measures: &'a BTreeMap<String, f64>,
    values: &'a BTreeMap<String, f64>,
    known: &'static [BlockValue],
}

impl Sheet<'_> {
    /// A measure by its key; what the recipe asks for is there.
    pub fn m(&self, key: &str) -> f64 {
        self.measures.get(key).copied().unwrap_or_default()
    }
    /// A value by its key, the usual one unless chosen.
    pub fn v(&self, key: &str) -> f64 {
        let usual = || self.known.iter().find(|v| v.key == key).map_or(0.0, |v| v.usual_on(self.measures));
        self.values.get(key).copied().unwrap_or_else(usual)
    }
}

impl Recipe {
    /// All values as the block is drafted with them: those chosen, and the usual ones of the body.
    pub fn all_values(&self, measures: &BTreeMap<String, f64>, chosen: &BTreeMap<String, f64>) -> BTreeMap<String, f64> {
        let of = |v: &BlockValue| (v.key.to_owned(), chosen.get(v.key).copied().unwrap_or_else(|| v.usual_on(measures)));
        self.values.iter().map(of).collect()
    }

    /// Drafts the block; refuses values beyond their ranges and sheets that lack a measure.
    pub(crate) fn draft(&'static self, measures: &BTreeMap<String, f64>, values: &BTreeMap<String, f64>) -> Result<Draft, Refusal> {
        for key in values.keys() {
            if !self.values.iter().any(|v| v.key == key) {
                return Err(Refusal::of(self.name, RefusalKind::NoBlockValue { key: key.clone() }));
            }
        }
        for value in self.values {
            let [low, high] = value.range;
            let given = values.get(value.key).copied().unwrap_or_else(|| value.usual_on(measures));
            crate::rules::within(self.name, Quantity::BlockValue { name: value.name.into() }, given, &(low..=high))?;
        }
        for key in self.measures {
            let mm = measures.get(*key).copied().ok_or_else(|| Refusal::of(self.name, RefusalKind::NoMeasure { key: (*key).into() }))?;
            crate::rules::within(self.name, Quantity::Measure, mm, &(50.0..=3000.0))?;
        }
        Ok((self.draft)(&Sheet { measures, values, known: self.values }))
    }
}
