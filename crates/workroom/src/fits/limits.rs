//! How much room a garment should have, and what is beyond a limit.

use crate::{CrossingKind, DrapeReport};
use costume::Costume;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use ts_rs::TS;

/// How close a kind of garment is meant to be.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum EaseKind {
    /// Shaped to the body: a bodice, a straight skirt.
    Close,
    /// A shirt, a jacket over it.
    Regular,
    /// A coat, a smock.
    Loose,
}

/// Room at the girths of which trade tables speak, mm: close, regular, loose.
const TABLE: [(&str, [[f64; 2]; 3]); 9] = [
    ("neck", [[5.0, 25.0], [10.0, 60.0], [20.0, 160.0]]),
    ("bust", [[30.0, 80.0], [80.0, 140.0], [140.0, 320.0]]),
    ("underbust", [[20.0, 80.0], [60.0, 160.0], [120.0, 360.0]]),
    ("waist", [[5.0, 50.0], [40.0, 140.0], [100.0, 400.0]]),
    ("hip", [[20.0, 70.0], [60.0, 140.0], [120.0, 400.0]]),
    ("upper-arm", [[20.0, 60.0], [50.0, 110.0], [90.0, 240.0]]),
    ("thigh", [[15.0, 50.0], [40.0, 120.0], [100.0, 300.0]]),
    ("knee", [[15.0, 60.0], [40.0, 140.0], [100.0, 320.0]]),
    ("calf", [[10.0, 60.0], [40.0, 140.0], [100.0, 320.0]]),
];

/// The ranges of a kind of garment, mm by the key of the girth.
pub fn wanted_ranges(kind: EaseKind) -> BTreeMap<String, [f64; 2]> {
    TABLE.iter().map(|(key, ranges)| ((*key).to_owned(), ranges[kind as usize])).collect()
}

/// Every limit that a drape passes, in words: faults of the drape, and ease out of what is wanted; the gravest first.
pub fn passed_limits(costume: &Costume, report: &DrapeReport) -> Vec<String> {
    let faults = report.findings.iter().filter(|f| f.is_fault).map(|f| f.words.clone());
    let ease = report.girths.iter().filter_map(|girth| {
        let [least, most] = *costume.wanted_ease.get(&girth.measure)?;
        let side = if girth.ease < least {
            "tight"
        } else if girth.ease > most {
            "wide"
        } else {
            return None;
        };
        let cm = |mm: f64| format!("{:.1}", mm / 10.0);
        Some(format!("{}: ease of {} cm, too {side}; wanted {} to {} cm", girth.name, cm(girth.ease), cm(least), cm(most)))
    });
    faults.chain(ease).collect()
}

impl DrapeReport {
    /// How bad it is, to tell the worst of several: crossings before faults before stretch.
    pub fn badness(&self) -> f64 {
        let faults = self.findings.iter().filter(|f| f.is_fault).count();
        let through = self.places.iter().filter(|c| c.kind != CrossingKind::ClothLeftOut).count();
        1e4 * through as f64 + 100.0 * faults as f64 + self.strain.p99
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn looser_kinds_have_more_room_and_every_girth_is_one_of_the_body() {
        for (key, [close, regular, loose]) in TABLE {
            assert!(body::Measure::from_key(key).is_some(), "{key}");
            assert!(close[0] < regular[0] && regular[0] < loose[0] && close[1] < regular[1] && regular[1] < loose[1], "{key}");
            assert!([close, regular, loose].iter().all(|[low, high]| low < high));
        }
    }
}
