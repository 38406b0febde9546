//! Parts of a figure (head, trunk, hands ...) as groups of bones, and the figure without some of them.

use crate::posing::skin::Rig;
use crate::skinning::surface::Surface;
use glam::DVec3;
use std::collections::HashMap;

/// The part that a bone belongs to; bones of foreign skeletons are parts of their own.
pub fn part_of_bone(bone: &str) -> &str {
    match bone {
        "pelvis" | "spine-1" | "spine-2" | "spine-3" | "collar-left" | "collar-right" => "trunk",
        "toes-left" => "foot-left",
        "toes-right" => "foot-right",
        other => other,
    }
}

/// A key in words: `upper-arm-left` becomes `Upper arm, left`.
pub fn in_words(key: &str) -> String {
    let side = ["left", "right"].into_iter().find_map(|side| Some((key.strip_suffix(side)?.strip_suffix('-')?, side)));
    let (stem, side) = side.map_or((key, None), |(stem, side)| (stem, Some(side)));
    let mut words = stem.replace(['-', '_'], " ");
    if let Some(first) = words.get(..1).map(str::to_uppercase) {
        words.replace_range(..1, &first);
    }
    side.map_or_else(|| words.clone(), |side| format!("{words}, {side}"))
}

impl Rig {
    /// Keys of the parts that have skin, in the order of the bones, and the part of every vertex.
    pub(crate) fn parts(&self) -> (Vec<String>, Vec<u8>) {
        let bones = &self.skeleton.bones;
        let mut has_skin = vec![false; bones.len()];
        self.weights.iter().for_each(|w| has_skin[w.joint_indices[0] as usize] = true);
        let mut keys: Vec<String> = Vec::new();
        let mut of_bone = Vec::new();
        for (bone, skin) in bones.iter().zip(&has_skin) {
            let key = part_of_bone(&bone.name);
            let known = keys.iter().position(|known| known == key);
            of_bone.push(known.unwrap_or(keys.len()).min(255) as u8);
            if known.is_none() && *skin {
                keys.push(key.to_owned());
            }
        }
        (keys, self.weights.iter().map(|w| of_bone[w.joint_indices[0] as usize]).collect())
    }
}

impl Surface {
    /// The surface without the triangles whose corners are all left out; the openings are closed with flat caps.
    /// Also the old vertex of every new one; caps have the vertex of their rim.
    pub fn without(&self, left_out: impl Fn(usize) -> bool) -> (Self, Vec<u32>) {
        let kept: Vec<[u32; 3]> = self.triangles.iter().copied().filter(|t| !t.iter().all(|&v| left_out(v as usize))).collect();
        let mut number: HashMap<u32, u32> = HashMap::new();
        let mut old: Vec<u32> = Vec::new();
        let mut triangles: Vec<[u32; 3]> = kept
            .iter()
            .map(|t| {
                t.map(|v| {
                    *number.entry(v).or_insert_with(|| {
                        old.push(v);
                        old.len() as u32 - 1
                    })
                })
            })
            .collect();
        let mut positions: Vec<[f32; 3]> = old.iter().map(|&v| self.positions[v as usize]).collect();
        let mut normals: Vec<[f32; 3]> = old.iter().map(|&v| self.normals[v as usize]).collect();
        if kept.len() < self.triangles.len() {
            for rim in rims(&triangles) {
                cap(&rim, &mut positions, &mut normals, &mut triangles);
                old.push(old[rim[0] as usize]);
            }
        }
        (Self { positions, normals, triangles }, old)
    }
}

/// Closed chains of edges that only one triangle has, in the direction of that triangle.
pub(crate) fn rims(triangles: &[[u32; 3]]) -> Vec<Vec<u32>> {
    let edges = || triangles.iter().flat_map(|t| [[t[0], t[1]], [t[1], t[2]], [t[2], t[0]]]);
    let all: std::collections::HashSet<[u32; 2]> = edges().collect();
    let mut next: HashMap<u32, Vec<u32>> = HashMap::new();
    let open: Vec<[u32; 2]> = edges().filter(|[a, b]| !all.contains(&[*b, *a])).collect();
    open.iter().for_each(|[a, b]| next.entry(*a).or_default().push(*b));
    let mut loops = Vec::new();
    for [start, _] in open {
        let mut chain = vec![start];
        while let Some(to) = next.get_mut(&chain[chain.len() - 1]).and_then(Vec::pop) {
            if to == start {
                break;
            }
            chain.push(to);
        }
        if chain.len() >= 3 {
            loops.push(chain);
        }
    }
    loops
}

/// Closes a rim with a fan around its middle.
pub(crate) fn cap(rim: &[u32], positions: &mut Vec<[f32; 3]>, normals: &mut Vec<[f32; 3]>, triangles: &mut Vec<[u32; 3]>) {
    let at = |v: u32| DVec3::from(positions[v as usize].map(f64::from));
    let middle = rim.iter().map(|&v| at(v)).sum::<DVec3>() / rim.len() as f64;
    let n = rim.len();
    let area: DVec3 = (0..n).map(|k| (at(rim[(k + 1) % n]) - middle).cross(at(rim[k]) - middle)).sum();
    let normal = area.normalize_or(DVec3::Y);
    let centre = positions.len() as u32;
    for k in 0..n {
        triangles.push([rim[(k + 1) % n], rim[k], centre]);
        let own = &mut normals[rim[k] as usize];
        let sum = (DVec3::from(own.map(f64::from)) + normal).normalize_or(normal);
        *own = sum.as_vec3().to_array();
    }
    positions.push(middle.as_vec3().to_array());
    normals.push(normal.as_vec3().to_array());
}
