//! Delivery: the draped garment as a mesh file.

use crate::form::pose_refusal;
use crate::{Assembly, ContactBody};
use body::{Body, Pose, blend};
use costume::{BodyChoice, Costume, Fabric, Look, Refusal};
use formats::{Clip, ExportMesh, Group, Joint, Material, Skin, glb, mtl, obj_said};
use glam::DVec3;
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;
use std::sync::Arc;
use ts_rs::TS;

/// File format of a delivery.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum FileKind {
    Obj,
    #[default]
    Glb,
    Ply,
    Stl,
}

/// Unit of the texture layout.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum Layout {
    /// Flat pieces at true scale, 1 = one metre.
    #[default]
    Metres,
    /// Scaled as a whole into the square from 0 to 1.
    Unit,
}

/// Unit of the lengths in a file.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum Unit {
    Mm,
    Cm,
    #[default]
    M,
    Inch,
}

impl Unit {
    /// How many of it are a metre.
    fn per_metre(self) -> f64 {
        match self {
            Self::Mm => 1000.0,
            Self::Cm => 100.0,
            Self::M => 1.0,
            Self::Inch => 1.0 / 0.0254,
        }
    }
}

/// To which side of the draped surface cloth has its thickness.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum ThickSide {
    #[default]
    Outwards,
    Inwards,
    Both,
}

/// Most thickness that is delivered, mm.
pub const THICKEST: f64 = 30.0;
/// Most rounds of smooth subdivision, and most triangles that they may come to.
pub const SMOOTHEST: u8 = 3;
const MOST_TRIANGLES: usize = 4_000_000;

/// What to deliver.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, TS)]
pub struct DeliverOptions {
    /// The format.
    pub kind: FileKind,
    /// Seams fused into common vertices, or left as separate edges.
    pub welded: bool,
    /// How the flat pieces lie in texture coordinates.
    pub layout: Layout,
    /// Adds the body as a mesh of its own.
    pub with_body: bool,
    /// Unit of OBJ, PLY and STL; GLB is in metres whatever is chosen.
    pub unit: Unit,
    /// z points up in OBJ, PLY and STL, and y to the back; otherwise y is up and z to the front.
    pub z_up: bool,
    /// How often every triangle becomes four, smoothly; 0 as simulated.
    pub smooth: u8,
    /// Of the cloth, mm; 0 is a single layer.
    pub thickness: f64,
    pub side: ThickSide,
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
    if !(0.0..=THICKEST).contains(&options.thickness) {
        let reason = format!("cannot have a thickness of {} mm", options.thickness);
        return Err(Refusal::elsewhere("delivery", reason, format!("choose one from 0 to {THICKEST} mm")));
    }
    let count = assembly.scene.triangles.len();
    if options.smooth > SMOOTHEST || count << (2 * u32::from(options.smooth)) > MOST_TRIANGLES {
        let reason = format!("cannot be made smooth {} times: {count} triangles would become too many", options.smooth);
        return Err(Refusal::elsewhere("delivery", reason, "choose fewer rounds, or a coarser mesh"));
    }
    let fine = (0..options.smooth).fold(garment_mesh(assembly, positions, fused, options), |mesh, _| smoothed(mesh));
    let mut meshes = vec![thickened(fine, options)];
    if options.with_body {
        meshes.push(body_mesh(&assembly.form));
    }
    if options.kind != FileKind::Glb {
        meshes.iter_mut().for_each(|mesh| turned(mesh, options));
    }
    let said = format!("Ourlet garment, {}, {} up", unit_words(options.unit), if options.z_up { "z" } else { "y" });
    let files = match options.kind {
        FileKind::Ply => vec![(format!("{stem}.ply"), formats::ply(&meshes, &said))],
        FileKind::Stl => vec![(format!("{stem}.stl"), formats::stl(&meshes, stem))],
        FileKind::Glb => vec![(format!("{stem}.glb"), glb(&meshes))],
        FileKind::Obj => {
            let library = format!("{stem}.mtl");
            vec![(format!("{stem}.obj"), obj_said(&meshes, Some(&library), &said).into_bytes()), (library, mtl(&meshes).into_bytes())]
        }
    };
    Ok(Delivery { files })
}

fn unit_words(unit: Unit) -> &'static str {
    match unit {
        Unit::Mm => "mm",
        Unit::Cm => "cm",
        Unit::M => "metres",
        Unit::Inch => "in",
    }
}

/// A mesh in the unit and the axes of the file.
fn turned(mesh: &mut ExportMesh, options: &DeliverOptions) {
    let scale = options.unit.per_metre();
    // y goes up and z to the front, or z up and y to the back
    let turn = |[x, y, z]: [f32; 3]| if options.z_up { [x, -z, y] } else { [x, y, z] };
    for p in &mut mesh.positions {
        *p = turn(*p).map(|v| (f64::from(v) * scale) as f32);
    }
    mesh.normals.iter_mut().for_each(|n| *n = turn(*n));
}

/// A mesh four times as fine; its layout with it.
fn smoothed(mesh: ExportMesh) -> ExportMesh {
    let fine = mesh::subdivide(&mesh.positions, &mesh.triangles);
    let (uvs, uv_triangles) = mesh::subdivide_flat(&mesh.uvs, &mesh.uv_triangles);
    let groups = mesh.groups.iter().map(|g| Group { first: 4 * g.first, count: 4 * g.count, ..g.clone() }).collect();
    let normals = ExportMesh::smooth_normals(&fine.positions, &fine.triangles);
    ExportMesh { positions: fine.positions, triangles: fine.triangles, normals, uvs, uv_triangles, groups, ..mesh }
}

/// A mesh with its thickness: pieces keep their names and materials, all layers of a piece have its layout.
fn thickened(mesh: ExportMesh, options: &DeliverOptions) -> ExportMesh {
    if options.thickness == 0.0 {
        return mesh;
    }
    let whole = (options.thickness / 1000.0) as f32;
    let [out, inwards] = match options.side {
        ThickSide::Outwards => [whole, 0.0],
        ThickSide::Inwards => [0.0, whole],
        ThickSide::Both => [0.5 * whole; 2],
    };
    let thick = mesh::thicken(&mesh.positions, &mesh.normals, &mesh.triangles, out, inwards);
    let uv_triangles: Vec<[u32; 3]> = thick.of.iter().map(|(t, at)| at.map(|k| mesh.uv_triangles[*t as usize][usize::from(k)])).collect();
    let mut groups = Vec::with_capacity(mesh.groups.len());
    for group in &mesh.groups {
        let own = |t: &u32| (group.first..group.first + group.count).contains(&(*t as usize));
        // triangles come in the order of the sheet, so that those of a piece follow each other
        let first = thick.of.partition_point(|(t, _)| (*t as usize) < group.first);
        groups.push(Group { first, count: thick.of[first..].iter().take_while(|(t, _)| own(t)).count(), ..group.clone() });
    }
    ExportMesh {
        normals: mesh.normals.iter().copied().chain(mesh.normals.iter().map(|n| n.map(|v| -v))).collect(),
        positions: thick.positions,
        triangles: thick.triangles,
        uv_triangles,
        groups,
        ..mesh
    }
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
    let options =
        DeliverOptions { kind: FileKind::Glb, welded: true, layout: Layout::Metres, with_body: true, ..DeliverOptions::default() };
    let meshes = [garment_mesh(assembly, positions, fused, &options), body_mesh(&assembly.form)];
    let top = assembly.form.posed.surface.positions.iter().map(|p| p[1]).fold(0.0f32, f32::max);
    formats::picture(&meshes, &formats::View { width, height, turn, middle: 0.5 * top, span: 1.08 * top })
}
