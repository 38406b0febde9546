//! Halves on the fold: opened into a whole piece, and a whole piece closed to its half again.

use super::lines::ends_at;
use super::{find, fresh, missing, references, seams};
use crate::mirror::{about, reflected};
use crate::{Costume, Drawing, Edit, Line, LineId, Mark, NodeId, PieceId, Point, Refusal, RefusalKind, Run, Shape, Thing};
use std::collections::{HashMap, HashSet};

/// How far the two halves of a piece may differ to be closed to one, mm.
const ALIKE: f64 = 0.5;

pub(super) fn change(costume: &mut Costume, edit: &Edit) -> Result<(), Refusal> {
    match edit {
        Edit::OpenFold { piece } => open(costume, *piece),
        Edit::CloseFold { piece, from, to } => close(costume, *piece, *from, *to),
        _ => Ok(()),
    }
}

/// Lines of the half that a fold added, by the lines that they are images of.
type Added = HashMap<LineId, LineId>;

/// Draws the half that the fold adds, so that both sides can differ; seams of that half become seams of their own. Pieces on
/// the fold that it is sewn to are opened along: the images of their seams would be nowhere else.
fn open(costume: &mut Costume, id: PieceId) -> Result<(), Refusal> {
    // what the images of the document's seams sew, as the pattern shows it
    let pattern = crate::resolve(costume);
    let images: Vec<crate::PatternSeam> = pattern.seams.iter().filter(|s| s.image).cloned().collect();
    let mut added: HashMap<PieceId, Added> = HashMap::new();
    for one in opened_along(costume, &pattern, &images, id) {
        let lines = open_one(costume, one)?;
        added.insert(one, lines);
    }
    let owners: HashMap<PieceId, PieceId> = costume.pieces.iter().map(|p| (p.id, costume.owner(p.id))).collect();
    for image in images {
        // runs of the pattern in the terms of the document: those of the added half run along its new lines
        let of = |run: &crate::PatternRun| {
            let on = &pattern.pieces[run.piece];
            let line = &on.lines[run.line];
            let lines = owners.get(&on.id).and_then(|owner| added.get(owner));
            let (mut from, mut to) = (run.from, run.to);
            let mut name = line.id;
            if let Some(lines) = lines.filter(|_| line.image) {
                name = lines.get(&line.id).copied()?;
                // the new line runs as the pattern's does, unless a twin shows it mirrored
                if on.twin_of.is_some() {
                    (from, to) = (1.0 - from, 1.0 - to);
                }
            } else if line.turned {
                (from, to) = (1.0 - from, 1.0 - to);
            }
            (lines.is_some() || !line.image).then_some(Run { piece: on.id, line: name, from, to })
        };
        let side = |side: &[crate::PatternRun]| side.iter().map(of).collect::<Option<Vec<_>>>();
        let Some((a, b)) = side(&image.a).zip(side(&image.b)) else { continue };
        if let Some(like) = costume.seam(image.id).cloned() {
            let (id, tag) = (crate::SeamId(fresh(costume)), seams::free_tag(costume));
            costume.seams.push(crate::Seam { id, tag, a, b, ..like });
        }
    }
    Ok(())
}

/// The piece, and all on the fold that are sewn to it by an image, or to one of those.
fn opened_along(costume: &Costume, pattern: &crate::Pattern, images: &[crate::PatternSeam], id: PieceId) -> Vec<PieceId> {
    let sewn: Vec<Vec<PieceId>> = images
        .iter()
        .map(|image| {
            let runs = image.a.iter().chain(&image.b).map(|r| (&pattern.pieces[r.piece], r.line));
            runs.filter(|(piece, line)| piece.lines[*line].image).map(|(piece, _)| costume.owner(piece.id)).collect()
        })
        .collect();
    let mut found = vec![id];
    let mut k = 0;
    while k < found.len() {
        let next = found[k];
        for group in sewn.iter().filter(|group| group.contains(&next)) {
            for piece in group {
                if !found.contains(piece) {
                    found.push(*piece);
                }
            }
        }
        k += 1;
    }
    found
}

/// Draws the other half of one piece and takes it off the fold.
fn open_one(costume: &mut Costume, id: PieceId) -> Result<Added, Refusal> {
    let piece = find(costume, id)?;
    let name = piece.name.clone();
    let not = || Refusal::of(&name, RefusalKind::NotOnFold);
    let (fold, drawing) = piece.cut.on_fold.zip(piece.drawing().cloned()).ok_or_else(not)?;
    let axis = *drawing.line(fold).ok_or_else(not)?;
    let [a, b] = [axis.from, axis.to].map(|n| drawing.node(n).map(|n| n.at));
    let (a, b) = a.zip(b).ok_or_else(not)?;
    let mut other = reflected(&drawing, about(a, b));
    let nodes: HashMap<NodeId, NodeId> =
        drawing.nodes.iter().map(|n| (n.id, if n.id == axis.from || n.id == axis.to { n.id } else { NodeId(fresh(costume)) })).collect();
    let lines: Added = drawing.lines.iter().map(|l| (l.id, LineId(fresh(costume)))).collect();
    super::pieces::rename(costume, &mut other, &nodes, &lines);
    let mut whole = drawing.clone();
    let around = |d: &Drawing, without: LineId| -> Option<Vec<LineId>> {
        let n = d.outline.len();
        let at = d.outline.iter().position(|l| *l == without)?;
        Some((1..n).map(|k| d.outline[(at + k) % n]).collect())
    };
    let image_fold = lines.get(&fold).copied().ok_or_else(not)?;
    let outline = around(&drawing, fold).zip(around(&other, image_fold)).ok_or_else(not)?;
    whole.outline = outline.0.into_iter().chain(outline.1).collect();
    other.lines.retain(|l| l.id != image_fold);
    other.nodes.retain(|n| n.id != axis.from && n.id != axis.to);
    whole.lines.retain(|l| l.id != fold);
    whole.lines.append(&mut other.lines);
    whole.nodes.append(&mut other.nodes);
    whole.cutouts.append(&mut other.cutouts);
    whole.inside.append(&mut other.inside);
    whole.marks.append(&mut other.marks);
    whole.along.append(&mut other.along);
    whole.paint.append(&mut other.paint);
    let piece = find(costume, id)?;
    piece.cut.on_fold = None;
    piece.shape = Shape::Drawn(whole);
    Ok(lines)
}

/// Keeps the half on the left of the way between two corners, on the fold along it; both halves must be alike.
fn close(costume: &mut Costume, id: PieceId, from: NodeId, to: NodeId) -> Result<(), Refusal> {
    let name = costume.piece_name(id);
    let piece = find(costume, id)?;
    let alike = || Refusal::of(&name, RefusalKind::HalvesDiffer { most: ALIKE });
    if piece.cut.on_fold.is_some() {
        return Err(Refusal::of(&name, RefusalKind::OnTheFold));
    }
    let Shape::Drawn(drawing) = &piece.shape else { return Err(Refusal::of(&name, RefusalKind::TwinOnFold)) };
    let drawing = drawing.clone();
    let place = |n: NodeId| drawing.node(n).map(|n| n.at).ok_or_else(|| missing(Thing::Corner));
    let (a, b) = (place(from)?, place(to)?);
    let (kept, gone) = super::cutting::chain(&drawing, from, to)
        .zip(super::cutting::chain(&drawing, to, from))
        .filter(|_| from != to)
        .ok_or_else(alike)?;
    // the cloth on the right of the way from -> to, so that the fold closes the outline to -> from
    let image = about(a, b);
    let corners = |chain: &[LineId]| -> Vec<Point> {
        let ends = chain.iter().filter_map(|l| drawing.line(*l)).filter_map(|l| drawing.node(l.from)).map(|n| n.at);
        ends.skip(1).collect()
    };
    let (one, mut two) = (corners(&kept), corners(&gone));
    two.reverse();
    if one.len() != two.len() || one.iter().zip(&two).any(|(p, q)| image(*p).distance(*q) > ALIKE) {
        return Err(alike());
    }
    let side = |p: Point| (b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x);
    let fold = LineId(fresh(costume));
    let mut half = drawing.clone();
    half.outline = kept.iter().copied().chain([fold]).collect();
    half.lines.push(Line { id: fold, from: to, to: from, handles: None });
    let on_half = |chain: &[LineId]| {
        let nodes: Vec<Point> = chain.iter().filter_map(|l| drawing.line(*l)).filter_map(|l| drawing.node(l.from)).map(|n| n.at).collect();
        nodes.iter().map(|p| side(*p)).sum::<f64>() <= 0.0
    };
    half.cutouts.retain(|c| on_half(c));
    half.inside.retain(|p| on_half(&p.lines) && !ends_at(&drawing, &p.lines, from) | !ends_at(&drawing, &p.lines, to));
    let stays: HashSet<LineId> = half.loops().flatten().copied().chain(half.inside.iter().flat_map(|p| p.lines.iter().copied())).collect();
    let lost: Vec<LineId> = half.lines.iter().map(|l| l.id).filter(|l| !stays.contains(l)).collect();
    half.lines.retain(|l| stays.contains(&l.id));
    let used: HashSet<NodeId> = half.lines.iter().flat_map(|l| [l.from, l.to]).collect();
    half.nodes.retain(|n| used.contains(&n.id));
    half.marks.retain(|m| match m {
        Mark::Notch { line, .. } => stays.contains(line),
        Mark::DrillHole { at, .. } | Mark::Text { at, .. } => side(*at) <= 0.0,
    });
    half.along.retain(|a| stays.contains(&a.line));
    let piece = find(costume, id)?;
    piece.shape = Shape::Drawn(half);
    piece.cut.on_fold = Some(fold);
    references::drop_lines(costume, id, &lost);
    Ok(())
}
