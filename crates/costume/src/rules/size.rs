//! A document that can be made can also be read back from its file.

use super::Checked;
use crate::{Costume, Piece, Refusal, RefusalKind, limits};

/// What stays far below the limit however it is written need not be written to know it: this many things of at most 4 kB.
const FEW: usize = 4000;

pub(super) fn file(costume: &Costume) -> Checked {
    if things(costume) <= FEW {
        return Ok(());
    }
    let bytes = crate::write(costume)?.len();
    if bytes > limits::FILE_BYTES {
        return Err(Refusal::of(&costume.name, RefusalKind::TooLarge { bytes, most: limits::FILE_BYTES, made: true }));
    }
    Ok(())
}

/// Things of at most 4 kB each. A node is written in less than an eighth of that, a line in less than a quarter.
fn things(costume: &Costume) -> usize {
    let bones = costume.poses.iter().map(|p| p.bones.len()).sum::<usize>() + costume.body.pose.len() + costume.body.contact.parts.len();
    let runs: usize = costume.seams.iter().map(|s| 1 + s.runs().count()).sum();
    let drawn = |p: &Piece| {
        p.drawing().map_or(0, |d| d.nodes.len().div_ceil(8) + d.lines.len().div_ceil(4) + d.inside.len() + d.marks.len() + d.along.len())
    };
    // a grey picture takes no more than its pixels and a little, half as much again in base64
    let painted = |p: &crate::Paint| 1 + (p.image.values().len() * 3 / 2).div_ceil(4096);
    let pieces: usize = costume.pieces.iter().map(|p| 2 + drawn(p) + p.drawing().map_or(0, |d| d.paint.iter().map(painted).sum())).sum();
    let points: usize = costume.tapes.iter().map(|t| 1 + t.points.len()).sum();
    let own: usize = costume.fabrics.iter().map(|f| 2 + f.overrides.len()).sum();
    let rough = costume.body.contact.rough.len();
    let notes = costume.notes.len() + costume.wanted_ease.len();
    notes + rough + bones + runs + pieces + points + own
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{Edit, LoopPoint, Point, Shape};

    #[test]
    fn nodes_and_lines_are_shorter_than_they_are_counted() {
        let mut costume = Costume::new("Ring");
        let long =
            |k: usize| Point::new(-987.123_456_789_012_3 * (k as f64 / 100.0).cos(), -987.123_456_789_012_3 * (k as f64 / 100.0).sin());
        let points: Vec<LoopPoint> = (0..400).map(|k| long(k).into()).collect();
        costume =
            crate::apply(&costume, &Edit::AddPiece { name: "Ring".into(), at: Point::new(0.0, 0.0), points, fold: None }).expect("a piece");
        let Some(Shape::Drawn(drawing)) = costume.pieces.first_mut().map(|p| &mut p.shape) else { panic!("drawn") };
        for (k, line) in drawing.lines.iter_mut().enumerate() {
            line.id.0 += 4_000_000_000;
            line.handles = Some([long(k + 7), long(k + 9)]);
        }
        drawing.nodes.iter_mut().for_each(|n| n.id.0 += 4_000_000_000);
        let bytes = crate::write(&costume).expect("text").len();
        assert!((400 * 500..4096 * things(&costume)).contains(&bytes), "{bytes} bytes, {} things", things(&costume));
    }
}
