//! Pictures of patterns: PNG, JPEG, and the pages of a PDF. What is too large or damaged is refused whole.

mod jpeg;
mod pdf;
mod png_picture;

use crate::png_writing::png_of;
use crate::{ColourPicture, ReadFault};
use trace::Grey;

/// Bounds on what is read.
pub mod scan_limits {
    /// Of a file.
    pub const FILE_BYTES: usize = 40 << 20;
    /// Of a picture or a page.
    pub const PIXELS: usize = trace::PIXELS;
    /// Most columns and most rows.
    pub const SIDE: usize = 32_000;
    /// Pages of a file.
    pub const PAGES: usize = 60;
}

/// At which the pages of a PDF are drawn, dots per inch; a larger page is drawn with fewer.
const PDF_DPI: f64 = 150.0;

/// A picture, or a page, of a file.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct ScanPage {
    /// Columns.
    pub width: usize,
    /// Rows.
    pub height: usize,
    /// Dots per inch, where the file tells.
    pub dpi: Option<f64>,
}

/// What a file is, by its first bytes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum ScanKind {
    Png,
    Jpeg,
    Pdf,
}

/// Which kind of picture the bytes are.
pub fn scan_kind(bytes: &[u8]) -> Result<ScanKind, ReadFault> {
    crate::reading::at_most("bytes", bytes.len(), scan_limits::FILE_BYTES)?;
    let head = &bytes[..bytes.len().min(1024)];
    if bytes.starts_with(b"\x89PNG\r\n\x1a\n") {
        Ok(ScanKind::Png)
    } else if bytes.starts_with(&[0xff, 0xd8, 0xff]) {
        Ok(ScanKind::Jpeg)
    } else if head.windows(5).any(|w| w == b"%PDF-") {
        Ok(ScanKind::Pdf)
    } else {
        Err(ReadFault::Unsupported("something other than PNG, JPEG or PDF".into()))
    }
}

/// The pages that a file holds; a picture is one.
pub fn scan_pages(bytes: &[u8]) -> Result<Vec<ScanPage>, ReadFault> {
    guarded(|| match scan_kind(bytes)? {
        ScanKind::Png => Ok(vec![png_picture::page(bytes)?]),
        ScanKind::Jpeg => Ok(vec![jpeg::page(bytes)?]),
        ScanKind::Pdf => pdf::pages(bytes),
    })
}

/// A picture in grey. Of a PDF, the page with this number, from 0.
///
/// ```
/// let square = formats::PlainPiece {
///     outline: kurbo::Shape::to_path(&kurbo::Rect::new(0.0, 0.0, 40.0, 30.0), 0.1),
///     ..Default::default()
/// };
/// let scanning = formats::Scanning { dpi: 100.0, tilt: 0.0, grain: 0 };
/// let (drawn, _) = formats::sheet(&[square], &scanning).unwrap();
/// let file = formats::grey_png(&drawn, 100.0);
/// assert_eq!(formats::scan_pages(&file)?[0].dpi.map(f64::round), Some(100.0));
/// assert_eq!(formats::scan_grey(&file, 0)?, drawn);
/// assert!(formats::scan_grey(&file[..200], 0).is_err());
/// # Ok::<(), formats::ReadFault>(())
/// ```
pub fn scan_grey(bytes: &[u8], page: usize) -> Result<Grey, ReadFault> {
    guarded(|| {
        let kind = scan_kind(bytes)?;
        if kind != ScanKind::Pdf && page > 0 {
            return Err(no_page(page));
        }
        match kind {
            ScanKind::Png => png_picture::grey(bytes),
            ScanKind::Jpeg => jpeg::grey(bytes),
            ScanKind::Pdf => pdf::grey(bytes, page),
        }
    })
}

/// A picture (PNG or JPEG) in colour.
pub fn scan_colours(bytes: &[u8]) -> Result<ColourPicture, ReadFault> {
    guarded(|| match scan_kind(bytes)? {
        ScanKind::Png => png_picture::colours(bytes),
        ScanKind::Jpeg => jpeg::colours(bytes),
        ScanKind::Pdf => Err(ReadFault::Unsupported("a PDF, which is no picture".into())),
    })
}

/// A page of a PDF as PNG, in colour.
pub fn scan_png(bytes: &[u8], page: usize) -> Result<Vec<u8>, ReadFault> {
    guarded(|| pdf::png(bytes, page))
}

/// A grey picture as PNG that tells its scale.
pub fn grey_png(picture: &Grey, dpi: f64) -> Vec<u8> {
    png_of(picture.width(), picture.height(), png::ColorType::Grayscale, picture.pixels(), Some(dpi))
}

/// The readers are not ours: one that gives up in the middle of a damaged file is an answer too.
fn guarded<T>(read: impl FnOnce() -> Result<T, ReadFault>) -> Result<T, ReadFault> {
    std::panic::catch_unwind(std::panic::AssertUnwindSafe(read)).unwrap_or_else(|_| Err(damaged("its reader gave up")))
}

fn damaged(what: impl std::fmt::Display) -> ReadFault {
    ReadFault::Damaged(what.to_string())
}

fn no_page(page: usize) -> ReadFault {
    damaged(format!("it has no page {}", page + 1))
}

/// Refuses what is larger than pictures may be, before anything is made of it.
fn within_limits(width: usize, height: usize) -> Result<(), ReadFault> {
    crate::reading::at_most("columns", width, scan_limits::SIDE)?;
    crate::reading::at_most("rows", height, scan_limits::SIDE)?;
    crate::reading::at_most("pixels", width * height, scan_limits::PIXELS)?;
    if width == 0 || height == 0 { Err(damaged("it has no pixels")) } else { Ok(()) }
}

/// Brightness of a colour as the eye sees it (ITU-R BT.601), on white where it is see-through.
fn brightness(r: u8, g: u8, b: u8, alpha: u8) -> u8 {
    let grey = (299 * u32::from(r) + 587 * u32::from(g) + 114 * u32::from(b) + 500) / 1000;
    ((grey * u32::from(alpha) + 255 * (255 - u32::from(alpha)) + 127) / 255) as u8
}
