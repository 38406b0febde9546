//! The pages of a PDF, drawn by a renderer in plain Rust.

use super::{PDF_DPI, ScanPage, brightness, damaged, no_page, scan_limits};
use crate::ReadFault;
use crate::png_writing::png_of;
use hayro::hayro_interpret::InterpreterSettings;
use hayro::hayro_syntax::Pdf;
use hayro::{RenderCache, RenderSettings};
use trace::Grey;

/// Points of an inch.
const POINTS: f64 = 72.0;

fn opened(bytes: &[u8]) -> Result<Pdf, ReadFault> {
    Pdf::new(bytes.to_vec()).map_err(|e| damaged(format!("it is no PDF that can be read here ({e:?})")))
}

/// Pixels of a page and of one of its points.
fn size(width: f32, height: f32) -> Result<(ScanPage, f64), ReadFault> {
    let (width, height) = (f64::from(width), f64::from(height));
    if !(width >= 1.0 && height >= 1.0 && width.is_finite() && height.is_finite()) {
        return Err(damaged("a page has no size"));
    }
    // a very large page is drawn coarser, so that it stays within what pictures may be
    let most = (scan_limits::PIXELS as f64 * 0.9 / (width * height)).sqrt();
    let side = scan_limits::SIDE as f64 / width.max(height);
    let scale = (PDF_DPI / POINTS).min(most).min(side);
    let [across, down] = [width, height].map(|v| (v * scale) as usize);
    super::within_limits(across, down)?;
    Ok((ScanPage { width: across, height: down, dpi: Some(scale * POINTS) }, scale))
}

pub(super) fn pages(bytes: &[u8]) -> Result<Vec<ScanPage>, ReadFault> {
    let pdf = opened(bytes)?;
    let pages = pdf.pages();
    crate::reading::at_most("pages", pages.len(), scan_limits::PAGES)?;
    if pages.is_empty() {
        return Err(damaged("it has no page"));
    }
    pages.iter().map(|page| page.render_dimensions()).map(|(w, h)| Ok(size(w, h)?.0)).collect()
}

/// The pixels of a page on white, four bytes each.
fn drawn(bytes: &[u8], number: usize) -> Result<(ScanPage, Vec<u8>), ReadFault> {
    let pdf = opened(bytes)?;
    let page = pdf.pages().get(number).ok_or_else(|| no_page(number))?;
    let (width, height) = page.render_dimensions();
    let (_, scale) = size(width, height)?;
    let white = hayro::vello_cpu::color::palette::css::WHITE;
    let settings = RenderSettings { x_scale: scale as f32, y_scale: scale as f32, bg_color: white, ..RenderSettings::default() };
    let made = hayro::render(page, &RenderCache::new(), &InterpreterSettings::default(), &settings);
    let size = ScanPage { width: made.width().into(), height: made.height().into(), dpi: Some(scale * POINTS) };
    Ok((size, made.data_as_u8_slice().to_vec()))
}

pub(super) fn grey(bytes: &[u8], page: usize) -> Result<Grey, ReadFault> {
    let (size, pixels) = drawn(bytes, page)?;
    let grey = pixels.chunks_exact(4).map(|p| brightness(p[0], p[1], p[2], 255)).collect();
    Grey::new(size.width, size.height, grey).ok_or_else(|| damaged("a page has no size"))
}

pub(super) fn png(bytes: &[u8], page: usize) -> Result<Vec<u8>, ReadFault> {
    let (size, pixels) = drawn(bytes, page)?;
    Ok(png_of(size.width, size.height, png::ColorType::Rgba, &pixels, size.dpi))
}
