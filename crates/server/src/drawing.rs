//! Small drawings of flat pieces, as SVG.

use costume::{Costume, flat_picture};

/// Outlines in the colours of their fabrics.
pub fn flat_drawing(costume: &Costume) -> String {
    let picture = flat_picture(costume);
    let [x, y, w, h] = picture.as_ref().map_or([0.0, 0.0, 1.0, 1.0], |p| p.view);
    let pad = 0.03 * (w + h);
    let mut made =
        format!("<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"{} {} {} {}\">", x - pad, y - pad, w + 2.0 * pad, h + 2.0 * pad);
    for piece in picture.iter().flat_map(|p| &p.pieces) {
        // colours are #rrggbb and paths are numbers and letters: neither needs to be escaped
        made.push_str(&format!(
            "<path d=\"{}\" fill=\"{}\" stroke=\"#1f2a44\" stroke-width=\"{}\"/>",
            piece.path,
            piece.colour,
            (w + h) / 180.0
        ));
    }
    made.push_str("</svg>");
    made
}
