//! What every document must obey. Files and edits are held to the same rules.

use crate::outline::{encloses, polyline};
use crate::{
    CLOTH_VALUES, Costume, EdgeFinish, Fabric, Fineness, Piece, Point, Refusal, Run, Seam, edge_length, limits, signed_area, swatch,
};
use std::collections::HashSet;

pub(crate) type Checked = Result<(), Refusal>;

/// Checks the whole document; the first broken rule is returned.
pub(crate) fn check(costume: &Costume) -> Checked {
    name("costume", &costume.name)?;
    fineness(costume.fineness)?;
    crate::rules_body::check(costume)?;
    at_most("costume", "pieces", costume.pieces.len(), limits::PIECES)?;
    at_most("costume", "seams", costume.seams.len(), limits::SEAMS)?;
    at_most("costume", "fabrics", costume.fabrics.len(), limits::FABRICS)?;
    ids(costume)?;
    costume.fabrics.iter().try_for_each(fabric)?;
    for p in &costume.pieces {
        piece(p)?;
        construction(p)?;
        folds(p)?;
        if costume.fabric(p.fabric).is_none() {
            return Err(Refusal::new(&p.name, "is cut from a fabric that the costume does not have", "choose one of its fabrics"));
        }
    }
    seams(costume)?;
    file_size(costume)
}

/// A document that can be made can also be read back from its file.
fn file_size(costume: &Costume) -> Checked {
    // what stays far below the limit however it is written need not be written to know it
    const FEW: usize = 4000;
    let bones = costume.poses.iter().map(|p| p.bones.len()).sum::<usize>() + costume.body.pose.len() + costume.body.contact.parts.len();
    let runs: usize = costume.seams.iter().map(|s| 1 + s.runs().count()).sum();
    let corners: usize = costume.pieces.iter().map(|p| 2 + p.corners.len() + p.folds.len()).sum();
    let points: usize = costume.tapes.iter().map(|t| 1 + t.points.len()).sum();
    let own: usize = costume.fabrics.iter().map(|f| 2 + f.own.len()).sum();
    if bones + runs + corners + points + own <= FEW {
        return Ok(());
    }
    let bytes = crate::write(costume)?.len();
    if bytes > limits::FILE_BYTES {
        let reason = format!("would take {bytes} bytes, more than the {} of a costume file", limits::FILE_BYTES);
        return Err(Refusal::new(&costume.name, reason, "split it into two costumes"));
    }
    Ok(())
}

/// Fold lines join corners of the piece, lie within its outline and do not cross each other.
fn folds(piece: &Piece) -> Checked {
    at_most(&piece.name, "fold lines", piece.folds.len(), limits::FOLD_LINES)?;
    let outline = polyline(piece, 16);
    let n = outline.len();
    let mut lines: Vec<(Point, Point)> = Vec::new();
    for fold in &piece.folds {
        let refuse = |reason: &str, mend: &str| Err(Refusal::new(format!("{}, fold line", piece.name), reason, mend));
        let (Some(i), Some(j)) = (piece.index(fold.from), piece.index(fold.to)) else {
            return refuse("refers to a corner that does not exist", "draw it anew between two corners");
        };
        if !limits::FOLD.contains(&fold.angle) {
            let (low, high) = (limits::FOLD.start(), limits::FOLD.end());
            return refuse(&format!("cannot be pressed to {}°", fold.angle), &format!("give it an angle from {low} to {high}°"));
        }
        let (a, b) = (piece.corners[i].at, piece.corners[j].at);
        let shares = |p: Point, q: Point| [p, q].iter().any(|p| *p == a || *p == b);
        let crosses = (0..n).any(|k| {
            let (p, q) = (outline[k].0, outline[(k + 1) % n].0);
            !shares(p, q) && segments_meet(a, b, p, q)
        });
        let along_edge = (piece.next(i).id == fold.to && piece.corners[i].bow.is_none())
            || (piece.next(j).id == fold.from && piece.corners[j].bow.is_none());
        if i == j || crosses || along_edge || !encloses(piece, a.lerp(b, 0.5)) {
            return refuse("does not lie within the outline", "draw it between two corners that see each other");
        }
        if lines.iter().any(|&(p, q)| shares(p, p) && shares(q, q)) {
            return refuse("lies on another fold line", "change the angle of the one that is there");
        }
        if lines.iter().any(|&(p, q)| !shares(p, q) && segments_meet(a, b, p, q)) {
            return refuse("crosses another fold line", "let them meet at a corner, or take one out");
        }
        lines.push((a, b));
    }
    Ok(())
}

/// Wear order and what is sewn to the edges.
fn construction(piece: &Piece) -> Checked {
    if !limits::WEAR.contains(&piece.wear) {
        let (low, high) = (limits::WEAR.start(), limits::WEAR.end());
        return Err(Refusal::new(
            &piece.name,
            format!("cannot be layer {}", piece.wear),
            format!("give it a wear order from {low} to {high}"),
        ));
    }
    for (i, corner) in piece.corners.iter().enumerate() {
        if let Some(EdgeFinish::Elastic { length }) = corner.finish
            && !limits::ELASTIC.contains(&length)
        {
            let (low, high) = (limits::ELASTIC.start(), limits::ELASTIC.end());
            let item = format!("{}, edge {}", piece.name, i + 1);
            return Err(Refusal::new(
                item,
                format!("cannot carry an elastic of {length} %"),
                format!("give it {low} to {high} % of the edge"),
            ));
        }
    }
    Ok(())
}

pub(crate) fn at_most(item: &str, what: &str, count: usize, limit: usize) -> Checked {
    if count > limit {
        return Err(Refusal::new(item, format!("has {count} {what}, more than the limit of {limit}"), format!("keep to {limit} {what}")));
    }
    Ok(())
}

/// Whether a text can be the name of something: 1 to `limits::NAME` characters, not all blank, no control characters.
pub fn is_name(text: &str) -> bool {
    !text.trim().is_empty() && text.chars().count() <= limits::NAME && !text.chars().any(char::is_control)
}

pub(crate) fn name(item: &str, text: &str) -> Checked {
    if !is_name(text) {
        return Err(Refusal::new(item, "needs a readable name", format!("give it 1 to {} characters", limits::NAME)));
    }
    Ok(())
}

fn fineness(fineness: Fineness) -> Checked {
    let mm = fineness.edge_mm();
    if !limits::FINENESS.contains(&mm) {
        let (low, high) = (limits::FINENESS.start(), limits::FINENESS.end());
        return Err(Refusal::new(
            "fineness",
            format!("{mm} mm is outside {low} to {high} mm"),
            format!("choose an edge length from {low} to {high} mm"),
        ));
    }
    Ok(())
}

fn ids(costume: &Costume) -> Checked {
    if costume.next_id > limits::IDS {
        let reason = format!("counts its ids up to {}, beyond {}", costume.next_id, limits::IDS);
        return Err(Refusal::new("costume file", reason, "restore the file from a copy"));
    }
    let mut seen = HashSet::new();
    let all = costume
        .fabrics
        .iter()
        .map(|f| f.id.0)
        .chain(costume.seams.iter().map(|s| s.id.0))
        .chain(costume.tapes.iter().map(|t| t.id.0))
        .chain(costume.pieces.iter().flat_map(|p| std::iter::once(p.id.0).chain(p.corners.iter().map(|c| c.id.0))));
    for id in all {
        if !seen.insert(id) || id >= costume.next_id {
            return Err(Refusal::new("costume file", format!("uses the id {id} twice or beyond next_id"), "restore the file from a copy"));
        }
    }
    Ok(())
}

/// Checks one fabric by itself.
pub fn fabric(fabric: &Fabric) -> Checked {
    name("fabric", &fabric.name)?;
    if swatch(&fabric.swatch).is_none() {
        return Err(Refusal::new(&fabric.name, format!("the swatch book has no `{}`", fabric.swatch), "choose a swatch of the book"));
    }
    for (key, own) in &fabric.own {
        let Some(known) = CLOTH_VALUES.iter().find(|v| v.key == key) else {
            return Err(Refusal::new(
                &fabric.name,
                format!("has the value `{key}`, which no cloth has"),
                "use the values of the swatch book",
            ));
        };
        if !(known.low..=known.high).contains(own) {
            let (name, unit) = (known.name.to_lowercase(), known.unit);
            let reason = format!("a {name} of {own} {unit}");
            return Err(Refusal::new(&fabric.name, reason, format!("choose one from {} to {} {unit}", known.low, known.high)));
        }
    }
    colour(&fabric.name, &fabric.colour)?;
    if let Some(print) = &fabric.print {
        colour(&fabric.name, &print.colour)?;
        name("print", &print.motif)?;
        if !(5.0..=2000.0).contains(&print.repeat) {
            return Err(Refusal::new(&fabric.name, format!("a print repeat of {} mm", print.repeat), "choose a repeat from 5 to 2000 mm"));
        }
    }
    Ok(())
}

fn colour(item: &str, text: &str) -> Checked {
    let digits = text.strip_prefix('#').unwrap_or("");
    if digits.len() != 6 || !digits.chars().all(|c| c.is_ascii_hexdigit()) {
        return Err(Refusal::new(item, format!("`{text}` is not a colour"), "write colours as #rrggbb"));
    }
    Ok(())
}

fn on_table(item: &str, p: Point) -> Checked {
    if !(p.x.abs() <= limits::TABLE && p.y.abs() <= limits::TABLE) {
        return Err(Refusal::new(item, "would leave the table", format!("stay within {} m of its middle", limits::TABLE / 1000.0)));
    }
    Ok(())
}

/// Checks one piece by itself.
pub(crate) fn piece(piece: &Piece) -> Checked {
    name("piece", &piece.name)?;
    at_most(&piece.name, "corners", piece.corners.len(), limits::CORNERS)?;
    if piece.corners.len() < 3 {
        return Err(Refusal::new(&piece.name, "has fewer than three corners", "a piece needs at least three"));
    }
    on_table(&piece.name, piece.at)?;
    let mend = format!("give it in degrees, from {} to {}", limits::ANGLE.start(), limits::ANGLE.end());
    if !limits::ANGLE.contains(&piece.grain) {
        return Err(Refusal::new(&piece.name, "has no grain direction", mend));
    }
    if let Some(placement) = &piece.placement {
        name("station", &placement.station)?;
        on_table(&piece.name, placement.shift)?;
        if !limits::ANGLE.contains(&placement.turn) {
            return Err(Refusal::new(&piece.name, "has no turn at its station", mend));
        }
    }
    for (i, corner) in piece.corners.iter().enumerate() {
        on_table(&piece.name, corner.at)?;
        if let Some(bow) = corner.bow {
            on_table(&piece.name, bow.leave)?;
            on_table(&piece.name, bow.arrive)?;
        }
        if corner.at.distance(piece.next(i).at) < limits::EDGE || edge_length(piece, i) < limits::EDGE {
            return Err(Refusal::new(
                format!("{}, edge {}", piece.name, i + 1),
                "would have no length",
                format!("keep its corners at least {} mm apart", limits::EDGE),
            ));
        }
    }
    if let Some((a, b)) = crossing(piece) {
        return Err(Refusal::new(&piece.name, format!("edge {} would cross edge {}", a + 1, b + 1), "keep the outline free of crossings"));
    }
    if signed_area(piece) <= 0.0 {
        return Err(Refusal::new(&piece.name, "its outline would turn inside out", "keep the corners in their order"));
    }
    Ok(())
}

/// The first two edges of the outline that cross or touch apart from their shared corner. Segments are swept in the
/// order of their left ends, so that only those above each other are compared.
fn crossing(piece: &Piece) -> Option<(usize, usize)> {
    let line = polyline(piece, 16);
    let n = line.len();
    let ends = |i: usize| (line[i].0, line[(i + 1) % n].0);
    let left = |i: usize| ends(i).0.x.min(ends(i).1.x);
    let mut first = (0..n).filter(|&i| folds_back((ends(i).0, ends(i).1, ends((i + 1) % n).1))).map(|i| sorted(i, (i + 1) % n)).min();
    let mut order: Vec<usize> = (0..n).collect();
    order.sort_by(|a, b| left(*a).total_cmp(&left(*b)));
    let mut open: Vec<usize> = Vec::new();
    for &i in &order {
        let (a, b) = ends(i);
        open.retain(|&j| ends(j).0.x.max(ends(j).1.x) >= left(i));
        for &j in &open {
            let pair = sorted(i, j);
            let neighbours = pair.1 == pair.0 + 1 || pair == (0, n - 1);
            if !neighbours && first.is_none_or(|f| pair < f) && segments_meet(a, b, ends(j).0, ends(j).1) {
                first = Some(pair);
            }
        }
        open.push(i);
    }
    first.map(|(i, j)| (line[i].1, line[j].1))
}

fn sorted(i: usize, j: usize) -> (usize, usize) {
    (i.min(j), i.max(j))
}

fn turn(a: Point, b: Point, c: Point) -> f64 {
    (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x)
}

/// Two segments a-b and b-c that lie on each other.
fn folds_back((a, b, c): (Point, Point, Point)) -> bool {
    let along = (a.x - b.x) * (c.x - b.x) + (a.y - b.y) * (c.y - b.y);
    along > 0.0 && turn(a, b, c).abs() < 1e-9 * along
}

fn segments_meet(a: Point, b: Point, c: Point, d: Point) -> bool {
    if a.x.max(b.x) < c.x.min(d.x) || c.x.max(d.x) < a.x.min(b.x) || a.y.max(b.y) < c.y.min(d.y) || c.y.max(d.y) < a.y.min(b.y) {
        return false;
    }
    turn(a, b, c) * turn(a, b, d) <= 0.0 && turn(c, d, a) * turn(c, d, b) <= 0.0
}

fn seams(costume: &Costume) -> Checked {
    let mut sewn = HashSet::new();
    let mut tags = HashSet::new();
    for seam in &costume.seams {
        let item = format!("seam {}", seam.tag);
        name(&item, &seam.tag)?;
        if !tags.insert(&seam.tag) {
            return Err(Refusal::new(&item, "its tag is used twice", "give every seam a tag of its own"));
        }
        if let Some(fold) = seam.fold.filter(|fold| !limits::FOLD.contains(fold)) {
            let (low, high) = (limits::FOLD.start(), limits::FOLD.end());
            return Err(Refusal::new(&item, format!("cannot be pressed to {fold}°"), format!("give it an angle from {low} to {high}°")));
        }
        side(costume, seam, &seam.a)?;
        side(costume, seam, &seam.b)?;
        for run in seam.runs() {
            if !sewn.insert((run.piece, run.edge)) {
                let twice = seam.runs().filter(|r| (r.piece, r.edge) == (run.piece, run.edge)).count() > 1;
                let reason = if twice { "an edge cannot be sewn to itself" } else { "one of its edges is already sewn" };
                return Err(Refusal::new(edge_name(costume, run), reason, "choose a free edge, or unpick the other seam first"));
            }
        }
    }
    Ok(())
}

/// "Front panel, edge 3".
pub(crate) fn edge_name(costume: &Costume, run: &Run) -> String {
    let index = costume.piece(run.piece).and_then(|p| p.index(run.edge));
    match index {
        Some(i) => format!("{}, edge {}", costume.piece_name(run.piece), i + 1),
        None => format!("{}, missing edge", costume.piece_name(run.piece)),
    }
}

/// A side must be a chain of existing edges, each starting where the one before ended.
fn side(costume: &Costume, seam: &Seam, side: &[Run]) -> Checked {
    let item = format!("seam {}", seam.tag);
    at_most(&item, "edges on a side", side.len(), limits::RUNS)?;
    if side.is_empty() {
        return Err(Refusal::new(item, "has an empty side", "join two edges"));
    }
    let mut reached = None;
    for run in side {
        let Some((piece, i)) = costume.piece(run.piece).and_then(|p| Some((p, p.index(run.edge)?))) else {
            return Err(Refusal::new(item, "refers to an edge that does not exist", "unpick it and join again"));
        };
        let (first, last) = (piece.corners[i].id, piece.next(i).id);
        let (start, end) = if run.backwards { (last, first) } else { (first, last) };
        if reached.is_some_and(|r| r != start) {
            return Err(Refusal::new(item, "its edges do not follow each other", "sew separate stretches as separate seams"));
        }
        reached = Some(end);
    }
    Ok(())
}
