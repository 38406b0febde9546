//! The measuring sheet: sizes on offer, own measures on top of a size, and what cannot be.

use crate::implicit::tables::{PresetRow, tables};
use crate::measuring::measures::Measure;

/// A size and the measures that differ from it, mm.
#[derive(Clone, Debug, PartialEq)]
pub struct Request {
    /// Key of a size, such as `woman-38`.
    pub preset: String,
    /// What differs from the size, mm.
    pub set: Vec<(Measure, f64)>,
}

impl Request {
    /// A size as it comes.
    pub fn size(preset: &str) -> Self {
        Self { preset: preset.to_owned(), set: Vec::new() }
    }
}

/// A request that cannot be a body.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum SheetFault {
    #[error("there is no body preset `{key}`; choose one of {offered}")]
    UnknownPreset { key: String, offered: String },
    #[error("a {name} of {asked:.1} cm is outside {low:.1} to {high:.1} cm for this size")]
    OutOfRange { name: &'static str, asked: f64, low: f64, high: f64 },
    #[error("{what}: {found:.1} cm, the limit is {limit:.1} cm")]
    Contradiction { what: &'static str, found: f64, limit: f64 },
}

/// A size by its place between two tabled ones: 0 is the first, 1 the second.
struct Size {
    name: &'static str,
    between: (&'static str, &'static str),
    share: f64,
}

/// A size between two tabled ones, at a share of the way.
const fn size(name: &'static str, first: &'static str, second: &'static str, share: f64) -> Size {
    Size { name, between: (first, second), share }
}

/// All sizes on offer.
const SIZES: [Size; 24] = [
    size("Woman 34", "Woman 38", "Woman 46", -0.5),
    size("Woman 36", "Woman 38", "Woman 46", -0.25),
    size("Woman 38", "Woman 38", "Woman 46", 0.0),
    size("Woman 40", "Woman 38", "Woman 46", 0.25),
    size("Woman 42", "Woman 38", "Woman 46", 0.5),
    size("Woman 44", "Woman 38", "Woman 46", 0.75),
    size("Woman 46", "Woman 38", "Woman 46", 1.0),
    size("Woman 48", "Woman 38", "Woman 46", 1.25),
    size("Woman 50", "Woman 38", "Woman 46", 1.5),
    size("Man 44", "Man 50", "Man 58", -0.75),
    size("Man 46", "Man 50", "Man 58", -0.5),
    size("Man 48", "Man 50", "Man 58", -0.25),
    size("Man 50", "Man 50", "Man 58", 0.0),
    size("Man 52", "Man 50", "Man 58", 0.25),
    size("Man 54", "Man 50", "Man 58", 0.5),
    size("Man 56", "Man 50", "Man 58", 0.75),
    size("Man 58", "Man 50", "Man 58", 1.0),
    size("Man 60", "Man 50", "Man 58", 1.25),
    size("Child 104", "Child 104", "Child 128", 0.0),
    size("Child 116", "Child 104", "Child 128", 0.5),
    size("Child 128", "Child 128", "Teen 164", 0.0),
    size("Child 140", "Child 128", "Teen 164", 12.0 / 36.0),
    size("Child 152", "Child 128", "Teen 164", 24.0 / 36.0),
    size("Teen 164", "Child 128", "Teen 164", 1.0),
];

/// `Woman 38` as `woman-38`.
pub(crate) fn key_of(name: &str) -> String {
    name.to_lowercase().replace(' ', "-")
}

/// Names of all sizes in order.
pub(crate) fn names() -> impl Iterator<Item = &'static str> {
    SIZES.iter().map(|s| s.name)
}

/// The measures of a size, cm.
pub(crate) fn row(key: &str) -> Result<(&'static str, PresetRow), SheetFault> {
    let unknown = || SheetFault::UnknownPreset { key: key.to_owned(), offered: names().map(key_of).collect::<Vec<_>>().join(", ") };
    let size = SIZES.iter().find(|s| key_of(s.name) == key).ok_or_else(unknown)?;
    let (a, b) = (&tables().presets[size.between.0], &tables().presets[size.between.1]);
    let mut row = if size.share >= 1.0 { b.clone() } else { a.clone() };
    let mix = |x: f64, y: f64| x + (y - x) * size.share;
    for measure in Measure::ALL {
        row.put(measure, mix(a.get(measure), b.get(measure)));
    }
    if size.share < 1.0 {
        row.marks = a.marks.iter().filter_map(|(k, y)| Some((k.clone(), mix(*y, landmark(b, k)?)))).collect();
        (row.foot, row.hand) = (mix(a.foot, b.foot), mix(a.hand, b.hand));
    }
    Ok((size.name, row))
}

/// The tabled body that a size is most like.
pub(crate) fn nearest(key: &str) -> Option<&'static str> {
    let size = SIZES.iter().find(|s| key_of(s.name) == key)?;
    Some(if size.share < 0.5 { size.between.0 } else { size.between.1 })
}

/// A landmark's height on a tabled body, cm.
fn landmark(row: &PresetRow, key: &str) -> Option<f64> {
    let template = &tables().templates[&row.template];
    let plain = || template.marks.iter().find(|(k, _)| k == key).map(|(_, y)| y * row.get(Measure::Stature) / template.stature);
    row.marks.get(key).copied().or_else(plain)
}

/// Smallest and largest value of a measure around a size's own, in the unit of that.
pub fn range(measure: Measure, own: f64) -> (f64, f64) {
    let (low, high) = match measure {
        Measure::Stature => (0.86, 1.16),
        m if m.is_length() => (0.82, 1.2),
        _ => (0.78, 1.4),
    };
    (own * low, own * high)
}

/// The full sheet of a request, cm: lengths that are not given follow the stature.
pub(crate) fn fill(request: &Request) -> Result<(&'static str, PresetRow), SheetFault> {
    let (name, size) = row(&request.preset)?;
    let mut filled = size.clone();
    if let Some((_, stature)) = request.set.iter().find(|(m, _)| *m == Measure::Stature) {
        let grown = stature / 10.0 / size.get(Measure::Stature);
        for measure in Measure::ALL.into_iter().filter(|m| m.is_length()) {
            filled.put(measure, size.get(measure) * grown);
        }
        filled.marks.values_mut().for_each(|y| *y *= grown);
    }
    for &(measure, mm) in &request.set {
        let (low, high) = range(measure, size.get(measure));
        let asked = mm / 10.0;
        if !(low - 1e-9..=high + 1e-9).contains(&asked) {
            return Err(SheetFault::OutOfRange { name: measure.name(), asked, low, high });
        }
        filled.put(measure, asked);
    }
    agree(&filled)?;
    Ok((name, filled))
}

/// All measures of a request in mm, those that are not given as the size has them.
pub fn measures(request: &Request) -> Result<Vec<(Measure, f64)>, SheetFault> {
    let (_, row) = fill(request)?;
    Ok(Measure::ALL.into_iter().map(|m| (m, 10.0 * row.get(m))).collect())
}

/// Whether a request can be a body, without making it.
pub fn check(request: &Request) -> Result<(), SheetFault> {
    fill(request).map(|_| ())
}

/// Measures that contradict each other.
fn agree(r: &PresetRow) -> Result<(), SheetFault> {
    use Measure::{Ankle, BackWaist, Bust, Calf, Hip, Inseam, Knee, Neck, Stature, Thigh, Underbust, UpperArm, Waist, WaistHeight, Wrist};
    let at_most = |what: &'static str, found: f64, limit: f64| {
        if found > limit { Err(SheetFault::Contradiction { what, found, limit }) } else { Ok(()) }
    };
    let at_least = |what: &'static str, found: f64, limit: f64| {
        if found < limit { Err(SheetFault::Contradiction { what, found, limit }) } else { Ok(()) }
    };
    at_most("the waist is too large for the hip", r.get(Waist), 1.2 * r.get(Hip))?;
    at_least("the waist is too small for the hip", r.get(Waist), 0.58 * r.get(Hip))?;
    at_most("the underbust is too large for the bust", r.get(Underbust), r.get(Bust) + 0.5)?;
    at_least("the underbust is too small for the bust", r.get(Underbust), 0.78 * r.get(Bust))?;
    at_most("the bust is too large for the hip", r.get(Bust), 1.3 * r.get(Hip))?;
    at_least("the bust is too small for the hip", r.get(Bust), 0.7 * r.get(Hip))?;
    at_most("the thigh is too large for the hip", r.get(Thigh), 0.68 * r.get(Hip))?;
    at_least("the thigh is too small for the knee", r.get(Thigh), 1.15 * r.get(Knee))?;
    at_least("the thigh is too small for the hip", r.get(Thigh), 0.48 * r.get(Hip))?;
    at_most("the calf is too large for the knee", r.get(Calf), 1.25 * r.get(Knee))?;
    at_least("the calf is too small for the ankle", r.get(Calf), 1.15 * r.get(Ankle))?;
    at_least("the upper arm is too small for the wrist", r.get(UpperArm), 1.25 * r.get(Wrist))?;
    at_most("the neck is too large for the bust", r.get(Neck), 0.52 * r.get(Bust))?;
    at_most("the inseam is too long for the waist height", r.get(Inseam), r.get(WaistHeight) - 0.125 * r.get(Stature))?;
    at_least("the inseam is too short for the waist height", r.get(Inseam), r.get(WaistHeight) - 0.19 * r.get(Stature))?;
    // from the waist to the neck bone there is only so much room
    let back = 0.853 * r.get(Stature) - r.get(WaistHeight);
    at_most("the back waist is too long for the waist height", r.get(BackWaist), 1.1 * back)?;
    at_least("the back waist is too short for the waist height", r.get(BackWaist), 0.9 * back)?;
    at_most("the back waist is too long for the stature", r.get(BackWaist), 0.275 * r.get(Stature))?;
    at_least("the back waist is too short for the stature", r.get(BackWaist), 0.215 * r.get(Stature))
}
