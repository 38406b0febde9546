//! Carrying out one edit on a document.

use crate::outline::{EdgeCurve, edge_curve};
use crate::rules::{self, edge_name};
use crate::{
    Bow, Corner, CornerId, Costume, EdgeRef, Edit, Fabric, FabricId, FoldLine, FreeTape, Handle, Piece, PieceId, Point, Refusal, Run, Seam,
    SeamId, TapeId, signed_area,
};

/// Returns the changed document, or the reason why the edit cannot be done; the given document is untouched.
pub fn apply(costume: &Costume, edit: &Edit) -> Result<Costume, Refusal> {
    let mut next = costume.clone();
    change(&mut next, edit)?;
    rules::check(&next)?;
    Ok(next)
}

fn change(costume: &mut Costume, edit: &Edit) -> Result<(), Refusal> {
    match edit {
        Edit::RenameCostume { name } => costume.name.clone_from(name),
        Edit::ChooseBody { body } => costume.body.clone_from(body),
        Edit::KeepPose { pose } => {
            costume.poses.retain(|p| p.name != pose.name);
            costume.poses.push(pose.clone());
        }
        Edit::ForgetPose { name } => {
            let count = costume.poses.len();
            costume.poses.retain(|p| p.name != *name);
            if costume.poses.len() == count {
                return Err(missing("pose"));
            }
        }
        Edit::LayTape { tape } => {
            let id = TapeId(fresh(costume));
            costume.tapes.push(FreeTape { id, ..tape.clone() });
        }
        Edit::ChangeTape { tape } => {
            let found = costume.tapes.iter_mut().find(|t| t.id == tape.id).ok_or_else(|| missing("tape"))?;
            found.clone_from(tape);
        }
        Edit::TakeTapeOff { tape } => {
            let count = costume.tapes.len();
            costume.tapes.retain(|t| t.id != *tape);
            if costume.tapes.len() == count {
                return Err(missing("tape"));
            }
        }
        Edit::ChooseFineness { fineness } => costume.fineness = *fineness,
        Edit::AddPiece { name, at, points } => add_piece(costume, name, *at, points)?,
        Edit::RemovePiece { piece } => remove_piece(costume, *piece)?,
        Edit::CopyPiece { piece, at } => copy_piece(costume, *piece, *at)?,
        Edit::RenamePiece { piece, name } => find(costume, *piece)?.name.clone_from(name),
        Edit::MovePiece { piece, at } => find(costume, *piece)?.at = *at,
        Edit::MoveCorner { piece, corner, to } => move_corner(find(costume, *piece)?, *corner, *to)?,
        Edit::MoveHandle { piece, edge, handle, to } => move_handle(find(costume, *piece)?, *edge, *handle, *to)?,
        Edit::AddCorner { piece, edge, fraction, by_length } => add_corner(costume, *piece, *edge, *fraction, *by_length)?,
        Edit::RemoveCorner { piece, corner } => remove_corner(costume, *piece, *corner)?,
        Edit::CurveEdge { piece, edge } => curve_edge(find(costume, *piece)?, *edge)?,
        Edit::StraightenEdge { piece, edge } => {
            let piece = find(costume, *piece)?;
            let i = index(piece, *edge)?;
            piece.corners[i].bow = None;
        }
        Edit::SetGrain { piece, degrees } => find(costume, *piece)?.grain = *degrees,
        Edit::SetFabric { piece, fabric } => find(costume, *piece)?.fabric = *fabric,
        Edit::AddFabric { name, swatch, colour } => {
            let id = FabricId(fresh(costume));
            costume.fabrics.push(Fabric {
                id,
                name: name.clone(),
                swatch: swatch.clone(),
                colour: colour.clone(),
                print: None,
                own: Default::default(),
            });
        }
        Edit::ChangeFabric { fabric, name, swatch, colour, print, own } => {
            let found = costume.fabrics.iter_mut().find(|f| f.id == *fabric).ok_or_else(|| missing("fabric"))?;
            *found = Fabric {
                id: *fabric,
                name: name.clone(),
                swatch: swatch.clone(),
                colour: colour.clone(),
                print: print.clone(),
                own: own.clone(),
            };
        }
        Edit::Join { a, b } => join(costume, *a, *b)?,
        Edit::FlipSeam { seam } => flip(find_seam(costume, *seam)?),
        Edit::Unpick { seam } => {
            find_seam(costume, *seam)?;
            costume.seams.retain(|s| s.id != *seam);
        }
        Edit::FoldSeam { seam, fold } => find_seam(costume, *seam)?.fold = *fold,
        Edit::FinishEdge { piece, edge, finish } => {
            let piece = find(costume, *piece)?;
            let i = index(piece, *edge)?;
            piece.corners[i].finish = *finish;
        }
        Edit::FoldPiece { piece, from, to, angle } => {
            let piece = find(costume, *piece)?;
            piece.folds.retain(|f| !f.joins(*from, *to));
            piece.folds.extend(angle.map(|angle| FoldLine { from: *from, to: *to, angle }));
        }
        Edit::SetWear { piece, wear } => find(costume, *piece)?.wear = *wear,
        Edit::Place { piece, placement } => find(costume, *piece)?.placement.clone_from(placement),
        Edit::Park { piece, parked } => find(costume, *piece)?.parked = *parked,
    }
    Ok(())
}

fn missing(what: &str) -> Refusal {
    Refusal::new(what, "is no longer part of the costume", "look at the newest state and try again")
}

fn fresh(costume: &mut Costume) -> u32 {
    costume.next_id += 1;
    costume.next_id - 1
}

fn find(costume: &mut Costume, id: PieceId) -> Result<&mut Piece, Refusal> {
    costume.pieces.iter_mut().find(|p| p.id == id).ok_or_else(|| missing("piece"))
}

fn find_seam(costume: &mut Costume, id: SeamId) -> Result<&mut Seam, Refusal> {
    costume.seams.iter_mut().find(|s| s.id == id).ok_or_else(|| missing("seam"))
}

fn index(piece: &Piece, corner: CornerId) -> Result<usize, Refusal> {
    piece.index(corner).ok_or_else(|| missing("corner"))
}

fn add_piece(costume: &mut Costume, name: &str, at: Point, points: &[Point]) -> Result<(), Refusal> {
    let fabric = costume.fabrics.first().map(|f| f.id).ok_or_else(|| missing("fabric"))?;
    let id = PieceId(fresh(costume));
    let corners = points.iter().map(|&at| Corner { id: CornerId(fresh(costume)), at, bow: None, finish: None }).collect();
    let mut piece =
        Piece { id, name: name.to_owned(), at, corners, fabric, grain: 90.0, placement: None, parked: false, wear: 1, folds: Vec::new() };
    if piece.corners.len() >= 3 && signed_area(&piece) < 0.0 {
        piece.corners.reverse();
    }
    costume.pieces.push(piece);
    Ok(())
}

/// Removes the piece and unpicks the seams that held it.
fn remove_piece(costume: &mut Costume, id: PieceId) -> Result<(), Refusal> {
    find(costume, id)?;
    costume.pieces.retain(|p| p.id != id);
    costume.seams.retain(|s| s.runs().all(|r| r.piece != id));
    Ok(())
}

fn copy_piece(costume: &mut Costume, id: PieceId, at: Point) -> Result<(), Refusal> {
    let mut copy = find(costume, id)?.clone();
    copy.id = PieceId(fresh(costume));
    for corner in &mut copy.corners {
        let old = std::mem::replace(&mut corner.id, CornerId(fresh(costume)));
        for end in copy.folds.iter_mut().flat_map(|f| [&mut f.from, &mut f.to]).filter(|end| **end == old) {
            *end = corner.id;
        }
    }
    copy.name = format!("{} copy", copy.name).chars().take(crate::limits::NAME).collect();
    copy.at = at;
    copy.placement = None;
    costume.pieces.push(copy);
    Ok(())
}

/// The handles at the corner move along with it.
fn move_corner(piece: &mut Piece, corner: CornerId, to: Point) -> Result<(), Refusal> {
    let i = index(piece, corner)?;
    let before = piece.previous_index(i);
    let step = Point::new(to.x - piece.corners[i].at.x, to.y - piece.corners[i].at.y);
    let shift = |p: &mut Point| *p = Point::new(p.x + step.x, p.y + step.y);
    piece.corners[i].at = to;
    if let Some(bow) = &mut piece.corners[i].bow {
        shift(&mut bow.leave);
    }
    if let Some(bow) = &mut piece.corners[before].bow {
        shift(&mut bow.arrive);
    }
    Ok(())
}

fn move_handle(piece: &mut Piece, edge: CornerId, handle: Handle, to: Point) -> Result<(), Refusal> {
    let i = index(piece, edge)?;
    let item = format!("{}, edge {}", piece.name, i + 1);
    let bow =
        piece.corners[i].bow.as_mut().ok_or_else(|| Refusal::new(item, "is straight and has no handles", "turn it into a curve first"))?;
    match handle {
        Handle::Leave => bow.leave = to,
        Handle::Arrive => bow.arrive = to,
    }
    Ok(())
}

fn curve_edge(piece: &mut Piece, edge: CornerId) -> Result<(), Refusal> {
    let i = index(piece, edge)?;
    let (from, to) = (piece.corners[i].at, piece.next(i).at);
    piece.corners[i].bow.get_or_insert(Bow { leave: from.lerp(to, 1.0 / 3.0), arrive: from.lerp(to, 2.0 / 3.0) });
    Ok(())
}

fn bow_of(curve: &EdgeCurve) -> Option<Bow> {
    match curve {
        EdgeCurve::Straight(_) => None,
        EdgeCurve::Bowed(c) => Some(Bow { leave: Point::new(c.p1.x, c.p1.y), arrive: Point::new(c.p2.x, c.p2.y) }),
    }
}

/// Splits an edge; a seam on it goes on over both parts.
fn add_corner(costume: &mut Costume, piece: PieceId, edge: CornerId, fraction: f64, by_length: bool) -> Result<(), Refusal> {
    if !(0.0..=1.0).contains(&fraction) {
        return Err(Refusal::new("corner", "lies outside its edge", "choose a fraction from 0 to 1"));
    }
    let id = CornerId(fresh(costume));
    let found = find(costume, piece)?;
    let i = index(found, edge)?;
    let curve = edge_curve(found, i);
    let (first, second) = curve.split(if by_length { curve.parameter(fraction) } else { fraction });
    found.corners[i].bow = bow_of(&first);
    let finish = found.corners[i].finish;
    found.corners.insert(i + 1, Corner { id, at: second.point(0.0), bow: bow_of(&second), finish });
    for side in costume.seams.iter_mut().flat_map(|s| [&mut s.a, &mut s.b]) {
        if let Some(k) = side.iter().position(|r| r.piece == piece && r.edge == edge) {
            let run = side[k];
            side.insert(if run.backwards { k } else { k + 1 }, Run { edge: id, ..run });
        }
    }
    Ok(())
}

/// Joins the two edges at a corner into one; allowed while no seam ends there.
fn remove_corner(costume: &mut Costume, piece: PieceId, corner: CornerId) -> Result<(), Refusal> {
    let found = find(costume, piece)?;
    let i = index(found, corner)?;
    let before = found.previous_index(i);
    let kept = found.corners[before].id;
    if found.corners[before].finish != found.corners[i].finish {
        return Err(Refusal::new(
            format!("{}, corner {}", found.name, i + 1),
            "parts two edges that are finished differently",
            "sew the same to both edges first, or take it off",
        ));
    }
    found.corners[before].bow = bow_of(&edge_curve(found, before).joined(&edge_curve(found, i)));
    found.corners.remove(i);
    found.folds.retain(|f| f.from != corner && f.to != corner);
    let name = found.name.clone();
    for seam in &mut costume.seams {
        let tag = seam.tag.clone();
        for side in [&mut seam.a, &mut seam.b] {
            let has = |id: CornerId| side.iter().any(|r| r.piece == piece && r.edge == id);
            match (has(kept), has(corner)) {
                (true, true) => side.retain(|r| !(r.piece == piece && r.edge == corner)),
                (false, false) => {}
                _ => {
                    return Err(Refusal::new(
                        format!("{name}, corner {}", i + 1),
                        format!("seam {tag} ends here"),
                        format!("unpick seam {tag} first"),
                    ));
                }
            }
        }
    }
    Ok(())
}

fn join(costume: &mut Costume, a: EdgeRef, b: EdgeRef) -> Result<(), Refusal> {
    // Outlines run counter-clockwise with the right side up, so two edges meet without a twist when they run against each other.
    let run = |e: EdgeRef, backwards| Run { piece: e.piece, edge: e.edge, backwards };
    let (a, b) = (run(a, false), run(b, true));
    if (a.piece, a.edge) == (b.piece, b.edge) {
        return Err(Refusal::new(edge_name(costume, &a), "an edge cannot be sewn to itself", "click another edge as its partner"));
    }
    let id = SeamId(fresh(costume));
    let tag = free_tag(costume);
    costume.seams.push(Seam { id, tag, a: vec![a], b: vec![b], fold: None });
    Ok(())
}

/// A to Z, then AA, AB ...
fn free_tag(costume: &Costume) -> String {
    let tag = |mut n: usize| {
        let mut text = String::new();
        loop {
            text.insert(0, char::from(b'A' + (n % 26) as u8));
            if n < 26 {
                return text;
            }
            n = n / 26 - 1;
        }
    };
    (0..).map(tag).find(|t| costume.seams.iter().all(|s| s.tag != *t)).unwrap_or_default()
}

fn flip(seam: &mut Seam) {
    seam.b.reverse();
    for run in &mut seam.b {
        run.backwards = !run.backwards;
    }
}
