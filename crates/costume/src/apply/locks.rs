//! Locked pieces: what would change their shape or their place on the table is refused.

use crate::{Costume, Edit, PieceId, Refusal, RefusalKind};

pub(super) fn check(costume: &Costume, edit: &Edit) -> Result<(), Refusal> {
    let Some(id) = changed(edit) else { return Ok(()) };
    // a twin is changed by changing its partner
    let moved = matches!(edit, Edit::MovePiece { .. } | Edit::TurnPiece { .. } | Edit::RemovePiece { .. });
    let also = if moved { id } else { costume.owner(id) };
    match [id, also].iter().find_map(|id| costume.piece(*id).filter(|p| p.locked)) {
        Some(piece) => Err(Refusal::of(&piece.name, RefusalKind::Locked)),
        None => Ok(()),
    }
}

/// The piece whose shape or place an edit changes.
pub(super) fn changed(edit: &Edit) -> Option<PieceId> {
    match edit {
        Edit::RemovePiece { piece }
        | Edit::MovePiece { piece, .. }
        | Edit::TurnPiece { piece, .. }
        | Edit::MirrorPiece { piece }
        | Edit::ScalePiece { piece, .. }
        | Edit::MoveNode { piece, .. }
        | Edit::MoveNodes { piece, .. }
        | Edit::SetNodeKind { piece, .. }
        | Edit::MoveHandle { piece, .. }
        | Edit::SplitLine { piece, .. }
        | Edit::RemoveNode { piece, .. }
        | Edit::CurveLine { piece, .. }
        | Edit::StraightenLine { piece, .. }
        | Edit::BendLine { piece, .. }
        | Edit::SetLength { piece, .. }
        | Edit::AddEase { piece, .. }
        | Edit::SetAngle { piece, .. }
        | Edit::LevelLine { piece, .. }
        | Edit::RoundCorner { piece, .. }
        | Edit::ChamferCorner { piece, .. }
        | Edit::DivideLine { piece, .. }
        | Edit::RedrawLine { piece, .. }
        | Edit::AddCutout { piece, .. }
        | Edit::RemoveCutout { piece, .. }
        | Edit::CutPiece { piece, .. }
        | Edit::OpenFold { piece }
        | Edit::CloseFold { piece, .. }
        | Edit::AddDart { piece, .. }
        | Edit::AddInsideDart { piece, .. }
        | Edit::TurnDart { piece, .. }
        | Edit::Spread { piece, .. }
        | Edit::AddPleats { piece, .. } => Some(*piece),
        _ => None,
    }
}
