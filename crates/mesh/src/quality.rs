//! How even a mesh is.

use crate::PlanarMesh;
use crate::net::Constraints;
use crate::refine::least_angle;
use crate::size::SizeField;
use std::collections::HashSet;

/// Figures of one mesh; angles in degrees.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Quality {
    /// How many were judged.
    pub triangles: usize,
    /// The least angle of all triangles, and that which 99 % of them reach.
    pub least_angle: f64,
    pub angle_p1: f64,
    /// Share of the edges whose length is 0.6 to 1.6 times what is wanted at their middle.
    pub edges_in_range: f64,
}

/// Judges a mesh that was cut with edges of about `target` mm. The size field is made anew from its lines.
pub fn quality(mesh: &PlanarMesh, target: f64) -> Quality {
    let mut angles: Vec<f64> = mesh
        .triangles
        .iter()
        .map(|t| {
            let [a, b, c] = t.map(|v| mesh.points[v as usize]);
            least_angle(a, b, c).to_degrees()
        })
        .collect();
    angles.sort_by(f64::total_cmp);
    let followed = mesh.lines.iter().flat_map(|l| l.windows(2).map(|w| [w[0], w[1]])).collect();
    let fixed = mesh.lines.iter().flatten().map(|v| *v as usize + 1).max().unwrap_or(0);
    let given = Constraints { points: mesh.points[..fixed].to_vec(), loops: Vec::new(), around: followed, inside: Vec::new() };
    let field = SizeField::new(&given, target);
    let edges: HashSet<[u32; 2]> =
        mesh.triangles.iter().flat_map(|t| (0..3).map(|k| [t[k].min(t[(k + 1) % 3]), t[k].max(t[(k + 1) % 3])])).collect();
    let fits = |e: &&[u32; 2]| {
        let [a, b] = e.map(|v| mesh.points[v as usize]);
        let ratio = (a[0] - b[0]).hypot(a[1] - b[1]) / field.at([0.5 * (a[0] + b[0]), 0.5 * (a[1] + b[1])]);
        (0.6..=1.6).contains(&ratio)
    };
    Quality {
        triangles: angles.len(),
        least_angle: angles.first().copied().unwrap_or(0.0),
        angle_p1: angles.get(angles.len() / 100).copied().unwrap_or(0.0),
        edges_in_range: edges.iter().filter(fits).count() as f64 / edges.len().max(1) as f64,
    }
}
