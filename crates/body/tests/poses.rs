//! Skeleton, skinning and poses: joints against the golden values, volumes kept, limits, mirrors and blends.

use body::{Body, Pose, PoseFault, Request, Surface, blend, mannequin, mannequin_with, poses};
use glam::{DQuat, DVec3};
use proptest::prelude::*;
use std::sync::OnceLock;

fn woman() -> &'static Body {
    static WOMAN: OnceLock<Body> = OnceLock::new();
    WOMAN.get_or_init(|| mannequin(&Request::size("woman-38")).expect("a size"))
}

fn one(bone: &str, angles: [f64; 3]) -> Pose {
    Pose { bones: [(bone.to_owned(), angles)].into() }
}

fn ours(theirs: &str) -> String {
    let (side, stem) = match theirs.split_once('_') {
        Some(("L", stem)) => ("-left", stem),
        Some((_, stem)) => ("-right", stem),
        None => ("", theirs),
    };
    let stem = stem.replace("clavicle", "collar").replace("upperarm", "upper-arm");
    let stem = if let Some(n) = stem.strip_prefix("spine") { format!("spine-{n}") } else { stem };
    stem + side
}

#[test]
fn joints_agree_with_the_golden_values() {
    let golden: serde_json::Value = serde_json::from_str(include_str!("../data/golden.json")).expect("well formed");
    for (name, key) in [("Woman 38", "woman-38"), ("Man 58", "man-58"), ("Child 128", "child-128")] {
        let figure = mannequin_with(&Request::size(key), 3.0).expect("a size");
        for (theirs, p) in golden[name]["joints"].as_object().expect("joints") {
            let skeleton = &figure.rig.skeleton;
            let bone = &skeleton.bones[skeleton.index(&ours(theirs)).unwrap_or_else(|| panic!("{theirs}"))];
            let expected = DVec3::new(p[0].as_f64().unwrap_or(0.0), p[1].as_f64().unwrap_or(0.0), p[2].as_f64().unwrap_or(0.0));
            let off = (bone.joint * 100.0).distance(expected);
            assert!(off < 0.12, "{name} {theirs}: {:?} instead of {expected}", bone.joint * 100.0);
        }
    }
}

/// Triangles that follow mostly the given bones, as a set with one bit per triangle.
fn volume_loss(figure: &Body, pose: &Pose) -> f64 {
    let posed = figure.posed(pose).expect("within limits");
    1.0 - posed.surface.volume() / figure.surface.volume()
}

#[test]
fn the_body_keeps_its_volume_in_every_pose_that_ships() {
    for named in poses() {
        let loss = volume_loss(woman(), &named.pose);
        assert!((-0.06..0.03).contains(&loss), "{} loses {:.1} %", named.name, 100.0 * loss);
    }
}

/// Volume of the part of a limb within `reach` m of a joint, as cones from the joint over the skin there.
fn around(figure: &Body, surface: &Surface, joint: DVec3, at: DVec3, reach: f64) -> f64 {
    let rest = |v: u32| DVec3::from(figure.surface.positions[v as usize].map(f64::from));
    let now = |v: u32| DVec3::from(surface.positions[v as usize].map(f64::from)) - at;
    let near = surface.triangles.iter().filter(|t| t.iter().all(|&v| rest(v).distance(joint) < reach));
    near.map(|t| now(t[0]).dot(now(t[1]).cross(now(t[2]))) / 6.0).sum()
}

#[test]
fn joints_do_not_collapse_at_ninety_degrees() {
    let figure = woman();
    for (bone, angles, reach) in [
        ("upper-arm-left", [90.0, 0.0, 0.0], 0.14),
        ("upper-arm-left", [0.0, 90.0, 0.0], 0.14),
        ("forearm-left", [90.0, 0.0, 0.0], 0.10),
        ("thigh-left", [90.0, 0.0, 0.0], 0.20),
        ("shin-left", [90.0, 0.0, 0.0], 0.14),
    ] {
        let posed = figure.posed(&one(bone, angles)).expect("within limits");
        let b = figure.rig.skeleton.index(bone).expect("a bone");
        let joint = figure.rig.skeleton.bones[b].joint;
        let at = posed.placed[b].transform_point3(joint);
        let before = around(figure, &figure.surface, joint, joint, reach);
        let loss = 1.0 - around(figure, &posed.surface, joint, at, reach) / before;
        assert!(loss < 0.08, "{bone} {angles:?} loses {:.1} % of {:.2} l around its joint", 100.0 * loss, before * 1e3);
    }
}

#[test]
fn weights_are_shares_and_mirror_each_other() {
    let figure = woman();
    for w in &figure.rig.weights {
        let sum: f32 = w.weights.iter().sum();
        assert!((sum - 1.0).abs() < 1e-5 && w.weights.iter().all(|s| (0.0..=1.0).contains(s)));
    }
    let mirrored = |surface: &Surface| -> f32 {
        let mut points: Vec<[i32; 3]> = surface.positions.iter().map(|p| p.map(|v| (v * 2000.0).round() as i32)).collect();
        points.sort_unstable();
        let found = points.iter().filter(|p| (-1..=1).any(|d| points.binary_search(&[-p[0] + d, p[1], p[2]]).is_ok())).count();
        found as f32 / points.len() as f32
    };
    for key in ["t", "seated", "hands-on-hips"] {
        let pose = poses().into_iter().find(|p| p.key == key).expect("ships").pose;
        let share = mirrored(&figure.posed(&pose).expect("within limits").surface);
        assert!(share > 0.97, "{key}: {share} of the points have a mirror image");
    }
}

#[test]
fn poses_do_what_they_say() {
    let figure = woman();
    let bones = &figure.rig.skeleton;
    let at = |pose: &Pose, bone: &str| {
        let b = bones.index(bone).expect("a bone");
        figure.posed(pose).expect("within limits").placed[b].transform_point3(bones.bones[b].joint)
    };
    let pose = |key: &str| poses().into_iter().find(|p| p.key == key).expect("ships").pose;
    let t = pose("t");
    assert!((at(&t, "hand-left").y - at(&t, "upper-arm-left").y).abs() < 0.06, "arms are level in T");
    let down = pose("arms-down");
    assert!(at(&down, "hand-left").x < at(&Pose::default(), "hand-left").x - 0.15);
    let seated = pose("seated");
    assert!((at(&seated, "thigh-left").y - at(&seated, "shin-left").y).abs() < 0.08, "thighs are level when seated");
    assert!(at(&seated, "shin-left").z > at(&seated, "thigh-left").z + 0.3, "knees in front");
    let raised = pose("arms-raised");
    assert!(at(&raised, "hand-left").y > at(&raised, "head").y + 0.25);
    let bow = pose("deep-bow");
    assert!(at(&bow, "head").z > at(&bow, "pelvis").z + 0.3 && at(&bow, "head").y < at(&bow, "pelvis").y + 0.25);
    assert!((at(&bow, "foot-left").y - at(&bow, "foot-right").y).abs() < 1e-9);
    let kneeling = pose("kneeling");
    assert!(at(&kneeling, "shin-left").y < 0.12 && at(&kneeling, "foot-left").y < 0.15, "knees and feet on the floor");
    let hips = pose("hands-on-hips");
    assert!(at(&hips, "hand-left").distance(at(&hips, "thigh-left")) < 0.30, "hands near the hips");
}

#[test]
fn limits_are_named_when_a_pose_passes_them() {
    let skeleton = &woman().rig.skeleton;
    let fault = one("shin-left", [170.0, 0.0, 0.0]).check(skeleton).expect_err("too far");
    assert!(matches!(&fault, PoseFault::Limit { bone, high, .. } if bone == "shin-left" && *high == 145.0), "{fault}");
    assert_eq!(one("tail", [0.0; 3]).check(skeleton), Err(PoseFault::NoBone("tail".into())));
    assert!(one("shin-left", [f64::NAN, 0.0, 0.0]).check(skeleton).is_err());
    for named in poses() {
        assert_eq!(named.pose.check(skeleton), Ok(()), "{}", named.name);
    }
}

#[test]
fn a_posed_body_stays_rigid_where_one_bone_rules() {
    let figure = woman();
    let pose = poses().into_iter().find(|p| p.key == "stride").expect("ships").pose;
    let posed = figure.posed(&pose).expect("within limits");
    let at = |s: &Surface, v: u32| DVec3::from(s.positions[v as usize].map(f64::from));
    for t in &figure.surface.triangles {
        let [a, b, c] = t.map(|v| figure.rig.weights[v as usize]);
        if a.weights[0] > 0.999_99 && b.weights[0] > 0.999_99 && a.joint_indices[0] == b.joint_indices[0] && c.weights[0] > 0.0 {
            let (before, after) = (
                at(&figure.surface, t[0]).distance(at(&figure.surface, t[1])),
                at(&posed.surface, t[0]).distance(at(&posed.surface, t[1])),
            );
            assert!((before - after).abs() < 1e-5, "{before} {after}");
        }
    }
    let lowest = posed.surface.positions.iter().map(|p| p[1]).fold(f32::MAX, f32::min);
    assert!(lowest.abs() < 0.005, "stands on the floor: {lowest}");
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 64, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn angles_come_back_from_their_rotation(k in 0..22usize, bend in -80.0..80.0f64, side in -45.0..45.0f64, turn in -80.0..80.0f64) {
        let bone = &woman().rig.skeleton.bones[k];
        let (back, q) = (bone.angles(bone.rotation([bend, side, turn])), bone.rotation([bend, side, turn]));
        prop_assert!(bone.rotation(back).dot(q).abs() > 1.0 - 1e-9);
        prop_assert!((back[0] - bend).abs() < 1e-6 && (back[1] - side).abs() < 1e-6 && (back[2] - turn).abs() < 1e-6, "{back:?}");
    }

    #[test]
    fn a_mirrored_pose_is_the_mirror_image(bend in -20.0..60.0f64, side in -20.0..20.0f64, turn in -15.0..15.0f64) {
        let skeleton = &woman().rig.skeleton;
        let pose = Pose { bones: [("thigh-left".to_owned(), [bend, side, turn]), ("spine-2".to_owned(), [bend * 0.3, side, turn])].into() };
        prop_assert_eq!(pose.mirrored().mirrored(), pose.clone());
        let (own, other) = (skeleton.place(&skeleton.rotations(&pose)), skeleton.place(&skeleton.rotations(&pose.mirrored())));
        let at = |placed: &[glam::DAffine3], bone: &str| { let b = skeleton.index(bone).expect("a bone"); placed[b].transform_point3(skeleton.bones[b].joint) };
        for (a, b) in [("shin-left", "shin-right"), ("foot-left", "foot-right"), ("hand-left", "hand-right"), ("head", "head")] {
            let (p, q) = (at(&own, a), at(&other, b));
            prop_assert!(p.distance(DVec3::new(-q.x, q.y, q.z)) < 1e-9, "{} {} {}", a, p, q);
        }
    }

    #[test]
    fn blending_goes_from_one_pose_to_the_other_at_an_even_pace(share in 0.0..1.0f64) {
        let skeleton = &woman().rig.skeleton;
        let list = poses();
        let (a, b) = (skeleton.rotations(&list[2].pose), skeleton.rotations(&list[5].pose));
        let mid = blend(&a, &b, share);
        for k in 0..a.len() {
            let angle = |p: DQuat, q: DQuat| p.angle_between(q);
            prop_assert!((angle(a[k], mid[k]) - share * angle(a[k], b[k])).abs() < 1e-6);
        }
    }
}
