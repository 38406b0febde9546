//! Meshes that move: point caches (PC2) and USD with time samples, both for a mesh whose triangles stay.

use crate::mesh::ExportMesh;
use std::fmt::Write as _;

/// A mesh over time; all frames have as many vertices.
#[derive(Clone, Debug, PartialEq)]
pub struct AnimatedMesh {
    /// For files that carry one.
    pub name: String,
    /// Corners by number of vertex.
    pub triangles: Vec<[u32; 3]>,
    /// Positions by frame, m, y up.
    pub frames: Vec<Vec<[f32; 3]>>,
    /// Frames a second.
    pub fps: f64,
    /// Number of the first frame.
    pub first: i64,
}

impl AnimatedMesh {
    /// A mesh that is to move, without frames yet; its first has the number 0.
    pub fn of(mesh: &ExportMesh, fps: f64) -> Self {
        Self { name: mesh.name.clone(), triangles: mesh.triangles.clone(), frames: Vec::new(), fps, first: 0 }
    }
}

/// The positions of all frames as a PC2 point cache: the mark `POINTCACHE2` with a zero, version 1, the number of points,
/// first frame, frames a sample and number of samples, then all samples; little-endian, 32 bits each.
pub fn pc2(mesh: &AnimatedMesh) -> Vec<u8> {
    let points = mesh.frames.first().map_or(0, Vec::len);
    let mut out = Vec::with_capacity(32 + 12 * points * mesh.frames.len());
    out.extend_from_slice(b"POINTCACHE2\0");
    out.extend_from_slice(&1i32.to_le_bytes());
    out.extend_from_slice(&(points as i32).to_le_bytes());
    out.extend_from_slice(&(mesh.first as f32).to_le_bytes());
    out.extend_from_slice(&1f32.to_le_bytes());
    out.extend_from_slice(&(mesh.frames.len() as i32).to_le_bytes());
    for v in mesh.frames.iter().flatten().flatten() {
        out.extend_from_slice(&v.to_le_bytes());
    }
    out
}

/// Meshes with time samples as a USD text layer. All have the frame rate of the first.
pub fn usda(meshes: &[AnimatedMesh]) -> String {
    let (fps, first) = meshes.first().map_or((24.0, 0), |m| (m.fps, m.first));
    let last = meshes.iter().map(|m| m.first + m.frames.len() as i64 - 1).max().unwrap_or(first).max(first);
    let mut names = crate::names::Names::default();
    let mut out = String::from("#usda 1.0\n(\n    defaultPrim = \"Rehearsal\"\n");
    let _ =
        write!(out, "    startTimeCode = {first}\n    endTimeCode = {last}\n    timeCodesPerSecond = {fps}\n    framesPerSecond = {fps}\n");
    out.push_str("    metersPerUnit = 1\n    upAxis = \"Y\"\n)\n\ndef Xform \"Rehearsal\"\n{\n");
    for mesh in meshes {
        let name = names.word(&identifier(&mesh.name));
        let _ = write!(
            out,
            "    def Mesh \"{name}\"\n    {{\n        uniform token subdivisionScheme = \"none\"\n        uniform token orientation = \"rightHanded\"\n"
        );
        let _ = writeln!(out, "        int[] faceVertexCounts = [{}]", vec!["3"; mesh.triangles.len()].join(", "));
        let corners: Vec<String> = mesh.triangles.iter().flatten().map(u32::to_string).collect();
        let _ = writeln!(out, "        int[] faceVertexIndices = [{}]", corners.join(", "));
        out.push_str("        float3[] extent.timeSamples = {\n");
        for (k, frame) in mesh.frames.iter().enumerate() {
            let (low, high) = extent(frame);
            let _ = writeln!(out, "            {}: [{}, {}],", mesh.first + k as i64, point(&low), point(&high));
        }
        out.push_str("        }\n        point3f[] points.timeSamples = {\n");
        for (k, frame) in mesh.frames.iter().enumerate() {
            let _ = write!(out, "            {}: [", mesh.first + k as i64);
            for (i, p) in frame.iter().enumerate() {
                out.push_str(if i == 0 { "" } else { ", " });
                out.push_str(&point(p));
            }
            out.push_str("],\n");
        }
        out.push_str("        }\n    }\n");
    }
    out.push_str("}\n");
    out
}

/// A prim's name: letters, digits and `_`, not beginning with a digit.
pub(crate) fn identifier(name: &str) -> String {
    let plain: String = name.chars().map(|c| if c.is_ascii_alphanumeric() { c } else { '_' }).collect();
    if plain.starts_with(|c: char| c.is_ascii_digit()) { format!("_{plain}") } else { plain }
}

/// To a hundredth of a millimetre.
fn point(p: &[f32; 3]) -> String {
    format!("({:.5}, {:.5}, {:.5})", p[0], p[1], p[2])
}

/// Lowest and highest of each axis.
pub(crate) fn extent(frame: &[[f32; 3]]) -> ([f32; 3], [f32; 3]) {
    let mut ends = ([f32::MAX; 3], [f32::MIN; 3]);
    for p in frame {
        for k in 0..3 {
            ends.0[k] = ends.0[k].min(p[k]);
            ends.1[k] = ends.1[k].max(p[k]);
        }
    }
    if frame.is_empty() { ([0.0; 3], [0.0; 3]) } else { ends }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn triangle() -> AnimatedMesh {
        let frame = |t: f32| vec![[0.0, t, 0.0], [1.0, t, 0.0], [0.0, t, 1.0]];
        AnimatedMesh {
            name: "Gull skirt".into(),
            triangles: vec![[0, 1, 2]],
            frames: vec![frame(0.0), frame(0.125), frame(0.25)],
            fps: 24.0,
            first: 0,
        }
    }

    #[test]
    fn a_point_cache_has_its_layout_byte_by_byte() {
        let bytes = pc2(&triangle());
        assert_eq!(&bytes[..12], b"POINTCACHE2\0");
        let int = |at: usize| i32::from_le_bytes(bytes[at..at + 4].try_into().expect("four"));
        let float = |at: usize| f32::from_le_bytes(bytes[at..at + 4].try_into().expect("four"));
        assert_eq!((int(12), int(16), float(20), float(24), int(28)), (1, 3, 0.0, 1.0, 3));
        assert_eq!(bytes.len(), 32 + 3 * 3 * 12);
        assert_eq!((float(32 + 36 + 4), float(32 + 72 + 12)), (0.125, 1.0));
    }

    #[test]
    fn a_usd_layer_has_a_time_sample_for_every_frame() {
        let text = usda(&[triangle(), triangle()]);
        assert!(text.starts_with("#usda 1.0") && text.contains("timeCodesPerSecond = 24") && text.contains("endTimeCode = 2"));
        assert_eq!(text.matches("point3f[] points.timeSamples").count(), 2);
        assert_eq!(text.matches("1: [(0.00000, 0.12500, 0.00000)").count(), 4, "extent and points of both");
        assert_eq!(text.matches('{').count(), text.matches('}').count());
        let named: Vec<&str> = text.lines().filter(|l| l.contains("def Mesh")).collect();
        assert_ne!(named[0], named[1]);
    }
}
