//! A rehearsal in the middle of its way, as bytes from which it goes on.

use crate::words::Words;
use cloth::SavedDrape;

/// What a rehearsal goes on from: its next frame, the cloth, and the way of the body.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct SavedRehearsal {
    /// Frames that are done.
    pub next: usize,
    /// Of the body, from where it began, m, and how fast it goes, m/s.
    pub place: [f64; 3],
    /// m/s.
    pub speed: [f64; 3],
    /// What was fused at the beginning, by vertex.
    pub fused: Vec<u32>,
    /// Vertices that the body carries, and where each was at the beginning, m.
    pub carried: Vec<(u32, [f32; 3])>,
    /// The cloth.
    pub drape: SavedDrape,
}

/// The mark and version at the beginning.
const MARK: u32 = 0x5253_4F02;
/// Most vertices and pairs of a state.
const MOST: usize = 4_000_000;

impl SavedRehearsal {
    /// Little-endian words of 32 bits.
    pub fn to_bytes(&self) -> Vec<u8> {
        let d = &self.drape;
        let mut out = Vec::with_capacity(28 * d.positions.len() + 256);
        let mut put = |v: u32| out.extend(v.to_le_bytes());
        let counts = [d.positions.len(), d.fused.len(), d.pinned.len(), d.levels.len(), d.holds.len(), self.carried.len()];
        put(MARK);
        counts.iter().for_each(|n| put(*n as u32));
        put(self.next as u32);
        let long = self.place.iter().chain(&self.speed).map(|v| v.to_bits()).chain(d.steps);
        long.for_each(|v| [v as u32, (v >> 32) as u32].into_iter().for_each(&mut put));
        [d.seam_stiffness.to_bits(), u32::from(d.gathered), u32::from(d.phase), d.calm[0], d.calm[1]].into_iter().for_each(&mut put);
        self.fused.iter().for_each(|v| put(*v));
        d.positions.iter().chain(&d.velocities).flatten().chain(&d.levels).for_each(|v| put(v.to_bits()));
        d.fused.iter().for_each(|v| put(u32::from(*v)));
        d.pinned.iter().for_each(|v| put(*v));
        for (distance, spot) in &d.holds {
            put(u32::from(distance.is_some()) | u32::from(spot.is_some()) << 1);
            put(distance.unwrap_or(0.0).to_bits());
            spot.unwrap_or_default().iter().for_each(|v| put(v.to_bits()));
        }
        for (vertex, at) in &self.carried {
            put(*vertex);
            at.iter().for_each(|v| put(v.to_bits()));
        }
        out
    }

    /// None for bytes that hold no state.
    pub fn from_bytes(bytes: &[u8]) -> Option<Self> {
        let mut words = Words(bytes);
        if words.one()? != MARK {
            return None;
        }
        let [n, pairs, pins, levels, holds, carried] = words.array::<6>()?.map(|v| v as usize);
        if n > MOST || pairs > MOST || pins > n || levels > MOST || holds > MOST || carried > n {
            return None;
        }
        let next = words.one()? as usize;
        let mut long = || Some(u64::from(words.one()?) | u64::from(words.one()?) << 32);
        let mut body = [0.0; 6];
        for v in &mut body {
            *v = f64::from_bits(long()?);
        }
        let steps = [long()?, long()?, long()?];
        let [stiffness, gathered, phase, free, quiet] = words.array::<5>()?;
        let fused_with = words.many(n)?.collect();
        let mut points = |count: usize| {
            let flat: Vec<f32> = words.many(3 * count)?.map(f32::from_bits).collect();
            Some(flat.chunks_exact(3).map(|p| [p[0], p[1], p[2]]).collect::<Vec<[f32; 3]>>())
        };
        let (positions, velocities) = (points(n)?, points(n)?);
        let levels = words.many(levels)?.map(f32::from_bits).collect();
        let fused = words.many(pairs)?.map(|v| v != 0).collect();
        let pinned = words.many(pins)?.collect();
        let mut found = Vec::with_capacity(holds);
        for _ in 0..holds {
            let [flags, distance, x, y, z] = words.array::<5>()?;
            let spot = [x, y, z].map(f32::from_bits);
            found.push(((flags & 1 != 0).then_some(f32::from_bits(distance)), (flags & 2 != 0).then_some(spot)));
        }
        let mut leashed = Vec::with_capacity(carried);
        for _ in 0..carried {
            let [vertex, x, y, z] = words.array::<4>()?;
            leashed.push((vertex, [x, y, z].map(f32::from_bits)));
        }
        let [px, py, pz, sx, sy, sz] = body;
        let drape = SavedDrape {
            positions,
            velocities,
            fused,
            pinned,
            levels,
            holds: found,
            seam_stiffness: f32::from_bits(stiffness),
            gathered: gathered != 0,
            phase: phase as u8,
            steps,
            calm: [free, quiet],
        };
        words.0.is_empty().then_some(Self { next, place: [px, py, pz], speed: [sx, sy, sz], fused: fused_with, carried: leashed, drape })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_state_comes_back_bit_by_bit_and_no_part_of_it_passes_for_one() {
        let drape = SavedDrape {
            positions: vec![[0.1, -0.2, 1.5], [f32::MIN_POSITIVE, 3.0, -0.0]],
            velocities: vec![[0.0, 1e-9, 2.0]; 2],
            fused: vec![true, false, true],
            pinned: vec![1],
            levels: vec![1.02],
            holds: vec![(None, None), (Some(0.003), Some([1.0, 2.0, 3.0])), (Some(0.1), None)],
            seam_stiffness: 321.5,
            gathered: true,
            phase: 1,
            steps: [u64::MAX - 3, 7, 1 << 40],
            calm: [9, 8],
        };
        let saved = SavedRehearsal {
            next: 77,
            place: [0.1, 0.0, -3.7],
            speed: [1.0 / 3.0, 0.0, 1e-300],
            fused: vec![0, 0],
            carried: vec![(1, [0.5, -1.0, 0.25])],
            drape,
        };
        let bytes = saved.to_bytes();
        assert_eq!(SavedRehearsal::from_bytes(&bytes).as_ref(), Some(&saved));
        for cut in 0..bytes.len() {
            assert!(SavedRehearsal::from_bytes(&bytes[..cut]).is_none(), "{cut} bytes");
        }
        let mut claims = bytes;
        claims[4..8].copy_from_slice(&u32::MAX.to_le_bytes());
        assert!(SavedRehearsal::from_bytes(&claims).is_none());
    }
}
