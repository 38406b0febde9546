//! The transform of a prim from its `xformOp` attributes, in the order that it states.
//!
//! Operations multiply in the order stated, so that the last one acts on the points first; `!invert!` and suffixes are understood.
//! Angles are degrees. A name without an attribute is passed over, an operation that is not known is refused by its name, and so is
//! a transform that is no number.

use super::{damaged, number};
use crate::reading::ReadFault;
use glam::{DAffine3, DMat4, DQuat, DVec3};
use openusd::sdf::Value;
use std::borrow::Cow;

/// The local transform, with the values of one time.
pub(super) fn local<'a>(value: impl Fn(&str) -> Option<Cow<'a, Value>>) -> Result<DAffine3, ReadFault> {
    let mut frame = DAffine3::IDENTITY;
    let Some(order) = value("xformOpOrder") else { return Ok(frame) };
    let Value::TokenVec(order) = order.as_ref() else { return Ok(frame) };
    for name in order.iter().map(|t| t.as_str()) {
        let (inverted, key) = name.strip_prefix("!invert!").map_or((false, name), |key| (true, key));
        let Some(own) = value(key) else { continue };
        let op = key.split(':').nth(1).unwrap_or("");
        let own = operation(op, &own)
            .ok_or_else(|| ReadFault::Unsupported(format!("the transform `{}`", key.chars().take(60).collect::<String>())))?;
        frame *= if inverted { own.inverse() } else { own };
    }
    if frame.is_finite() { Ok(frame) } else { Err(damaged("a transform that is no number")) }
}

/// Names of the attributes that make up the transform of a prim.
pub(super) fn operations(order: Option<&Value>) -> Vec<String> {
    let Some(Value::TokenVec(order)) = order else { return Vec::new() };
    order.iter().map(|t| t.as_str().trim_start_matches("!invert!").to_owned()).collect()
}

/// One operation; angles are degrees.
fn operation(op: &str, value: &Value) -> Option<DAffine3> {
    let turn = |axis: DVec3| number(value).map(|a| DAffine3::from_axis_angle(axis, a.to_radians()));
    let turns = |order: [usize; 3]| {
        let angles = vector(value)?.to_array().map(f64::to_radians);
        let axes = [DVec3::X, DVec3::Y, DVec3::Z];
        // the first of the name is applied first
        let q = order.iter().fold(DQuat::IDENTITY, |q, k| DQuat::from_axis_angle(axes[*k], angles[*k]) * q);
        Some(DAffine3::from_quat(q))
    };
    match op {
        "translate" => vector(value).map(DAffine3::from_translation),
        "scale" => vector(value).or_else(|| number(value).map(DVec3::splat)).map(DAffine3::from_scale),
        "rotateX" => turn(DVec3::X),
        "rotateY" => turn(DVec3::Y),
        "rotateZ" => turn(DVec3::Z),
        "rotateXYZ" => turns([0, 1, 2]),
        "rotateXZY" => turns([0, 2, 1]),
        "rotateYXZ" => turns([1, 0, 2]),
        "rotateYZX" => turns([1, 2, 0]),
        "rotateZXY" => turns([2, 0, 1]),
        "rotateZYX" => turns([2, 1, 0]),
        "orient" => quaternion(value).map(DAffine3::from_quat),
        // rows are written one after the other, points are rows
        "transform" => match value {
            Value::Matrix4d(m) => Some(DAffine3::from_mat4(DMat4::from_cols_array(&m.0))),
            _ => None,
        },
        _ => None,
    }
}

/// Three numbers.
fn vector(value: &Value) -> Option<DVec3> {
    Some(match value {
        Value::Vec3d(p) => DVec3::new(p.x, p.y, p.z),
        Value::Vec3f(p) => DVec3::new(f64::from(p.x), f64::from(p.y), f64::from(p.z)),
        Value::Vec3h(p) => DVec3::new(f64::from(p.x), f64::from(p.y), f64::from(p.z)),
        _ => return None,
    })
}

/// A rotation: the real part first.
fn quaternion(value: &Value) -> Option<DQuat> {
    let [x, y, z, w] = match value {
        Value::Quatd(q) => [q.x, q.y, q.z, q.w],
        Value::Quatf(q) => [q.x, q.y, q.z, q.w].map(f64::from),
        Value::Quath(q) => [q.x, q.y, q.z, q.w].map(f64::from),
        _ => return None,
    };
    let q = DQuat::from_xyzw(x, y, z, w);
    (q.length_squared() > 1e-12).then(|| q.normalize())
}
