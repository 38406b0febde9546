//! Pieces that are sewn onto a line that is marked for them.

use super::proposal::{Proposal, side_name};
use costume::{Costume, Pattern, PieceId, Run};

/// A piece that is sewn onto the line that is marked for it: edges that follow each other and are as long, one by one.
pub(super) fn sewn_on(costume: &Costume, pattern: &Pattern) -> Option<Proposal> {
    let is_free = |piece: PieceId, line: costume::LineId| {
        costume.seams.iter().flat_map(costume::Seam::runs).all(|r| (r.piece, r.line) != (piece, line))
    };
    for piece in pattern.pieces.iter().filter(|p| p.twin_of.is_none()) {
        for path in &piece.inside {
            let costume::Purpose::Placement { of } = path.purpose else { continue };
            let Some(on) = pattern.piece(of).filter(|o| o.twin_of.is_none() && o.outline.len() >= path.lines.len()) else { continue };
            let free = path.lines.iter().all(|&l| is_free(piece.id, piece.lines[l].id));
            let lengths: Vec<f64> = path.lines.iter().map(|&l| piece.lines[l].length).collect();
            let (n, m) = (on.outline.len(), lengths.len());
            // along the outline or against it
            let window = |first: usize, back: bool| -> Vec<usize> {
                (0..m).map(|k| on.outline[if back { first + n - k } else { first + k } % n]).collect()
            };
            let fits = |w: &Vec<usize>| w.iter().zip(&lengths).all(|(&l, want)| (on.lines[l].length - want).abs() < 0.01 * want + 0.5);
            // laid on the piece it turns the way the marked line does; a straight one does not tell
            let chords: Vec<kurbo::Vec2> = path
                .lines
                .iter()
                .map(|&l| kurbo::ParamCurve::end(&piece.lines[l].curve) - kurbo::ParamCurve::start(&piece.lines[l].curve))
                .collect();
            let turn: f64 = chords.windows(2).map(|w| w[0].cross(w[1])).sum();
            let found = (0..n).map(|first| (first, turn < 0.0)).find(|&(first, back)| fits(&window(first, back)));
            let Some((first, back)) = found.filter(|_| free) else { continue };
            let a: Vec<Run> = path.lines.iter().map(|&l| Run::whole(piece.id, piece.lines[l].id)).collect();
            let b: Vec<Run> =
                window(first, back).iter().map(|&l| Run::whole(on.id, on.lines[l].id)).map(|r| if back { r.turned() } else { r }).collect();
            if !b.iter().all(|r| is_free(r.piece, r.line)) {
                continue;
            }
            let length: f64 = lengths.iter().sum();
            let (a_name, b_name) = (side_name(costume, &a), side_name(costume, &b));
            let reasons = vec!["the line that is marked for it".into()];
            return Some(Proposal { a, b, a_name, b_name, a_length: length, b_length: length, sure: true, cost: 0.0, reasons });
        }
    }
    None
}
