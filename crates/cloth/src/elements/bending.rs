//! Quadratic isometric bending (Bergou et al. 2006): constant coefficients from the flat rest state.
//!
//! Per hinge the energy is k |K x|² / (2 (A0 + A1)), which gives k/2 times the squared curvature per area when an
//! evenly triangulated sheet is rolled onto a cylinder. Warp and weft are weighted by the direction across the edge.

use crate::elements::fold::FoldedHinge;
use crate::elements::gather::Gathers;
use crate::elements::membrane::Element;
use crate::linear::matrix::BendingTerms;
use crate::scene::Scene;
use crate::sewing::topology::Hinge;
use glam::Vec2;

/// Coefficients of x_i · x_j summed over all hinges, both (i, j) and (j, i), and the diagonal.
pub(crate) fn terms(scene: &Scene, hinges: &[Hinge], folds: &[Option<usize>], (elements, gathers): (&[Element], &Gathers)) -> BendingTerms {
    let panel_of = panel_of_triangle(scene);
    let mut found = BendingTerms::with_capacity(hinges.len() * 16);
    for (hinge, _) in hinges.iter().zip(folds).filter(|(_, fold)| fold.is_none()) {
        let sides = [0, 1].map(|s| side(scene, gathers, hinge, s, panel_of[hinge.triangles[s] as usize]));
        let area = hinge.triangles.map(|t| elements[t as usize].area).iter().sum::<f32>();
        let stiffness = 0.5 * (sides[0].stiffness + sides[1].stiffness) / area;
        let ([a0, a1], [b0, b1]) = (sides[0].cotangents, sides[1].cotangents);
        let k = [a1 + b1, a0 + b0, -a0 - a1, -b0 - b1];
        for (i, &vi) in hinge.vertices.iter().enumerate() {
            for (j, &vj) in hinge.vertices.iter().enumerate() {
                found.push((vi, vj, stiffness * k[i] * k[j]));
            }
        }
    }
    found
}

/// Hinges that rest at an angle, out of those of the sewn mesh.
pub(crate) fn folded(
    scene: &Scene,
    hinges: &[Hinge],
    folds: &[Option<usize>],
    (elements, gathers): (&[Element], &Gathers),
) -> Vec<FoldedHinge> {
    let panel_of = panel_of_triangle(scene);
    let of = |(hinge, fold): (&Hinge, &Option<usize>)| {
        let fold = &scene.construction.folds[(*fold)?];
        let [a, b] = [0, 1].map(|s| side(scene, gathers, hinge, s, panel_of[hinge.triangles[s] as usize]));
        let area = hinge.triangles.map(|t| elements[t as usize].area).iter().sum::<f32>();
        let stiffness = fold.press * 0.5 * (a.stiffness + b.stiffness) * a.length * a.length / area;
        Some(FoldedHinge { vertices: hinge.vertices, angle: fold.angle, stiffness })
    };
    hinges.iter().zip(folds).filter_map(of).collect()
}

struct Side {
    /// Of the edge, m.
    length: f32,
    /// At the start and the end of the edge.
    cotangents: [f32; 2],
    stiffness: f32,
}

fn side(scene: &Scene, gathers: &Gathers, hinge: &Hinge, s: usize, panel: usize) -> Side {
    let shape = gathers.at_last(scene, hinge.triangles[s]);
    let [i, j] = hinge.corners[s].map(usize::from);
    let [p, q, r] = [i, j, 3 - i - j].map(|k| shape[k]);
    let cotangent = |at: Vec2, a: Vec2, b: Vec2| (a - at).dot(b - at) / (a - at).perp_dot(b - at).abs();
    let panel = &scene.panels[panel];
    let across = (q - p).perp().normalize();
    let warp = across.dot(Vec2::from_angle(panel.grain)).powi(2);
    let [bu, bv] = panel.fabric.bending;
    Side { length: p.distance(q), cotangents: [cotangent(p, q, r), cotangent(q, p, r)], stiffness: bu * warp + bv * (1.0 - warp) }
}

pub(crate) fn panel_of_triangle(scene: &Scene) -> Vec<usize> {
    let mut of = vec![0; scene.triangles.len()];
    for (k, panel) in scene.panels.iter().enumerate() {
        of[panel.first..panel.first + panel.count].fill(k);
    }
    of
}

/// Panel of every vertex.
pub(crate) fn panel_of_vertex(scene: &Scene) -> Vec<usize> {
    let mut panel = vec![0; scene.positions.len()];
    for (triangle, k) in scene.triangles.iter().zip(panel_of_triangle(scene)) {
        triangle.iter().for_each(|&v| panel[v as usize] = k);
    }
    panel
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Bending energy of a square rolled onto a cylinder, over k/2 curvature² area.
    fn rolled(direction: f32, edge: f64) -> f64 {
        let side = 400.0;
        let n = (side / edge) as usize;
        let along = |k: usize| k as f64 * side / n as f64;
        let mut outline: Vec<[f64; 2]> = (0..n).map(|k| [along(k), 0.0]).collect();
        outline.extend((0..n).map(|k| [side, along(k)]));
        outline.extend((0..n).map(|k| [side - along(k), side]));
        outline.extend((0..n).map(|k| [0.0, side - along(k)]));
        let cut = mesh::triangulate(&outline, edge).expect("a square can be meshed");
        let flat: Vec<[f32; 2]> = cut.points.iter().map(|p| p.map(|v| v as f32 / 1000.0)).collect();
        let scene = Scene::plain(flat, cut.triangles);
        let elements = crate::elements::membrane::elements(&scene);
        let gathers = Gathers::new(&scene, &[]);
        let edges = crate::sewing::topology::edges(&scene.triangles);
        let (radius, axis) = (0.3f32, Vec2::from_angle(direction));
        let at = |p: [f32; 2]| {
            let (s, t) = (Vec2::from(p).dot(axis), Vec2::from(p).perp_dot(axis));
            glam::Vec3::new(radius * (s / radius).sin(), t, radius * (s / radius).cos()).as_dvec3()
        };
        let x: Vec<_> = scene.flat.iter().map(|p| at(*p)).collect();
        let energy: f64 = terms(&scene, &edges.hinges, &vec![None; edges.hinges.len()], (&elements, &gathers))
            .iter()
            .map(|&(i, j, k)| 0.5 * f64::from(k) * x[i as usize].dot(x[j as usize]))
            .sum();
        // hinges at the border cover less than their share; leave a rim of half an edge out of the area
        let area = ((side - edge) / 1000.0).powi(2);
        energy / (0.5 * 1e-5 / f64::from(radius * radius) * area)
    }

    #[test]
    fn a_rolled_sheet_has_the_energy_of_its_curvature_in_every_direction() {
        for edge in [20.0, 10.0] {
            for direction in [0.0f32, 0.4, 0.8, 1.2] {
                let ratio = rolled(direction, edge);
                assert!((ratio - 1.0).abs() < 0.007 * edge.max(12.0) + 0.02, "edge {edge}, direction {direction}: {ratio}");
            }
        }
    }
}
