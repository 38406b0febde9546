//! Some pieces of a document as a document of their own, to be pasted elsewhere.

use crate::{Costume, Piece, PieceId, Purpose, Shape};

/// The pieces with the seams that lie on them alone and the fabrics they are cut from. A twin whose partner is not among
/// them comes as a piece of its own.
///
/// ```
/// use costume::{Costume, Edit, Point, apply, clip};
///
/// let square = [(0.0, 0.0), (90.0, 0.0), (90.0, 90.0)].map(|(x, y)| Point::new(x, y).into()).to_vec();
/// let costume = apply(&Costume::new("A"), &Edit::AddPiece { name: "Gore".into(), at: Point::new(0.0, 0.0), points: square, fold: None })?;
/// let other = apply(&Costume::new("B"), &Edit::Paste { clip: Box::new(clip(&costume, &[costume.pieces[0].id])), by: Point::new(0.0, 0.0) })?;
/// assert_eq!(other.pieces[0].name, "Gore");
/// # Ok::<(), costume::Refusal>(())
/// ```
pub fn clip(costume: &Costume, pieces: &[PieceId]) -> Costume {
    let mut own = costume.clone();
    for id in pieces {
        let alone = own.piece(*id).and_then(Piece::twin_of).is_some_and(|of| !pieces.contains(&of));
        if alone && let Ok(separate) = crate::apply(&own, &crate::Edit::SeparateTwin { piece: *id }) {
            own = separate;
        }
    }
    own.pieces.retain(|p| pieces.contains(&p.id));
    own.seams.retain(|s| s.runs().all(|r| pieces.contains(&r.piece)));
    let worn: Vec<_> = own.pieces.iter().map(|p| p.fabric).collect();
    own.fabrics.retain(|f| worn.contains(&f.id));
    for piece in &mut own.pieces {
        if let Shape::Drawn(drawing) = &mut piece.shape {
            let gone = |p: &Purpose| matches!(p, Purpose::Placement { of } if !pieces.contains(of));
            drawing.inside.iter_mut().filter(|p| gone(&p.purpose)).for_each(|p| p.purpose = Purpose::StyleLine);
        }
    }
    own.blocks.retain(|b| b.pieces.iter().all(|p| pieces.contains(p)));
    own.poses.clear();
    own.tapes.clear();
    own.wanted_ease.clear();
    own.notes.clear();
    own.underlays.clear();
    own
}
