//! JPEG, turned as its camera was held.

use super::{ScanPage, damaged, within_limits};
use crate::{ColourPicture, ReadFault};
use std::io::Cursor;
use trace::Grey;
use zune_jpeg::JpegDecoder;
use zune_jpeg::zune_core::colorspace::ColorSpace;
use zune_jpeg::zune_core::options::DecoderOptions;

/// A picture whose header was read: its size as it is meant to be seen, and the camera's turn (EXIF, 1 to 8).
struct Opened<'a> {
    decoder: JpegDecoder<Cursor<&'a [u8]>>,
    page: ScanPage,
    turned: u16,
}

fn opened(bytes: &[u8], space: ColorSpace) -> Result<Opened<'_>, ReadFault> {
    let options = DecoderOptions::new_safe()
        .set_max_width(super::scan_limits::SIDE)
        .set_max_height(super::scan_limits::SIDE)
        .jpeg_set_max_scans(64)
        .jpeg_set_out_colorspace(space);
    let mut decoder = JpegDecoder::new_with_options(Cursor::new(bytes), options);
    decoder.decode_headers().map_err(damaged)?;
    let info = decoder.info().ok_or_else(|| damaged("it has no header"))?;
    let (width, height) = (info.width as usize, info.height as usize);
    within_limits(width, height)?;
    let turned = decoder.exif().map_or(1, |exif| orientation(exif).unwrap_or(1));
    let (width, height) = if turned > 4 { (height, width) } else { (width, height) };
    Ok(Opened { decoder, page: ScanPage { width, height, dpi: density(bytes) }, turned })
}

pub(super) fn page(bytes: &[u8]) -> Result<ScanPage, ReadFault> {
    Ok(opened(bytes, ColorSpace::Luma)?.page)
}

pub(super) fn grey(bytes: &[u8]) -> Result<Grey, ReadFault> {
    let (width, height, pixels) = seen::<1>(bytes, ColorSpace::Luma)?;
    Grey::new(width, height, pixels.into_iter().flatten().collect()).ok_or_else(|| damaged("it ends too early"))
}

pub(super) fn colours(bytes: &[u8]) -> Result<ColourPicture, ReadFault> {
    let (width, height, pixels) = seen::<3>(bytes, ColorSpace::RGB)?;
    Ok(ColourPicture { width, height, pixels: pixels.into_iter().map(|[r, g, b]| [r, g, b, 255]).collect() })
}

/// Width, height and the pixels of `N` bytes each as they are meant to be seen.
fn seen<const N: usize>(bytes: &[u8], space: ColorSpace) -> Result<(usize, usize, Vec<[u8; N]>), ReadFault> {
    let Opened { mut decoder, page, turned } = opened(bytes, space)?;
    let pixels = decoder.decode().map_err(damaged)?;
    let (width, height) = (page.width, page.height);
    let (pixels, rest) = pixels.as_chunks::<N>();
    if pixels.len() != width * height || !rest.is_empty() {
        return Err(damaged("its colours are not read here"));
    }
    let stored = if turned > 4 { height } else { width };
    // column and row of the stored picture for each that is seen
    let from = |x: usize, y: usize| match turned {
        2 => (width - 1 - x, y),
        3 => (width - 1 - x, height - 1 - y),
        4 => (x, height - 1 - y),
        5 => (y, x),
        6 => (y, width - 1 - x),
        7 => (height - 1 - y, width - 1 - x),
        8 => (height - 1 - y, x),
        _ => (x, y),
    };
    let turn = |k: usize| {
        let (i, j) = from(k % width, k / width);
        pixels[j * stored + i]
    };
    Ok((width, height, if turned == 1 { pixels.to_vec() } else { (0..width * height).map(turn).collect() }))
}

/// Dots per inch as its JFIF header tells.
fn density(bytes: &[u8]) -> Option<f64> {
    let head = &bytes[..bytes.len().min(64)];
    let at = head.windows(5).position(|w| w == b"JFIF\0")?;
    let [unit, high, low] = [head.get(at + 7)?, head.get(at + 8)?, head.get(at + 9)?].map(|b| f64::from(*b));
    let dots = 256.0 * high + low;
    match unit as u8 {
        1 if dots > 1.0 => Some(dots),
        2 if dots > 1.0 => Some(2.54 * dots),
        _ => None,
    }
}

/// Tag 0x0112 of the first directory of EXIF.
fn orientation(exif: &[u8]) -> Option<u16> {
    let little = exif.starts_with(b"II");
    let short = |at: usize| {
        let two: [u8; 2] = exif.get(at..at.checked_add(2)?)?.try_into().ok()?;
        Some(if little { u16::from_le_bytes(two) } else { u16::from_be_bytes(two) })
    };
    let long = |at: usize| {
        let four: [u8; 4] = exif.get(at..at.checked_add(4)?)?.try_into().ok()?;
        Some(if little { u32::from_le_bytes(four) } else { u32::from_be_bytes(four) } as usize)
    };
    let first = long(4)?;
    let count = short(first)?;
    (0..count as usize)
        .map(|k| first + 2 + 12 * k)
        .find(|at| short(*at) == Some(0x0112))
        .and_then(|at| short(at + 8))
        .filter(|turn| (1..=8).contains(turn))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_turn_of_the_camera_is_read_in_both_byte_orders_and_never_beyond_the_end() {
        let big = b"MM\0\x2a\0\0\0\x08\0\x01\x01\x12\0\x03\0\0\0\x01\0\x06\0\0";
        let little = b"II\x2a\0\x08\0\0\0\x01\0\x12\x01\x03\0\x01\0\0\0\x06\0\0\0";
        assert_eq!(orientation(big), Some(6));
        assert_eq!(orientation(little), Some(6));
        for end in 0..big.len() - 2 {
            assert_eq!(orientation(&big[..end]), None);
        }
        assert_eq!(orientation(b"MM\0\x2a\xff\xff\xff\xff"), None);
    }
}
