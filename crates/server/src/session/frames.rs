//! Binary messages; their layout is described in `protocol`.

use serde::Serialize;
use workroom::{Assembly, CheckMap};

fn header(kind: u32, counts: &[u32]) -> Vec<u8> {
    std::iter::once(&kind).chain(counts).flat_map(|v| v.to_le_bytes()).collect()
}

/// Puts a head: the length of its JSON (u32), and the JSON padded with spaces to a multiple of four.
pub fn put_head(bytes: &mut Vec<u8>, head: &impl Serialize) {
    let mut json = serde_json::to_vec(head).unwrap_or_default();
    json.resize(json.len().next_multiple_of(4), b' ');
    bytes.extend((json.len() as u32).to_le_bytes());
    bytes.extend(json);
}

/// Puts a message with its length (u32) before it, padded to a multiple of four.
pub fn put_message(bytes: &mut Vec<u8>, message: &[u8]) {
    bytes.extend((message.len() as u32).to_le_bytes());
    bytes.extend(message);
    bytes.resize(bytes.len().next_multiple_of(4), 0);
}

/// Triangles, flat coordinates, and the vertices that seams bring together.
pub fn layout(generation: u32, assembly: &Assembly) -> Vec<u8> {
    let scene = &assembly.scene;
    let mut bytes = header(2, &[generation, scene.positions.len() as u32, scene.triangles.len() as u32]);
    bytes.extend(scene.triangles.iter().flatten().flat_map(|v| v.to_le_bytes()));
    bytes.extend(scene.flat.iter().flatten().flat_map(|v| v.to_le_bytes()));
    bytes.extend(scene.pairs.iter().flat_map(|p| [p.a, p.b, p.seam]).flat_map(u32::to_le_bytes));
    bytes
}

/// Positions quantised over their bounding box (below 0.05 mm for a body's size) and normals, smooth over fused seams.
pub fn cloth(generation: u32, positions: &[[f32; 3]], triangles: &[[u32; 3]], fused: &[u32]) -> Vec<u8> {
    let (mut low, mut high) = ([f32::MAX; 3], [f32::MIN; 3]);
    for p in positions {
        for k in 0..3 {
            low[k] = low[k].min(p[k]);
            high[k] = high[k].max(p[k]);
        }
    }
    let size = [0, 1, 2].map(|k| (high[k] - low[k]).max(1e-6));
    let mut bytes = header(1, &[generation, positions.len() as u32]);
    bytes.extend(low.iter().chain(&size).flat_map(|v| v.to_le_bytes()));
    for p in positions {
        for k in 0..3 {
            let q = ((p[k] - low[k]) / size[k] * 65535.0).round().clamp(0.0, 65535.0) as u16;
            bytes.extend(q.to_le_bytes());
        }
    }
    for n in normals(positions, triangles, fused) {
        bytes.extend(n.iter().flat_map(|v| ((v * 32767.0) as i16).to_le_bytes()));
    }
    bytes
}

/// Values of a map, one to a vertex.
pub fn map(generation: u32, map: CheckMap, values: &[f32]) -> Vec<u8> {
    let mut bytes = header(3, &[generation, values.len() as u32, map as u32]);
    bytes.extend(values.iter().flat_map(|v| v.to_le_bytes()));
    bytes
}

fn normals(positions: &[[f32; 3]], triangles: &[[u32; 3]], fused: &[u32]) -> Vec<[f32; 3]> {
    let mapped: Vec<[u32; 3]> = triangles.iter().map(|t| t.map(|v| fused[v as usize])).collect();
    let roots = formats::ExportMesh::smooth_normals(positions, &mapped);
    fused.iter().map(|r| roots[*r as usize]).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn positions_survive_the_frame_to_a_twentieth_of_a_millimetre() {
        let positions: Vec<[f32; 3]> =
            (0..999).map(|k| [(k as f32 * 0.37).sin(), 1.0 + (k as f32 * 0.11).cos(), 0.2 * (k as f32).sin()]).collect();
        let fused: Vec<u32> = (0..999).collect();
        let bytes = cloth(7, &positions, &[[0, 1, 2]], &fused);
        let float = |at: usize| f32::from_le_bytes(bytes[at..at + 4].try_into().expect("four bytes"));
        for (i, p) in positions.iter().enumerate() {
            for k in 0..3 {
                let at = 36 + i * 6 + k * 2;
                let q = u16::from_le_bytes([bytes[at], bytes[at + 1]]);
                let back = float(12 + 4 * k) + float(24 + 4 * k) * f32::from(q) / 65535.0;
                assert!((back - p[k]).abs() < 5e-5, "{back} {}", p[k]);
            }
        }
        assert_eq!(bytes.len(), 36 + 999 * 12);
    }
}
