//! The simulated cutter: in which order and from where a knife over the cloth cuts the pieces of a plan, and how long that takes.

use serde::{Deserialize, Serialize};
use ts_rs::TS;

/// Of the knife down and of the lifted head, mm/s, and for putting it down and lifting it, s.
const KNIFE: f64 = 250.0;
const TRAVEL: f64 = 700.0;
const LIFT: f64 = 0.5;

/// One piece that is cut: the head goes to a point of its outline, and the knife once around from there.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
pub struct Cut {
    /// Index of the piece in its plan.
    pub piece: usize,
    /// Index of the point of its outline where it begins and ends.
    pub from: usize,
}

/// The way of the cutter over a plan.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, TS)]
pub struct CutterWay {
    /// One entry a piece, in order.
    pub cuts: Vec<Cut>,
    /// With the knife down, and lifted, mm.
    pub cut: f64,
    pub travel: f64,
    pub seconds: f64,
    /// How fast it goes, mm/s, and how long it takes to put the knife down and to lift it, s.
    pub knife: f64,
    pub head: f64,
    pub lift: f64,
}

fn apart(a: [f64; 2], b: [f64; 2]) -> f64 {
    (a[0] - b[0]).hypot(a[1] - b[1])
}

/// The way over outlines from a corner of the cloth (0, 0): always on to the nearest piece that is left, and back at last.
pub fn cutter_way(outlines: &[&[[f64; 2]]]) -> CutterWay {
    let mut left: Vec<usize> = (0..outlines.len()).filter(|k| !outlines[*k].is_empty()).collect();
    let mut way = CutterWay { knife: KNIFE, head: TRAVEL, lift: LIFT, ..CutterWay::default() };
    let mut at = [0.0; 2];
    while !left.is_empty() {
        let nearest = |piece: usize| {
            let points = outlines[piece].iter().enumerate();
            points.map(|(from, p)| (apart(at, *p), from)).min_by(|a, b| a.0.total_cmp(&b.0)).unwrap_or((f64::MAX, 0))
        };
        let (slot, (far, from)) =
            left.iter().enumerate().map(|(slot, piece)| (slot, nearest(*piece))).min_by(|a, b| a.1.0.total_cmp(&b.1.0)).unwrap_or_default();
        let piece = left.swap_remove(slot);
        let outline = outlines[piece];
        way.travel += far;
        way.cut += (0..outline.len()).map(|k| apart(outline[k], outline[(k + 1) % outline.len()])).sum::<f64>();
        way.cuts.push(Cut { piece, from });
        at = outline[from];
    }
    way.travel += apart(at, [0.0; 2]);
    way.seconds = way.cut / KNIFE + way.travel / TRAVEL + LIFT * way.cuts.len() as f64;
    way
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_piece_is_cut_once_and_the_way_is_as_long_as_its_parts() {
        let square = |x: f64, y: f64| [[x, y], [x + 100.0, y], [x + 100.0, y + 100.0], [x, y + 100.0]];
        let (far, near) = (square(300.0, 400.0), square(30.0, 40.0));
        let way = cutter_way(&[&far, &[], &near]);
        assert_eq!(way.cuts, [Cut { piece: 2, from: 0 }, Cut { piece: 0, from: 0 }], "the nearest first, nothing of what has no outline");
        assert!((way.cut - 800.0).abs() < 1e-9);
        // from the corner to (30, 40), on to (300, 400), and back
        assert!((way.travel - (50.0 + 450.0 + 500.0)).abs() < 1e-9, "{}", way.travel);
        assert!((way.seconds - (800.0 / KNIFE + 1000.0 / TRAVEL + 1.0)).abs() < 1e-9);
        assert_eq!(cutter_way(&[]).cuts, []);
    }
}
