//! How a garment hangs: its lengths, whether its seams are plumb, how alike left and right are, how wrinkled it is, and lines of pull
//! that point at a fault.

use super::apart::apart;
use super::drags::{DragLine, drag_lines};
use crate::{Assembly, ContactBody};
use fit::{Line, Plane, Strain, Surface, borders, section};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use ts_rs::TS;

/// A length along the cloth.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
pub struct LengthRow {
    /// Such as `Centre back`.
    pub name: String,
    /// Along the cloth from its upper edge to its lower one, mm; of a sleeve from its hem to the wrist.
    pub length: f64,
    /// Lower end over the floor, mm.
    pub floor: f64,
}

/// A seam that should hang plumb.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
pub struct BalanceRow {
    /// Its letter.
    pub seam: String,
    /// Degrees by which its lower end swings to the front.
    pub forward: f64,
}

/// How a drape hangs.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, TS)]
pub struct HangReport {
    pub lengths: Vec<LengthRow>,
    pub balance: Vec<BalanceRow>,
    /// How far the cloth is from its own mirror image, the mean of all places, mm.
    pub mirrored: f64,
    /// Share of the cloth that is bent more sharply than to a radius of 15 mm.
    pub wrinkled: f64,
    /// Lines along which it pulls, the strongest first.
    pub drags: Vec<DragLine>,
}

/// Lines that are less high are no length of a garment, m.
const HIGH: f64 = 0.15;
/// Cloth farther to a side belongs to a sleeve, m.
const ASIDE: f64 = 0.36;
/// A seam whose middle is nearer to the middle of the body is no side seam, m.
const BESIDE: f64 = 0.06;
/// A border that is longer goes around no arm, m.
const AROUND_ARM: f64 = 0.7;
/// Farthest from the wrist that a sleeve's hem is measured, m.
const TO_WRIST: f64 = 0.5;
/// Sharpest bend that is no wrinkle, m.
const RADIUS: f64 = 0.015;

/// Looks at a drape: its sewn surface, and the strains of all its triangles.
pub(super) fn hang_report(assembly: &Assembly, cloth: &Surface, strains: &[Strain]) -> HangReport {
    HangReport {
        lengths: lengths(&assembly.form, cloth),
        balance: balance(assembly, cloth.positions),
        mirrored: mirrored(cloth),
        wrinkled: wrinkled(cloth),
        drags: drag_lines(assembly, cloth, strains),
    }
}

fn lengths(form: &ContactBody, cloth: &Surface) -> Vec<LengthRow> {
    let middle = form.posed.station("waist-front").map_or(0.0, |s| 0.5 * s.centre.z);
    let planes = [
        (Plane { origin: [0.0; 3], normal: [1.0, 0.0, 0.0] }, 2, [("Centre front", 1.0), ("Centre back", -1.0)]),
        (Plane { origin: [0.0, 0.0, middle], normal: [0.0, 0.0, 1.0] }, 0, [("Left side", 1.0), ("Right side", -1.0)]),
    ];
    let mut rows = Vec::new();
    for (plane, axis, sides) in planes {
        let lines = section(cloth, &plane, |_| true);
        for (name, side) in sides {
            let from = if axis == 2 { middle } else { 0.0 };
            let here = |line: &&Line| {
                let count = line.points.len().max(1) as f64;
                let mean = line.points.iter().map(|p| p[axis] - from).sum::<f64>() / count;
                mean * side > 0.0 && line.points.iter().all(|p| p[0].abs() < ASIDE) && !line.closed
            };
            let highest = lines.iter().filter(here).max_by(|a, b| high(a).total_cmp(&high(b)));
            if let Some(line) = highest.filter(|line| high(line) > HIGH) {
                let floor = line.points.iter().map(|p| p[1]).fold(f64::MAX, f64::min);
                rows.push(LengthRow { name: name.into(), length: 1000.0 * line.length(), floor: 1000.0 * floor });
            }
        }
    }
    for (key, name) in [("wrist-left", "Left sleeve, to the wrist"), ("wrist-right", "Right sleeve, to the wrist")] {
        let Some(wrist) = form.posed.station(key).map(|s| s.centre) else { continue };
        let loops = borders(cloth).into_iter().map(|line| line.iter().map(|v| cloth.positions[*v as usize]).collect::<Vec<_>>());
        let away = loops.filter(|line| around(line) < AROUND_ARM).map(|line| {
            let count = line.len() as f32;
            let centre = [0, 1, 2].map(|k| f64::from(line.iter().map(|p| p[k]).sum::<f32>() / count));
            let away = (0..3).map(|k| (centre[k] - [wrist.x, wrist.y, wrist.z][k]).powi(2)).sum::<f64>().sqrt();
            (away, centre[1])
        });
        if let Some((away, height)) = away.filter(|(away, _)| *away < TO_WRIST).min_by(|a, b| a.0.total_cmp(&b.0)) {
            rows.push(LengthRow { name: name.into(), length: 1000.0 * away, floor: 1000.0 * height });
        }
    }
    rows
}

fn high(line: &Line) -> f64 {
    let (low, top) = line.points.iter().fold((f64::MAX, f64::MIN), |(l, h), p| (l.min(p[1]), h.max(p[1])));
    top - low
}

fn around(line: &[[f32; 3]]) -> f64 {
    let apart = |a: &[f32; 3], b: &[f32; 3]| (0..3).map(|k| f64::from(a[k] - b[k]).powi(2)).sum::<f64>().sqrt();
    (0..line.len()).map(|k| apart(&line[k], &line[(k + 1) % line.len()])).sum()
}

/// Seams at the sides that run down.
fn balance(assembly: &Assembly, positions: &[[f32; 3]]) -> Vec<BalanceRow> {
    let mut rows = Vec::new();
    for (k, tag) in assembly.seam_tags.iter().enumerate() {
        let along: Vec<[f32; 3]> = assembly.scene.pairs.iter().filter(|p| p.seam as usize == k).map(|p| positions[p.a as usize]).collect();
        let ends = along.iter().min_by(|a, b| a[1].total_cmp(&b[1])).zip(along.iter().max_by(|a, b| a[1].total_cmp(&b[1])));
        let Some((low, top)) = ends else { continue };
        let middle = f64::from(along.iter().map(|p| p[0]).sum::<f32>()) / along.len() as f64;
        if let Some(forward) = lean(*low, *top).filter(|_| middle.abs() > BESIDE) {
            rows.push(BalanceRow { seam: tag.clone(), forward });
        }
    }
    rows
}

/// Degrees by which the lower end of a seam swings to the front; none for one that is short or runs across.
fn lean(low: [f32; 3], top: [f32; 3]) -> Option<f64> {
    let down = f64::from(top[1] - low[1]);
    let aside = f64::from(low[0] - top[0]).abs();
    (down > HIGH && aside < down).then(|| f64::from(low[2] - top[2]).atan2(down).to_degrees())
}

/// Mean distance of the cloth from its mirror image, mm.
fn mirrored(cloth: &Surface) -> f64 {
    let image: Vec<[f32; 3]> = cloth.positions.iter().map(|p| [-p[0], p[1], p[2]]).collect();
    let away = apart(&image, cloth.positions, cloth.triangles);
    away.iter().map(|mm| f64::from(mm.abs())).sum::<f64>() / away.len().max(1) as f64
}

/// Share of the area beside edges that are bent more sharply than [`RADIUS`].
fn wrinkled(cloth: &Surface) -> f64 {
    let mut beside: BTreeMap<[u32; 2], Vec<u32>> = BTreeMap::new();
    for t in 0..cloth.triangles.len() as u32 {
        let c = cloth.corners(t);
        (0..3).for_each(|k| beside.entry([c[k].min(c[(k + 1) % 3]), c[k].max(c[(k + 1) % 3])]).or_default().push(t));
    }
    let at = |v: u32| glam::DVec3::from(cloth.positions[v as usize].map(f64::from));
    let face = |t: u32| {
        let [a, b, c] = cloth.triangles[t as usize].map(at);
        (b - a).cross(c - a)
    };
    let (mut sharp, mut all) = (0.0, 0.0);
    for (edge, triangles) in &beside {
        let [s, t] = triangles[..] else { continue };
        let (m, n) = (face(s), face(t));
        let area = (m.length() + n.length()) / 6.0;
        let length = at(edge[0]).distance(at(edge[1]));
        if length == 0.0 || area == 0.0 {
            continue;
        }
        // a bend by this angle over as much cloth as lies on both sides of the edge
        let bend = m.angle_between(n);
        let width = area / length;
        all += area;
        if bend * RADIUS > width {
            sharp += area;
        }
    }
    if all > 0.0 { sharp / all } else { 0.0 }
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::f64::consts::TAU;

    /// A tube of so many m radius and height, of `n` strips around and `m` up.
    fn tube(radius: f64, height: f64, n: usize, m: usize) -> (Vec<[f32; 3]>, Vec<[u32; 3]>) {
        let place = |i: usize, j: usize| {
            let (s, c) = (TAU * i as f64 / n as f64).sin_cos();
            [(radius * s) as f32, (height * j as f64 / m as f64) as f32, (radius * c) as f32]
        };
        let points = (0..=m).flat_map(|j| (0..n).map(move |i| place(i, j))).collect();
        let at = |i: usize, j: usize| (j * n + i % n) as u32;
        let cells = (0..m).flat_map(|j| (0..n).map(move |i| (i, j)));
        (
            points,
            cells.flat_map(|(i, j)| [[at(i, j), at(i + 1, j), at(i + 1, j + 1)], [at(i, j), at(i + 1, j + 1), at(i, j + 1)]]).collect(),
        )
    }

    #[test]
    fn a_tube_is_its_own_mirror_image_and_wrinkled_when_it_is_thinner_than_a_finger() {
        let (wide, triangles) = tube(0.1, 0.4, 48, 24);
        let surface = Surface::open(&wide, &triangles);
        assert!(mirrored(&surface) < 0.2 && wrinkled(&surface) == 0.0, "{} mm, {}", mirrored(&surface), wrinkled(&surface));
        let (thin, triangles) = tube(0.008, 0.4, 48, 200);
        assert!(wrinkled(&Surface::open(&thin, &triangles)) > 0.3);
        // moved to a side by 20 mm it is 40 mm from its image, where it faces that way
        let aside: Vec<[f32; 3]> = wide.iter().map(|p| [p[0] + 0.02, p[1], p[2]]).collect();
        let (_, triangles) = tube(0.1, 0.4, 48, 24);
        let off = mirrored(&Surface::open(&aside, &triangles));
        assert!((15.0..40.0).contains(&off), "{off} mm");
    }

    #[test]
    fn a_seam_that_swings_to_the_front_leans_by_its_angle() {
        assert_eq!(lean([0.2, 0.5, 0.1], [0.2, 1.0, 0.1]), Some(0.0));
        let forward = lean([0.2, 0.5, 0.1 + 0.5 * 10f32.to_radians().tan()], [0.2, 1.0, 0.1]).expect("a seam");
        assert!((forward - 10.0).abs() < 1e-3, "{forward}");
        assert_eq!(lean([0.9, 0.9, 0.0], [0.2, 1.1, 0.0]), None, "it runs across");
    }
}
