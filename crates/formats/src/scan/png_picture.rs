//! PNG.

use super::{ScanPage, brightness, damaged, within_limits};
use crate::png_writing::INCHES;
use crate::{ColourPicture, ReadFault};
use png::{BitDepth, ColorType, Decoder, Transformations};
use std::io::Cursor;
use trace::Grey;

type Reader<'a> = png::Reader<Cursor<&'a [u8]>>;

fn reader(bytes: &[u8]) -> Result<Reader<'_>, ReadFault> {
    let mut decoder = Decoder::new_with_limits(Cursor::new(bytes), png::Limits { bytes: 512 << 20 });
    decoder.set_transformations(Transformations::EXPAND | Transformations::STRIP_16);
    let info = decoder.read_header_info().map_err(damaged)?;
    within_limits(info.width as usize, info.height as usize)?;
    decoder.read_info().map_err(damaged)
}

pub(super) fn page(bytes: &[u8]) -> Result<ScanPage, ReadFault> {
    let reader = reader(bytes)?;
    let info = reader.info();
    let metric = info.pixel_dims.filter(|d| d.unit == png::Unit::Meter && d.xppu > 0);
    let dpi = metric.map(|d| f64::from(d.xppu) / INCHES);
    Ok(ScanPage { width: info.width as usize, height: info.height as usize, dpi })
}

/// Width, height, pixels and what these are.
type Decoded = (usize, usize, Vec<u8>, ColorType);

fn decoded(bytes: &[u8]) -> Result<Decoded, ReadFault> {
    let mut reader = reader(bytes)?;
    let size = reader.output_buffer_size().ok_or_else(|| damaged("it is too large"))?;
    let mut pixels = vec![0; size];
    let frame = reader.next_frame(&mut pixels).map_err(damaged)?;
    pixels.truncate(frame.buffer_size());
    if frame.bit_depth != BitDepth::Eight {
        return Err(damaged("its pixels are not of 8 bits"));
    }
    Ok((frame.width as usize, frame.height as usize, pixels, frame.color_type))
}

pub(super) fn colours(bytes: &[u8]) -> Result<ColourPicture, ReadFault> {
    let (width, height, found, kind) = decoded(bytes)?;
    let pixels: Vec<[u8; 4]> = match kind {
        ColorType::Grayscale => found.iter().map(|p| [*p, *p, *p, 255]).collect(),
        ColorType::GrayscaleAlpha => found.chunks_exact(2).map(|p| [p[0], p[0], p[0], p[1]]).collect(),
        ColorType::Rgb => found.chunks_exact(3).map(|p| [p[0], p[1], p[2], 255]).collect(),
        ColorType::Rgba => found.chunks_exact(4).map(|p| [p[0], p[1], p[2], p[3]]).collect(),
        ColorType::Indexed => return Err(no_palette()),
    };
    if pixels.len() == width * height { Ok(ColourPicture { width, height, pixels }) } else { Err(damaged("it ends too early")) }
}

fn no_palette() -> ReadFault {
    damaged("its colours could not be looked up")
}

pub(super) fn grey(bytes: &[u8]) -> Result<Grey, ReadFault> {
    let (width, height, pixels, kind) = decoded(bytes)?;
    let grey = match kind {
        ColorType::Grayscale => pixels,
        ColorType::GrayscaleAlpha => pixels.chunks_exact(2).map(|p| brightness(p[0], p[0], p[0], p[1])).collect(),
        ColorType::Rgb => pixels.chunks_exact(3).map(|p| brightness(p[0], p[1], p[2], 255)).collect(),
        ColorType::Rgba => pixels.chunks_exact(4).map(|p| brightness(p[0], p[1], p[2], p[3])).collect(),
        ColorType::Indexed => return Err(no_palette()),
    };
    Grey::new(width, height, grey).ok_or_else(|| damaged("it ends too early"))
}
