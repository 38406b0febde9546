//! A place on the body for every piece: from the seams that hold it to others, from its name, its twin and the body. Pieces
//! are hung one after the other, each where its threads to what hangs already are shortest.

use crate::ContactBody;
use crate::lying::{Lying, lying};
use body::Station;
use costume::{Costume, Pattern, PatternPiece, PatternRun, PieceId, Placement, Point, resolve};
use glam::DVec3;
use kurbo::Shape;
use serde::Serialize;
use ts_rs::TS;

/// Places along a seam that are compared.
const SAMPLES: usize = 7;
/// Steps of the search for the best shift, mm, one finer than the other.
const STEPS: [f64; 5] = [80.0, 40.0, 20.0, 10.0, 5.0];
/// Farthest that a piece is shifted from its station, mm.
const FAR: f64 = 900.0;
/// What a station that the name speaks against costs, m of thread.
const AGAINST: f64 = 0.25;

/// Upper edge of a bib, as a share of the way from the chest to the neck.
const BIB: f64 = 0.45;

/// A place that is proposed for a piece.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct Hanging {
    /// Which piece.
    pub piece: PieceId,
    /// Its name.
    pub name: String,
    /// Where it would hang.
    pub placement: Placement,
    /// The station in words.
    pub station: String,
    /// What speaks for it.
    pub why: String,
}

/// What a name says about where a piece belongs.
struct Said {
    /// Beginnings of the keys of stations, the likeliest first; empty when the name says nothing.
    stations: Vec<&'static str>,
    /// `front` or `back`.
    face: Option<&'static str>,
    /// `left` or `right`.
    side: Option<&'static str>,
}

/// Words in names of pieces and costumes, and where such pieces hang.
const PLACES: [(&[&str], &[&str]); 16] = [
    (&["under sleeve"], &["under-arm"]),
    (&["sleeve"], &["upper-arm"]),
    (&["cuff"], &["wrist"]),
    (&["collar", "stand", "neckband", "ruff"], &["neck-back"]),
    (&["hood"], &["head"]),
    (&["strap", "brace"], &["shoulder"]),
    (&["knee"], &["knee"]),
    (&["waistband", "belt", "sash", "peplum", "yoke of the skirt"], &["waist"]),
    (&["skirt", "half front", "half back"], &["waist"]),
    (&["leg", "breeches", "trouser", "shorts"], &["hips"]),
    (&["bib", "bodice", "shirt", "jacket", "coat", "tunic", "tabard", "mantle", "cape", "vest", "waistcoat", "chest"], &["chest"]),
    (&["pocket"], &["chest", "hips"]),
    (&["facing", "lining"], &["chest"]),
    (&["ankle"], &["ankle"]),
    (&["thigh"], &["thigh"]),
    (&["front", "back"], &["chest", "waist", "hips"]),
];

fn said(costume: &Costume, piece: &PatternPiece) -> Said {
    let name = piece.name.to_lowercase();
    let find = |text: &str, among: &[(&[&str], &'static [&'static str])]| {
        among.iter().find(|(words, _)| words.iter().any(|w| text.contains(w))).map(|(_, stations)| stations.to_vec())
    };
    let special = find(&name, &PLACES[..15]);
    // what only says front or back hangs where the costume is worn
    let whole = || find(&costume.name.to_lowercase(), &PLACES[8..11]);
    let face = ["front", "back"].into_iter().find(|f| words(&name, f));
    let side = ["left", "right"].into_iter().find(|s| words(&name, s));
    let stations = special.or_else(whole).or_else(|| find(&name, &PLACES[15..])).unwrap_or_default();
    Said { stations, face, side }
}

/// Whether a name speaks against a station; what it says of face and side counts for stations that have one.
fn against(said: &Said, key: &str) -> f64 {
    let mut cost = 0.0;
    if !said.stations.is_empty() && !said.stations.iter().any(|s| key.starts_with(s)) {
        cost += 2.0;
    }
    for (word, other) in [("front", "back"), ("back", "front")] {
        if said.face == Some(word) && key.ends_with(other) && !key.starts_with("neck") {
            cost += 1.0;
        }
    }
    for (word, other) in [("left", "right"), ("right", "left")] {
        if said.side == Some(word) && key.ends_with(other) {
            cost += 1.0;
        }
    }
    cost
}

/// The runs of a piece with those that they are sewn to: places along both, in the frames of their pieces.
struct Tie {
    other: usize,
    own: [Point; SAMPLES],
    there: [Point; SAMPLES],
}

fn ties(pattern: &Pattern, piece: usize) -> Vec<Tie> {
    let mut found = Vec::new();
    for seam in &pattern.seams {
        let (a, b) = (places(pattern, &seam.a), places(pattern, &seam.b));
        for (own, other) in [(&a, &b), (&b, &a)] {
            // of a side over several pieces only what is on this one, and opposite to one other
            let here: Vec<usize> = (0..own.len()).filter(|&k| own[k].0 == piece).collect();
            if here.len() < 2 {
                continue;
            }
            let others: Vec<usize> = here.iter().map(|&k| other[k].0).collect();
            for o in others.iter().copied().filter(|&o| o != piece).collect::<std::collections::BTreeSet<_>>() {
                let on: Vec<usize> = here.iter().copied().filter(|&k| other[k].0 == o).collect();
                let pick = |k: usize| on[(k * (on.len() - 1) + (SAMPLES - 1) / 2) / (SAMPLES - 1)];
                found.push(Tie {
                    other: o,
                    own: std::array::from_fn(|k| own[pick(k)].1),
                    there: std::array::from_fn(|k| other[pick(k)].1),
                });
            }
        }
    }
    found
}

/// Twenty-five places along a side at equal shares of its length: the piece, and the point in its frame.
fn places(pattern: &Pattern, side: &[PatternRun]) -> Vec<(usize, Point)> {
    let whole = pattern.side_length(side);
    let at = |share: f64| {
        let mut left = share * whole;
        for (k, run) in side.iter().enumerate() {
            let own = pattern.run_length(run);
            if left <= own || k + 1 == side.len() {
                let s = run.from + (run.to - run.from) * (left / own).clamp(0.0, 1.0);
                return (run.piece, costume::point_at(&pattern.pieces[run.piece].lines[run.line].curve, s));
            }
            left -= own;
        }
        (0, Point::default())
    };
    (0..25).map(|k| at((f64::from(k) + 0.5) / 25.0)).collect()
}

/// A place for every piece that hangs nowhere (or for all): shown before it is taken.
///
/// Twins follow their partners and get none of their own, and parked pieces are left where they are.
pub fn hang_by_seams(costume: &Costume, form: &ContactBody, all: bool) -> Vec<Hanging> {
    let mut scratch = costume.clone();
    if all {
        scratch.pieces.iter_mut().filter(|p| !p.parked).for_each(|p| p.placement = None);
    }
    let mut found: Vec<Hanging> = Vec::new();
    let wanted: Vec<PieceId> =
        scratch.pieces.iter().filter(|p| p.placement.is_none() && p.twin_of().is_none() && !p.parked).map(|p| p.id).collect();
    for _ in 0..wanted.len() {
        let pattern = resolve(&scratch);
        let waiting: Vec<usize> = (0..pattern.pieces.len())
            .filter(|&k| wanted.contains(&pattern.pieces[k].id) && pattern.pieces[k].placement.is_none())
            .collect();
        // the one that is held best by what hangs, or else the largest of those whose names say most
        let held = |&k: &usize| ties(&pattern, k).iter().filter(|t| pattern.pieces[t.other].placement.is_some()).count();
        let rank = |k: &usize| {
            let said = said(costume, &pattern.pieces[*k]);
            let first = f64::from(u8::from(said.face == Some("front"))) + f64::from(u8::from(!said.stations.is_empty()));
            (held(k) as f64 * 10.0 + first) * 1e9 + pattern.pieces[*k].area()
        };
        let ranked = waiting.into_iter().map(|k| (rank(&k), k));
        let Some((_, next)) = ranked.max_by(|a, b| a.0.total_cmp(&b.0)) else { break };
        let Some((placement, station, why)) = place(costume, &pattern, form, next) else { break };
        let piece = &pattern.pieces[next];
        if let Some(p) = scratch.pieces.iter_mut().find(|p| p.id == piece.id) {
            p.placement = Some(placement.clone());
        }
        found.push(Hanging { piece: piece.id, name: piece.name.clone(), placement, station, why });
    }
    found
}

/// The best place of one piece: its placement, the station in words, and why.
fn place(costume: &Costume, pattern: &Pattern, form: &ContactBody, k: usize) -> Option<(Placement, String, String)> {
    let piece = &pattern.pieces[k];
    if let Some(found) = on_its_line(pattern, form, piece) {
        return Some(found);
    }
    let said = said(costume, piece);
    let ties: Vec<Tie> = ties(pattern, k).into_iter().filter(|t| pattern.pieces[t.other].placement.is_some()).collect();
    let others: Vec<[DVec3; SAMPLES]> = ties
        .iter()
        .filter_map(|t| {
            let lies = lying(&pattern.pieces[t.other], &form.posed)?;
            Some(t.there.map(|p| lies.at(p)))
        })
        .collect();
    let mut best: Option<(f64, Placement, &Station)> = None;
    for station in &form.posed.stations {
        let cost = AGAINST * against(&said, station.key);
        let (shift, threads) = if others.is_empty() {
            (alone(form, pattern, piece, station, &said), 0.0)
        } else {
            shortest(form, pattern, piece, station, &ties, &others, &said)
        };
        // of stations that do alike the first that the name speaks for
        let order = said.stations.iter().position(|s| station.key.starts_with(s)).unwrap_or(said.stations.len()) as f64;
        let sum = cost + threads + 1e-3 * order;
        if best.as_ref().is_none_or(|(b, ..)| sum < *b) {
            best = Some((sum, Placement { shift, ..Placement::at(station.key) }, station));
        }
    }
    let (_, placement, station) = best?;
    let why = match (ties.len(), said.stations.is_empty()) {
        (0, false) => "by its name".to_owned(),
        (0, true) => "by its size".to_owned(),
        (1, _) => "by a seam".to_owned(),
        (n, _) => format!("by {n} seams"),
    };
    Some((placement, station.name.to_owned(), why))
}

/// Where a piece lies whose place is marked on another that hangs.
fn on_its_line(pattern: &Pattern, form: &ContactBody, piece: &PatternPiece) -> Option<(Placement, String, String)> {
    let (under, path) = pattern.pieces.iter().filter(|p| p.placement.is_some()).find_map(|p| {
        let marked = |path: &&costume::PatternPath| matches!(path.purpose, costume::Purpose::Placement { of } if of == piece.id);
        p.inside.iter().find(marked).map(|path| (p, path))
    })?;
    let at = under.placement.as_ref()?;
    let station = form.posed.station(&at.station)?;
    let around = path.lines.iter().map(|&l| under.lines[l].curve.bounding_box()).reduce(|a, b| a.union(b))?;
    let (middle, of) = (under.outline_path().bounding_box().center(), around.center());
    let own = piece.outline_path().bounding_box();
    // a marked line may leave the top of a pocket open: its foot and its sides are what is matched
    let low = around.y0 + 0.5 * own.height() - of.y;
    let shift = Point::new(at.shift.x + of.x - middle.x, at.shift.y + of.y + low - middle.y);
    Some((Placement { shift, ..Placement::at(station.key) }, station.name.to_owned(), format!("on the line marked on {}", under.name)))
}

/// Where a piece hangs of which nothing else tells: its upper edge at the neck, the waist or the middle of its station.
fn alone(form: &ContactBody, pattern: &Pattern, piece: &PatternPiece, station: &Station, said: &Said) -> Point {
    let size = piece.outline_path().bounding_box();
    let level = |key: &str| form.posed.station(key).map(|s| (s.centre.y - station.centre.y) * 1000.0);
    let top = match station.key {
        // a bib ends below its straps
        key if key.starts_with("chest") && piece.name.to_lowercase().contains("bib") => level("neck-back").map(|y| BIB * y),
        key if key.starts_with("chest") => level("neck-back").map(|y| y - 15.0),
        key if key.starts_with("waist") => Some(20.0),
        key if key.starts_with("hips") => level("waist-front").map(|y| y + 10.0),
        _ => None,
    };
    let y = top.map_or(0.0, |top| top - 0.5 * size.height());
    // a half hangs beside the middle, what is named for the side beside the piece in the middle
    let trunk = ["chest", "waist", "hips"].iter().any(|k| station.key.starts_with(k));
    let has_twin = pattern.pieces.iter().any(|p| p.twin_of == Some(piece.id));
    let inner = if has_twin && words(&piece.name, "side") { middle_width(pattern, piece) } else { 0.0 };
    let half = if inner > 0.0 { 0.5 * (mean_width(piece) + inner) } else { 0.5 * size.width() + 12.0 };
    let left = if station.key.ends_with("back") { -half } else { half };
    let x = match said.side {
        Some("left") if trunk => left,
        Some("right") if trunk => -left,
        // of a piece and its twin the drawn one is the wearer's left
        None if trunk && has_twin => left,
        _ => 0.0,
    };
    Point::new(x, y)
}

/// Whether a name has this word in it.
fn words(name: &str, word: &str) -> bool {
    name.to_lowercase().split(|c: char| !c.is_alphabetic()).any(|w| w == word)
}

/// Area by height, mm.
fn mean_width(piece: &PatternPiece) -> f64 {
    let path = piece.outline_path();
    path.area().abs() / path.bounding_box().height().max(1.0)
}

/// Mean width of the widest piece without a twin that is named for the same face, mm: the panel in the middle.
fn middle_width(pattern: &Pattern, piece: &PatternPiece) -> f64 {
    let is_twinned = |p: &PatternPiece| p.twin_of.is_some() || pattern.pieces.iter().any(|q| q.twin_of == Some(p.id));
    let same_face = |p: &PatternPiece| ["front", "back"].iter().all(|f| words(&p.name, f) == words(&piece.name, f));
    let height = |p: &PatternPiece| p.outline_path().bounding_box().height();
    // a band lies across, it is not beside anything
    let beside = |p: &&PatternPiece| !p.parked && !is_twinned(p) && same_face(p) && height(p) > 0.5 * height(piece);
    pattern.pieces.iter().filter(beside).map(mean_width).fold(0.0, f64::max)
}

/// The shift at a station for which the threads to what hangs are shortest, and their mean length, m.
fn shortest(
    form: &ContactBody,
    pattern: &Pattern,
    piece: &PatternPiece,
    station: &Station,
    ties: &[Tie],
    others: &[[DVec3; SAMPLES]],
    said: &Said,
) -> (Point, f64) {
    let middle = piece.outline_path().bounding_box().center();
    let cost = |shift: Point| {
        let placement = Placement { shift, ..Placement::at(station.key) };
        let lies = Lying::new(station, placement, [middle.x, middle.y]);
        let sum: f64 = ties.iter().zip(others).map(|(t, o)| (0..SAMPLES).map(|k| lies.at(t.own[k]).distance(o[k])).sum::<f64>()).sum();
        sum / (ties.len() * SAMPLES) as f64
    };
    let mut at = alone(form, pattern, piece, station, said);
    let mut least = cost(at);
    let start = Point::default();
    if cost(start) < least {
        (at, least) = (start, cost(start));
    }
    for step in STEPS {
        for _ in 0..24 {
            let ways = [(step, 0.0), (-step, 0.0), (0.0, step), (0.0, -step)];
            let next = ways.map(|(x, y)| Point::new((at.x + x).clamp(-FAR, FAR), (at.y + y).clamp(-FAR, FAR)));
            let Some((there, better)) =
                next.into_iter().map(|p| (p, cost(p))).min_by(|a, b| a.1.total_cmp(&b.1)).filter(|n| n.1 < least - 1e-6)
            else {
                break;
            };
            (at, least) = (there, better);
        }
    }
    (at, least)
}
