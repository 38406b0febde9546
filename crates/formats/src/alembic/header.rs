//! What an archive says of its objects and properties.

use sha2::{Digest, Sha256};

/// Longest name or metadata, bytes.
const LONGEST: usize = 4096;

/// Kinds of numbers that meshes and transforms are made of.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Pod {
    Bool = 0,
    U8 = 1,
    I8 = 2,
    U32 = 5,
    I32 = 6,
    F32 = 10,
    F64 = 11,
}

impl Pod {
    fn of(code: u32) -> Option<Self> {
        [Self::Bool, Self::U8, Self::I8, Self::U32, Self::I32, Self::F32, Self::F64].into_iter().find(|pod| *pod as u32 == code)
    }
}

/// Numbers over time.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct Samples {
    /// What they are; none for texts and kinds that are not read.
    pub pod: Option<Pod>,
    /// Numbers of one item, such as 3 of a point.
    pub extent: usize,
    /// Whether a sample is a list; otherwise it is one item.
    pub list: bool,
    /// How many, by time.
    pub count: usize,
    /// Samples before the first and from the last are alike.
    pub changes: (usize, usize),
    /// Number of their time sampling.
    pub times: usize,
}

impl Samples {
    /// As many as frames, all stored, or one for all times.
    pub fn new(pod: Pod, extent: usize, list: bool, count: usize, times: usize) -> Self {
        let changes = if count == 1 { (0, 0) } else { (1, count - 1) };
        Self { pod: Some(pod), extent, list, count, changes, times }
    }

    /// The stored sample behind a sample by time.
    pub fn stored(&self, k: usize) -> usize {
        let (first, last) = self.changes;
        if first == 0 && last == 0 || k < first { 0 } else { k.min(last) - first + 1 }
    }
}

/// A property: a compound of others, or samples.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(crate) struct Header {
    pub name: String,
    /// `key=value` with `;` between.
    pub metadata: String,
    /// None for a compound.
    pub samples: Option<Samples>,
}

// bits of the first word
const IS_LIST: u32 = 2;
const HAS_TIMES: u32 = 0x100;
const HAS_CHANGES: u32 = 0x200;
const EVEN: u32 = 0x400;
const CONSTANT: u32 = 0x800;
/// Metadata that stands behind the name, not in the archive's list.
const OWN_METADATA: u32 = 0xff;

impl Header {
    /// Appends it to the headers of a compound.
    pub fn write(&self, out: &mut Vec<u8>) {
        // all sizes with four bytes
        let mut info = 2 << 2 | OWN_METADATA << 20;
        let mut words = Vec::new();
        if let Some(s) = &self.samples {
            info |= if s.list { IS_LIST } else { 1 } | (s.pod.unwrap_or(Pod::U8) as u32) << 4 | EVEN | (s.extent as u32) << 12;
            words.push(s.count);
            if s.changes == (0, 0) {
                info |= CONSTANT;
            } else if s.changes != (1, s.count - 1) {
                info |= HAS_CHANGES;
                words.extend([s.changes.0, s.changes.1]);
            }
            if s.times != 0 {
                info |= HAS_TIMES;
                words.push(s.times);
            }
        }
        out.extend(info.to_le_bytes());
        words.iter().for_each(|w| out.extend((*w as u32).to_le_bytes()));
        text(&self.name, out);
        text(&self.metadata, out);
    }

    /// All headers of a compound, with the archive's list of metadata; none when they are damaged.
    pub fn read_all(bytes: &[u8], listed: &[String]) -> Option<Vec<Self>> {
        let (mut rest, mut found) = (bytes, Vec::new());
        while !rest.is_empty() {
            let info = number(&mut rest, 4)? as u32;
            let width = match info >> 2 & 3 {
                0 => 1,
                1 => 2,
                _ => 4,
            };
            let samples = if info & 3 == 0 { None } else { Some(samples(info, width, &mut rest)?) };
            let name = own_text(&mut rest, width)?;
            let metadata = match info >> 20 & 0xff {
                OWN_METADATA => own_text(&mut rest, width)?,
                k => listed.get(k as usize)?.clone(),
            };
            found.push(Self { name, metadata, samples });
        }
        Some(found)
    }
}

fn samples(info: u32, width: usize, rest: &mut &[u8]) -> Option<Samples> {
    let count = number(rest, width)? as usize;
    let changes = if info & HAS_CHANGES != 0 {
        (number(rest, width)? as usize, number(rest, width)? as usize)
    } else if info & CONSTANT != 0 {
        (0, 0)
    } else {
        (1, count.saturating_sub(1))
    };
    let times = if info & HAS_TIMES != 0 { number(rest, width)? as usize } else { 0 };
    let sane = changes.0 <= changes.1 || count <= 1;
    let (pod, extent) = (Pod::of(info >> 4 & 0xf), (info >> 12 & 0xff) as usize);
    sane.then_some(Samples { pod, extent, list: info & IS_LIST != 0, count, changes, times })
}

/// Name and metadata of an object.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(crate) struct ObjectHeader {
    pub name: String,
    pub metadata: String,
}

/// Two sums that readers of names skip, for telling like objects.
const SUMS: usize = 32;

impl ObjectHeader {
    /// Headers of the children of an object; nothing when there are none.
    pub fn write_all(all: &[Self]) -> Vec<u8> {
        let mut out = Vec::new();
        for header in all {
            text(&header.name, &mut out);
            out.push(OWN_METADATA as u8);
            text(&header.metadata, &mut out);
        }
        out.extend(sum(&out));
        out.extend(sum(b"properties"));
        out
    }

    /// None when they are damaged.
    pub fn read_all(bytes: &[u8], listed: &[String]) -> Option<Vec<Self>> {
        let Some(length) = bytes.len().checked_sub(SUMS) else { return bytes.is_empty().then(Vec::new) };
        let (mut rest, mut found) = (&bytes[..length], Vec::new());
        while !rest.is_empty() {
            let name = own_text(&mut rest, 4)?;
            let metadata = match number(&mut rest, 1)? as u32 {
                OWN_METADATA => own_text(&mut rest, 4)?,
                k => listed.get(k as usize)?.clone(),
            };
            found.push(Self { name, metadata });
        }
        Some(found)
    }
}

/// The first sixteen bytes of SHA-256, by which readers tell whether samples are alike.
pub(crate) fn sum(bytes: &[u8]) -> [u8; 16] {
    let whole: [u8; 32] = Sha256::digest(bytes).into();
    std::array::from_fn(|k| whole[k])
}

fn text(text: &str, out: &mut Vec<u8>) {
    out.extend((text.len() as u32).to_le_bytes());
    out.extend_from_slice(text.as_bytes());
}

/// A text with its length in so many bytes before it.
fn own_text(rest: &mut &[u8], width: usize) -> Option<String> {
    let length = number(rest, width)? as usize;
    (length <= LONGEST).then_some(())?;
    let (text, after) = rest.split_at_checked(length)?;
    *rest = after;
    String::from_utf8(text.to_vec()).ok()
}

/// A whole number of up to eight bytes.
pub(crate) fn number(rest: &mut &[u8], width: usize) -> Option<u64> {
    let (bytes, after) = rest.split_at_checked(width)?;
    *rest = after;
    Some(bytes.iter().rev().fold(0, |sum, b| sum << 8 | u64::from(*b)))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn headers_come_back_as_they_were_written() {
        let with = |samples| Header { name: "P".into(), metadata: "geoScope=vtx".into(), samples };
        let all = [
            with(None),
            with(Some(Samples::new(Pod::F32, 3, true, 250, 1))),
            with(Some(Samples::new(Pod::F64, 6, false, 1, 0))),
            with(Some(Samples { changes: (3, 7), ..Samples::new(Pod::I32, 1, true, 9, 2) })),
        ];
        let mut bytes = Vec::new();
        all.iter().for_each(|h| h.write(&mut bytes));
        assert_eq!(Header::read_all(&bytes, &[]).as_deref(), Some(&all[..]));
        let objects = vec![ObjectHeader { name: "Gull skirt".into(), metadata: "schema=x".into() }; 2];
        let bytes = ObjectHeader::write_all(&objects);
        assert_eq!(ObjectHeader::read_all(&bytes, &[]), Some(objects));
        assert_eq!(ObjectHeader::read_all(&bytes[..40], &[]), None);
    }

    #[test]
    fn samples_that_stay_the_same_are_stored_once() {
        let one = Samples::new(Pod::F32, 3, true, 1, 0);
        assert_eq!([0, 1, 9].map(|k| one.stored(k)), [0; 3]);
        let all = Samples::new(Pod::F32, 3, true, 4, 1);
        assert_eq!([0, 1, 2, 3, 9].map(|k| all.stored(k)), [0, 1, 2, 3, 3]);
        let late = Samples { changes: (3, 5), ..Samples::new(Pod::F32, 3, true, 9, 1) };
        assert_eq!([0, 2, 3, 4, 5, 8].map(|k| late.stored(k)), [0, 0, 1, 2, 3, 3]);
    }
}
