//! USD text: meshes with their transforms, over time too, metres per unit and up axis. What refers to other files and skeletons
//! is told as left out.
//!
//! Default metres per unit is 0.01 and default up axis y, as the format says. Prims hand their transform and visibility down;
//! guides, proxies and invisible prims are left out. Faces of any number of corners are cut by ears; left-handed ones are turned.

mod survey;
mod time;
mod transform;

use super::budget::Budget;
use super::left_out::LeftOut;
use super::polygon::Cutter;
use super::{ImportedMesh, ReadFault, damaged};
use glam::{DAffine3, DVec3};
use openusd::sdf::{Data, Path, SpecData, Value};
use openusd::usda;
use std::borrow::Cow;
use std::collections::HashSet;

/// Reads USD text: the meshes of one layer as one; references to other files are told as left out.
pub(super) fn read(bytes: &[u8], budget: &mut Budget) -> Result<ImportedMesh, ReadFault> {
    if bytes.starts_with(b"PXR-USDC") {
        return Err(ReadFault::Unsupported("the binary form of USD".into()));
    }
    let text = std::str::from_utf8(bytes).map_err(|_| damaged("it is no text"))?;
    if !text.starts_with("#usda") {
        return Err(damaged("it does not begin with `#usda`"));
    }
    survey::survey(text, budget)?;
    let data = usda::parse(text).map_err(|e| damaged(format!("{e:#}")))?;
    let mut stage = Stage { data: &data, mesh: ImportedMesh::default(), shapes: Vec::new(), cutter: Cutter::new(), budget };
    stage.layer()?;
    time::over_time(&stage.shapes, &data, &mut stage.mesh, stage.budget)?;
    Ok(stage.mesh)
}

/// A mesh that was found: its prim, those above it that place it, the outermost first, and how many vertices it has.
struct Shape {
    prim: Path,
    above: Vec<Path>,
    count: usize,
}

/// The layer that is read, and what was found in it so far.
struct Stage<'a> {
    data: &'a Data,
    mesh: ImportedMesh,
    shapes: Vec<Shape>,
    cutter: Cutter,
    budget: &'a mut Budget,
}

/// What a prim hands down to those within it.
#[derive(Clone)]
struct Inherited {
    frame: DAffine3,
    /// The prims whose transforms make up the frame.
    above: Vec<Path>,
    hidden: bool,
}

impl Stage<'_> {
    /// The unit and the up axis of the layer, then its roots.
    fn layer(&mut self) -> Result<(), ReadFault> {
        let root = Path::abs_root();
        let Some(spec) = self.data.spec(&root) else { return Ok(()) };
        let unit = match spec.get("metersPerUnit") {
            None => 0.01,
            Some(value) => number(value).filter(|u| u.is_finite() && *u > 0.0).ok_or_else(|| damaged("its unit is no length"))?,
        };
        self.mesh.unit = Some(unit);
        self.mesh.z_up = spec.get("upAxis").and_then(word).map(|axis| axis == "Z");
        if spec.contains("subLayers") {
            self.mesh.left_out.insert(LeftOut::References);
        }
        self.children(&root, spec, &Inherited { frame: DAffine3::IDENTITY, above: Vec::new(), hidden: false })
    }

    /// All children of a prim with what they inherit.
    fn children(&mut self, path: &Path, spec: &SpecData, from: &Inherited) -> Result<(), ReadFault> {
        let Some(Value::TokenVec(names)) = spec.get("primChildren") else { return Ok(()) };
        let mut seen = HashSet::new();
        for name in names.iter().map(|n| n.as_str()) {
            // a path that leads back, or twice to one prim, would be walked for ever
            if !Path::is_valid_identifier(name) || !seen.insert(name) {
                return Err(damaged(format!("a part has the name `{name}` of another one, or one that no part may have")));
            }
            let own = path.append_path(name).map_err(damaged)?;
            if let Some(spec) = self.data.spec(&own) {
                self.prim(&own, spec, from)?;
            }
        }
        Ok(())
    }

    /// A prim with its place; invisible ones and guides are left out.
    fn prim(&mut self, path: &Path, spec: &SpecData, from: &Inherited) -> Result<(), ReadFault> {
        let kind = spec.get("typeName").and_then(word).unwrap_or("");
        self.note(spec, kind);
        // classes and overs describe what other prims take from them
        if spec.get("specifier").is_some_and(|v| !matches!(v, Value::Specifier(openusd::sdf::Specifier::Def))) {
            self.mesh.left_out.insert(LeftOut::References);
            return Ok(());
        }
        let value = |name: &str| time::first(self.data, path, name);
        let token = |name: &str| value(name).and_then(word);
        let frame = transform::local(|name| value(name).map(Cow::Borrowed))?;
        let guide = token("purpose").is_some_and(|p| p == "guide" || p == "proxy");
        let inactive = matches!(spec.get("active"), Some(Value::Bool(false)));
        let hidden = from.hidden || guide || inactive || token("visibility") == Some("invisible");
        let mut above = from.above.clone();
        if frame != DAffine3::IDENTITY || value("xformOpOrder").is_some() {
            above.push(path.clone());
        }
        let here = Inherited { frame: from.frame * frame, above, hidden };
        if kind == "Mesh" {
            if hidden {
                self.mesh.left_out.insert(LeftOut::Hidden);
            } else {
                self.add(path, &here)?;
            }
        }
        self.children(path, spec, &here)
    }

    /// Takes note of what is left out.
    fn note(&mut self, spec: &SpecData, kind: &str) {
        let out = &mut self.mesh.left_out;
        let any = |names: &[&str]| names.iter().any(|name| spec.contains(name));
        if any(&["references", "payload", "inheritPaths", "specializes"]) {
            out.insert(LeftOut::References);
        }
        if any(&["variantSetNames", "variantSetChildren"]) {
            out.insert(LeftOut::Variants);
        }
        match kind {
            "Skeleton" | "SkelAnimation" => drop(out.insert(LeftOut::Skeleton)),
            "BlendShape" => drop(out.insert(LeftOut::Morphs)),
            "PointInstancer" => drop(out.insert(LeftOut::Instances)),
            "Points" | "BasisCurves" | "NurbsCurves" => drop(out.insert(LeftOut::PointsAndLines)),
            _ => {}
        }
    }

    /// Appends a mesh at its place.
    fn add(&mut self, path: &Path, here: &Inherited) -> Result<(), ReadFault> {
        let frame = &here.frame;
        let value = |name: &str| time::first(self.data, path, name);
        let Some(points) = value("points") else { return Ok(()) };
        let points = points_of(points).ok_or_else(|| damaged(format!("the points of {} are of a wrong kind", path.as_str())))?;
        let list = |name: &str| match value(name) {
            Some(Value::IntVec(values)) => Ok(values.clone()),
            None => Ok(Vec::new()),
            Some(_) => Err(damaged(format!("the {name} of {} are of a wrong kind", path.as_str()))),
        };
        let (counts, indices) = (list("faceVertexCounts")?, list("faceVertexIndices")?);
        let left_handed = value("orientation").and_then(word) == Some("leftHanded");
        let mirrored = left_handed != (frame.matrix3.determinant() < 0.0);
        if value("primvars:skel:jointIndices").is_some() {
            self.mesh.left_out.insert(LeftOut::Skeleton);
        }
        let scheme = value("subdivisionScheme").and_then(word);
        if scheme.is_none_or(|s| s != "none") {
            self.mesh.left_out.insert(LeftOut::Subdivision);
        }
        self.budget.vertices(points.len())?;
        self.shapes.push(Shape { prim: path.clone(), above: here.above.clone(), count: points.len() });
        let first = self.mesh.positions.len() as u32;
        self.mesh.positions.extend(points.iter().map(|p| frame.transform_point3(*p).as_vec3().to_array()));
        let mut rest = &indices[..];
        let mut corners: Vec<u32> = Vec::new();
        for count in counts {
            let count = usize::try_from(count).map_err(|_| damaged(format!("a face of {count} corners")))?;
            let (face, after) = rest.split_at_checked(count).ok_or_else(|| damaged("a face without all its corners"))?;
            rest = after;
            if face.iter().any(|v| *v < 0 || *v as usize >= points.len()) {
                return Err(damaged("a face names a vertex that is not there"));
            }
            corners.clear();
            corners.extend(face.iter().map(|v| first + *v as u32));
            if mirrored {
                corners.reverse();
            }
            self.cutter.cut(&corners, &self.mesh.positions, self.budget, (&mut self.mesh.triangles, &mut self.mesh.left_out))?;
        }
        Ok(())
    }
}

/// A single number of whatever width.
fn number(value: &Value) -> Option<f64> {
    Some(match value {
        Value::Double(v) => *v,
        Value::Float(v) => f64::from(*v),
        Value::Half(v) => f64::from(*v),
        Value::Int(v) => f64::from(*v),
        Value::Int64(v) => *v as f64,
        _ => return None,
    })
}

/// A token or a text.
fn word(value: &Value) -> Option<&str> {
    match value {
        Value::Token(token) => Some(token.as_str()),
        Value::String(text) => Some(text),
        _ => None,
    }
}

/// An array of three numbers each.
fn points_of(value: &Value) -> Option<Vec<DVec3>> {
    Some(match value {
        Value::Vec3fVec(all) => all.iter().map(|p| DVec3::new(f64::from(p.x), f64::from(p.y), f64::from(p.z))).collect(),
        Value::Vec3dVec(all) => all.iter().map(|p| DVec3::new(p.x, p.y, p.z)).collect(),
        Value::Vec3hVec(all) => all.iter().map(|p| DVec3::new(f64::from(p.x), f64::from(p.y), f64::from(p.z))).collect(),
        _ => return None,
    })
}
