//! Values of attributes over time, and the meshes of a layer at all times at which something moves.

use super::{Shape, points_of, transform};
use crate::reading::budget::Budget;
use crate::reading::{ImportedMesh, ReadFault, VertexCache, damaged};
use glam::{DAffine3, DVec3};
use openusd::sdf::{Data, Path, Value};
use std::borrow::Cow;

/// Times a second where the layer does not say.
const RATE: f64 = 24.0;

/// An attribute's value: the one that stands still, or the first over time.
pub(super) fn first<'a>(data: &'a Data, path: &Path, name: &str) -> Option<&'a Value> {
    let spec = data.spec(&path.append_property(name).ok()?)?;
    let still = spec.get("default").filter(|v| !matches!(v, Value::ValueBlock | Value::None));
    still.or_else(|| samples(data, path, name)?.first().map(|(_, v)| v))
}

/// An attribute over time.
fn samples<'a>(data: &'a Data, path: &Path, name: &str) -> Option<&'a [(f64, Value)]> {
    match data.spec(&path.append_property(name).ok()?)?.get("timeSamples") {
        Some(Value::TimeSamples(samples)) if !samples.is_empty() => Some(samples),
        _ => None,
    }
}

/// An attribute's value at a time: between two samples evenly from one to the other, where its kind allows it.
fn at<'a>(data: &'a Data, path: &Path, name: &str, time: f64) -> Option<Cow<'a, Value>> {
    let Some(samples) = samples(data, path, name) else { return first(data, path, name).map(Cow::Borrowed) };
    let (a, b, share) = around(samples, time);
    Some(if share == 0.0 { Cow::Borrowed(&a.1) } else { between(&a.1, &b.1, share).map_or(Cow::Borrowed(&a.1), Cow::Owned) })
}

/// The samples around a time, and how far it lies between them; the first and the last hold before and after.
fn around(samples: &[(f64, Value)], time: f64) -> (&(f64, Value), &(f64, Value), f64) {
    let after = samples.partition_point(|(t, _)| *t <= time);
    let (a, b) = (&samples[after.max(1) - 1], &samples[after.min(samples.len() - 1)]);
    let share = if b.0 > a.0 { ((time - a.0) / (b.0 - a.0)).clamp(0.0, 1.0) } else { 0.0 };
    (a, b, share)
}

/// None for what goes in steps.
fn between(a: &Value, b: &Value, share: f64) -> Option<Value> {
    let wide = |a: f64, b: f64| a + (b - a) * share;
    let narrow = |a: f32, b: f32| a + (b - a) * share as f32;
    Some(match (a, b) {
        (Value::Double(a), Value::Double(b)) => Value::Double(wide(*a, *b)),
        (Value::Float(a), Value::Float(b)) => Value::Float(narrow(*a, *b)),
        (Value::Vec3d(a), Value::Vec3d(b)) => {
            let mut v = *a;
            (v.x, v.y, v.z) = (wide(a.x, b.x), wide(a.y, b.y), wide(a.z, b.z));
            Value::Vec3d(v)
        }
        (Value::Vec3f(a), Value::Vec3f(b)) => {
            let mut v = *a;
            (v.x, v.y, v.z) = (narrow(a.x, b.x), narrow(a.y, b.y), narrow(a.z, b.z));
            Value::Vec3f(v)
        }
        (Value::Matrix4d(a), Value::Matrix4d(b)) => {
            let mut m = *a;
            m.0.iter_mut().zip(&b.0).for_each(|(v, b)| *v = wide(*v, *b));
            Value::Matrix4d(m)
        }
        _ => return None,
    })
}

/// Puts the meshes at all times of their samples into `mesh`, when anything moves.
pub(super) fn over_time(shapes: &[Shape], data: &Data, mesh: &mut ImportedMesh, budget: &mut Budget) -> Result<(), ReadFault> {
    let mut times: Vec<f64> = Vec::new();
    let mut add = |path: &Path, name: &str| times.extend(samples(data, path, name).unwrap_or_default().iter().map(|(t, _)| *t));
    for shape in shapes {
        add(&shape.prim, "points");
        for path in &shape.above {
            transform::operations(first(data, path, "xformOpOrder")).iter().for_each(|name| add(path, name));
        }
    }
    if !times.iter().all(|t| t.abs() < 1e7) {
        return Err(damaged("a time that is no number, or never comes"));
    }
    times.sort_unstable_by(f64::total_cmp);
    times.dedup();
    if times.len() < 2 {
        return Ok(());
    }
    budget.numbers(times.len().saturating_mul(3 * mesh.positions.len()))?;
    let root = data.spec(&Path::abs_root());
    let rate = root.and_then(|spec| spec.get("timeCodesPerSecond").and_then(super::number)).unwrap_or(RATE);
    if !(0.01..=10_000.0).contains(&rate) {
        return Err(damaged("it has no such rate of times"));
    }
    let frames = times.iter().map(|t| placed(shapes, data, *t)).collect::<Result<Vec<_>, _>>()?;
    mesh.positions.clone_from(&frames[0]);
    mesh.cache = Some(VertexCache { seconds: times.iter().map(|t| t / rate).collect(), frames });
    Ok(())
}

/// All meshes at a time, one after the other.
fn placed(shapes: &[Shape], data: &Data, time: f64) -> Result<Vec<[f32; 3]>, ReadFault> {
    let mut frame = Vec::new();
    for shape in shapes {
        let mut place = DAffine3::IDENTITY;
        for path in &shape.above {
            place *= transform::local(|name| at(data, path, name, time))?;
        }
        let points = points_at(data, shape, time);
        let points = points
            .filter(|p| p.len() == shape.count)
            .ok_or_else(|| ReadFault::Unsupported(format!("a mesh whose number of vertices changes over time, {}", shape.prim.as_str())))?;
        frame.extend(points.iter().map(|p| place.transform_point3(*p).as_vec3().to_array()));
    }
    Ok(frame)
}

/// Points at a time, between two samples evenly from one to the other.
fn points_at(data: &Data, shape: &Shape, time: f64) -> Option<Vec<DVec3>> {
    let Some(samples) = samples(data, &shape.prim, "points") else { return points_of(first(data, &shape.prim, "points")?) };
    let (a, b, share) = around(samples, time);
    let mut points = points_of(&a.1)?;
    if share > 0.0 {
        let later = points_of(&b.1).filter(|later| later.len() == points.len())?;
        points.iter_mut().zip(later).for_each(|(p, q)| *p = p.lerp(q, share));
    }
    Some(points)
}
