//! Carrying out one edit on a document.

mod arranging;
mod basic;
mod blocks;
mod cutting;
mod darts;
mod folding;
mod fullness;
mod inside;
mod lines;
mod locks;
mod painting;
mod pieces;
mod references;
mod seams;
mod shaping;
mod underlays;

use crate::{
    AlongId, Costume, Drawing, Edit, Fabric, FabricId, FreeTape, Mark, MarkId, Note, NoteId, Pattern, Piece, PieceId, Point, Refusal,
    TapeId,
};
use crate::{Counted, RefusalKind, Thing, limits, mirror, rules};

/// Returns the changed document, or the reason why the edit cannot be done; the given document is untouched.
pub fn apply(costume: &Costume, edit: &Edit) -> Result<Costume, Refusal> {
    Ok(apply_on(costume, &crate::resolve(costume), edit)?.0)
}

/// The same where the pattern of the document is at hand: only what the edit touches is resolved and checked again.
pub fn apply_on(costume: &Costume, pattern: &Pattern, edit: &Edit) -> Result<(Costume, Pattern), Refusal> {
    let mut next = costume.clone();
    change(&mut next, edit)?;
    let pattern = rules::check(&next, Some((costume, pattern)))?;
    crate::sewing::refuse(costume, &next, &pattern, edit)?;
    Ok((next, pattern))
}

fn change(costume: &mut Costume, edit: &Edit) -> Result<(), Refusal> {
    locks::check(costume, edit)?;
    match edit {
        Edit::Batch { edits } => batch(costume, edits)?,
        Edit::RenameCostume { name } => costume.name.clone_from(name),
        Edit::ChooseBody { body } => costume.body.clone_from(body),
        Edit::KeepPose { pose } => {
            costume.poses.retain(|p| p.name != pose.name);
            costume.poses.push(pose.clone());
        }
        Edit::ForgetPose { name } => removed(&mut costume.poses, Thing::Pose, |p| p.name == *name)?,
        Edit::LayTape { tape } => {
            let id = TapeId(fresh(costume));
            costume.tapes.push(FreeTape { id, ..tape.clone() });
        }
        Edit::ChangeTape { tape } => {
            let found = costume.tapes.iter_mut().find(|t| t.id == tape.id).ok_or_else(|| missing(Thing::Tape))?;
            found.clone_from(tape);
        }
        Edit::TakeTapeOff { tape } => removed(&mut costume.tapes, Thing::Tape, |t| t.id == *tape)?,
        Edit::ChooseFineness { fineness } => costume.fineness = *fineness,
        Edit::WantEase { ranges } => costume.wanted_ease.clone_from(ranges),
        Edit::PinNote { note } => {
            let id = NoteId(fresh(costume));
            costume.notes.push(Note { id, ..note.clone() });
        }
        Edit::ChangeNote { note } => {
            let found = costume.notes.iter_mut().find(|n| n.id == note.id).ok_or_else(|| missing(Thing::Note))?;
            found.clone_from(note);
        }
        Edit::TakeNoteOff { note } => removed(&mut costume.notes, Thing::Note, |n| n.id == *note)?,
        Edit::LayUnderlay { .. }
        | Edit::TakeUnderlay { .. }
        | Edit::ShowUnderlay { .. }
        | Edit::MoveUnderlay { .. }
        | Edit::TurnUnderlay { .. }
        | Edit::SetUnderlayDpi { .. }
        | Edit::ScaleUnderlay { .. }
        | Edit::StraightenUnderlay { .. } => underlays::change(costume, edit)?,
        Edit::AddFabric { name, swatch, colour } => {
            let id = FabricId(fresh(costume));
            let (name, swatch, colour) = (name.clone(), swatch.clone(), colour.clone());
            costume.fabrics.push(Fabric { id, name, swatch, colour, print: None, overrides: Default::default() });
        }
        Edit::ChangeFabric { fabric, name, swatch, colour, print, own } => {
            let found = costume.fabrics.iter_mut().find(|f| f.id == *fabric).ok_or_else(|| missing(Thing::Fabric))?;
            let (name, swatch, colour) = (name.clone(), swatch.clone(), colour.clone());
            *found = Fabric { id: *fabric, name, swatch, colour, print: print.clone(), overrides: own.clone() };
        }
        Edit::Join { .. }
        | Edit::Sew { .. }
        | Edit::SewTogether { .. }
        | Edit::SewParts { .. }
        | Edit::SewAnew { .. }
        | Edit::MakeSeam { .. }
        | Edit::FlipSeam { .. }
        | Edit::Unpick { .. }
        | Edit::FoldSeam { .. }
        | Edit::CloseSeam { .. }
        | Edit::EaseSeam { .. } => seams::change(costume, edit)?,
        Edit::MoveNode { .. }
        | Edit::SetNodeKind { .. }
        | Edit::MoveHandle { .. }
        | Edit::SplitLine { .. }
        | Edit::RemoveNode { .. }
        | Edit::CurveLine { .. }
        | Edit::StraightenLine { .. } => lines::change(costume, edit)?,
        Edit::BendLine { .. }
        | Edit::SetLength { .. }
        | Edit::AddEase { .. }
        | Edit::SetAngle { .. }
        | Edit::LevelLine { .. }
        | Edit::RoundCorner { .. }
        | Edit::ChamferCorner { .. }
        | Edit::DivideLine { .. }
        | Edit::MoveNodes { .. }
        | Edit::RedrawLine { .. } => shaping::change(costume, edit)?,
        Edit::AddBlock { .. } | Edit::ChangeBlock { .. } | Edit::DetachBlock { .. } => blocks::change(costume, edit)?,
        Edit::AddFreehand { .. } | Edit::AddBasic { .. } => basic::change(costume, edit)?,
        Edit::MirrorPiece { .. }
        | Edit::ScalePiece { .. }
        | Edit::Arrange { .. }
        | Edit::OrderPiece { .. }
        | Edit::LockPieces { .. }
        | Edit::GroupPieces { .. }
        | Edit::Paste { .. } => arranging::change(costume, edit)?,
        Edit::CutPiece { .. } | Edit::MergePieces { .. } => cutting::change(costume, edit)?,
        Edit::OpenFold { .. } | Edit::CloseFold { .. } => folding::change(costume, edit)?,
        Edit::AddDart { .. } | Edit::AddInsideDart { .. } | Edit::TurnDart { .. } => darts::change(costume, edit)?,
        Edit::Spread { .. } | Edit::AddPleats { .. } => fullness::change(costume, edit)?,
        Edit::AddInside { .. } | Edit::AddParallel { .. } | Edit::ExtendInside { .. } | Edit::AddSeamNotch { .. } => {
            inside::change(costume, edit)?
        }
        Edit::Paint { .. } | Edit::SetPaint { .. } | Edit::RemovePaint { .. } => painting::change(costume, edit)?,
        Edit::AddNotch { piece, line, at, double } => {
            let id = MarkId(fresh(costume));
            let (drawing, mirrored) = drawing(costume, *piece)?;
            let at = if mirrored { 1.0 - at } else { *at };
            drawing.marks.push(Mark::Notch { id, line: *line, at, double: *double });
        }
        Edit::AddDrillHole { piece, at } => {
            let id = MarkId(fresh(costume));
            let (drawing, mirrored) = drawing(costume, *piece)?;
            drawing.marks.push(Mark::DrillHole { id, at: own_frame(*at, mirrored) });
        }
        Edit::AddText { piece, at, text } => {
            let id = MarkId(fresh(costume));
            let (drawing, mirrored) = drawing(costume, *piece)?;
            drawing.marks.push(Mark::Text { id, at: own_frame(*at, mirrored), text: text.clone() });
        }
        Edit::ChangeMark { piece, mark } => {
            let (drawing, mirrored) = drawing(costume, *piece)?;
            let found = drawing.marks.iter_mut().find(|m| m.id() == mark.id()).ok_or_else(|| missing(Thing::Mark))?;
            found.clone_from(mark);
            if mirrored {
                *found = mirror::mirrored(&Drawing { marks: vec![mark.clone()], ..Drawing::default() }).marks.remove(0);
            }
        }
        Edit::RemoveMark { piece, mark } => removed(&mut drawing(costume, *piece)?.0.marks, Thing::Mark, |m| m.id() == *mark)?,
        _ => pieces::change(costume, edit)?,
    }
    blocks::detach(costume, edit);
    // a note goes with its piece
    let Costume { notes, pieces, .. } = costume;
    notes.retain(|n| pieces.iter().any(|p| p.id == n.piece));
    Ok(())
}

fn batch(costume: &mut Costume, edits: &[Edit]) -> Result<(), Refusal> {
    rules::at_most("batch", Counted::Edits, edits.len(), limits::BATCH)?;
    let brushed = |e: &Edit| if let Edit::Paint { stroke: crate::Stroke::Brush { points, .. }, .. } = e { points.len() } else { 0 };
    rules::at_most("batch", Counted::StrokePoints, edits.iter().map(brushed).sum(), limits::BRUSHED)?;
    for edit in edits {
        if matches!(edit, Edit::Batch { .. }) {
            return Err(Refusal::of("batch", RefusalKind::Nested));
        }
        change(costume, edit)?;
        // what later edits build on must stand: references, ids, numbers
        rules::references(costume)?;
    }
    Ok(())
}

fn missing(what: Thing) -> Refusal {
    Refusal::of(what.words(), RefusalKind::Gone { what })
}

/// Removes what there is one of.
fn removed<T>(list: &mut Vec<T>, what: Thing, is: impl Fn(&T) -> bool) -> Result<(), Refusal> {
    let count = list.len();
    list.retain(|t| !is(t));
    if list.len() == count { Err(missing(what)) } else { Ok(()) }
}

fn fresh(costume: &mut Costume) -> u32 {
    costume.next_id = costume.next_id.saturating_add(1);
    costume.next_id - 1
}

fn fresh_along(costume: &mut Costume) -> AlongId {
    AlongId(fresh(costume))
}

fn find(costume: &mut Costume, id: PieceId) -> Result<&mut Piece, Refusal> {
    costume.pieces.iter_mut().find(|p| p.id == id).ok_or_else(|| missing(Thing::Piece))
}

/// The drawing that a piece shows, and whether it shows it mirrored.
fn drawing(costume: &mut Costume, id: PieceId) -> Result<(&mut Drawing, bool), Refusal> {
    let twin = find(costume, id)?.twin_of();
    let drawing = find(costume, twin.unwrap_or(id))?.drawing_mut().ok_or_else(|| missing(Thing::Drawing))?;
    Ok((drawing, twin.is_some()))
}

/// A point of a twin in the frame of the drawing.
fn own_frame(p: Point, mirrored: bool) -> Point {
    if mirrored { mirror::mirrored_point(p) } else { p }
}
