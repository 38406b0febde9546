//! Writing an archive: one mesh over time under a transform, with its texture coordinates and a set of faces for every group.

use super::header::{Pod, Samples};
use super::ogawa::Draft;
use super::parts::{FRAMES, Object, Property, archive, compound, list, object, one, over_time};
use crate::names::Names;
use crate::{AnimatedMesh, ExportMesh};

/// An archive with a mesh over time; `first` is it at the first frame, with its texture coordinates and groups. Its positions are
/// kept to the bit, frame k stands at (first + k) / fps seconds.
pub fn abc(mesh: &AnimatedMesh, first: &ExportMesh) -> Vec<u8> {
    let bytes = mesh.frames.iter().map(|f| 12 * f.len() + 64).sum::<usize>() + 80 * mesh.triangles.len() + 4096;
    let mut draft = Draft::new(bytes);
    let mut names = Names::default();
    let name = names.word(&mesh.name);
    let sets: Vec<Object> = first
        .groups
        .iter()
        .map(|group| {
            let faces: Vec<i32> = (group.first..group.first + group.count).map(|f| f as i32).collect();
            let faces = list(&mut draft, ".faces", "", (Pod::I32, 1), &words(&faces));
            let inside = compound(&mut draft, ".faceset", "schema=AbcGeom_FaceSet_v1", vec![faces]);
            object(&mut draft, names.word(&group.name), "schema=AbcGeom_FaceSet_v1;schemaObjTitle=AbcGeom_FaceSet_v1:.faceset", inside, &[])
        })
        .collect();
    let geometry = geometry(&mut draft, mesh, first);
    let schema = "schema=AbcGeom_PolyMesh_v1;schemaBaseType=AbcGeom_GeomBase_v1";
    let inside = compound(&mut draft, ".geom", schema, geometry);
    let shape = object(&mut draft, format!("{name}Shape"), &format!("{schema};schemaObjTitle=AbcGeom_PolyMesh_v1:.geom"), inside, &sets);
    // it stays where it is
    let inherits = one(&mut draft, ".inherits", "", Pod::Bool, &[1]);
    let inside = compound(&mut draft, ".xform", "schema=AbcGeom_Xform_v3", vec![inherits]);
    let place = object(&mut draft, name, "schema=AbcGeom_Xform_v3;schemaObjTitle=AbcGeom_Xform_v3:.xform", inside, &[shape]);
    archive(draft, &place, mesh.frames.len(), mesh.fps, mesh.first)
}

/// What a mesh is made of.
fn geometry(draft: &mut Draft, mesh: &AnimatedMesh, first: &ExportMesh) -> Vec<Property> {
    let ends: Vec<Vec<u8>> = mesh.frames.iter().map(|f| bounds(f)).collect();
    let points: Vec<Vec<u8>> = mesh.frames.iter().map(|f| f.iter().flatten().flat_map(|v| v.to_le_bytes()).collect()).collect();
    let turned: Vec<i32> = mesh.triangles.iter().flat_map(|[a, b, c]| [*a as i32, *c as i32, *b as i32]).collect();
    let counts = vec![3i32; mesh.triangles.len()];
    let mut found = vec![
        over_time(draft, ".selfBnds", "interpretation=box", Samples::new(Pod::F64, 6, false, ends.len(), FRAMES), &ends),
        over_time(draft, "P", "geoScope=vtx;interpretation=point", Samples::new(Pod::F32, 3, true, points.len(), FRAMES), &points),
        list(draft, ".faceIndices", "", (Pod::I32, 1), &words(&turned)),
        list(draft, ".faceCounts", "", (Pod::I32, 1), &words(&counts)),
    ];
    if first.uv_triangles.len() == mesh.triangles.len() && !first.uv_triangles.is_empty() {
        let corners: Vec<i32> = first.uv_triangles.iter().flat_map(|[a, b, c]| [*a as i32, *c as i32, *b as i32]).collect();
        let values: Vec<u8> = first.uvs.iter().flatten().flat_map(|v| v.to_le_bytes()).collect();
        let inside = vec![
            list(draft, ".vals", "interpretation=vector", (Pod::F32, 2), &values),
            list(draft, ".indices", "", (Pod::U32, 1), &words(&corners)),
        ];
        let metadata = "arrayExtent=1;geoScope=fvr;interpretation=vector;isGeomParam=true;podExtent=2;podName=float32_t";
        found.push(compound(draft, "uv", metadata, inside));
    }
    found
}

fn words(all: &[i32]) -> Vec<u8> {
    all.iter().flat_map(|v| v.to_le_bytes()).collect()
}

fn bounds(frame: &[[f32; 3]]) -> Vec<u8> {
    let (low, high) = crate::animated::extent(frame);
    low.iter().chain(&high).flat_map(|v| f64::from(*v).to_le_bytes()).collect()
}
