//! Carrying a drape over to another mesh of its pieces: a vertex on a line takes its place along the same line, so that sewn
//! edges stay together; the others take theirs through the flat coordinates.

use crate::Assembly;
use costume::{LineId, PieceId};
use mesh::{FlatLookup, PlanarMesh};

/// Farthest extrapolation outside the old piece, in barycentric weight.
const BEYOND: f64 = 3.0;

/// A meshed piece of a drape: where its vertices begin, its mesh, and the document's ids of its lines.
#[derive(Clone, Copy)]
pub(crate) struct Meshed<'a> {
    /// Which piece of the document.
    pub piece: PieceId,
    /// Its first vertex among the positions.
    pub first_vertex: usize,
    /// Its mesh, mm.
    pub flat: &'a PlanarMesh,
    /// Ids of its lines in the order of the mesh, and whether each is an image.
    pub lines: &'a [(LineId, bool)],
}

impl Assembly {
    pub(crate) fn meshed(&self) -> impl Iterator<Item = Meshed<'_>> {
        self.pieces.iter().map(|p| Meshed { piece: p.piece, first_vertex: p.first_vertex, flat: &p.flat, lines: &p.lines })
    }
}

/// Start positions for `new` from the present `positions` of `old`, piece by piece; pieces without a forerunner hang
/// at their station. `None` when the body changed, or its pose, because then the cloth must be hung afresh.
pub fn carry(old: &Assembly, positions: &[[f32; 3]], new: &Assembly) -> Option<Vec<[f32; 3]>> {
    let (before, now) = (&old.costume.body, &new.costume.body);
    if before.shape() != now.shape() || before.pose != now.pose {
        return None;
    }
    Some(carry_cloth(old, positions, new))
}

/// The same whatever the body: for cloth that goes along while the body moves.
pub fn carry_cloth(old: &Assembly, positions: &[[f32; 3]], new: &Assembly) -> Vec<[f32; 3]> {
    let old: Vec<Meshed> = old.meshed().collect();
    carry_meshed(&old, positions, new)
}

/// The same from pieces that need not be assembled.
pub(crate) fn carry_meshed(old: &[Meshed], positions: &[[f32; 3]], new: &Assembly) -> Vec<[f32; 3]> {
    let mut carried = new.scene.positions.clone();
    for (v, place) in Sources::new(old, new).places(positions) {
        carried[v as usize] = place;
    }
    carried
}

/// Where each vertex of a mesh lies on another mesh of its pieces: found once, good for however that one hangs.
pub(crate) struct Sources {
    /// Vertices of the new mesh with a forerunner, three vertices of the old one, and their weights.
    of: Vec<(u32, [u32; 3], [f64; 3])>,
}

impl Sources {
    /// The pieces of `new` that `old` has as well.
    pub(crate) fn new(old: &[Meshed], new: &Assembly) -> Self {
        let mut of = Vec::new();
        for piece in new.meshed() {
            let Some(before) = old.iter().find(|p| p.piece == piece.piece) else { continue };
            let first = of.len();
            let lookup = FlatLookup::new(before.flat);
            for (k, point) in piece.flat.points.iter().enumerate() {
                let (t, weights) = lookup.locate(*point);
                let corners = before.flat.triangles[t].map(|v| before.first_vertex as u32 + v);
                of.push(((piece.first_vertex + k) as u32, corners, within_reach(weights)));
            }
            for (line, along) in piece.flat.lines.iter().enumerate() {
                let Some(known) = before.lines.iter().position(|l| *l == piece.lines[line]) else { continue };
                if before.flat.lines[known].len() < 2 || !same_line((before.flat, known), (piece.flat, line)) {
                    continue;
                }
                for (v, share) in along.iter().zip(&piece.flat.shares[line]) {
                    let (corners, weights) = on_line(before, known, *share);
                    of[first + *v as usize] = (piece.first_vertex as u32 + v, corners, weights);
                }
            }
        }
        Self { of }
    }

    /// The vertices with a forerunner, and their places (m) while the old mesh has these.
    pub(crate) fn places(&self, positions: &[[f32; 3]]) -> impl Iterator<Item = (u32, [f32; 3])> {
        self.of.iter().map(|(v, corners, weights)| (*v, mixed(corners.map(|c| positions[c as usize]), *weights)))
    }
}

/// Whether two lines of the same id begin and end at the same places of the cloth; one whose shape was changed takes its
/// places through the flat coordinates like the rest.
fn same_line((a, i): (&PlanarMesh, usize), (b, j): (&PlanarMesh, usize)) -> bool {
    let ends = |mesh: &PlanarMesh, line: usize| {
        let along = &mesh.lines[line];
        [along.first(), along.last()].map(|v| v.map(|v| mesh.points[*v as usize]))
    };
    ends(a, i).iter().zip(&ends(b, j)).all(|(p, q)| matches!((p, q), (Some(p), Some(q)) if (p[0] - q[0]).hypot(p[1] - q[1]) < 1e-3))
}

/// The place at a share of a line: vertices and weights.
fn on_line(piece: &Meshed, line: usize, share: f64) -> ([u32; 3], [f64; 3]) {
    let (along, shares) = (&piece.flat.lines[line], &piece.flat.shares[line]);
    let k = shares.partition_point(|s| *s <= share).clamp(1, shares.len() - 1);
    let t = ((share - shares[k - 1]) / (shares[k] - shares[k - 1])).clamp(0.0, 1.0);
    let [a, b] = [along[k - 1], along[k]].map(|v| piece.first_vertex as u32 + v);
    ([a, b, b], [1.0 - t, t, 0.0])
}

/// How far the `carried` shape leaves the one it came from, m: the largest distance of an old vertex from its place on the
/// new cloth. What the new outlines leave out does not count.
pub fn carry_error(old: &Assembly, positions: &[[f32; 3]], new: &Assembly, carried: &[[f32; 3]]) -> f64 {
    let mut most = 0.0f64;
    for piece in &new.pieces {
        let Some(before) = old.pieces.iter().find(|p| p.piece == piece.piece) else { continue };
        let lookup = FlatLookup::new(&piece.flat);
        for (k, point) in before.flat.points.iter().enumerate() {
            let (t, weights) = lookup.locate(*point);
            if weights.iter().all(|w| *w > -1e-6) {
                let (there, here) = (place(&piece.flat, piece.first_vertex, carried, t, weights), positions[before.first_vertex + k]);
                most = most.max((0..3).map(|c| f64::from(there[c] - here[c]).powi(2)).sum::<f64>());
            }
        }
    }
    most.sqrt()
}

/// The place of flat weights within a triangle of a piece.
fn place(flat: &PlanarMesh, first_vertex: usize, positions: &[[f32; 3]], triangle: usize, weights: [f64; 3]) -> [f32; 3] {
    mixed(flat.triangles[triangle].map(|v| positions[first_vertex + v as usize]), within_reach(weights))
}

/// Weights that reach not too far beyond their triangle; they sum up to 1.
fn within_reach(weights: [f64; 3]) -> [f64; 3] {
    let weights = weights.map(|w| w.clamp(-BEYOND, 1.0 + BEYOND));
    let sum: f64 = weights.iter().sum();
    weights.map(|w| w / sum)
}

fn mixed(corners: [[f32; 3]; 3], weights: [f64; 3]) -> [f32; 3] {
    [0, 1, 2].map(|c| (0..3).map(|i| weights[i] * f64::from(corners[i][c])).sum::<f64>() as f32)
}
