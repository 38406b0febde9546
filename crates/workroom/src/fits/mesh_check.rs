//! A mesh judged as it is: what it is made of, what only touches, what it crosses.

use crate::delivery::plain_garment;
use crate::{Assembly, ContactBody};
use body::ImportOrientation;
use costume::Refusal;
use fit::{Surface, cloth_body, cloth_cloth, mesh_report, uv_report};
use serde::Serialize;
use ts_rs::TS;

/// What was found on a texture layout.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct LayoutCheck {
    /// Parts that hang together in it.
    pub islands: usize,
    /// Triangles that lie on another one, that lie face down, that have no area, and that reach beyond the tile from 0 to 1.
    pub overlapping: usize,
    pub mirrored: usize,
    pub flat_triangles: usize,
    pub beyond_tile: usize,
    /// Length in the layout by length on the cloth at the first of a hundred, the middle and the last, by the middle.
    pub density: [f64; 2],
    /// Length in the layout of a metre of cloth.
    pub per_metre: f64,
    /// How much longer one way than the other, at the worst of a hundred; 1 is without distortion.
    pub distortion: f64,
}

/// A texture layout: a triangle for each of the surface, its corners in `uvs`.
#[derive(Clone, Copy, Debug)]
pub struct LaidOut<'a> {
    pub uvs: &'a [[f32; 2]],
    pub triangles: &'a [[u32; 3]],
}

impl LayoutCheck {
    fn of(positions: &[[f32; 3]], triangles: &[[u32; 3]], laid: &LaidOut) -> Self {
        let found = uv_report(positions, triangles, laid.uvs, laid.triangles);
        let [low, middle, high] = found.density;
        let share = |d: f64| if middle > 0.0 { d / middle } else { 1.0 };
        Self {
            islands: found.islands,
            overlapping: found.overlapping.len(),
            mirrored: found.mirrored,
            flat_triangles: found.flat_triangles,
            beyond_tile: found.beyond_tile,
            density: [share(low), share(high)],
            per_metre: middle,
            distortion: found.distortion,
        }
    }
}

/// What was found on a mesh.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct MeshCheck {
    pub vertices: usize,
    pub triangles: usize,
    /// Shortest, middle and longest edge, mm.
    pub edges: [f64; 3],
    /// Smallest and largest angle, degrees.
    pub angles: [f64; 2],
    /// Edges of one triangle only, of more than two, and of two that face opposite ways.
    pub open_edges: usize,
    pub shared_edges: usize,
    pub turned_edges: usize,
    /// Triangles without area.
    pub flat_triangles: usize,
    /// Vertices of no triangle, and groups of vertices at one place.
    pub loose_vertices: usize,
    pub doubled_vertices: usize,
    /// Triangles of every connected part, the largest first.
    pub parts: Vec<usize>,
    /// Open edges that lie along others without being joined: ends, m.
    pub touching: Vec<[[f32; 3]; 2]>,
    /// Places where it crosses itself, and the body.
    pub cloth_cloth: usize,
    pub cloth_body: usize,
    /// Pairs of triangles that cross there, of cloth with cloth and with the body.
    pub pairs: [usize; 2],
    /// Its texture layout, if it has one.
    pub layout: Option<LayoutCheck>,
    /// All that is the matter, in words.
    pub passed: Vec<String>,
}

impl MeshCheck {
    /// Looks at the mesh of a drape, as it would be delivered welded.
    pub fn of_drape(assembly: &Assembly, positions: &[[f32; 3]], fused: &[u32]) -> Self {
        let mesh = plain_garment(assembly, positions, fused);
        let laid = LaidOut { uvs: &mesh.uvs, triangles: &mesh.uv_triangles };
        Self::of(&mesh.positions, &mesh.triangles, Some(laid), Some(&assembly.form))
    }

    /// Looks at the mesh of a file, whose positions were brought to metres; a layout counts where all triangles have one.
    pub fn of_file(positions: &[[f32; 3]], found: &formats::ImportedMesh, body: Option<&ContactBody>) -> Self {
        let whole = !found.uv_triangles.is_empty() && !found.uv_triangles.contains(&formats::NO_LAYOUT);
        let laid = whole.then_some(LaidOut { uvs: &found.uvs, triangles: &found.uv_triangles });
        Self::of(positions, &found.triangles, laid, body)
    }

    /// Looks at a mesh, m, and at its layout; with a body, also at what goes into that.
    pub fn of(positions: &[[f32; 3]], triangles: &[[u32; 3]], laid: Option<LaidOut>, body: Option<&ContactBody>) -> Self {
        let cloth = Surface::open(positions, triangles);
        let met = body.map_or_else(Vec::new, |form| {
            let skin = &form.posed.surface;
            cloth_body(&cloth, &Surface::closed(&skin.positions, &skin.triangles))
        });
        let own = cloth_cloth(&cloth);
        let pairs = [&own, &met].map(|places| places.iter().map(|p| p.pairs).sum());
        let (cloth_cloth, cloth_body) = (own.len(), met.len());
        let found = mesh_report(positions, triangles);
        let layout = laid.map(|laid| LayoutCheck::of(positions, triangles, &laid));
        let laid = |pick: fn(&LayoutCheck) -> usize| layout.as_ref().map_or(0, pick);
        let touching: Vec<[[f32; 3]; 2]> = found.touching.iter().map(|e| e.map(|v| positions[v as usize])).collect();
        let count = |n: usize, one: &str, many: &str| (n > 0).then(|| if n == 1 { format!("1 {one}") } else { format!("{n} {many}") });
        let passed = [
            count(cloth_body, "crossing with the body", "crossings with the body"),
            count(cloth_cloth, "crossing with cloth", "crossings with cloth"),
            count(touching.len(), "edge only touches", "edges only touch: the parts would fall apart there"),
            count(found.shared_edges, "edge of more than two triangles", "edges of more than two triangles"),
            count(found.turned_edges, "edge between faces that look opposite ways", "edges between faces that look opposite ways"),
            count(found.flat_triangles, "triangle without area", "triangles without area"),
            count(found.loose_vertices, "vertex of no triangle", "vertices of no triangle"),
            count(laid(|l| l.overlapping), "triangle lies on another one in the layout", "triangles lie on others in the layout"),
            count(laid(|l| l.flat_triangles), "triangle has no area in the layout", "triangles have no area in the layout"),
        ];
        Self {
            vertices: found.vertices,
            triangles: found.triangles,
            edges: found.edges.map(|m| 1000.0 * m),
            angles: found.angles,
            open_edges: found.open_edges,
            shared_edges: found.shared_edges,
            turned_edges: found.turned_edges,
            flat_triangles: found.flat_triangles,
            loose_vertices: found.loose_vertices,
            doubled_vertices: found.doubled_vertices,
            parts: found.parts,
            touching,
            cloth_cloth,
            cloth_body,
            pairs,
            layout,
            passed: passed.into_iter().flatten().collect(),
        }
    }

    /// The figures, a line each.
    pub fn lines(&self) -> Vec<String> {
        let [short, middle, long] = self.edges;
        let layout = self.layout.as_ref().map(|l| {
            let [low, high] = l.density.map(|d| 100.0 * (d - 1.0));
            let beyond = if l.beyond_tile > 0 { format!(", {} triangles beyond the tile", l.beyond_tile) } else { String::new() };
            let (islands, most) = (l.islands, l.distortion);
            format!("layout of {islands} islands, scale {low:+.1} to {high:+.1} %, stretched up to {most:.2} times{beyond}")
        });
        let mut lines = vec![
            format!("{} vertices, {} triangles in {} parts", self.vertices, self.triangles, self.parts.len()),
            format!("edges {short:.2} to {long:.2} mm, middle {middle:.2}; angles {:.1} to {:.1} degrees", self.angles[0], self.angles[1]),
            format!("{} open edges, {} places with several vertices", self.open_edges, self.doubled_vertices),
        ];
        lines.extend(layout);
        lines
    }
}

/// Metres of the units that a mesh may be in.
const UNITS: [f64; 4] = [1.0, 0.01, 0.001, 0.0254];
/// Greatest extent of a garment, m.
const GARMENT: std::ops::RangeInclusive<f64> = 0.2..=2.6;

/// Positions of a mesh in metres, y up and facing +z: what is not said is told by the file, or by its size.
pub fn garment_positions(
    name: &str,
    found: &formats::ImportedMesh,
    unit: Option<f64>,
    turned: Option<ImportOrientation>,
) -> Result<Vec<[f32; 3]>, Refusal> {
    let mut low = [f64::MAX; 3];
    let mut high = [f64::MIN; 3];
    for p in &found.positions {
        for k in 0..3 {
            (low[k], high[k]) = (low[k].min(f64::from(p[k])), high[k].max(f64::from(p[k])));
        }
    }
    let extent = (0..3).map(|k| high[k] - low[k]).fold(0.0, f64::max);
    let guessed = || UNITS.into_iter().find(|u| GARMENT.contains(&(extent * u)));
    let unit = unit.or(found.unit).or_else(guessed);
    let unit = unit.ok_or_else(|| Refusal::elsewhere(name, "has no size of a garment in any unit", "say its unit"))?;
    let turn = |p: [f64; 3]| match turned {
        Some(way) => {
            let (up, front) = (way.up.vector(), way.front.vector());
            let p = glam::DVec3::from(p);
            [p.dot(up.cross(front)), p.dot(up), p.dot(front)]
        }
        None if found.z_up == Some(true) => [p[0], p[2], -p[1]],
        None => p,
    };
    Ok(found.positions.iter().map(|p| turn(p.map(|v| f64::from(v) * unit)).map(|v| v as f32)).collect())
}
