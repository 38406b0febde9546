//! The bones of a posed body, and whether one goes through a triangle.

use crate::ContactBody;
use glam::DVec3;

/// Whether a straight way passes through a triangle, after Moeller and Trumbore (1997).
pub(super) fn pierces([from, to]: [DVec3; 2], [a, b, c]: [DVec3; 3]) -> bool {
    let (way, u, v) = (to - from, b - a, c - a);
    let across = way.cross(v);
    let det = u.dot(across);
    if det.abs() < 1e-12 {
        return false;
    }
    let start = from - a;
    let (s, turned) = (start.dot(across) / det, start.cross(u));
    let (t, at) = (way.dot(turned) / det, v.dot(turned) / det);
    s >= 0.0 && t >= 0.0 && s + t <= 1.0 && (0.0..=1.0).contains(&at)
}

/// The bones of a posed body from joint to joint, m; the last of a limb as long as the one before it, the head up to its
/// crown and beyond, so that whatever closes around it is seen.
pub(super) fn bones(form: &ContactBody) -> Vec<(bool, [DVec3; 2])> {
    let (skeleton, placed) = (&form.figure.rig.skeleton, &form.posed.placed);
    let is_arm = |k: usize| ["arm", "hand", "thumb", "finger"].iter().any(|n| skeleton.bones[k].name.contains(n));
    let joint = |k: usize| placed[k].transform_point3(skeleton.bones[k].joint);
    let mut made = Vec::new();
    let mut has_child = vec![false; skeleton.bones.len()];
    for (k, bone) in skeleton.bones.iter().enumerate() {
        if let Some(parent) = bone.parent {
            has_child[parent] = true;
            made.push((is_arm(k), [joint(parent), joint(k)]));
        }
    }
    for (k, bone) in skeleton.bones.iter().enumerate() {
        if let Some(parent) = bone.parent.filter(|_| !has_child[k]) {
            let way = joint(k) - joint(parent);
            made.push((is_arm(k), [joint(k), joint(k) + way.normalize_or_zero() * way.length().max(0.25)]));
        }
    }
    made
}
