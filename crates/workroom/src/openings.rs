//! What of a seam is not sewn edge to edge: the open stretch of a closure, laces, laps. All of it follows from the document,
//! so that it can change while a drape goes on.

use crate::Assembly;
use crate::piece_range::{Flat, PieceRange};
use cloth::{Lace, Lap, SeamPair};
use costume::{ClosureKind, Costume, Pattern, PatternSeam, resolve};
use mesh::FlatLookup;

/// Pairs that are left open, and seams that are laced.
#[derive(Clone, Debug, Default, PartialEq)]
pub(crate) struct Openings {
    /// Places among the scene's pairs.
    pub open: Vec<u32>,
    pub laces: Vec<Lace>,
}

/// The same assembly with the closures and laces of another state of its document, which must differ in nothing else that the
/// cloth feels: what is open now, and how seams are laced, for a drape that goes on. `None` when it differs in more.
///
/// ```
/// use costume::{Closure, Edit, SeamId};
/// let shirt = costume::read(include_str!("../../../demo/brine-carriers-shirt.ourlet.json"))?;
/// let zip = shirt.seams.iter().find(|s| s.closure.is_some()).expect("a seam that opens").id;
/// let open = costume::apply(&shirt, &Edit::CloseSeam { seam: zip, closure: Some(Closure { open: 0.5, by: Default::default() }) })?;
/// assert!(workroom::differs_in_openings(&shirt, &open));
/// # Ok::<(), costume::Refusal>(())
/// ```
pub fn reopened(assembly: &Assembly, costume: &Costume) -> Option<(Assembly, Vec<u32>, Vec<Lace>)> {
    if !differs_in_openings(&assembly.costume, costume) {
        return None;
    }
    let mut next = assembly.clone();
    next.costume = costume.clone();
    next.pattern = resolve(costume);
    let Openings { open, laces } = openings(&next.pieces, &next.scene.pairs, &sewn(&next.pattern));
    next.scene.construction.open.clone_from(&open);
    next.scene.construction.laces.clone_from(&laces);
    Some((next, open, laces))
}

/// Whether two documents differ at most in how their seams open, and in stitches that are only seen.
pub fn differs_in_openings(a: &Costume, b: &Costume) -> bool {
    let closed = |c: &Costume| {
        let mut c = c.clone();
        for seam in &mut c.seams {
            seam.closure = None;
            (seam.make.lacing, seam.make.top_stitch) = (None, None);
        }
        c
    };
    closed(a) == closed(b)
}

/// The seams of which all pieces hang, in the order of the scene's seam numbers.
pub(crate) fn sewn(pattern: &Pattern) -> Vec<&PatternSeam> {
    let hangs = |s: &&PatternSeam| s.a.iter().chain(&s.b).all(|r| !pattern.pieces[r.piece].parked);
    pattern.seams.iter().filter(hangs).collect()
}

/// Shares of the length of side a at which the pairs of a seam lie, 0 to 1.
fn shares(flat: &Flat, pairs: &[(usize, SeamPair)]) -> Vec<f64> {
    let mut reached = vec![0.0];
    for two in pairs.windows(2) {
        let last = reached[reached.len() - 1];
        reached.push(last + flat.way(two[0].1.a, two[1].1.a).unwrap_or_default());
    }
    let whole = reached[reached.len() - 1].max(f64::MIN_POSITIVE);
    reached.iter().map(|r| r / whole).collect()
}

/// `seams` in the order of the numbers of the pairs; pairs of a seam come in sewing order.
pub(crate) fn openings(ranges: &[PieceRange], pairs: &[SeamPair], seams: &[&PatternSeam]) -> Openings {
    let flat = Flat(ranges);
    let mut made = Openings::default();
    for (k, seam) in seams.iter().enumerate() {
        let own: Vec<(usize, SeamPair)> = pairs.iter().copied().enumerate().filter(|(_, p)| p.seam == k as u32).collect();
        if own.is_empty() {
            continue;
        }
        let all = || own.iter().map(|(n, _)| *n as u32);
        if seam.make.lap.is_some() {
            made.open.extend(all());
            continue;
        }
        if let Some(lacing) = seam.make.lacing {
            made.laces.push(Lace { pairs: all().collect(), width: (lacing.width / 1000.0) as f32, steps: u32::from(lacing.steps) });
            continue;
        }
        let Some(closure) = seam.closure else { continue };
        let shares = shares(&flat, &own);
        let closed = 1.0 - closure.open;
        let held = held_by(closure.by, closed, &shares);
        made.open.extend((0..own.len()).filter(|&n| !held(n)).map(|n| own[n].0 as u32));
    }
    made
}

/// Which pairs of a closure hold: all of its closed stretch, or those at its buttons.
fn held_by(by: ClosureKind, closed: f64, shares: &[f64]) -> impl Fn(usize) -> bool {
    let buttons: Option<Vec<usize>> = match by {
        ClosureKind::Buttons { count } if count > 1 => {
            let at = |b: u8| closed * f64::from(b) / f64::from(count - 1);
            let nearest = |s: f64| (0..shares.len()).min_by(|&a, &b| (shares[a] - s).abs().total_cmp(&(shares[b] - s).abs()));
            Some((0..count).filter_map(|b| nearest(at(b))).collect())
        }
        _ => None,
    };
    let within: Vec<bool> = shares.iter().map(|s| closed > 0.0 && *s <= closed + 1e-6).collect();
    move |n| buttons.as_ref().map_or(within[n], |b| closed > 0.0 && b.contains(&n))
}

/// Where the edges of lapped seams are sewn down. `faces` tells of each piece whether its right side is outwards.
pub(crate) fn laps(ranges: &[PieceRange], pairs: &[SeamPair], seams: &[&PatternSeam], faces: &[bool]) -> Vec<Lap> {
    let flat = Flat(ranges);
    let mut made = Vec::new();
    for (k, seam) in seams.iter().enumerate() {
        let Some(width) = seam.make.lap else { continue };
        let own: Vec<SeamPair> = pairs.iter().copied().filter(|p| p.seam == k as u32).collect();
        let (over, under): (Vec<u32>, Vec<u32>) = own.iter().map(|p| (p.a, p.b)).unzip();
        let number = k as u32;
        made.extend(laid_down(&flat, &over, &under, width, |piece| faces[piece], number));
        if seam.make.felled {
            made.extend(laid_down(&flat, &under, &over, width, |piece| !faces[piece], number));
        }
    }
    made
}

/// One row: each vertex of an edge on the cloth of the other, by so many mm from the other's edge.
fn laid_down(flat: &Flat, edge: &[u32], other: &[u32], width: f64, on_front: impl Fn(usize) -> bool, seam: u32) -> Vec<Lap> {
    let mut made = Vec::new();
    let mut known: Option<(usize, FlatLookup)> = None;
    for (n, (&vertex, &on)) in edge.iter().zip(other).enumerate() {
        let piece = flat.piece(on);
        let beside = |m: usize| other.get(m).copied().filter(|v| flat.piece(*v) == piece && *v != on);
        let before = n.checked_sub(1).and_then(beside).unwrap_or(on);
        let after = beside(n + 1).unwrap_or(on);
        let (p, q, at) = (flat.at(before), flat.at(after), flat.at(on));
        let length = (q[0] - p[0]).hypot(q[1] - p[1]);
        if length <= 0.0 {
            continue;
        }
        if known.as_ref().is_none_or(|(of, _)| *of != piece) {
            known = Some((piece, FlatLookup::new(&flat.0[piece].flat)));
        }
        let Some((_, lookup)) = &known else { continue };
        let inwards = [-(q[1] - p[1]) / length * width, (q[0] - p[0]) / length * width];
        // whichever side of the edge has the cloth
        let (t, weights) = [1.0, -1.0]
            .map(|side| lookup.locate([at[0] + side * inwards[0], at[1] + side * inwards[1]]))
            .into_iter()
            .max_by(|a, b| least(&a.1).total_cmp(&least(&b.1)))
            .unwrap_or_default();
        let within = weights.map(|w| w.clamp(0.0, 1.0));
        let sum: f64 = within.iter().sum();
        let first = flat.0[piece].first_vertex as u32;
        made.push(Lap {
            vertex,
            onto: flat.0[piece].flat.triangles[t].map(|v| first + v),
            weights: within.map(|w| (w / sum) as f32),
            on_front: on_front(piece),
            seam,
        });
    }
    made
}

fn least(weights: &[f64; 3]) -> f64 {
    weights.iter().copied().fold(f64::INFINITY, f64::min)
}
