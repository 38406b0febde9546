//! Tapes and stays as springs of one step.

use crate::collider::body::BodyShape;
use crate::construction::EdgeTape;
use crate::linear::link::Link;
use crate::scene::Scene;
use glam::{Vec2, Vec3, Vec3A};

/// Share of its length by which a tape shortens in one step at most, and farthest that a stay lifts in one, m. Beyond
/// that a spring gets as much stiffer as it is overdrawn: it pulls with its whole force, but what follows it is not
/// thrown.
const PULL: f32 = 0.1;
pub(super) const LIFT: f32 = 0.01;
/// Stiffness of a stay over that of a contact of the same vertex.
const STAY: f32 = 0.2;

/// A tape between two sewn vertices.
#[derive(Clone, Copy, Debug)]
pub(crate) struct TapeSpan {
    vertices: [u32; 2],
    /// m.
    rest: f32,
    /// N/m.
    stiffness: f32,
}

/// A vertex that a stay keeps at its level.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Level {
    /// The vertex that keeps its level.
    pub vertex: u32,
    /// m.
    pub height: f32,
}

/// The spans of all tapes over the present vertices; a span that both sides of a seam share counts once per tape.
pub(crate) fn spans(scene: &Scene, root: &[u32]) -> Vec<TapeSpan> {
    let of = |tape: &EdgeTape, edge: &[u32; 2]| {
        let flat = edge.map(|v| Vec2::from(scene.flat[v as usize]));
        let rest = flat[0].distance(flat[1]) * tape.length;
        let vertices = edge.map(|v| root[v as usize]);
        (vertices[0] != vertices[1] && rest > 0.0).then(|| TapeSpan { vertices, rest, stiffness: tape.stiffness / rest })
    };
    scene.construction.tapes.iter().flat_map(|t| t.edges.iter().filter_map(move |e| of(t, e))).collect()
}

pub(crate) fn tape_links(spans: &[TapeSpan], x: &[Vec3A], links: &mut Vec<Link>) {
    for s in spans {
        let way = x[s.vertices[0] as usize] - x[s.vertices[1] as usize];
        let length = way.length();
        // tapes buckle rather than push
        if length <= s.rest {
            continue;
        }
        let normal = way / length;
        let missing = length - s.rest;
        let overdrawn = (missing / (PULL * length)).max(1.0);
        links.push(Link {
            vertices: [s.vertices[0], s.vertices[1], s.vertices[0], s.vertices[0]],
            weights: [1.0, -1.0, 0.0, 0.0],
            normal,
            along: s.stiffness * overdrawn,
            across: s.stiffness * missing / length,
            target: normal * (-missing / overdrawn),
        });
    }
}

/// Vertices of all stays with their present heights.
pub(crate) fn levels(scene: &Scene) -> Vec<Level> {
    let at = |vertex: u32| scene.positions[vertex as usize][1];
    let level = |vertex: u32, height: Option<f32>| Level { vertex, height: height.unwrap_or_else(|| at(vertex)) };
    scene.construction.stays.iter().flat_map(|s| s.vertices.iter().map(move |v| level(*v, s.height))).collect()
}

/// Moves the levels along with the body and holds their vertices there.
pub(crate) fn stay_links(
    levels: &mut [Level],
    body: Option<&BodyShape>,
    x: &[Vec3A],
    root: &[u32],
    stiffness: f32,
    h: f32,
    links: &mut Vec<Link>,
) {
    for level in levels {
        let vertex = root[level.vertex as usize];
        let at = x[vertex as usize];
        if let Some(body) = body {
            level.height += body.velocity_at(Vec3::from(at)).y * h;
        }
        let missing = level.height - at.y;
        let overdrawn = (missing.abs() / LIFT).max(1.0);
        links.push(Link {
            vertices: [vertex; 4],
            weights: [1.0, 0.0, 0.0, 0.0],
            normal: Vec3A::Y,
            along: STAY * stiffness * overdrawn,
            across: 0.0,
            target: Vec3A::Y * (missing / overdrawn),
        });
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn tapes_and_stays_pull_with_the_force_of_their_spring_however_far_they_are_drawn() {
        let span = TapeSpan { vertices: [0, 1], rest: 0.07, stiffness: 60.0 / 0.07 };
        for length in [0.07f32, 0.072, 0.1, 0.3] {
            let mut links = Vec::new();
            tape_links(&[span], &[Vec3A::ZERO, Vec3A::X * length], &mut links);
            let force = links.first().map_or(0.0, |l| l.force(l.target).length());
            let expected = 60.0 * (length - 0.07) / 0.07;
            assert!((force - expected).abs() <= 1e-3 * expected, "{force} N instead of {expected} N at {length} m");
            // and no step shortens it by more than a tenth
            assert!(links.iter().all(|l| l.target.length() <= 0.1001 * length));
        }
        for lift in [0.002f32, 0.05] {
            let (mut levels, mut links) = ([Level { vertex: 0, height: 1.0 }], Vec::new());
            stay_links(&mut levels, None, &[Vec3A::Y * (1.0 - lift)], &[0], 1000.0, 0.01, &mut links);
            let force = links[0].force(links[0].target);
            assert!((force.y - STAY * 1000.0 * lift).abs() < 1e-3 && links[0].target.y <= LIFT + 1e-6, "{force} at {lift} m");
        }
    }
}
