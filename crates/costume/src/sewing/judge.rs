//! How the sides of a seam fit: flat, eased, gathered or stretched, with limits that follow from the cloth.

use crate::{Costume, Pattern, PatternRun, PatternSeam, Swatch};
use serde::Serialize;
use std::f64::consts::PI;
use ts_rs::TS;

/// From this ratio on a longer side lies in gathers; between what can be eased and this it puckers.
pub const LEAST_GATHER: f64 = 1.12;

/// Half a wave between two stitches, mm: ease that waves no higher than the cloth is thick is not seen.
const STITCH: f64 = 3.0;
/// Most that any cloth is eased, and least, as shares of the shorter side.
const EASE: [f64; 2] = [0.01, 0.08];
/// Shear stiffness at which half of the ease that the thickness would hide is left, N/m.
const FIRM: f64 = 200.0;
/// Share of the strain at which a cloth locks that it is stretched by in sewing.
const STRETCH: f64 = 0.35;
/// Firmer cloths than this are not stretched in sewing, N/m.
const STRETCHY: f64 = 600.0;
/// A meant ratio is met within this.
const MEANT: f64 = 0.03;

/// What a seam does with the length that one side has over.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum SeamKind {
    /// Sides of one length.
    Flat,
    /// The longer side is worked in without pleats.
    Eased,
    /// The longer side lies in gathers.
    Gathered,
    /// The shorter side is stretched.
    Stretched,
}

/// A seam judged; lengths in mm.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, TS)]
pub struct Judgement {
    /// Length of side a.
    pub a: f64,
    /// Length of side b.
    pub b: f64,
    /// The longer side over the shorter one.
    pub ratio: f64,
    /// What is done with the difference.
    pub kind: SeamKind,
    /// Share of the shorter side up to which the cloth of the longer one can be eased.
    pub ease_limit: f64,
    /// Share by which the cloth of the shorter side can be stretched in sewing; 0 for firm cloth.
    pub stretch_limit: f64,
    /// It is as it should be: flat, within what the cloth can be eased or stretched, or gathered as it is meant.
    pub good: bool,
}

impl Judgement {
    /// Whether side b is the longer one.
    pub fn b_is_longer(&self) -> bool {
        self.b > self.a
    }
    /// How much longer side b is, mm.
    pub fn difference(&self) -> f64 {
        self.b - self.a
    }
}

/// The share by which a cloth can be eased onto a shorter edge. The length that is over lies in waves between the stitches,
/// which are not seen while they are no higher than the cloth is thick: a wave of height t over a half length s is longer
/// by (π t / 2 s)². Cloth that shears firmly yields less.
pub fn ease_limit(cloth: &Swatch) -> f64 {
    let hidden = (PI * cloth.thickness / (2.0 * STITCH)).powi(2).min(EASE[1]);
    (hidden / (1.0 + cloth.shear / FIRM)).max(EASE[0])
}

/// The share by which a cloth can be stretched onto a longer edge; firm cloths cannot.
pub fn stretch_limit(cloth: &Swatch) -> f64 {
    let stiffness = cloth.stretch_stiffness_warp.min(cloth.stretch_stiffness_weft);
    if stiffness < STRETCHY { STRETCH * cloth.locking / 100.0 } else { 0.0 }
}

/// Judges one seam of the pattern.
pub fn judge(costume: &Costume, pattern: &Pattern, seam: &PatternSeam) -> Judgement {
    let lengths = pattern.seam_lengths(seam);
    let (long, short) = if lengths.b > lengths.a { (&seam.b, &seam.a) } else { (&seam.a, &seam.b) };
    // the firmest cloth of a side decides
    let least = |side: &[PatternRun], of: fn(&Swatch) -> f64| {
        let cloths = side.iter().filter_map(|r| costume.fabric(pattern.pieces[r.piece].fabric)?.cloth());
        cloths.map(|c| of(&c)).fold(f64::INFINITY, f64::min)
    };
    let known = |limit: f64, otherwise: f64| if limit.is_finite() { limit } else { otherwise };
    let (ease_limit, stretch_limit) = (known(least(long, ease_limit), EASE[0]), known(least(short, stretch_limit), 0.0));
    let ratio = lengths.ratio();
    let meant = seam.make.gather.filter(|g| *g > 1.0);
    let (kind, good) = match meant {
        Some(meant) => (SeamKind::Gathered, (ratio / meant - 1.0).abs() <= MEANT),
        None if lengths.is_even() => (SeamKind::Flat, true),
        None if ratio <= 1.0 + ease_limit => (SeamKind::Eased, true),
        None if ratio <= 1.0 + stretch_limit => (SeamKind::Stretched, true),
        None if ratio < LEAST_GATHER => (SeamKind::Eased, false),
        None => (SeamKind::Gathered, false),
    };
    Judgement { a: lengths.a, b: lengths.b, ratio, kind, ease_limit, stretch_limit, good }
}
