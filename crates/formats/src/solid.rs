//! PLY and STL, binary: meshes without materials, for printing and for tools that take nothing else.

use crate::ExportMesh;

/// All meshes as one PLY (1.0, binary little-endian): positions, normals, faces.
pub fn ply(meshes: &[ExportMesh], comment: &str) -> Vec<u8> {
    let count = |of: fn(&ExportMesh) -> usize| meshes.iter().map(of).sum::<usize>();
    let (vertices, faces) = (count(|m| m.positions.len()), count(|m| m.triangles.len() - m.quads.len()));
    let plain: String = comment.chars().filter(|c| !c.is_control()).collect();
    let mut bytes = format!(
        "ply\nformat binary_little_endian 1.0\ncomment {plain}\nelement vertex {vertices}\nproperty float x\nproperty float y\nproperty float z\n\
         property float nx\nproperty float ny\nproperty float nz\nelement face {faces}\nproperty list uchar int vertex_indices\nend_header\n"
    )
    .into_bytes();
    for mesh in meshes {
        for (p, n) in mesh.positions.iter().zip(&mesh.normals) {
            bytes.extend(p.iter().chain(n).flat_map(|v| v.to_le_bytes()));
        }
    }
    let mut first = 0;
    for mesh in meshes {
        for face in mesh.all_faces() {
            bytes.push(face.corners().len() as u8);
            bytes.extend(face.corners().iter().flat_map(|(t, k)| ((mesh.triangles[*t][*k] + first) as i32).to_le_bytes()));
        }
        first += mesh.positions.len() as u32;
    }
    bytes
}

/// All meshes as one binary STL: 80 bytes of title, then each triangle with its normal.
pub fn stl(meshes: &[ExportMesh], title: &str) -> Vec<u8> {
    let mut bytes: Vec<u8> = title.bytes().filter(u8::is_ascii_graphic).take(79).collect();
    bytes.resize(80, b' ');
    let count: usize = meshes.iter().map(|m| m.triangles.len()).sum();
    bytes.extend((count as u32).to_le_bytes());
    for mesh in meshes {
        for t in &mesh.triangles {
            let [a, b, c] = t.map(|v| mesh.positions[v as usize]);
            let (u, v) = ([0, 1, 2].map(|k| b[k] - a[k]), [0, 1, 2].map(|k| c[k] - a[k]));
            let n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
            let length = n.iter().map(|x| x * x).sum::<f32>().sqrt();
            let unit = if length > 0.0 { n.map(|x| x / length) } else { [0.0; 3] };
            bytes.extend([unit, a, b, c].iter().flatten().flat_map(|x| x.to_le_bytes()));
            bytes.extend([0, 0]);
        }
    }
    bytes
}

#[cfg(test)]
mod tests {
    use super::*;

    fn corner() -> ExportMesh {
        ExportMesh {
            name: "corner".into(),
            positions: vec![[0.0; 3], [2.0, 0.0, 0.0], [0.0, 3.0, 0.0]],
            normals: vec![[0.0, 0.0, 1.0]; 3],
            triangles: vec![[0, 1, 2]],
            ..ExportMesh::default()
        }
    }

    #[test]
    fn a_ply_is_read_back_with_its_counts_and_places() {
        let bytes = ply(&[corner(), corner()], "two\ncorners");
        let read = crate::read_figure("two.ply", &bytes).expect("a PLY");
        assert_eq!((read.positions.len(), read.triangles.clone()), (6, vec![[0, 1, 2], [3, 4, 5]]));
        assert_eq!(read.positions[5], [0.0, 3.0, 0.0]);
    }

    #[test]
    fn an_stl_has_fifty_bytes_a_triangle_with_its_normal() {
        let bytes = stl(&[corner(), corner()], "corner");
        assert_eq!(bytes.len(), 84 + 2 * 50);
        let float = |at: usize| f32::from_le_bytes(bytes[at..at + 4].try_into().expect("four bytes"));
        assert_eq!([float(84), float(88), float(92)], [0.0, 0.0, 1.0]);
        assert_eq!([float(84 + 36), float(84 + 40), float(84 + 44)], [0.0, 3.0, 0.0]);
    }
}
