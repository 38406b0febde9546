//! OBJ: all groups as one mesh, polygons as fans; unit and axes are not in the file.

use super::{FoundMesh, ReadFault, damaged};
use std::io::Cursor;

pub(super) fn read(bytes: &[u8]) -> Result<FoundMesh, ReadFault> {
    let options = tobj::LoadOptions { triangulate: true, ignore_points: true, ignore_lines: true, ..tobj::LoadOptions::default() };
    let (models, _) = tobj::load_obj_buf(&mut Cursor::new(bytes), &options, |_| Ok(Default::default())).map_err(damaged)?;
    let mut mesh = FoundMesh::default();
    for model in &models {
        let first = mesh.positions.len() as u32;
        mesh.positions.extend(model.mesh.positions.chunks_exact(3).map(|p| [p[0], p[1], p[2]]));
        mesh.triangles.extend(model.mesh.indices.chunks_exact(3).map(|t| [first + t[0], first + t[1], first + t[2]]));
    }
    if mesh.triangles.is_empty() {
        // a cloud of points has no faces and so no models; count them for the message
        let points = bytes.split(|b| *b == b'\n').filter(|line| line.starts_with(b"v ")).count();
        return Err(if points > 0 { ReadFault::NoSurface(points) } else { damaged("there is neither a vertex nor a face in it") });
    }
    Ok(mesh)
}
