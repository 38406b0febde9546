//! Alembic: all meshes of an archive as one, with their transforms, over time when they move; a body as a vertex cache.
//!
//! Archives say neither unit nor up axis. Times are those of the property with the most samples; what has others is taken between
//! two of its own. Meshes whose faces change over time are refused.

use super::budget::Budget;
use super::left_out::LeftOut;
use super::polygon::Cutter;
use super::{ImportedMesh, ReadFault, VertexCache, at_most, damaged, figure_limits};
use crate::alembic::header::{Header, ObjectHeader, Pod, Samples, number};
use crate::alembic::ogawa::Group;
use glam::{DAffine3, DMat4, DVec3};

/// Longer than any motion, s: times of samplings that do not repeat.
const NEVER: f64 = 1e100;

/// Reads an archive.
pub(super) fn read(bytes: &[u8], budget: &mut Budget) -> Result<ImportedMesh, ReadFault> {
    if bytes.starts_with(b"\x89HDF") {
        return Err(ReadFault::Unsupported("the older form of Alembic (HDF5)".into()));
    }
    let root = Group::root(bytes).ok_or_else(|| damaged("it is no Alembic archive, or was not closed"))?;
    let times = root.data(4).and_then(time_samplings).ok_or_else(|| damaged("its times are"))?;
    let listed = root.data(5).and_then(listed_metadata).ok_or_else(|| damaged("its list of metadata is"))?;
    let mut archive = Archive { times, listed, shapes: Vec::new(), mesh: ImportedMesh::default(), budget };
    archive.children(root.group(2).ok_or_else(|| damaged("it has no objects"))?, &[], 0)?;
    archive.put_together()
}

/// Times of samples: as many as listed, then again a cycle later.
struct Times {
    cycle: f64,
    listed: Vec<f64>,
}

impl Times {
    fn at(&self, k: usize) -> f64 {
        let n = self.listed.len();
        if self.cycle > NEVER { self.listed[k.min(n - 1)] } else { self.listed[k % n] + (k / n) as f64 * self.cycle }
    }
}

fn time_samplings(bytes: &[u8]) -> Option<Vec<Times>> {
    let (mut rest, mut found) = (bytes, Vec::new());
    while !rest.is_empty() {
        number(&mut rest, 4)?;
        let cycle = f64::from_bits(number(&mut rest, 8)?);
        let count = number(&mut rest, 4)? as usize;
        let (own, after) = rest.split_at_checked(count.checked_mul(8)?)?;
        rest = after;
        let listed: Vec<f64> = doubles(own).collect();
        let sane = cycle > 0.0 && !listed.is_empty() && listed.iter().all(|t| t.abs() < 1e6);
        sane.then(|| found.push(Times { cycle, listed }))?;
    }
    (!found.is_empty()).then_some(found)
}

/// The first is empty.
fn listed_metadata(bytes: &[u8]) -> Option<Vec<String>> {
    let (mut rest, mut found) = (bytes, vec![String::new()]);
    while !rest.is_empty() {
        let length = number(&mut rest, 1)? as usize;
        let (text, after) = rest.split_at_checked(length)?;
        rest = after;
        found.push(String::from_utf8(text.to_vec()).ok()?);
    }
    Some(found)
}

fn doubles(bytes: &[u8]) -> impl Iterator<Item = f64> + '_ {
    bytes.chunks_exact(8).map(|b| f64::from_le_bytes(b.try_into().unwrap_or_default()))
}

fn floats(bytes: &[u8]) -> impl Iterator<Item = f32> + '_ {
    bytes.chunks_exact(4).map(|b| f32::from_le_bytes(b.try_into().unwrap_or_default()))
}

fn whole(bytes: &[u8]) -> impl Iterator<Item = u32> + '_ {
    bytes.chunks_exact(4).map(|b| u32::from_le_bytes(b.try_into().unwrap_or_default()))
}

/// A property with its samples.
#[derive(Clone, Copy)]
struct Track<'a> {
    group: Group<'a>,
    samples: Samples,
}

impl<'a> Track<'a> {
    /// The bytes of a sample by time, without the sum before them.
    fn sample(&self, k: usize) -> Result<&'a [u8], ReadFault> {
        let stored = self.samples.stored(k);
        let data = self.group.data(if self.samples.list { 2 * stored } else { stored });
        let data = data.ok_or_else(|| damaged("a sample is missing"))?;
        Ok(data.get(16..).unwrap_or_default())
    }

    /// Samples that differ over time.
    fn frames(&self) -> usize {
        if self.samples.changes == (0, 0) { 1 } else { self.samples.count }
    }

    /// The samples around a time, and how far it lies between them.
    fn around(&self, time: f64, times: &[Times]) -> (usize, usize, f64) {
        let (own, last) = (&times[self.samples.times], self.frames().saturating_sub(1));
        // the last sample that is not later
        let (mut low, mut high) = (0, last);
        while low < high {
            let middle = (low + high).div_ceil(2);
            if own.at(middle) <= time + 1e-9 { low = middle } else { high = middle - 1 }
        }
        let next = (low + 1).min(last);
        let span = own.at(next) - own.at(low);
        let share = if span > 0.0 { ((time - own.at(low)) / span).clamp(0.0, 1.0) } else { 0.0 };
        (low, next, if share < 1e-6 { 0.0 } else { share })
    }
}

/// A transform: its operations, and their numbers over time.
#[derive(Clone)]
struct Turning<'a> {
    operations: Vec<u8>,
    values: Option<Track<'a>>,
    inherits: bool,
}

impl Turning<'_> {
    fn at(&self, time: f64, times: &[Times]) -> Result<DAffine3, ReadFault> {
        let Some(track) = &self.values else { return Ok(DAffine3::IDENTITY) };
        let (low, high, share) = track.around(time, times);
        let (a, b) = (doubles(track.sample(low)?), doubles(track.sample(high)?));
        let values: Vec<f64> = a.zip(b).map(|(a, b)| a + (b - a) * share).collect();
        let (mut rest, mut frame) = (&values[..], DAffine3::IDENTITY);
        for operation in &self.operations {
            let kind = operation >> 4;
            let needed = [3, 3, 4, 16, 1, 1, 1].get(kind as usize).copied();
            let (own, after) = needed
                .and_then(|n| rest.split_at_checked(n))
                .ok_or_else(|| damaged("a transform without all its numbers, or of a kind that there is not"))?;
            rest = after;
            let turn = |axis: DVec3, degrees: f64| {
                axis.try_normalize().map_or(DAffine3::IDENTITY, |a| DAffine3::from_axis_angle(a, degrees.to_radians()))
            };
            let three = || DVec3::new(own[0], own[1], own[2]);
            frame *= match kind {
                0 => DAffine3::from_scale(three()),
                1 => DAffine3::from_translation(three()),
                2 => turn(three(), own[3]),
                // rows one after the other, points are rows
                3 => DAffine3::from_mat4(DMat4::from_cols_slice(own)),
                4 => turn(DVec3::X, own[0]),
                5 => turn(DVec3::Y, own[0]),
                _ => turn(DVec3::Z, own[0]),
            };
        }
        if frame.is_finite() { Ok(frame) } else { Err(damaged("a transform that is no number")) }
    }
}

/// A mesh under its transforms, the outermost first.
struct Shape<'a> {
    points: Track<'a>,
    /// Its first vertex among all.
    first: usize,
    count: usize,
    above: Vec<Turning<'a>>,
}

struct Archive<'a, 'b> {
    times: Vec<Times>,
    listed: Vec<String>,
    shapes: Vec<Shape<'a>>,
    mesh: ImportedMesh,
    budget: &'b mut Budget,
}

impl<'a> Archive<'a, '_> {
    /// The objects within an object.
    fn children(&mut self, object: Group<'a>, above: &[Turning<'a>], depth: usize) -> Result<(), ReadFault> {
        at_most("objects within each other", depth, figure_limits::DEPTH)?;
        let Some(last) = object.len().checked_sub(1) else { return Ok(()) };
        let headers = object.data(last).and_then(|bytes| ObjectHeader::read_all(bytes, &self.listed));
        let headers = headers.ok_or_else(|| damaged("the names of its objects are"))?;
        self.budget.entries(headers.len())?;
        for (k, header) in headers.iter().enumerate() {
            let child = object.group(k + 1).ok_or_else(|| damaged(format!("the object `{}` is missing", header.name)))?;
            self.object(child, header, above, depth + 1)?;
        }
        Ok(())
    }

    fn object(&mut self, object: Group<'a>, header: &ObjectHeader, above: &[Turning<'a>], depth: usize) -> Result<(), ReadFault> {
        let inside = object.group(0).map_or_else(|| Ok(Vec::new()), |group| self.properties(group))?;
        let is = |schema: &str| header.metadata.split(';').any(|m| m.strip_prefix("schema=") == Some(schema));
        let hidden = inside.iter().find(|(h, _)| h.name == "visible");
        if let Some((_, track)) = hidden.and_then(|(h, g)| Some((h, self.track(h, *g, Pod::I8)?)))
            && track.sample(0)?.first() == Some(&0)
        {
            self.mesh.left_out.insert(LeftOut::Hidden);
            return Ok(());
        }
        let named = |name: &str| inside.iter().find(|(h, _)| h.name == name).map(|(_, group)| *group);
        let mut above = above.to_vec();
        if is("AbcGeom_Xform_v3") || is("AbcGeom_Xform_v2") {
            let own = named(".xform").map(|group| self.turning(group)).transpose()?;
            if own.as_ref().is_some_and(|own| !own.inherits) {
                above.clear();
            }
            above.extend(own);
        } else if is("AbcGeom_PolyMesh_v1") || is("AbcGeom_SubD_v1") {
            if is("AbcGeom_SubD_v1") {
                self.mesh.left_out.insert(LeftOut::Subdivision);
            }
            if let Some(group) = named(".geom") {
                self.shape(group, &header.name, above.clone())?;
            }
        } else if ["AbcGeom_Points_v1", "AbcGeom_Curve_v2", "AbcGeom_Curve_v1"].into_iter().any(is) {
            self.mesh.left_out.insert(LeftOut::PointsAndLines);
        }
        self.children(object, &above, depth)
    }

    /// The properties of a compound with their groups.
    fn properties(&mut self, compound: Group<'a>) -> Result<Vec<(Header, Group<'a>)>, ReadFault> {
        let Some(last) = compound.len().checked_sub(1) else { return Ok(Vec::new()) };
        let headers = compound.data(last).and_then(|bytes| Header::read_all(bytes, &self.listed));
        let headers = headers.ok_or_else(|| damaged("the names of its properties are"))?;
        self.budget.entries(headers.len())?;
        let group = |(k, header): (usize, Header)| {
            let group = compound.group(k).ok_or_else(|| damaged(format!("the property `{}` is missing", header.name)))?;
            Ok((header, group))
        };
        headers.into_iter().enumerate().map(group).collect()
    }

    /// Samples of a kind, with known times.
    fn track(&self, header: &Header, group: Group<'a>, pod: Pod) -> Option<Track<'a>> {
        let samples = header.samples.filter(|s| s.pod == Some(pod) && s.count > 0 && s.times < self.times.len())?;
        Some(Track { group, samples })
    }

    fn turning(&mut self, group: Group<'a>) -> Result<Turning<'a>, ReadFault> {
        let inside = self.properties(group)?;
        let track = |name: &str, pod: Pod| inside.iter().find(|(h, _)| h.name == name).and_then(|(h, g)| self.track(h, *g, pod));
        let first = |track: Option<Track<'a>>| track.map(|t| t.sample(0)).transpose();
        Ok(Turning {
            operations: first(track(".ops", Pod::U8))?.unwrap_or_default().to_vec(),
            values: track(".vals", Pod::F64),
            inherits: first(track(".inherits", Pod::Bool))?.is_none_or(|v| v.first() != Some(&0)),
        })
    }

    /// A mesh with its faces.
    fn shape(&mut self, group: Group<'a>, name: &str, above: Vec<Turning<'a>>) -> Result<(), ReadFault> {
        let inside = self.properties(group)?;
        let track = |name: &str, pod: Pod| inside.iter().find(|(h, _)| h.name == name).and_then(|(h, g)| self.track(h, *g, pod));
        let missing = |what: &str| damaged(format!("the mesh `{name}` has no {what}"));
        let points = track("P", Pod::F32).filter(|t| t.samples.extent == 3).ok_or_else(|| missing("positions"))?;
        let counts = track(".faceCounts", Pod::I32).ok_or_else(|| missing("faces"))?;
        let indices = track(".faceIndices", Pod::I32).ok_or_else(|| missing("corners of faces"))?;
        if counts.frames().max(indices.frames()) > 1 {
            return Err(ReadFault::Unsupported(format!("faces that change over time, in `{name}`")));
        }
        let (first, count) = (self.mesh.positions.len(), points.sample(0)?.len() / 12);
        self.budget.vertices(count)?;
        let shape = Shape { points, first, count, above };
        let start = points.samples.times;
        let placed = shape.at(self.times[start].at(0), &self.times)?;
        self.mesh.positions.extend(placed);
        let (counts, indices): (Vec<u32>, Vec<u32>) = (whole(counts.sample(0)?).collect(), whole(indices.sample(0)?).collect());
        self.budget.numbers(counts.len() + indices.len())?;
        let (mut rest, mut cutter, mut corners) = (&indices[..], Cutter::new(), Vec::new());
        for n in counts {
            let (face, after) = rest.split_at_checked(n as usize).ok_or_else(|| damaged("a face without all its corners"))?;
            rest = after;
            if face.iter().any(|v| *v as usize >= count) {
                return Err(damaged(format!("a face of `{name}` names a vertex that is not there")));
            }
            corners.clear();
            // they turn the other way round
            corners.extend(face.iter().take(1).chain(face.iter().skip(1).rev()).map(|v| v + first as u32));
            cutter.cut(&corners, &self.mesh.positions, self.budget, (&mut self.mesh.triangles, &mut self.mesh.left_out))?;
        }
        self.shapes.push(shape);
        Ok(())
    }

    /// All shapes at the times of the one with the most samples.
    fn put_together(mut self) -> Result<ImportedMesh, ReadFault> {
        let tracks = self.shapes.iter().flat_map(|s| s.above.iter().filter_map(|t| t.values).chain([s.points]));
        let Some(longest) = tracks.max_by_key(Track::frames) else { return Ok(self.mesh) };
        let frames = longest.frames();
        if frames < 2 || self.mesh.positions.is_empty() {
            return Ok(self.mesh);
        }
        self.budget.numbers(frames.saturating_mul(3 * self.mesh.positions.len()))?;
        let own = &self.times[longest.samples.times];
        let seconds: Vec<f64> = (0..frames).map(|k| own.at(k)).collect();
        if seconds.windows(2).any(|w| w[1] <= w[0]) {
            return Err(damaged("its times do not grow"));
        }
        let mut cache = VertexCache { seconds, frames: Vec::with_capacity(frames) };
        for time in &cache.seconds {
            let mut frame = Vec::with_capacity(self.mesh.positions.len());
            for shape in &self.shapes {
                debug_assert_eq!(shape.first, frame.len());
                frame.extend(shape.at(*time, &self.times)?);
            }
            cache.frames.push(frame);
        }
        self.mesh.positions.clone_from(&cache.frames[0]);
        self.mesh.cache = Some(cache);
        Ok(self.mesh)
    }
}

impl Shape<'_> {
    /// Its points at a time, in the frame of the archive.
    fn at(&self, time: f64, times: &[Times]) -> Result<Vec<[f32; 3]>, ReadFault> {
        let (low, high, share) = self.points.around(time, times);
        let (a, b) = (self.points.sample(low)?, self.points.sample(high)?);
        if a.len() != 12 * self.count || b.len() != a.len() {
            return Err(ReadFault::Unsupported("meshes whose number of vertices changes over time".into()));
        }
        let mut frame = DAffine3::IDENTITY;
        for turning in &self.above {
            frame *= turning.at(time, times)?;
        }
        let values: Vec<f64> = floats(a).zip(floats(b)).map(|(a, b)| f64::from(a) + f64::from(b - a) * share).collect();
        let placed = |p: &[f64]| frame.transform_point3(DVec3::new(p[0], p[1], p[2])).as_vec3().to_array();
        Ok(values.chunks_exact(3).map(placed).collect())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::alembic::ogawa::Draft;
    use crate::alembic::parts::{FRAMES, archive, compound, list, object, one, over_time};

    #[test]
    fn a_mesh_goes_along_with_the_transforms_above_it() {
        let mut draft = Draft::new(0);
        let bytes = |v: &[f32]| v.iter().flat_map(|v| v.to_le_bytes()).collect::<Vec<u8>>();
        let whole = |v: &[i32]| v.iter().flat_map(|v| v.to_le_bytes()).collect::<Vec<u8>>();
        let wide = |v: &[f64]| v.iter().flat_map(|v| v.to_le_bytes()).collect::<Vec<u8>>();
        let mesh = vec![
            list(&mut draft, "P", "", (Pod::F32, 3), &bytes(&[1.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 1.0, 1.0, 1.0, 0.0])),
            list(&mut draft, ".faceIndices", "", (Pod::I32, 1), &whole(&[0, 1, 3, 2, 1, 0])),
            list(&mut draft, ".faceCounts", "", (Pod::I32, 1), &whole(&[3, 3])),
        ];
        let geom = compound(&mut draft, ".geom", "schema=AbcGeom_PolyMesh_v1", mesh);
        let shape = object(&mut draft, "body".into(), "schema=AbcGeom_PolyMesh_v1", geom, &[]);
        // moved, then within that turned about y and made twice as large; the turn grows by 90 degrees a frame
        let values: Vec<Vec<u8>> = (0..3).map(|k| wide(&[10.0, 0.0, 0.0, 90.0 * f64::from(k), 2.0, 2.0, 2.0])).collect();
        let track = over_time(&mut draft, ".vals", "", Samples::new(Pod::F64, 7, false, 3, FRAMES), &values);
        let operations = over_time(&mut draft, ".ops", "", Samples::new(Pod::U8, 3, false, 1, 0), &[vec![0x10, 0x50, 0x00]]);
        let inherits = one(&mut draft, ".inherits", "", Pod::Bool, &[1]);
        let turning = compound(&mut draft, ".xform", "schema=AbcGeom_Xform_v3", vec![inherits, operations, track]);
        let place = object(&mut draft, "way".into(), "schema=AbcGeom_Xform_v3", turning, &[shape]);
        let found = read(&archive(draft, &place, 3, 24.0, 0), &mut Budget::default()).expect("an archive");
        let cache = found.cache.expect("it moves");
        let first: Vec<[f32; 3]> = cache.frames.iter().map(|f| f[0].map(|v| (v * 1e4).round() / 1e4)).collect();
        assert_eq!(first, [[12.0, 0.0, 0.0], [10.0, 0.0, -2.0], [8.0, 0.0, 0.0]]);
        assert_eq!(cache.seconds, [0.0, 1.0 / 24.0, 2.0 / 24.0]);
        assert_eq!(found.triangles, [[0, 3, 1], [2, 0, 1]], "turned the other way round");
    }
}
