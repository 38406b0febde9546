//! Finding the multipliers that make a body measure as asked: measure, correct in proportion, repeat.

use crate::implicit::field::Field;
use crate::implicit::tables::{Calibrated, PresetRow};
use crate::measuring::measures::Measure;

/// Rounds at most, and the error at which a finished body is good enough, cm.
const ROUNDS: usize = 14;
pub(crate) const GOOD: f64 = 0.05;
/// Limits of the breast multiplier; beyond them the rib cage grows.
const BREAST: (f64, f64) = (0.5, 1.6);

/// A measure that could not be met, cm.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Remaining {
    /// Which measure.
    pub measure: Measure,
    /// What was wanted, cm.
    pub asked: f64,
    /// What the tape reads on the finished surface, cm.
    pub measured: f64,
}

/// Girths that one multiplier drives alone.
const DRIVEN: [(Measure, &str); 10] = [
    (Measure::Neck, "neck"),
    (Measure::Waist, "waist"),
    (Measure::Hip, "hip"),
    (Measure::Thigh, "thigh"),
    (Measure::Knee, "knee"),
    (Measure::Calf, "calf"),
    (Measure::Ankle, "ankle"),
    (Measure::UpperArm, "upperarm"),
    (Measure::Elbow, "elbow"),
    (Measure::Wrist, "wrist"),
];

/// The measures of the loop, all in one place.
struct Round {
    /// Bust slope of the last round: logarithm of the multiplier, bust less its share of the ribs, and their ratio.
    breast: Option<(f64, f64, f64)>,
    rib: f64,
}

/// Multipliers for a row of measures, and what is left where a measure cannot be met.
/// `like` are the multipliers of a similar body, to begin with; it stops when no measure misses by `good` cm.
pub(crate) fn calibrate(row: &PresetRow, like: Option<&Calibrated>, good: f64) -> Option<(Calibrated, Vec<Remaining>)> {
    let mut state = like.cloned().unwrap_or_else(|| start(row));
    let mut round = Round { breast: None, rib: 1.0 };
    let mut best: Option<(f64, Calibrated, Vec<Remaining>)> = None;
    for k in 0..ROUNDS {
        let field = Field::new(row, &state)?;
        let taken = |(measure, asked)| Remaining { measure, asked, measured: field.measure(measure) };
        let measured: Vec<Remaining> = row.asked().map(taken).collect();
        let worst = measured.iter().map(|m| (m.measured - m.asked).abs()).fold(0.0, f64::max);
        if best.as_ref().is_none_or(|b| worst < b.0) {
            best = Some((worst, state.clone(), measured.clone()));
        }
        if worst < good {
            break;
        }
        correct(row, &field, &measured, &mut state, &mut round, k);
    }
    let (_, state, measured) = best?;
    Some((state, measured.into_iter().filter(|m| (m.measured - m.asked).abs() > 0.1).collect()))
}

/// Multipliers to begin with.
fn start(row: &PresetRow) -> Calibrated {
    let names = [
        "hip",
        "highhip",
        "waist",
        "underbust",
        "chest",
        "bust",
        "butt",
        "neck",
        "shoulder_w",
        "upperarm",
        "deltoid",
        "elbow",
        "wrist",
        "arm_len",
        "thigh",
        "knee",
        "calf",
        "ankle",
    ];
    let mut multipliers: std::collections::BTreeMap<String, f64> = names.iter().map(|n| ((*n).to_owned(), 1.0)).collect();
    multipliers.insert("bust".into(), row.bust_start);
    multipliers.insert("foot".into(), row.foot);
    multipliers.insert("hand".into(), row.hand);
    Calibrated { multipliers, dy_crotch: 0.0, dy_neck: 0.0 }
}

/// Moves the multipliers towards what is still missing.
fn correct(row: &PresetRow, field: &Field, measured: &[Remaining], state: &mut Calibrated, round: &mut Round, k: usize) {
    let of = |measure: Measure| measured.iter().find(|m| m.measure == measure).map(|m| (m.asked, m.measured));
    let ratio = |measure| of(measure).map_or(1.0, |(asked, is)| asked / is);
    let error = |measure| of(measure).map_or(0.0, |(asked, is)| is - asked);
    let old = state.multipliers.clone();
    let s = &mut state.multipliers;
    let mut scale = |name: &str, by: f64| *s.entry(name.to_owned()).or_insert(1.0) *= by;
    for (measure, name) in DRIVEN {
        scale(name, ratio(measure));
    }
    scale("shoulder_w", ratio(Measure::ShoulderWidth));
    scale("arm_len", ratio(Measure::ArmLength));
    scale("underbust", ratio(Measure::Underbust));
    if field.has_breasts {
        if let (Some((asked, is)), Some((_, ribs))) = (of(Measure::Bust), of(Measure::Underbust)) {
            s.insert("bust".into(), breast(asked, is, ribs, &old, round, k));
        }
        s.insert("chest".into(), s["underbust"].powf(0.85) * round.rib);
    } else {
        scale("chest", ratio(Measure::Bust));
        s.insert("bust".into(), s["chest"].sqrt() * row.bust_start);
    }
    s.insert("highhip".into(), (s["waist"] * s["hip"]).sqrt());
    s.insert("butt".into(), s["hip"].powf(1.1));
    s.insert("deltoid".into(), s["upperarm"].powf(0.6));
    state.dy_crotch -= error(Measure::Inseam);
    state.dy_neck = (state.dy_neck - 0.9 * error(Measure::BackWaist)).clamp(-3.0 * field.f, 1.6 * field.f);
}

/// A secant step on the logarithm of the breast multiplier; where it sticks at its limit the rib cage helps.
fn breast(asked: f64, is: f64, ribs: f64, old: &std::collections::BTreeMap<String, f64>, round: &mut Round, k: usize) -> f64 {
    let now = old["bust"].ln();
    let apart = is - ribs * old["chest"] / old["underbust"];
    let slope = match round.breast {
        Some((before, value, slope)) if (now - before).abs() > 1e-3 => {
            0.5 * slope + 0.5 * ((apart - value) / (now - before)).clamp(0.06 * asked, 0.5 * asked)
        }
        _ => 0.14 * asked,
    };
    round.breast = Some((now, apart, slope));
    let next = (now + ((asked - is) / slope).clamp(-0.35, 0.35)).exp().clamp(BREAST.0, BREAST.1);
    if k > 4 && (next == BREAST.0 || next == BREAST.1) {
        round.rib *= (asked / is).powf(0.8);
    }
    next
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::implicit::tables::tables;

    #[test]
    fn every_row_of_the_table_is_met_to_the_millimetre() {
        for (name, row) in &tables().presets {
            let (state, remaining) = calibrate(row, None, GOOD).expect("a template");
            assert!(remaining.is_empty(), "{name}: {remaining:?}");
            let field = Field::new(row, &state).expect("a template");
            for (measure, asked) in row.asked() {
                let is = field.measure(measure);
                assert!((is - asked).abs() < 0.1, "{name}, {measure:?}: {is:.2} cm instead of {asked} cm");
            }
        }
    }
}
