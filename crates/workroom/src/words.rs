//! Little-endian words of 32 bits, as kept meshes and states are stored, read one after the other within what there is.

/// Words that are left.
pub(crate) struct Words<'a>(pub &'a [u8]);

impl<'a> Words<'a> {
    pub fn one(&mut self) -> Option<u32> {
        let (word, rest) = self.0.split_first_chunk::<4>()?;
        self.0 = rest;
        Some(u32::from_le_bytes(*word))
    }

    pub fn array<const N: usize>(&mut self) -> Option<[u32; N]> {
        let mut all = [0; N];
        for v in &mut all {
            *v = self.one()?;
        }
        Some(all)
    }

    pub fn many(&mut self, count: usize) -> Option<impl Iterator<Item = u32> + use<'a>> {
        let (own, rest) = self.0.split_at_checked(count.checked_mul(4)?)?;
        self.0 = rest;
        Some(own.chunks_exact(4).map(|b| u32::from_le_bytes([b[0], b[1], b[2], b[3]])))
    }
}
