//! Pixels as PNG.

use png::{BitDepth, ColorType, Encoder, PixelDimensions, Unit};

/// Inches of a metre.
pub(crate) const INCHES: f64 = 39.370_078_74;

/// Writes 8-bit pixels; with their scale, dots per inch, where they have one.
pub(crate) fn png_of(width: usize, height: usize, colour: ColorType, pixels: &[u8], dpi: Option<f64>) -> Vec<u8> {
    let mut bytes = Vec::new();
    let mut encoder = Encoder::new(&mut bytes, width as u32, height as u32);
    encoder.set_color(colour);
    encoder.set_depth(BitDepth::Eight);
    let per_metre = |dpi: f64| (dpi * INCHES).round() as u32;
    encoder.set_pixel_dims(dpi.map(per_metre).map(|d| PixelDimensions { xppu: d, yppu: d, unit: Unit::Meter }));
    // writing into memory cannot fail
    if let Ok(mut writer) = encoder.write_header() {
        let _ = writer.write_image_data(pixels);
    }
    bytes
}
