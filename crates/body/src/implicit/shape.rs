//! What all parts of the implicit body are built from.

use crate::implicit::spline::Pchip;
use crate::implicit::tables::Template;
use std::collections::BTreeMap;

/// What the parts are built from: a template, its height warp and its multipliers.
pub struct Shape<'a> {
    /// The tables it is shaped by.
    pub template: &'a Template,
    /// cm.
    pub stature: f64,
    /// Stature over template stature.
    pub f: f64,
    /// Heights of the template to heights of this body.
    pub warp: Pchip,
    pub multipliers: &'a BTreeMap<String, f64>,
}

impl Shape<'_> {
    /// The calibrated factor of this name; 1 when there is none.
    pub fn multiplier(&self, key: &str) -> f64 {
        self.multipliers.get(key).copied().unwrap_or(1.0)
    }
    /// A multiplier along a stack, from (height, name) keys.
    pub fn along(&self, keys: &[(f64, String)]) -> Pchip {
        Pchip::new(&keys.iter().map(|(at, name)| (*at, self.multiplier(name))).collect::<Vec<_>>())
    }
}
