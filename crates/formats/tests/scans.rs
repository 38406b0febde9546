//! Pictures of patterns: PNG in every kind of colour, JPEG, pages of a PDF; what is damaged is refused, never a panic.

mod mutate;

use formats::{PlainPiece, ReadFault, ScanKind, Scanning, grey_png, scan_grey, scan_kind, scan_limits, scan_pages, scan_png, sheet};
use kurbo::{Rect, Shape};
use mutate::{Rounds, mutate};
use std::time::{Duration, Instant};

const JPEG: &[u8] = include_bytes!("data/pocket.jpg");

/// Pages with one rectangle each, its sides given in points from the lower left.
fn pdf(pages: &[(f64, f64, [f64; 4])]) -> Vec<u8> {
    let mut objects = vec!["<< /Type /Catalog /Pages 2 0 R >>".to_owned()];
    let kids: Vec<String> = (0..pages.len()).map(|k| format!("{} 0 R", 3 + 2 * k)).collect();
    objects.push(format!("<< /Type /Pages /Kids [{}] /Count {} >>", kids.join(" "), pages.len()));
    for (k, (width, height, [x, y, w, h])) in pages.iter().enumerate() {
        objects
            .push(format!("<< /Type /Page /Parent 2 0 R /MediaBox [0 0 {width} {height}] /Resources << >> /Contents {} 0 R >>", 4 + 2 * k));
        let drawn = format!("2 w {x} {y} {w} {h} re S");
        objects.push(format!("<< /Length {} >>\nstream\n{drawn}\nendstream", drawn.len()));
    }
    let mut text = "%PDF-1.4\n".to_owned();
    let mut places = Vec::new();
    for (k, object) in objects.iter().enumerate() {
        places.push(text.len());
        text += &format!("{} 0 obj\n{object}\nendobj\n", k + 1);
    }
    let start = text.len();
    text += &format!("xref\n0 {}\n0000000000 65535 f \n", objects.len() + 1);
    places.iter().for_each(|at| text += &format!("{at:010} 00000 n \n"));
    text += &format!("trailer\n<< /Size {} /Root 1 0 R >>\nstartxref\n{start}\n%%EOF\n", objects.len() + 1);
    text.into_bytes()
}

/// Two by two pixels of a kind of colour.
fn tiny(colour: png::ColorType, depth: png::BitDepth, pixels: &[u8]) -> Vec<u8> {
    let mut bytes = Vec::new();
    let mut encoder = png::Encoder::new(&mut bytes, 2, 2);
    encoder.set_color(colour);
    encoder.set_depth(depth);
    if colour == png::ColorType::Indexed {
        encoder.set_palette(vec![0, 0, 0, 255, 255, 255]);
    }
    encoder.write_header().expect("made").write_image_data(pixels).expect("made");
    bytes
}

#[test]
fn png_is_grey_as_the_eye_sees_it_whatever_its_colours() {
    use png::{BitDepth, ColorType};
    let read = |colour, depth, pixels: &[u8]| scan_grey(&tiny(colour, depth, pixels), 0).expect("made").pixels().to_vec();
    assert_eq!(read(ColorType::Grayscale, BitDepth::Eight, &[0, 50, 100, 255]), [0, 50, 100, 255]);
    assert_eq!(read(ColorType::Grayscale, BitDepth::One, &[0b1000_0000, 0b0100_0000]), [255, 0, 0, 255]);
    assert_eq!(read(ColorType::Grayscale, BitDepth::Sixteen, &[1, 255, 128, 0, 0, 9, 200, 3]), [1, 128, 0, 200]);
    assert_eq!(read(ColorType::Indexed, BitDepth::One, &[0b0100_0000, 0b1000_0000]), [0, 255, 255, 0]);
    // red 0.299, green 0.587, blue 0.114 of full brightness
    assert_eq!(read(ColorType::Rgb, BitDepth::Eight, &[255, 0, 0, 0, 255, 0, 0, 0, 255, 255, 255, 255]), [76, 150, 29, 255]);
    // see-through ink lies on white
    assert_eq!(read(ColorType::Rgba, BitDepth::Eight, &[0, 0, 0, 0, 0, 0, 0, 255, 0, 0, 0, 51, 9, 9, 9, 0]), [255, 0, 204, 255]);
    assert_eq!(read(ColorType::GrayscaleAlpha, BitDepth::Eight, &[0, 0, 0, 255, 100, 255, 100, 0]), [255, 0, 100, 255]);
}

#[test]
fn the_scale_of_a_picture_is_told_where_it_has_one() {
    let piece = PlainPiece { outline: Rect::new(0.0, 0.0, 60.0, 40.0).to_path(0.1), ..PlainPiece::default() };
    let (drawn, _) = sheet(&[piece], &Scanning { dpi: 120.0, tilt: 0.0, grain: 1 }).expect("made");
    let page = scan_pages(&grey_png(&drawn, 120.0)).expect("made")[0];
    assert!((page.dpi.expect("made") - 120.0).abs() < 0.02);
    assert_eq!((page.width, page.height), (drawn.width(), drawn.height()));
    assert_eq!(scan_pages(&tiny(png::ColorType::Grayscale, png::BitDepth::Eight, &[0; 4])).expect("made")[0].dpi, None);
    assert_eq!(
        (scan_kind(JPEG), scan_kind(b"GIF89a")),
        (Ok(ScanKind::Jpeg), Err(ReadFault::Unsupported("something other than PNG, JPEG or PDF".into())))
    );
}

#[test]
fn an_outline_in_a_jpeg_is_found() {
    let picture = scan_grey(JPEG, 0).expect("made");
    assert_eq!((picture.width(), picture.height()), (667, 767));
    assert_eq!(scan_pages(JPEG).expect("made").len(), 1);
    // a pocket of 140 x 160 mm, drawn out to a point below, at 100 dpi
    let found = trace::outline(&picture, [200.0, 300.0], 100.0 / 25.4).expect("made");
    let area = found.area() * 0.254 * 0.254;
    assert!(
        (19_000.0..22_500.0).contains(&area) && found.corners.len() == 5,
        "{area} mm², {:?}",
        found.corners.iter().map(|c| found.points[*c]).collect::<Vec<_>>()
    );
}

#[test]
fn pages_of_a_pdf_are_drawn_at_their_scale() {
    let file = pdf(&[(360.0, 288.0, [72.0, 72.0, 216.0, 144.0]), (720.0, 200.0, [50.0, 50.0, 288.0, 72.0])]);
    let pages = scan_pages(&file).expect("made");
    assert_eq!((pages.len(), pages[0].width, pages[0].height, pages[1].width), (2, 750, 600, 1500));
    assert!((pages[0].dpi.expect("made") - 150.0).abs() < 0.01);
    // three inches by two, and four by one
    for (page, at, square_inches) in [(0, [375.0, 300.0], 6.0), (1, [400.0, 240.0], 4.0)] {
        let picture = scan_grey(&file, page).expect("made");
        let found = trace::outline(&picture, at, 150.0 / 25.4).expect("made");
        let area = found.area() / (150.0 * 150.0);
        assert!((area / square_inches - 1.0).abs() < 0.003 && found.corners.len() == 4, "{area} square inches");
        let shown = scan_png(&file, page).expect("made");
        assert_eq!(scan_grey(&shown, 0).expect("made"), picture, "what is shown is what is traced");
    }
    assert!(scan_grey(&file, 2).is_err() && scan_png(&file, 7).is_err());
    // a page as large as a house is drawn coarser, not refused
    let large = scan_pages(&pdf(&[(30_000.0, 20_000.0, [0.0, 0.0, 1.0, 1.0])])).expect("made")[0];
    assert!(large.width * large.height <= scan_limits::PIXELS && large.dpi.expect("made") < 150.0);
}

#[test]
fn what_is_too_large_or_damaged_is_refused_before_it_costs_anything() {
    // a header that promises 30,000 x 30,000 pixels
    let mut header = Vec::new();
    drop(png::Encoder::new(&mut header, 30_000, 30_000).write_header().expect("made"));
    assert!(matches!(scan_pages(&header), Err(ReadFault::TooMany { what: "pixels", .. })), "{:?}", scan_pages(&header));
    assert!(scan_grey(&header, 0).is_err());
    assert!(matches!(scan_kind(&vec![0; scan_limits::FILE_BYTES + 1]), Err(ReadFault::TooMany { .. })));
    assert!(scan_grey(JPEG, 1).is_err());
    for bytes in [&JPEG[..600], b"%PDF-1.4\n", b"\x89PNG\r\n\x1a\n", b""] {
        assert!(scan_pages(bytes).and_then(|_| scan_grey(bytes, 0)).is_err());
    }
}

#[test]
fn changed_pictures_are_answered_without_a_panic() {
    let piece = PlainPiece { outline: Rect::new(0.0, 0.0, 30.0, 20.0).to_path(0.1), ..PlainPiece::default() };
    let (drawn, _) = sheet(&[piece], &Scanning { dpi: 40.0, tilt: 1.0, grain: 2 }).expect("made");
    let seeds = [("png", grey_png(&drawn, 40.0)), ("jpg", JPEG.to_vec()), ("pdf", pdf(&[(200.0, 100.0, [20.0, 20.0, 100.0, 50.0])]))];
    // a reader that panics is an answer here; what it says then is of no use
    std::panic::set_hook(Box::new(|_| {}));
    let mut rounds = Rounds::new();
    while rounds.goes_on(150) {
        for (name, seed) in &seeds {
            let bytes = mutate(seed, &mut rounds.dice);
            rounds.keep(name, &bytes);
            let begun = Instant::now();
            let _ = scan_pages(&bytes);
            let _ = scan_grey(&bytes, 0);
            assert!(begun.elapsed() < Duration::from_secs(20), "{name}, round {}", rounds.done);
        }
    }
}
