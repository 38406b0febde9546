//! The container: groups of children by their place in the file, and data with their length before them; little-endian.

/// The mark, whether it was closed properly, and the version.
const HEAD: [u8; 8] = [b'O', b'g', b'a', b'w', b'a', 0xff, 0, 1];
/// Set in the place of data, clear in that of a group.
const DATA: u64 = 1 << 63;

/// Where a child stands in the file.
#[derive(Clone, Copy)]
pub(crate) struct Place(u64);

/// Data without bytes.
pub(crate) const NOTHING: Place = Place(DATA);

/// A container that is written, children before those who hold them.
pub(crate) struct Draft(Vec<u8>);

impl Draft {
    /// An empty one with room for so many bytes.
    pub fn new(room: usize) -> Self {
        let mut out = Vec::with_capacity(room);
        out.extend(HEAD);
        out.extend([0; 8]);
        Self(out)
    }

    /// Data of several parts, one after the other.
    pub fn data(&mut self, parts: &[&[u8]]) -> Place {
        let length: usize = parts.iter().map(|p| p.len()).sum();
        if length == 0 {
            return NOTHING;
        }
        let place = Place(self.0.len() as u64 | DATA);
        self.0.extend((length as u64).to_le_bytes());
        parts.iter().for_each(|p| self.0.extend_from_slice(p));
        place
    }

    /// A group of children.
    pub fn group(&mut self, children: &[Place]) -> Place {
        if children.is_empty() {
            return Place(0);
        }
        let place = Place(self.0.len() as u64);
        self.0.extend((children.len() as u64).to_le_bytes());
        children.iter().for_each(|c| self.0.extend(c.0.to_le_bytes()));
        place
    }

    /// The bytes, with the group that holds all.
    pub fn finish(mut self, root: Place) -> Vec<u8> {
        self.0[8..16].copy_from_slice(&root.0.to_le_bytes());
        self.0
    }
}

/// A group that is read.
#[derive(Clone, Copy)]
pub(crate) struct Group<'a> {
    file: &'a [u8],
    /// Eight bytes for each child.
    children: &'a [u8],
}

/// A child that is read.
pub(crate) enum Child<'a> {
    Group(Group<'a>),
    Data(&'a [u8]),
}

impl<'a> Group<'a> {
    /// The group that holds all; none for bytes that are no container of this version.
    pub fn root(file: &'a [u8]) -> Option<Self> {
        let head = file.first_chunk::<16>()?;
        // a file that was not closed has another byte at the sixth place
        (head[..8] == HEAD).then_some(())?;
        Self::at(file, u64::from_le_bytes(head[8..].try_into().ok()?))
    }

    fn at(file: &'a [u8], place: u64) -> Option<Self> {
        if place == 0 {
            return Some(Self { file, children: &[] });
        }
        let rest = file.get(usize::try_from(place).ok()?..)?;
        let (count, rest) = rest.split_first_chunk::<8>()?;
        let bytes = usize::try_from(u64::from_le_bytes(*count)).ok()?.checked_mul(8)?;
        Some(Self { file, children: rest.get(..bytes)? })
    }

    /// How many children it has.
    pub fn len(&self) -> usize {
        self.children.len() / 8
    }

    /// One of them; none where the file does not hold it.
    pub fn child(&self, k: usize) -> Option<Child<'a>> {
        let place = u64::from_le_bytes(*self.children.get(k.checked_mul(8)?..)?.first_chunk::<8>()?);
        if place & DATA == 0 {
            return Self::at(self.file, place).map(Child::Group);
        }
        let at = place & !DATA;
        if at == 0 {
            return Some(Child::Data(&[]));
        }
        let (length, rest) = self.file.get(usize::try_from(at).ok()?..)?.split_first_chunk::<8>()?;
        rest.get(..usize::try_from(u64::from_le_bytes(*length)).ok()?).map(Child::Data)
    }

    /// A child that is a group.
    pub fn group(&self, k: usize) -> Option<Self> {
        match self.child(k)? {
            Child::Group(group) => Some(group),
            Child::Data(_) => None,
        }
    }

    /// A child that is data.
    pub fn data(&self, k: usize) -> Option<&'a [u8]> {
        match self.child(k)? {
            Child::Data(data) => Some(data),
            Child::Group(_) => None,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_written_is_read_and_no_part_of_it_passes() {
        let mut draft = Draft::new(0);
        let word = draft.data(&[b"one", b"two"]);
        let inner = draft.group(&[word, NOTHING]);
        let empty = draft.group(&[]);
        let root = draft.group(&[inner, empty, word]);
        let bytes = draft.finish(root);
        let root = Group::root(&bytes).expect("a container");
        assert_eq!((root.len(), root.group(1).map(|g| g.len()), root.data(2)), (3, Some(0), Some(&b"onetwo"[..])));
        let inner = root.group(0).expect("a group");
        assert_eq!((inner.data(0), inner.data(1)), (Some(&b"onetwo"[..]), Some(&b""[..])));
        assert!(inner.child(2).is_none() && root.data(0).is_none() && root.group(2).is_none());
        for cut in 0..bytes.len() {
            let whole = Group::root(&bytes[..cut]).is_some_and(|root| (0..3).all(|k| root.child(k).is_some()));
            assert!(!whole, "{cut} bytes");
        }
    }
}
