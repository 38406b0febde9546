//! Delivery: the draped garment as a mesh file.

use crate::form::pose_refusal;
use crate::{Assembly, ContactBody};
use body::{Body, Pose, blend};
use costume::{BodyChoice, Costume, Fabric, Look, Refusal};
use formats::{Clip, ExportMesh, Group, Joint, Material, Skin, glb, mtl, obj};
use glam::DVec3;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;
use std::sync::Arc;
use ts_rs::TS;

/// File format of a delivery.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum FileKind {
    Obj,
    Glb,
}

/// Unit of the texture layout.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum Layout {
    /// Flat pieces at true scale, 1 = one metre.
    Metres,
    /// Scaled as a whole into the square from 0 to 1.
    Unit,
}

/// What to deliver.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, TS)]
pub struct DeliverOptions {
    /// The format.
    pub kind: FileKind,
    /// Seams fused into common vertices, or left as separate edges.
    pub welded: bool,
    /// How the flat pieces lie in texture coordinates.
    pub layout: Layout,
    /// Adds the body as a mesh of its own.
    pub with_body: bool,
}

/// File names and their bytes; the first is the main one.
#[derive(Clone, Debug, PartialEq)]
pub struct Delivery {
    /// Names and bytes; the main file first.
    pub files: Vec<(String, Vec<u8>)>,
}

/// Makes the files of a drape. `stem` is the file name without ending.
pub fn deliver(
    assembly: &Assembly,
    positions: &[[f32; 3]],
    fused: &[u32],
    options: &DeliverOptions,
    stem: &str,
) -> Result<Delivery, Refusal> {
    if positions.len() != assembly.scene.positions.len() || !positions.iter().flatten().all(|v| v.is_finite()) {
        return Err(Refusal::elsewhere("drape", "does not belong to the present pattern", "drape the costume again"));
    }
    let mut meshes = vec![garment_mesh(assembly, positions, fused, options)];
    if options.with_body {
        meshes.push(body_mesh(&assembly.form));
    }
    let files = match options.kind {
        FileKind::Glb => vec![(format!("{stem}.glb"), glb(&meshes))],
        FileKind::Obj => {
            let library = format!("{stem}.mtl");
            vec![(format!("{stem}.obj"), obj(&meshes, Some(&library)).into_bytes()), (library, mtl(&meshes).into_bytes())]
        }
    };
    Ok(Delivery { files })
}

pub(crate) fn garment_mesh(assembly: &Assembly, positions: &[[f32; 3]], fused: &[u32], options: &DeliverOptions) -> ExportMesh {
    let count = positions.len();
    let pairs = (0..count as u32).filter(|&v| options.welded && fused[v as usize] != v).map(|v| (v, fused[v as usize]));
    let weld = mesh::weld(count, pairs);
    let welded: Vec<[f32; 3]> = weld.old_of_new.iter().map(|&v| positions[v as usize]).collect();
    let map = |t: &[u32; 3]| t.map(|v| weld.new_of_old[v as usize]);
    let triangles: Vec<[u32; 3]> = assembly.scene.triangles.iter().map(map).collect();
    let groups = assembly.pieces.iter().map(|p| Group {
        name: p.name.clone(),
        first: p.first_triangle,
        count: p.flat.triangles.len(),
        material: material(&assembly.costume, assembly.costume.piece(p.piece).and_then(|piece| assembly.costume.fabric(piece.fabric))),
    });
    ExportMesh {
        name: assembly.costume.name.clone(),
        normals: ExportMesh::smooth_normals(&welded, &triangles),
        positions: welded,
        uvs: layout(assembly, options.layout),
        uv_triangles: assembly.scene.triangles.clone(),
        triangles,
        groups: groups.collect(),
        skin: None,
    }
}

/// Flat pieces as they lie on the table, moved so that everything is above and right of the origin.
fn layout(assembly: &Assembly, layout: Layout) -> Vec<[f32; 2]> {
    let mut uvs: Vec<[f64; 2]> = Vec::new();
    for range in &assembly.pieces {
        let at = assembly.costume.piece(range.piece).map_or([0.0; 2], |p| [p.at.x, p.at.y]);
        uvs.extend(range.flat.points.iter().map(|p| [(p[0] + at[0]) / 1000.0, (p[1] + at[1]) / 1000.0]));
    }
    let (low, high) =
        uvs.iter().fold(([f64::MAX; 2], [f64::MIN; 2]), |(l, h), p| ([l[0].min(p[0]), l[1].min(p[1])], [h[0].max(p[0]), h[1].max(p[1])]));
    let scale = match layout {
        Layout::Metres => 1.0,
        Layout::Unit => 1.0 / (high[0] - low[0]).max(high[1] - low[1]).max(1e-9),
    };
    uvs.iter().map(|p| [((p[0] - low[0]) * scale) as f32, ((p[1] - low[1]) * scale) as f32]).collect()
}

/// Named for the fabric; fabrics of one name are told apart by their ids.
fn material(costume: &Costume, fabric: Option<&Fabric>) -> Material {
    let shared = |f: &Fabric| costume.fabrics.iter().any(|other| other.id != f.id && other.name == f.name);
    let named = |f: &Fabric| if shared(f) { format!("{} {}", f.name, f.id.0) } else { f.name.clone() };
    let name = fabric.map_or_else(|| "cloth".to_owned(), named);
    let look = fabric.and_then(|f| costume::swatch(&f.swatch)).map_or(Look::Plain, |s| s.look);
    cloth_material(name, linear(fabric.map_or("#cccccc", |f| &f.colour)), look)
}

/// A cloth of a colour (linear RGB) as it looks.
pub fn cloth_material(name: String, colour: [f32; 3], look: Look) -> Material {
    Material { name, colour, roughness: look.roughness() as f32, opacity: look.opacity() as f32, double_sided: true }
}

/// `#rrggbb` (sRGB) to linear RGB.
fn linear(hex: &str) -> [f32; 3] {
    [1, 3, 5].map(|k| {
        let v = hex.get(k..k + 2).and_then(|d| u8::from_str_radix(d, 16).ok()).unwrap_or(200);
        let s = f32::from(v) / 255.0;
        if s <= 0.04045 { s / 12.92 } else { ((s + 0.055) / 1.055).powf(2.4) }
    })
}

/// The body as its own mesh.
pub fn body_mesh(form: &ContactBody) -> ExportMesh {
    let s = &form.posed.surface;
    ExportMesh { skin: skin(form), ..plain_body(&form.figure.name, s.positions.clone(), s.normals.clone(), s.triangles.clone()) }
}

/// A skin as a mesh of its own, without bones.
pub(crate) fn plain_body(name: &str, positions: Vec<[f32; 3]>, normals: Vec<[f32; 3]>, triangles: Vec<[u32; 3]>) -> ExportMesh {
    let material = Material { name: "linen".into(), colour: linear("#c9c2b4"), roughness: 0.85, opacity: 1.0, double_sided: false };
    let groups = vec![Group { name: "body".into(), first: 0, count: triangles.len(), material }];
    ExportMesh { name: name.to_owned(), positions, normals, uvs: Vec::new(), triangles, uv_triangles: Vec::new(), groups, skin: None }
}

/// Frames of a motion in a second.
const RATE: f32 = 30.0;

/// The body in its neutral pose with a motion from one pose to another over `frames` frames, on the floor all along.
pub fn body_clip(figure: &Arc<Body>, from: &Pose, to: &Pose, frames: usize) -> Result<ExportMesh, Refusal> {
    let skeleton = &figure.rig.skeleton;
    for pose in [from, to] {
        pose.check(skeleton).map_err(pose_refusal)?;
    }
    let (first, last) = (skeleton.rotations(from), skeleton.rotations(to));
    let mut clip = Clip { name: "motion".into(), rotations: vec![Vec::new(); skeleton.bones.len()], ..Clip::default() };
    for k in 0..frames {
        let rotations = blend(&first, &last, k as f64 / (frames - 1).max(1) as f64);
        clip.seconds.push(k as f32 / RATE);
        clip.rotations.iter_mut().zip(&rotations).for_each(|(row, q)| row.push(q.as_quat().to_array()));
        let root = figure.stand(&rotations).placed.first().map_or(DVec3::ZERO, |m| m.transform_point3(skeleton.bones[0].joint));
        clip.root.push(root.as_vec3().to_array());
    }
    let form = ContactBody::new(figure.clone(), &BodyChoice::size(&figure.key), BTreeSet::new())?;
    let mut mesh = body_mesh(&form);
    mesh.skin.iter_mut().for_each(|skin| skin.clip = Some(clip.clone()));
    Ok(mesh)
}

/// Joints where they lie in the pose, and the weights of the skin; none for a figure without bones.
fn skin(form: &ContactBody) -> Option<Skin> {
    let rig = &form.figure.rig;
    let joint = |(bone, placed): (&body::Bone, &glam::DAffine3)| Joint {
        name: bone.name.clone(),
        parent: bone.parent,
        rotation: placed.to_scale_rotation_translation().1.as_quat().to_array(),
        at: placed.transform_point3(bone.joint).as_vec3().to_array(),
    };
    let joints: Vec<Joint> = rig.skeleton.bones.iter().zip(&form.posed.placed).map(joint).collect();
    let (bones, shares) = rig.weights.iter().map(|w| (w.joint_indices, w.weights)).unzip();
    (!joints.is_empty()).then_some(Skin { joints, joint_indices: bones, weights: shares, clip: None })
}

/// A still picture (PNG) of the garment on its body, `turn` degrees from the front.
pub fn picture(assembly: &Assembly, positions: &[[f32; 3]], fused: &[u32], width: usize, height: usize, turn: f32) -> Vec<u8> {
    let options = DeliverOptions { kind: FileKind::Glb, welded: true, layout: Layout::Metres, with_body: true };
    let meshes = [garment_mesh(assembly, positions, fused, &options), body_mesh(&assembly.form)];
    let top = assembly.form.posed.surface.positions.iter().map(|p| p[1]).fold(0.0f32, f32::max);
    formats::picture(&meshes, &formats::View { width, height, turn, middle: 0.5 * top, span: 1.08 * top })
}
