//! The typefaces of printed pages: those of the application, under the SIL Open Font License (see `fonts/LICENSE`).

use krilla::text::Font;
use std::sync::LazyLock;
use ttf_parser::Face;

static REGULAR: &[u8] = include_bytes!("../../fonts/instrument-sans-regular.ttf");
static BOLD: &[u8] = include_bytes!("../../fonts/instrument-sans-bold.ttf");

/// Both, parsed once, to measure words.
static MEASURED: LazyLock<[Option<Face<'static>>; 2]> = LazyLock::new(|| [REGULAR, BOLD].map(|bytes| Face::parse(bytes, 0).ok()));

pub(super) struct Faces([Font; 2]);

impl Faces {
    pub(super) fn new() -> Result<Self, String> {
        let font = |bytes: &'static [u8]| Font::new(bytes.to_vec().into(), 0).ok_or("a typeface cannot be read");
        Ok(Self([font(REGULAR)?, font(BOLD)?]))
    }

    pub(super) fn of(&self, bold: bool) -> Font {
        self.0[usize::from(bold)].clone()
    }
}

/// Width of words, mm.
pub fn width(words: &str, points: f64, bold: bool) -> f64 {
    let Some(face) = &MEASURED[usize::from(bold)] else { return 0.0 };
    let advance = |c: char| face.glyph_index(c).and_then(|g| face.glyph_hor_advance(g)).unwrap_or(0);
    let units: u64 = words.chars().map(|c| u64::from(advance(c))).sum();
    units as f64 / f64::from(face.units_per_em()) * points * 25.4 / 72.0
}

/// What stands for a sign of units that the typefaces have no letter for, as on a typewriter; a question mark for all else.
const fn plainer(c: char) -> char {
    match c {
        '²' => '2',
        '³' => '3',
        'µ' | 'μ' => 'u',
        _ => '?',
    }
}

/// Words with nothing that the typefaces lack.
pub(super) fn printable(words: &str) -> String {
    let Some(face) = &MEASURED[0] else { return words.to_owned() };
    words
        .chars()
        .map(|c| {
            if c == '\u{a0}' || c.is_control() {
                ' '
            } else if face.glyph_index(c).is_some() {
                c
            } else {
                plainer(c)
            }
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_the_typefaces_lack_is_written_plainer() {
        assert_eq!(printable("140 g/m², 14 µN·m – Fähre\u{a0}7\tx"), "140 g/m2, 14 uN·m – Fähre 7 x");
        assert_eq!(printable("潮"), "?");
    }
}
