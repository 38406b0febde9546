//! Delivery: the draped garment as a mesh file.
//!
//! - `options`: what may be chosen, with its limits.
//! - `bake`: prints in the texture of the layout.
//! - `cloth`: triangles or four-sided faces, before they have layers.
//! - `layout`: texture coordinates.
//! - `figure`: the body beside it.
//! - `preview`: what a choice comes to, before anything is written.
//! - `manifest`: what it was, beside the files.

mod bake;
mod cloth;
mod figure;
mod layout;
mod manifest;
mod options;
mod preview;

pub use figure::{body_clip, body_mesh};
pub use manifest::DeliveryManifest;
pub use options::{DeliverOptions, Faces, FileKind, LIGHTER, Layout, MOST_LEVELS, SMOOTHEST, TEXTURES, THICKEST, ThickSide, Unit};
pub use preview::{DeliveryPreview, TilesPreview, delivery_preview};

use crate::prints::bytes_of_colour;
use crate::{Assembly, Prints};
use cloth::Cloth;
use costume::{Costume, Fabric, Look, Refusal};
pub(crate) use figure::plain_body;
use formats::{ExportMesh, Group, Material, glb, mtl, obj_said};
use layout::Tiling;
use mesh::{LaidMesh, simplify};

/// File names and their bytes; the first is the main one.
#[derive(Clone, Debug, PartialEq)]
pub struct Delivery {
    /// Names and bytes; the main file first.
    pub files: Vec<(String, Vec<u8>)>,
}

/// A delivery of a drape before it is written: its levels of detail, and what they come to.
pub struct Prepared<'a> {
    /// Counts, size and names of the files.
    pub preview: DeliveryPreview,
    levels: Vec<Level>,
    /// Tiles of the layout that prints are drawn into; none where they are not.
    baked: Option<usize>,
    options: &'a DeliverOptions,
}

/// A level of detail: the garment, and the body where it is wanted; m, y up.
struct Level {
    /// Of its files, without ending.
    stem: String,
    meshes: Vec<ExportMesh>,
}

impl<'a> Prepared<'a> {
    /// Makes the meshes. `stem` is the file name without ending.
    pub fn of(
        assembly: &Assembly,
        positions: &[[f32; 3]],
        fused: &[u32],
        options: &'a DeliverOptions,
        prints: &Prints,
        stem: &str,
    ) -> Result<Self, Refusal> {
        if positions.len() != assembly.scene.positions.len() || !positions.iter().flatten().all(|v| v.is_finite()) {
            return Err(Refusal::elsewhere("drape", "does not belong to the present pattern", "drape the costume again"));
        }
        options.check(assembly.scene.triangles.len())?;
        let (mesh, tiling) = garment_mesh(assembly, positions, fused, options, prints)?;
        let levels = levels((0..options.smooth).fold(mesh, |mesh, _| smoothed(mesh)), assembly, options, stem);
        let baked = bake::bakes(&levels[0].meshes[0], options).then_some(tiling.tiles);
        baked.map_or(Ok(()), |tiles| bake::check(options, tiles))?;
        let textures = match (options.kind, baked) {
            (FileKind::Obj | FileKind::Usda, Some(tiles)) => (0..tiles).map(|k| format!("{}.png", bake::tile_name(k))).collect(),
            (FileKind::Usda, None) => formats::texture_names(&levels[0].meshes),
            _ => Vec::new(),
        };
        Ok(Self { preview: DeliveryPreview::of(&levels, tiling, textures, assembly, options), levels, baked, options })
    }

    /// Writes the files.
    pub fn write(self) -> Delivery {
        let Self { mut levels, options, baked, .. } = self;
        if let Some(tiles) = baked {
            let tiles = bake::tiles_of(&levels[0].meshes[0], options, tiles);
            levels.iter_mut().for_each(|level| bake::dress(&mut level.meshes[0], &tiles));
        } else if options.kind == FileKind::Obj {
            // there is but one set of texture coordinates
            levels.iter_mut().flat_map(|l| &mut l.meshes[0].groups).for_each(|g| g.material.print = None);
        }
        let said = format!("Ourlet garment, {}, {} up", unit_words(options.unit), if options.z_up { "z" } else { "y" });
        let mut files = Vec::new();
        for Level { stem, mut meshes } in levels {
            if options.kind != FileKind::Glb {
                meshes.iter_mut().for_each(|mesh| turned(mesh, options));
            }
            let known = |files: &[(String, Vec<u8>)], name: &str| files.iter().any(|(other, _)| other == name);
            for (name, bytes) in written(&meshes, options, &stem, &said) {
                if !known(&files, &name) {
                    files.push((name, bytes));
                }
            }
        }
        Delivery { files }
    }
}

/// Makes the files of a drape. `stem` is the file name without ending.
pub fn deliver(
    assembly: &Assembly,
    positions: &[[f32; 3]],
    fused: &[u32],
    options: &DeliverOptions,
    prints: &Prints,
    stem: &str,
) -> Result<Delivery, Refusal> {
    Ok(Prepared::of(assembly, positions, fused, options, prints, stem)?.write())
}

/// The files of some meshes in the format that is wanted.
fn written(meshes: &[ExportMesh], options: &DeliverOptions, stem: &str, said: &str) -> Vec<(String, Vec<u8>)> {
    let usd = || formats::usda_still(meshes, 1.0 / options.unit.per_metre(), options.z_up).into_bytes();
    let bytes = match options.kind {
        FileKind::Ply => formats::ply(meshes, said),
        FileKind::Stl => formats::stl(meshes, stem),
        FileKind::Glb => glb(meshes),
        FileKind::Usda => usd(),
        FileKind::Usdz => {
            let (layer, textures) = (usd(), formats::textures(meshes));
            let pictures = textures.iter().map(|(name, bytes)| (name.as_str(), bytes.as_slice()));
            formats::archive(&std::iter::once(("garment.usda", layer.as_slice())).chain(pictures).collect::<Vec<_>>())
        }
        FileKind::Obj => obj_said(meshes, Some(&format!("{stem}.mtl")), said).into_bytes(),
    };
    let mut names = file_names(options.kind, stem).into_iter();
    let mut files: Vec<(String, Vec<u8>)> = names.next().map(|name| (name, bytes)).into_iter().collect();
    files.extend(names.map(|library| (library, mtl(meshes).into_bytes())));
    if matches!(options.kind, FileKind::Usda | FileKind::Obj) {
        files.extend(formats::textures(meshes));
    }
    files
}

/// The files of one level, the main one first.
fn file_names(kind: FileKind, stem: &str) -> Vec<String> {
    let ending = match kind {
        FileKind::Ply => "ply",
        FileKind::Stl => "stl",
        FileKind::Glb => "glb",
        FileKind::Usda => "usda",
        FileKind::Usdz => "usdz",
        FileKind::Obj => return vec![format!("{stem}.obj"), format!("{stem}.mtl")],
    };
    vec![format!("{stem}.{ending}")]
}

/// The levels of detail of a garment in one layer, the finest first.
fn levels(mut left: ExportMesh, assembly: &Assembly, options: &DeliverOptions, stem: &str) -> Vec<Level> {
    let whole = left.triangles.len() as f64 * options.lighter / 100.0;
    let mut made = Vec::with_capacity(usize::from(options.levels) + 1);
    for number in 0..=options.levels {
        let budget = (whole / f64::from(1u32 << number)).round() as usize;
        if budget < left.triangles.len() {
            left = lightened(&left, budget);
        }
        let mut meshes = vec![thickened(left.clone(), options)];
        if options.with_body {
            meshes.push(body_mesh(&assembly.form));
        }
        let stem = if number == 0 { stem.to_owned() } else { format!("{stem}-level-{number}") };
        made.push(Level { stem, meshes });
    }
    made
}

/// The groups of a mesh made anew, whose triangles come in the order of those that each is made of.
fn regrouped(groups: &[Group], of: impl Fn(usize) -> usize) -> Vec<Group> {
    let moved = |g: &Group| {
        let (first, end) = (of(g.first), of(g.first + g.count));
        Group { first, count: end - first, ..g.clone() }
    };
    groups.iter().map(moved).collect()
}

/// A mesh with so many triangles at most, as far as its borders and seams allow.
fn lightened(mesh: &ExportMesh, budget: usize) -> ExportMesh {
    let laid = LaidMesh { positions: &mesh.positions, triangles: &mesh.triangles, uvs: &mesh.uvs, flat: &mesh.uv_triangles };
    let light = simplify(&laid, budget);
    let (positions, triangles) = compact(&mesh.positions, &light.triangles);
    let (uvs, uv_triangles) = compact(&mesh.uvs, &light.flat);
    let print_uvs = if mesh.print_uvs.is_empty() { Vec::new() } else { compact(&mesh.print_uvs, &light.flat).0 };
    let groups = regrouped(&mesh.groups, |t| light.of.partition_point(|of| (*of as usize) < t));
    let normals = ExportMesh::smooth_normals(&positions, &triangles);
    ExportMesh { name: mesh.name.clone(), positions, normals, uvs, print_uvs, triangles, uv_triangles, groups, ..ExportMesh::default() }
}

/// The points that triangles name, in their order, and the triangles by their new numbers.
fn compact<const N: usize>(points: &[[f32; N]], triangles: &[[u32; 3]]) -> (Vec<[f32; N]>, Vec<[u32; 3]>) {
    let mut used = vec![false; points.len()];
    triangles.iter().flatten().for_each(|v| used[*v as usize] = true);
    let mut numbers = vec![0u32; points.len()];
    let mut kept = Vec::new();
    for (v, point) in points.iter().enumerate().filter(|(v, _)| used[*v]) {
        numbers[v] = kept.len() as u32;
        kept.push(*point);
    }
    (kept, triangles.iter().map(|t| t.map(|v| numbers[v as usize])).collect())
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
    let print_uvs = if mesh.print_uvs.is_empty() { Vec::new() } else { mesh::subdivide_flat(&mesh.print_uvs, &mesh.uv_triangles).0 };
    let groups = regrouped(&mesh.groups, |t| 4 * t);
    let normals = ExportMesh::smooth_normals(&fine.positions, &fine.triangles);
    ExportMesh {
        positions: fine.positions,
        triangles: fine.triangles,
        normals,
        uvs,
        print_uvs,
        uv_triangles,
        groups,
        quads: Vec::new(),
        ..mesh
    }
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
    let groups = regrouped(&mesh.groups, |t| thick.of.partition_point(|(of, _)| (*of as usize) < t));
    let mut whole = ExportMesh {
        normals: mesh.normals.iter().copied().chain(mesh.normals.iter().map(|n| n.map(|v| -v))).collect(),
        positions: thick.positions,
        triangles: thick.triangles,
        uv_triangles,
        groups,
        quads: Vec::new(),
        ..mesh
    };
    if !mesh.quads.is_empty() {
        four_sided(&mut whole, &mesh.quads, &thick.of);
    }
    whole
}

/// Puts the triangles of both layers and of the rims so that two and two make a face of four sides, as those of the sheet did.
fn four_sided(whole: &mut ExportMesh, sheet: &[u32], of: &[(u32, [u8; 3])]) {
    let (triangles, uvs) = (whole.triangles.clone(), whole.uv_triangles.clone());
    whole.triangles.clear();
    whole.uv_triangles.clear();
    // of the inner layer the corner comes first that both triangles share
    let add = |whole: &mut ExportMesh, t: usize, turn: usize| {
        let turned = |c: [u32; 3]| [c[turn % 3], c[(turn + 1) % 3], c[(turn + 2) % 3]];
        whole.triangles.push(turned(triangles[t]));
        whole.uv_triangles.push(turned(uvs[t]));
    };
    let mut t = 0;
    while t < of.len() {
        let own = of[t].0;
        let end = |from: usize, sheet: u32| from + of[from..].iter().take_while(|(s, _)| *s == sheet).count();
        let next = end(t, own);
        let paired = sheet.binary_search(&own).is_ok() && next < of.len();
        let after = if paired { end(next, of[next].0) } else { next };
        if paired {
            whole.quads.push(whole.triangles.len() as u32);
            add(whole, t, 0);
            add(whole, next, 0);
            whole.quads.push(whole.triangles.len() as u32);
            add(whole, next + 1, 2);
            add(whole, t + 1, 2);
        } else {
            add(whole, t, 0);
            add(whole, t + 1, 0);
        }
        let rims = (t + 2..next).chain(if paired { next + 2..after } else { 0..0 });
        for (k, rim) in rims.enumerate() {
            if k % 2 == 0 {
                whole.quads.push(whole.triangles.len() as u32);
            }
            add(whole, rim, 0);
        }
        t = after;
    }
}

/// The garment as one mesh, a group for each piece, with how its layout shows the cloth; m.
fn garment_mesh(
    assembly: &Assembly,
    positions: &[[f32; 3]],
    fused: &[u32],
    options: &DeliverOptions,
    prints: &Prints,
) -> Result<(ExportMesh, Tiling), Refusal> {
    let cloth = Cloth::of(assembly, positions, fused, options)?;
    let count = cloth.positions.len();
    let pairs = (0..count as u32).filter(|&v| options.welded && cloth.fused[v as usize] != v).map(|v| (v, cloth.fused[v as usize]));
    let weld = mesh::weld(count, pairs);
    let welded: Vec<[f32; 3]> = weld.old_of_new.iter().map(|&v| cloth.positions[v as usize]).collect();
    let triangles: Vec<[u32; 3]> = cloth.triangles.iter().map(|t| t.map(|v| weld.new_of_old[v as usize])).collect();
    let groups = assembly.pieces.iter().zip(&cloth.pieces).map(|(p, (first, count))| Group {
        name: p.name.clone(),
        first: *first,
        count: *count,
        material: material(
            &assembly.costume,
            assembly.costume.piece(p.piece).and_then(|piece| assembly.costume.fabric(piece.fabric)),
            prints,
        ),
    });
    let print_uvs = cloth.in_prints(assembly, prints);
    let mesh = ExportMesh {
        name: assembly.costume.name.clone(),
        normals: ExportMesh::smooth_normals(&welded, &triangles),
        positions: welded,
        uvs: cloth.uvs,
        print_uvs,
        uv_triangles: cloth.triangles,
        triangles,
        quads: cloth.quads,
        groups: groups.collect(),
        skin: None,
    };
    Ok((mesh, cloth.tiling))
}

/// The garment welded, with its pieces laid out as on the table.
pub(crate) fn plain_garment(assembly: &Assembly, positions: &[[f32; 3]], fused: &[u32]) -> ExportMesh {
    printed_garment(assembly, positions, fused, &Prints::default())
}

/// The same with what is printed on it.
fn printed_garment(assembly: &Assembly, positions: &[[f32; 3]], fused: &[u32], prints: &Prints) -> ExportMesh {
    let options = DeliverOptions { welded: true, ..DeliverOptions::default() };
    // pieces as they lie on the table always have room
    garment_mesh(assembly, positions, fused, &options, prints).map(|(mesh, _)| mesh).unwrap_or_default()
}

/// Named for the fabric; fabrics of one name are told apart by their ids.
fn material(costume: &Costume, fabric: Option<&Fabric>, prints: &Prints) -> Material {
    let shared = |f: &Fabric| costume.fabrics.iter().any(|other| other.id != f.id && other.name == f.name);
    let named = |f: &Fabric| if shared(f) { format!("{} {}", f.name, f.id.0) } else { f.name.clone() };
    let name = fabric.map_or_else(|| "cloth".to_owned(), named);
    let look = fabric.and_then(|f| costume::swatch(&f.swatch)).map_or(Look::Plain, |s| s.look);
    let print = fabric.and_then(|f| prints.on(f)).map(|(_, texture)| texture.clone());
    Material { print, ..cloth_material(name, linear(fabric.map_or("#cccccc", |f| &f.colour)), look) }
}

/// A cloth of a colour (linear RGB) as it looks.
pub fn cloth_material(name: String, colour: [f32; 3], look: Look) -> Material {
    Material { name, colour, roughness: look.roughness() as f32, opacity: look.opacity() as f32, double_sided: true, print: None }
}

/// `#rrggbb` (sRGB) to linear RGB.
fn linear(hex: &str) -> [f32; 3] {
    let [r, g, b, _] = bytes_of_colour(hex);
    [r, g, b].map(formats::linear_byte)
}

/// A still picture (PNG) of the garment on its body, `turn` degrees from the front.
pub fn picture(
    assembly: &Assembly,
    positions: &[[f32; 3]],
    fused: &[u32],
    prints: &Prints,
    (width, height): (usize, usize),
    turn: f32,
) -> Vec<u8> {
    let top = assembly.form.posed.surface.positions.iter().map(|p| p[1]).fold(0.0f32, f32::max);
    let span = 1.08 * top;
    // what is finer than a pixel would flicker
    let prints = prints.coarser(&assembly.costume, f64::from(span) * 500.0 / height.max(1) as f64);
    let meshes = [printed_garment(assembly, positions, fused, &prints), body_mesh(&assembly.form)];
    formats::picture(&meshes, &formats::View { width, height, turn, middle: 0.5 * top, span })
}
