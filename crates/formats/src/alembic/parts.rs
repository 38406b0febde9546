//! Objects, properties and whole archives as they are put together from the container and its headers.

use super::header::{Header, ObjectHeader, Pod, Samples, sum};
use super::ogawa::{Draft, NOTHING, Place};

/// Version of the arrangement of archives, and the version of the library that arranged them first like this.
const ARRANGEMENT: [i32; 2] = [0, 10_700];
/// Number of the time sampling of the frames; 0 is that of what stays.
pub(crate) const FRAMES: usize = 1;

/// An object or a property that stands in the draft.
pub(crate) type Object = (ObjectHeader, Place);
pub(crate) type Property = (Header, Place);

/// The bytes of an archive with one object. Its frames are `fps` a second from the `first` on, `frames` of them.
pub(crate) fn archive(mut draft: Draft, place: &Object, frames: usize, fps: f64, first: i64) -> Vec<u8> {
    let headers = draft.data(&[&ObjectHeader::write_all(std::slice::from_ref(&place.0))]);
    let nothing = draft.group(&[]);
    let root = draft.group(&[nothing, place.1, headers]);
    let [arrangement, library] = ARRANGEMENT.map(i32::to_le_bytes);
    let parts = [draft.data(&[&arrangement]), draft.data(&[&library])];
    let about = draft.data(&[b"_ai_Application=Ourlet"]);
    let mut times = Vec::new();
    for (most, cycle, first) in [(1, 1.0, 0.0), (frames as u32, 1.0 / fps, first as f64 / fps)] {
        times.extend(u32::to_le_bytes(most));
        times.extend(f64::to_le_bytes(cycle));
        times.extend(1u32.to_le_bytes());
        times.extend(f64::to_le_bytes(first));
    }
    let times = draft.data(&[&times]);
    // a list of metadata without an entry is taken for damage by some readers; none of ours is told by its number
    const LISTED: &[u8] = b"geoScope=vtx";
    let listed = draft.data(&[&[LISTED.len() as u8], LISTED]);
    let all = draft.group(&[parts[0], parts[1], root, about, times, listed]);
    draft.finish(all)
}

/// Samples by time. Lists have their shape behind them, which their length tells.
pub(crate) fn over_time(draft: &mut Draft, name: &str, metadata: &str, samples: Samples, values: &[Vec<u8>]) -> Property {
    let mut places = Vec::with_capacity(2 * values.len());
    for value in values {
        places.push(draft.data(&[&sum(value), value]));
        if samples.list {
            places.push(NOTHING);
        }
    }
    (Header { name: name.into(), metadata: metadata.into(), samples: Some(samples) }, draft.group(&places))
}

/// A list for all times.
pub(crate) fn list(draft: &mut Draft, name: &str, metadata: &str, (pod, extent): (Pod, usize), values: &[u8]) -> Property {
    over_time(draft, name, metadata, Samples::new(pod, extent, true, 1, 0), &[values.to_vec()])
}

/// One item for all times.
pub(crate) fn one(draft: &mut Draft, name: &str, metadata: &str, pod: Pod, value: &[u8]) -> Property {
    over_time(draft, name, metadata, Samples::new(pod, 1, false, 1, 0), &[value.to_vec()])
}

/// A compound of properties.
pub(crate) fn compound(draft: &mut Draft, name: &str, metadata: &str, inside: Vec<Property>) -> Property {
    let place = properties(draft, &inside);
    (Header { name: name.into(), metadata: metadata.into(), samples: None }, place)
}

fn properties(draft: &mut Draft, inside: &[Property]) -> Place {
    let mut headers = Vec::new();
    inside.iter().for_each(|(header, _)| header.write(&mut headers));
    let headers = draft.data(&[&headers]);
    let places: Vec<Place> = inside.iter().map(|(_, place)| *place).chain([headers]).collect();
    draft.group(&places)
}

/// An object with one compound and its children.
pub(crate) fn object(draft: &mut Draft, name: String, metadata: &str, inside: Property, children: &[Object]) -> Object {
    let own = properties(draft, &[inside]);
    let headers: Vec<ObjectHeader> = children.iter().map(|(header, _)| header.clone()).collect();
    let headers = draft.data(&[&ObjectHeader::write_all(&headers)]);
    let places: Vec<Place> = [own].into_iter().chain(children.iter().map(|(_, place)| *place)).chain([headers]).collect();
    (ObjectHeader { name, metadata: metadata.into() }, draft.group(&places))
}
