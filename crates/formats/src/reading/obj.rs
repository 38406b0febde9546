//! OBJ: all groups as one mesh; unit and axes are not in the file.
//!
//! Faces of any number of corners are cut by ears, concave ones too. Negative indices count from the end, as the format has it.
//! Curves, points and lines are left out and told; materials and texture coordinates are not needed for a body.

use super::budget::Budget;
use super::left_out::LeftOut;
use super::polygon::Cutter;
use super::{ImportedMesh, NO_LAYOUT, ReadFault, damaged};
use std::collections::HashMap;
use std::io::Cursor;

/// Reads OBJ: positions and faces of all objects as one; what else stands in the file is told as left out.
pub(super) fn read(bytes: &[u8], budget: &mut Budget) -> Result<ImportedMesh, ReadFault> {
    let seen = survey(bytes, budget)?;
    let options = tobj::LoadOptions { triangulate: false, ignore_points: true, ignore_lines: true, ..tobj::LoadOptions::default() };
    let (models, _) = tobj::load_obj_buf(&mut Cursor::new(bytes), &options, |_| Ok(Default::default())).map_err(damaged)?;
    let mut mesh = ImportedMesh::default();
    if seen.points_and_lines {
        mesh.left_out.insert(LeftOut::PointsAndLines);
    }
    let mut cutter = Cutter::new();
    let mut shared = Shared::new(bytes, models.len());
    for model in &models {
        let own = model.mesh.positions.chunks_exact(3).map(|p| [p[0], p[1], p[2]]);
        let places: Vec<u32> = own.map(|p| shared.place(p, &mut mesh.positions)).collect();
        budget.vertices(model.mesh.positions.len() / 3)?;
        let mut layout = Layout::of(&model.mesh, &mut mesh.uvs);
        let mut rest = &model.mesh.indices[..];
        // no list of corner counts: all faces are triangles
        let threes = model.mesh.face_arities.is_empty().then(|| std::iter::repeat_n(3, rest.len() / 3));
        let counts = model.mesh.face_arities.iter().map(|n| *n as usize).chain(threes.into_iter().flatten());
        for count in counts {
            let (face, after) = rest.split_at_checked(count).ok_or_else(|| damaged("a face without all its corners"))?;
            rest = after;
            let corner = |v: &u32| places.get(*v as usize).copied().ok_or_else(|| damaged("a corner that is no vertex"));
            let corners: Vec<u32> = face.iter().map(corner).collect::<Result<_, _>>()?;
            let known = mesh.triangles.len();
            cutter.cut(&corners, &mesh.positions, budget, (&mut mesh.triangles, &mut mesh.left_out))?;
            layout.lay(&corners, &mesh.triangles[known..], &mut mesh.uv_triangles);
        }
    }
    if mesh.triangles.is_empty() {
        // a cloud of points has no faces and so no models
        return Err(if seen.vertices > 0 {
            ReadFault::NoSurface(seen.vertices)
        } else {
            damaged("there is neither a vertex nor a face in it")
        });
    }
    Ok(mesh)
}

/// The texture layout of a group, face by face.
struct Layout<'a> {
    /// Of the corners that are still to come; empty when the group has no layout.
    rest: &'a [u32],
    /// The number of its first place among those of the file.
    first: u32,
    /// By vertex of the present face, its place in the layout.
    places: HashMap<u32, u32>,
}

impl<'a> Layout<'a> {
    /// Appends the places of a group to those of the file.
    fn of(mesh: &'a tobj::Mesh, uvs: &mut Vec<[f32; 2]>) -> Self {
        let first = uvs.len() as u32;
        let rest = if mesh.texcoord_indices.len() == mesh.indices.len() { &mesh.texcoord_indices[..] } else { &[] };
        uvs.extend(mesh.texcoords.chunks_exact(2).map(|p| [p[0], p[1]]));
        Self { rest, first, places: HashMap::new() }
    }

    /// Lays the triangles that a face was cut into.
    fn lay(&mut self, corners: &[u32], triangles: &[[u32; 3]], to: &mut Vec<[u32; 3]>) {
        let Some((own, rest)) = self.rest.split_at_checked(corners.len()) else {
            to.extend(triangles.iter().map(|_| NO_LAYOUT));
            return;
        };
        self.rest = rest;
        let places = own.iter().map(|k| self.first.saturating_add(*k));
        self.places.clear();
        self.places.extend(corners.iter().copied().zip(places));
        to.extend(triangles.iter().map(|t| t.map(|v| self.places.get(&v).copied().unwrap_or(u32::MAX))));
    }
}

/// Groups of a file share its vertices, but come with vertices of their own each: one that stands once in the file is one again.
/// Several at one place stay apart, as they were.
struct Shared {
    /// Places of the file by the bits of their coordinates; none when there is one group only.
    met: Option<HashMap<[u32; 3], Place>>,
}

/// How often a place stands in the file, and which vertex it is, once it was met.
#[derive(Default)]
struct Place {
    times: usize,
    vertex: Option<u32>,
}

impl Shared {
    fn new(bytes: &[u8], groups: usize) -> Self {
        let met = (groups > 1).then(|| {
            let mut met: HashMap<[u32; 3], Place> = HashMap::new();
            for line in bytes.split(|b| *b == b'\n') {
                let mut words = line.split(u8::is_ascii_whitespace).filter(|w| !w.is_empty());
                if words.next() != Some(b"v") {
                    continue;
                }
                let number = |w: Option<&[u8]>| std::str::from_utf8(w?).ok()?.parse::<f32>().ok();
                if let (Some(x), Some(y), Some(z)) = (number(words.next()), number(words.next()), number(words.next())) {
                    met.entry([x, y, z].map(f32::to_bits)).or_default().times += 1;
                }
            }
            met
        });
        Self { met }
    }

    /// The number of a vertex of a group among all.
    fn place(&mut self, p: [f32; 3], all: &mut Vec<[f32; 3]>) -> u32 {
        let new = all.len() as u32;
        match self.met.as_mut().and_then(|met| met.get_mut(&p.map(f32::to_bits))) {
            Some(Place { times: 1, vertex: Some(known) }) => return *known,
            Some(Place { times: 1, vertex }) => *vertex = Some(new),
            _ => {}
        }
        all.push(p);
        new
    }
}

/// What else stands in the file.
#[derive(Default)]
struct Seen {
    vertices: usize,
    points_and_lines: bool,
}

/// Counts what the file will ask for, before anything is made of it.
fn survey(bytes: &[u8], budget: &mut Budget) -> Result<Seen, ReadFault> {
    let mut seen = Seen::default();
    let (mut groups, mut words) = (0, 0);
    for line in bytes.split(|b| *b == b'\n').map(<[u8]>::trim_ascii_start) {
        let is = |keyword: &[u8]| line.starts_with(keyword) && line.get(keyword.len()).is_some_and(u8::is_ascii_whitespace);
        if is(b"v") {
            seen.vertices += 1;
        } else if is(b"f") {
            words += line.split(u8::is_ascii_whitespace).count();
        } else if is(b"p") || is(b"l") {
            seen.points_and_lines = true;
            words += line.split(u8::is_ascii_whitespace).count();
        } else if is(b"vn") || is(b"vt") {
            words += 3;
        } else if !line.is_empty() && !line.starts_with(b"#") {
            groups += 1;
        }
    }
    super::budget::at_most("vertices", seen.vertices, super::figure_limits::VERTICES)?;
    budget.numbers(words)?;
    // smoothing groups change often and cost nothing
    super::budget::at_most("groups", groups, 10 * super::figure_limits::ENTRIES)?;
    Ok(seen)
}
