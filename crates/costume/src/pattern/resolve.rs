//! From decisions to plain geometry.

use super::seams;
use super::{Pattern, PatternAlong, PatternLine, PatternMark, PatternNode, PatternPath, PatternPiece};
use crate::curve::{arc_length, line_curve};
use crate::mirror::{about, mirrored, mirrored_station, reflected};
use crate::{Costume, Drawing, LineId, Mark, Paint, Piece, Placement, Point, Shape};
use std::collections::HashMap;

/// The plain pattern of a document that obeys the rules. What refers to nothing is left out.
///
/// ```
/// use costume::{Costume, Edit, Point, apply, resolve};
///
/// let half = [(0.0, 0.0), (200.0, 0.0), (150.0, 300.0), (0.0, 300.0)].map(|(x, y)| Point::new(x, y).into()).to_vec();
/// let front = Edit::AddPiece { name: "Front".into(), at: Point::new(0.0, 0.0), points: half, fold: None };
/// let mut costume = apply(&Costume::new("Tabard"), &front)?;
/// let (piece, fold) = (costume.pieces[0].id, costume.pieces[0].drawing().expect("drawn").outline[3]);
/// costume = apply(&costume, &Edit::SetCut { piece, cut: costume::CutPlan { count: 1, on_fold: Some(fold) } })?;
/// assert_eq!(resolve(&costume).pieces[0].size(), [400.0, 300.0]);
/// # Ok::<(), costume::Refusal>(())
/// ```
pub fn resolve(costume: &Costume) -> Pattern {
    let pieces: Vec<PatternPiece> = costume.pieces.iter().filter_map(|piece| resolved(costume, piece)).collect();
    let seams = seams::resolved(costume, &pieces);
    Pattern { pieces, seams }
}

/// The same from the pattern of the document before: pieces that did not change are taken from it.
pub(crate) fn resolve_after(before: &Costume, pattern: &Pattern, costume: &Costume) -> Pattern {
    let old: HashMap<_, _> = before.pieces.iter().map(|p| (p.id, p)).collect();
    let made: HashMap<_, _> = pattern.pieces.iter().map(|p| (p.id, p)).collect();
    let same = |piece: &Piece| old.get(&piece.id).is_some_and(|o| *o == piece);
    let pieces: Vec<PatternPiece> = costume
        .pieces
        .iter()
        .filter_map(|piece| {
            let partner = piece.twin_of().and_then(|of| costume.piece(of));
            match made.get(&piece.id) {
                Some(known) if same(piece) && partner.is_none_or(same) => Some((*known).clone()),
                _ => resolved(costume, piece),
            }
        })
        .collect();
    let seams = seams::resolved(costume, &pieces);
    Pattern { pieces, seams }
}

fn resolved(costume: &Costume, piece: &Piece) -> Option<PatternPiece> {
    let (placement, drawing) = match &piece.shape {
        Shape::Drawn(drawing) => (piece.placement.clone(), flat(drawing, piece.cut.on_fold)?),
        Shape::Twin { of } => {
            let partner = costume.piece(*of)?;
            let placement = piece.placement.clone().or_else(|| partner.placement.as_ref().map(mirrored_placement));
            let mut drawing = flat(&mirrored(partner.drawing()?), partner.cut.on_fold)?;
            drawing.lines.iter_mut().for_each(|l| l.turned = !l.turned);
            (placement, drawing)
        }
    };
    Some(PatternPiece {
        id: piece.id,
        name: piece.name.clone(),
        at: piece.at,
        angle: piece.angle,
        fabric: piece.fabric,
        grain: piece.grain,
        wear: piece.wear,
        parked: piece.parked,
        placement,
        cut: piece.cut,
        twin_of: piece.twin_of(),
        lines: drawing.lines,
        outline: drawing.outline,
        cutouts: drawing.cutouts,
        inside: drawing.inside,
        marks: drawing.marks,
        along: drawing.along,
        paint: drawing.paint,
    })
}

/// Where the twin of a placed piece hangs.
pub(crate) fn mirrored_placement(placement: &Placement) -> Placement {
    Placement {
        station: mirrored_station(&placement.station),
        shift: Point::new(-placement.shift.x, placement.shift.y),
        turn: -placement.turn,
        ..placement.clone()
    }
}

/// The geometry of a drawing with indices in place of ids.
struct Flat {
    lines: Vec<PatternLine>,
    outline: Vec<usize>,
    cutouts: Vec<Vec<usize>>,
    inside: Vec<PatternPath>,
    marks: Vec<PatternMark>,
    along: Vec<PatternAlong>,
    paint: Vec<Paint>,
}

fn flat(drawing: &Drawing, on_fold: Option<LineId>) -> Option<Flat> {
    let half = indexed(drawing, false)?;
    match on_fold {
        None => Some(half),
        Some(fold) => opened(drawing, half, fold),
    }
}

fn indexed(drawing: &Drawing, image: bool) -> Option<Flat> {
    let nodes: HashMap<_, _> = drawing.nodes.iter().map(|n| (n.id, n.at)).collect();
    let at: HashMap<LineId, usize> = drawing.lines.iter().enumerate().map(|(i, l)| (l.id, i)).collect();
    let all = |ids: &Vec<LineId>| ids.iter().map(|l| at.get(l).copied()).collect::<Option<Vec<usize>>>();
    let lines = drawing
        .lines
        .iter()
        .map(|l| {
            let curve = crate::curve::curve(*nodes.get(&l.from)?, l.handles, *nodes.get(&l.to)?);
            let node = |id| PatternNode { id, image };
            Some(PatternLine { id: l.id, image, turned: image, from: node(l.from), to: node(l.to), curve, length: arc_length(&curve) })
        })
        .collect::<Option<Vec<_>>>()?;
    Some(Flat {
        lines,
        outline: all(&drawing.outline)?,
        cutouts: drawing.cutouts.iter().map(all).collect::<Option<_>>()?,
        inside: drawing
            .inside
            .iter()
            .map(|p| Some(PatternPath { id: p.id, purpose: p.purpose, lines: all(&p.lines)? }))
            .collect::<Option<_>>()?,
        marks: drawing
            .marks
            .iter()
            .map(|mark| {
                let line = match mark {
                    Mark::Notch { line, .. } => Some(*at.get(line)?),
                    _ => None,
                };
                Some(PatternMark { mark: mark.clone(), line })
            })
            .collect::<Option<_>>()?,
        along: drawing
            .along
            .iter()
            .map(|a| Some(PatternAlong { line: *at.get(&a.line)?, from: a.from, to: a.to, finish: a.finish }))
            .collect::<Option<_>>()?,
        paint: drawing.paint.clone(),
    })
}

/// The half and its image about the fold in one: the outline goes once around both.
fn opened(drawing: &Drawing, half: Flat, fold: LineId) -> Option<Flat> {
    let line = drawing.line(fold)?;
    let (a, b) = (drawing.node(line.from)?.at, drawing.node(line.to)?.at);
    if a.distance(b) <= 0.0 || line_curve(drawing, line).is_none() {
        return None;
    }
    let mut other = indexed(&reflected(drawing, about(a, b)), true)?;
    for node in other.lines.iter_mut().flat_map(|l| [&mut l.from, &mut l.to]) {
        node.image = node.id != line.from && node.id != line.to;
    }
    let count = half.lines.len();
    let at = half.outline.iter().position(|&l| half.lines[l].id == fold)?;
    let around = |flat: &Flat, from: usize| -> Vec<usize> {
        let n = flat.outline.len();
        (1..n).map(|k| flat.outline[(from + k) % n]).collect()
    };
    let at_image = other.outline.iter().position(|&l| other.lines[l].id == fold)?;
    let mut outline = around(&half, at);
    outline.extend(around(&other, at_image).into_iter().map(|l| l + count));
    let shifted = |lines: &Vec<usize>| lines.iter().map(|l| l + count).collect::<Vec<_>>();
    let mut whole = half;
    whole.outline = outline;
    whole.cutouts.extend(other.cutouts.iter().map(shifted));
    whole.inside.extend(other.inside.iter().map(|p| PatternPath { lines: shifted(&p.lines), ..p.clone() }));
    whole.marks.extend(other.marks.into_iter().map(|m| PatternMark { line: m.line.map(|l| l + count), ..m }));
    whole.along.extend(other.along.iter().map(|a| PatternAlong { line: a.line + count, ..*a }));
    whole.paint.extend(other.paint);
    whole.lines.extend(other.lines);
    Some(whole)
}
