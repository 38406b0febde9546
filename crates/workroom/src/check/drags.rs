//! Lines of pull: runs of cloth that are stretched the same way, and what that points at.

use crate::Assembly;
use costume::PieceId;
use fit::{Strain, Surface};
use glam::DVec3;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use ts_rs::TS;

/// A line along which the cloth pulls.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
pub struct DragLine {
    /// Its middle, m.
    pub at: [f32; 3],
    /// Unit vector along it, m.
    pub along: [f32; 3],
    /// mm.
    pub length: f64,
    /// Mean stretch along it; 0.02 is 2 %.
    pub strain: f64,
    /// The pieces that it runs over, each once.
    pub pieces: Vec<PieceId>,
    /// What it most likely points at, in words.
    pub cause: String,
}

/// Cloth that is stretched by more than this share of the strain at which it locks pulls.
const PULLS: f64 = 0.3;
/// Neighbours belong to one line when they pull within this angle, as a cosine.
const SAME_WAY: f64 = 0.85;
/// Shortest line that is told, m, and fewest triangles.
const SHORTEST: f64 = 0.08;
const FEWEST: usize = 10;
/// Most lines that are told.
const MOST: usize = 8;
/// Rise of a line up to which it runs across, and from which it runs up: sines.
const ACROSS: f64 = 0.4;
const UPWARDS: f64 = 0.85;

/// Lines of pull; `strains` are those of all triangles, `cloth` the sewn surface.
pub(super) fn drag_lines(assembly: &Assembly, cloth: &Surface, strains: &[Strain]) -> Vec<DragLine> {
    let scene = &assembly.scene;
    let mut pulls = vec![false; strains.len()];
    for panel in &scene.panels {
        let limit = PULLS * f64::from(panel.fabric.locking);
        (panel.first..panel.first + panel.count).for_each(|t| pulls[t] = strains[t].most > limit);
    }
    let corners: Vec<[u32; 3]> = (0..scene.triangles.len() as u32).map(|t| cloth.corners(t)).collect();
    let at = |t: usize| scene.triangles[t].iter().map(|v| DVec3::from(cloth.positions[*v as usize].map(f64::from))).sum::<DVec3>() / 3.0;
    let shoulder = assembly.form.posed.station("chest-front").map_or(f64::MAX, |s| s.centre.y);
    let mut lines: Vec<DragLine> = runs(&corners, strains, &pulls)
        .into_iter()
        .filter(|run| run.len() >= FEWEST)
        .filter_map(|run| {
            let count = run.len() as f64;
            let middle = run.iter().map(|t| at(*t)).sum::<DVec3>() / count;
            let along = mean_way(&run, strains);
            let (low, high) = run.iter().map(|t| (at(*t) - middle).dot(along)).fold((0.0f64, 0.0f64), |(l, h), s| (l.min(s), h.max(s)));
            let mut pieces: Vec<PieceId> = run.iter().map(|t| assembly.piece_of_triangle(*t).piece).collect();
            pieces.sort_unstable();
            pieces.dedup();
            (high - low > SHORTEST).then(|| DragLine {
                at: middle.as_vec3().to_array(),
                along: along.as_vec3().to_array(),
                length: 1000.0 * (high - low),
                strain: run.iter().map(|t| strains[*t].most).sum::<f64>() / count,
                pieces,
                cause: cause(along, middle.y > shoulder).into(),
            })
        })
        .collect();
    lines.sort_by(|a, b| (b.strain * b.length).total_cmp(&(a.strain * a.length)));
    lines.truncate(MOST);
    lines
}

/// Triangles that pull, in runs of neighbours that pull the same way.
fn runs(corners: &[[u32; 3]], strains: &[Strain], pulls: &[bool]) -> Vec<Vec<usize>> {
    let mut around: BTreeMap<u32, Vec<usize>> = BTreeMap::new();
    for (t, c) in corners.iter().enumerate().filter(|(t, _)| pulls[*t]) {
        c.iter().for_each(|v| around.entry(*v).or_default().push(t));
    }
    let mut taken = vec![false; corners.len()];
    let mut found = Vec::new();
    for start in (0..corners.len()).filter(|t| pulls[*t]) {
        if std::mem::replace(&mut taken[start], true) {
            continue;
        }
        let (mut run, mut next) = (Vec::new(), vec![start]);
        while let Some(t) = next.pop() {
            run.push(t);
            for other in corners[t].iter().flat_map(|v| &around[v]) {
                let same = DVec3::from(strains[t].along).dot(DVec3::from(strains[*other].along)).abs() > SAME_WAY;
                if same && !std::mem::replace(&mut taken[*other], true) {
                    next.push(*other);
                }
            }
        }
        found.push(run);
    }
    found
}

/// The way in which a run pulls: directions without a sign, turned to the first.
fn mean_way(run: &[usize], strains: &[Strain]) -> DVec3 {
    let first = DVec3::from(strains[run[0]].along);
    let sum = run.iter().map(|t| DVec3::from(strains[*t].along)).map(|w| if w.dot(first) < 0.0 { -w } else { w }).sum::<DVec3>();
    sum.normalize_or(first)
}

fn cause(along: DVec3, at_the_shoulder: bool) -> &'static str {
    let rise = along.y.abs();
    if rise < ACROSS {
        "pulls across: too tight around here"
    } else if rise > UPWARDS {
        "pulls down: the weight hangs from here, on too little cloth"
    } else if at_the_shoulder {
        "runs from the shoulder: its slope does not fit the body"
    } else {
        "pulls aslant: one side is too long or too short for the other"
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn neighbours_that_pull_the_same_way_are_one_line_and_others_are_not() {
        // a strip of four triangles: two pull across, two upwards
        let corners = [[0, 1, 2], [1, 3, 2], [2, 3, 4], [3, 5, 4]];
        let strain = |along: [f64; 3]| Strain { most: 0.1, along, ..Strain::default() };
        let strains = [strain([1.0, 0.0, 0.0]), strain([-1.0, 0.05, 0.0]), strain([0.0, 1.0, 0.0]), strain([0.0, 1.0, 0.0])];
        let found = runs(&corners, &strains, &[true; 4]);
        assert_eq!(found, [vec![0, 1], vec![2, 3]]);
        assert!(mean_way(&found[0], &strains).x > 0.99);
        assert_eq!(runs(&corners, &strains, &[true, false, false, true]).len(), 2);
        assert!(cause(DVec3::X, false).contains("across") && cause(DVec3::Y, false).contains("down"));
        let aslant = DVec3::new(1.0, 1.0, 0.0).normalize();
        assert!(cause(aslant, true).contains("shoulder") && cause(aslant, false).contains("aslant"));
    }
}
