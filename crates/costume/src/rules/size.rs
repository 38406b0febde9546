//! A document that can be made can also be read back from its file.

use super::Checked;
use crate::{Costume, Piece, Refusal, RefusalKind, limits};

pub(super) fn file(costume: &Costume) -> Checked {
    // what stays far below the limit however it is written need not be written to know it
    const FEW: usize = 4000;
    let bones = costume.poses.iter().map(|p| p.bones.len()).sum::<usize>() + costume.body.pose.len() + costume.body.contact.parts.len();
    let runs: usize = costume.seams.iter().map(|s| 1 + s.runs().count()).sum();
    let drawn = |p: &Piece| p.drawing().map_or(0, |d| d.nodes.len() + 2 * d.lines.len() + d.inside.len() + d.marks.len() + d.along.len());
    let pieces: usize = costume.pieces.iter().map(|p| 2 + drawn(p)).sum();
    let points: usize = costume.tapes.iter().map(|t| 1 + t.points.len()).sum();
    let own: usize = costume.fabrics.iter().map(|f| 2 + f.overrides.len()).sum();
    if bones + runs + pieces + points + own <= FEW {
        return Ok(());
    }
    let bytes = crate::write(costume)?.len();
    if bytes > limits::FILE_BYTES {
        return Err(Refusal::of(&costume.name, RefusalKind::TooLarge { bytes, most: limits::FILE_BYTES, made: true }));
    }
    Ok(())
}
