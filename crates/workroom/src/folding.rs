//! Pieces that are pressed along one line across them, such as a waistband: they are hung folded, as they are sewn, because
//! cloth that lies flat against the body has no room to turn over.

use costume::{PatternPiece, Purpose};
use kurbo::{ParamCurve, PathSeg};

/// From this angle on the halves lie on each other, degrees.
const FLAT: f64 = 120.0;
/// Off the fold by less a vertex is on it, mm.
const ON: f64 = 1e-3;

/// Points of a piece with one part laid back over the other, mm in its frame.
pub(crate) struct Folded {
    pub points: Vec<[f64; 2]>,
    /// Those that lie away from the body.
    pub outside: Vec<bool>,
}

/// A piece with one straight fold across it, folded; none for any other. The smaller part is laid over, of two halves the
/// upper one: to the inside when wrong sides meet, to the outside when right sides do.
pub(crate) fn folded(piece: &PatternPiece, points: &[[f64; 2]]) -> Option<Folded> {
    let mut folds = piece.inside.iter().filter_map(|path| match path.purpose {
        Purpose::Fold { angle } if angle.abs() >= FLAT => Some((angle, path.lines.as_slice())),
        _ => None,
    });
    let (angle, lines) = folds.next()?;
    let &[line] = lines else { return None };
    if folds.next().is_some() || !matches!(piece.lines[line].curve, PathSeg::Line(_)) {
        return None;
    }
    // from edge to edge
    let line = &piece.lines[line];
    let on_edge = |node| piece.outline.iter().any(|&l| piece.lines[l].from == node);
    if !on_edge(line.from) || !on_edge(line.to) {
        return None;
    }
    let (start, end) = (line.curve.start(), line.curve.end());
    let way = (end - start).normalize();
    let off = |p: &[f64; 2]| way.cross(kurbo::Point::new(p[0], p[1]) - start);
    // every edge lies on one side of the line
    let crosses = |l: &usize| {
        let ends = [0.0, 0.25, 0.5, 0.75, 1.0].map(|t| piece.lines[*l].curve.eval(t)).map(|p| off(&[p.x, p.y]));
        ends.iter().any(|d| *d > ON) && ends.iter().any(|d| *d < -ON)
    };
    if piece.outline.iter().any(crosses) {
        return None;
    }
    let (left, right) = points.iter().fold((0.0_f64, 0.0_f64), |(l, r), p| (l.max(off(p)), r.max(-off(p))));
    // to the left of the line is above it when the line runs to the right
    let left_is_over = if (left - right).abs() < 0.05 * left.max(right) { way.x > 0.0 } else { left < right };
    let is_over = |p: &[f64; 2]| if left_is_over { off(p) > ON } else { off(p) < -ON };
    let laid = |p: &[f64; 2]| {
        let d = off(p);
        if is_over(p) { [p[0] + 2.0 * d * way.y, p[1] - 2.0 * d * way.x] } else { *p }
    };
    let over_is_outside = angle > 0.0;
    Some(Folded {
        points: points.iter().map(laid).collect(),
        outside: points.iter().map(|p| off(p).abs() > ON && is_over(p) == over_is_outside).collect(),
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use costume::{Anchor, Costume, Edit, Point, resolve};

    fn band(angle: f64) -> PatternPiece {
        let done = |c: &Costume, e: Edit| crate::apply(c, &e).expect("it is drawn");
        let points = [[0.0, 0.0], [300.0, 0.0], [300.0, 80.0], [0.0, 80.0]].map(|p| Point::new(p[0], p[1]).into()).to_vec();
        let made = done(&Costume::new("Band"), Edit::AddPiece { name: "Band".into(), at: Point::new(0.0, 0.0), points, fold: None });
        let (piece, outline) = (made.pieces[0].id, made.pieces[0].drawing().expect("drawn").outline.clone());
        let points = [outline[1], outline[3]].map(|line| Anchor::On { line, at: 0.5 }).to_vec();
        resolve(&done(&made, Edit::AddInside { piece, points, purpose: Purpose::Fold { angle } })).pieces.remove(0)
    }

    #[test]
    fn the_upper_half_is_laid_over_the_lower_one_at_the_same_distance_from_the_fold() {
        let points = [[10.0, 5.0], [10.0, 40.0], [10.0, 75.0]];
        for (angle, outside) in [(-165.0, [true, false, false]), (165.0, [false, false, true])] {
            let folded = folded(&band(angle), &points).expect("it is folded");
            for (at, want) in folded.points.iter().zip([[10.0, 5.0], [10.0, 40.0], [10.0, 5.0]]) {
                assert!((at[0] - want[0]).hypot(at[1] - want[1]) < 1e-9, "{at:?} instead of {want:?}");
            }
            assert_eq!(folded.outside, outside);
        }
        assert!(folded(&band(60.0), &points).is_none(), "what is pressed to a corner hangs flat");
    }
}
