//! Frames of moving cloth as they are stored: positions on a lattice of 0.05 mm, each frame as what changed since the one
//! before, bytes of one weight beside each other, compressed with Zstandard (RFC 8878).

/// Every frame whose number is a multiple of this is stored whole: a reader begins there.
pub const WHOLE_EVERY: usize = 24;
/// Places on the lattice in a metre; what is stored lies within half a step, 0.025 mm.
const LATTICE: f32 = 20_000.0;
/// Farthest place, m.
const FARTHEST: f32 = 10_000.0;
/// Most vertices of a frame.
const MOST: usize = 4_000_000;
/// Effort of the compression.
const LEVEL: i32 = 3;

/// Positions (m) on the lattice.
pub fn on_lattice(positions: &[[f32; 3]]) -> Vec<[i32; 3]> {
    let place = |v: f32| (v.clamp(-FARTHEST, FARTHEST) * LATTICE).round() as i32;
    positions.iter().map(|p| p.map(place)).collect()
}

/// Places on the lattice as positions, m.
pub fn off_lattice(places: &[[i32; 3]]) -> Vec<[f32; 3]> {
    places.iter().map(|p| p.map(|v| v as f32 / LATTICE)).collect()
}

/// A frame as bytes: the number of vertices (u32, little-endian), then compressed the changes since `before`, or from vertex
/// to vertex when there is none; zigzag, first all lowest bytes, then the next ones.
pub fn packed(frame: &[[i32; 3]], before: Option<&[[i32; 3]]>) -> Vec<u8> {
    let count = 3 * frame.len();
    let mut planes = vec![0u8; 4 * count];
    let mut last = [0; 3];
    for (i, p) in frame.iter().enumerate() {
        let from = before.map_or(last, |b| b[i]);
        for k in 0..3 {
            let change = p[k].wrapping_sub(from[k]);
            let bytes = (((change << 1) ^ (change >> 31)) as u32).to_le_bytes();
            for (weight, byte) in bytes.into_iter().enumerate() {
                planes[weight * count + 3 * i + k] = byte;
            }
        }
        last = *p;
    }
    let mut out = (frame.len() as u32).to_le_bytes().to_vec();
    // compressing into memory does not fail
    out.extend(zstd::bulk::compress(&planes, LEVEL).unwrap_or_default());
    out
}

/// A frame from its bytes, with the one before when it was packed with one; none when they hold no such frame.
pub fn unpacked(bytes: &[u8], before: Option<&[[i32; 3]]>) -> Option<Vec<[i32; 3]>> {
    let head = bytes.first_chunk::<4>()?;
    let vertices = u32::from_le_bytes(*head) as usize;
    if vertices > MOST || before.is_some_and(|b| b.len() != vertices) {
        return None;
    }
    let count = 3 * vertices;
    let planes = zstd::bulk::decompress(&bytes[4..], 4 * count).ok().filter(|p| p.len() == 4 * count)?;
    let mut frame = Vec::with_capacity(vertices);
    let mut last = [0i32; 3];
    for i in 0..vertices {
        let from = before.map_or(last, |b| b[i]);
        last = [0, 1, 2].map(|k| {
            let at = 3 * i + k;
            let zigzag = u32::from_le_bytes([0, 1, 2, 3].map(|weight| planes[weight * count + at]));
            from[k].wrapping_add(((zigzag >> 1) as i32) ^ -((zigzag & 1) as i32))
        });
        frame.push(last);
    }
    Some(frame)
}

/// Any bytes, compressed, after their number (u64, little-endian).
pub fn squeezed(bytes: &[u8]) -> Vec<u8> {
    let mut out = (bytes.len() as u64).to_le_bytes().to_vec();
    out.extend(zstd::bulk::compress(bytes, LEVEL).unwrap_or_default());
    out
}

/// Bytes as they were before [`squeezed`]; none when they are damaged, or more than `most`.
pub fn unsqueezed(bytes: &[u8], most: usize) -> Option<Vec<u8>> {
    let (head, rest) = bytes.split_first_chunk::<8>()?;
    let wanted = usize::try_from(u64::from_le_bytes(*head)).ok().filter(|n| *n <= most)?;
    zstd::bulk::decompress(rest, wanted).ok().filter(|b| b.len() == wanted)
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A sheet that swings, as positions by frame.
    fn swinging(vertices: usize, frames: usize) -> Vec<Vec<[f32; 3]>> {
        let at = |t: f32, i: usize| {
            let (u, v) = ((i % 100) as f32 * 0.01, (i / 100) as f32 * 0.01);
            [u, 1.0 - v * (0.3 * t).cos(), v * (0.3 * t).sin() + 0.02 * (12.0 * u + t).sin()]
        };
        (0..frames).map(|t| (0..vertices).map(|i| at(t as f32 / 24.0, i)).collect()).collect()
    }

    #[test]
    fn frames_come_back_within_a_fortieth_of_a_millimetre_and_small() {
        let frames = swinging(2_000, 24);
        type Places = Vec<[i32; 3]>;
        let (mut before, mut read): (Option<Places>, Option<Places>) = (None, None);
        let mut size = 0;
        for frame in &frames {
            let places = on_lattice(frame);
            let bytes = packed(&places, before.as_deref());
            size += bytes.len();
            let back = unpacked(&bytes, read.as_deref()).expect("a frame");
            assert_eq!(back, places);
            let farthest =
                off_lattice(&back).iter().zip(frame).flat_map(|(a, b)| [0, 1, 2].map(|k| (a[k] - b[k]).abs())).fold(0.0, f32::max);
            assert!(farthest <= 2.51e-5, "{farthest}");
            (before, read) = (Some(places), Some(back));
        }
        assert!(size * 3 < frames.len() * 2_000 * 12, "{size} bytes");
    }

    #[test]
    fn what_is_no_frame_is_refused() {
        let places = on_lattice(&swinging(50, 1)[0]);
        let bytes = packed(&places, None);
        assert!(unpacked(&bytes[..3], None).is_none() && unpacked(&bytes[..bytes.len() - 2], None).is_none());
        assert!(unpacked(&bytes, Some(&places[1..])).is_none(), "the frame before has other vertices");
        let mut claims = bytes.clone();
        claims[..4].copy_from_slice(&u32::MAX.to_le_bytes());
        assert!(unpacked(&claims, None).is_none());
        claims[..4].copy_from_slice(&49u32.to_le_bytes());
        assert!(unpacked(&claims, None).is_none(), "more than it says");
        assert_eq!(on_lattice(&[[f32::NAN, f32::INFINITY, -1e9]]), [[0, 200_000_000, -200_000_000]]);
        let much = squeezed(&vec![7; 100_000]);
        assert!(unsqueezed(&much, 99_999).is_none());
        assert_eq!(unsqueezed(&much, 100_000).map(|b| b.len()), Some(100_000));
    }
}
