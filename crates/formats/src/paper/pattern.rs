//! Flat pieces on paper at true scale: tiled over sheets with marks by which they are joined, or on one sheet. A first page shows how
//! the sheets lie, with a square of 10 cm to measure.

use super::{A4, BLACK, Ink, Page, Side, width};
use crate::flat::{FlatKind, PlainPiece, drawn_lines};
use kurbo::{Affine, BezPath, Rect, Shape, Vec2};

/// Edge of a sheet that printers leave white, and by how much sheets lie over each other, mm.
const MARGIN: f64 = 10.0;
const OVERLAP: f64 = 10.0;
/// Around the pieces, mm.
const AROUND: f64 = 15.0;
/// Arms of a mark at the corners of the sheets, mm.
const ARM: f64 = 6.0;
/// Most sheets of one pattern.
pub const MOST_SHEETS: usize = 400;
/// Side of the square that is measured, mm.
pub const SQUARE: f64 = 100.0;
const SOFT: [u8; 3] = [120, 112, 102];
const GREY: [u8; 3] = [170, 165, 158];

/// Dashes of the lines of sizes, one after the other, mm.
const SIZES: [&[f64]; 6] = [&[], &[6.0, 2.5], &[1.2, 1.8], &[9.0, 2.0, 1.5, 2.0], &[3.0, 1.5], &[12.0, 3.0, 1.5, 1.5, 1.5, 3.0]];

/// Paper that a pattern is printed on.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Paper {
    A4,
    A3,
    Letter,
    /// One sheet: A0 if the pieces fit on it, upright or across.
    A0,
    /// One sheet off a roll of so many mm.
    Roll(f64),
}

impl Paper {
    /// Width and height of a sheet that is tiled, mm; none for one that takes all.
    fn tile(self) -> Option<[f64; 2]> {
        match self {
            Self::A4 => Some(A4),
            Self::A3 => Some([297.0, 420.0]),
            Self::Letter => Some([215.9, 279.4]),
            Self::A0 | Self::Roll(_) => None,
        }
    }
}

/// The pages of a pattern; the reason when the pieces do not fit on the paper.
pub fn pattern_pages(title: &str, pieces: &[PlainPiece], paper: Paper) -> Result<Vec<Page>, String> {
    let drawing = Drawing::of(pieces).ok_or("there is no piece to print")?;
    match paper.tile() {
        Some(sheet) => tiled(title, &drawing, sheet),
        None => whole(title, &drawing, paper),
    }
}

/// All pieces as ink, x from the left and y from above, mm; the upper left corner of the room around them is 0.
struct Drawing {
    size: [f64; 2],
    ink: Vec<Ink>,
    /// Boxes of the pieces, to see which sheets stay empty.
    boxes: Vec<Rect>,
    /// The sizes, where there are several.
    sizes: Vec<(usize, String)>,
}

impl Drawing {
    fn of(pieces: &[PlainPiece]) -> Option<Self> {
        let own = |p: &PlainPiece| {
            std::iter::once(&p.outline).chain(&p.cutting).map(|l| (Affine::FLIP_Y * l.clone()).bounding_box()).reduce(|a, b| a.union(b))
        };
        let boxes: Vec<Rect> = pieces.iter().filter_map(own).collect();
        let all = boxes.iter().copied().reduce(|a, b| a.union(b))?.inflate(AROUND, AROUND);
        let to = Affine::translate(-all.origin().to_vec2()) * Affine::FLIP_Y;
        let mut ink = Vec::new();
        for piece in pieces {
            let nested = piece.size.as_ref().map(|(k, _)| *k);
            for (kind, path) in drawn_lines(piece) {
                // the sewing lines of the other sizes are left out where these have cutting lines
                if kind == FlatKind::Outline && nested.is_some_and(|k| k > 0) && !piece.cutting.is_empty() {
                    continue;
                }
                let (width, dash): (f64, &[f64]) = match (kind, nested) {
                    (FlatKind::Cutting | FlatKind::Outline, Some(k)) => (0.4, SIZES[k % SIZES.len()]),
                    (FlatKind::Cutting, None) => (0.5, &[]),
                    (FlatKind::Outline, None) => (0.35, &[]),
                    (FlatKind::Fold, _) => (0.35, &[9.0, 3.0, 2.0, 3.0]),
                    (FlatKind::Inside, _) => (0.3, &[8.0, 4.0]),
                    (FlatKind::Grain | FlatKind::Notch | FlatKind::Hole, _) => (0.3, &[]),
                };
                ink.push(Ink::Lines { path: to * path, width, dash: dash.to_vec(), colour: BLACK });
            }
            let name = piece.grain.map(|[low, _]| (kurbo::Point::new(low.x, low.y - 12.0), piece.name.clone()));
            for (at, words) in piece.texts.iter().chain(&name) {
                let at = to * *at;
                ink.push(Ink::Text {
                    at: [at.x, at.y],
                    points: 14.0,
                    bold: false,
                    colour: BLACK,
                    side: Side::Middle,
                    words: words.clone(),
                });
            }
        }
        let moved = boxes.iter().map(|b| *b - all.origin().to_vec2()).collect();
        let mut sizes: Vec<(usize, String)> = pieces.iter().filter_map(|p| p.size.clone()).collect();
        sizes.sort_unstable();
        sizes.dedup();
        Some(Self { size: [all.width(), all.height()], ink, boxes: moved, sizes })
    }

    /// The line of each size with its name, from a point downwards.
    fn legend(&self, [x, y]: [f64; 2]) -> Vec<Ink> {
        let row = |(k, (size, name)): (usize, &(usize, String))| {
            let y = y + 7.0 * k as f64;
            let path = BezPath::from_vec(vec![kurbo::PathEl::MoveTo((x, y).into()), kurbo::PathEl::LineTo((x + 30.0, y).into())]);
            let line = Ink::Lines { path, width: 0.4, dash: SIZES[size % SIZES.len()].to_vec(), colour: BLACK };
            let at = [x + 34.0, y + 1.2];
            [line, Ink::Text { at, points: 9.5, bold: false, colour: BLACK, side: Side::Left, words: name.clone() }]
        };
        self.sizes.iter().enumerate().flat_map(row).collect()
    }

    /// What lies within a part, moved so that the part's corner comes to `at`.
    fn part(&self, from: [f64; 2], size: [f64; 2], at: [f64; 2]) -> Ink {
        let by = Vec2::new(at[0] - from[0], at[1] - from[1]);
        Ink::Within { at, size, ink: self.ink.iter().map(|ink| ink.moved(by)).collect() }
    }
}

fn tiled(title: &str, drawing: &Drawing, sheet: [f64; 2]) -> Result<Vec<Page>, String> {
    let room = sheet.map(|mm| mm - 2.0 * MARGIN);
    let step = room.map(|mm| mm - OVERLAP);
    let count = [0, 1].map(|k| (((drawing.size[k] - OVERLAP) / step[k]).ceil().max(1.0)) as usize);
    if count[0] * count[1] > MOST_SHEETS {
        return Err(format!("the pieces lie over {} by {} sheets; lay them closer together", count[0], count[1]));
    }
    let from = |c: usize, r: usize| [c as f64 * step[0], r as f64 * step[1]];
    let used = |c: usize, r: usize| {
        let [x, y] = from(c, r);
        let tile = Rect::new(x, y, x + room[0], y + room[1]);
        drawing.boxes.iter().any(|b| b.overlaps(tile))
    };
    let cells = || (0..count[1]).flat_map(|r| (0..count[0]).map(move |c| (c, r)));
    let mut pages = vec![overview(title, drawing, sheet, &cells().filter(|(c, r)| used(*c, *r)).collect::<Vec<_>>(), step)];
    for (c, r) in cells().filter(|(c, r)| used(*c, *r)) {
        let mut ink = vec![drawing.part(from(c, r), room, [MARGIN; 2])];
        // marks stand where sheets meet: half an overlap within the printed room, the same places on all sheets around
        for (i, j) in [(0, 0), (1, 0), (0, 1), (1, 1)] {
            let at = [MARGIN + 0.5 * OVERLAP + i as f64 * step[0], MARGIN + 0.5 * OVERLAP + j as f64 * step[1]];
            ink.extend(cross(at));
        }
        let name = Ink::Text {
            at: [MARGIN + OVERLAP, MARGIN + room[1] - 2.0],
            points: 8.0,
            bold: true,
            colour: SOFT,
            side: Side::Left,
            words: format!("{} · {title}", tile_name(c, r)),
        };
        ink.push(name);
        pages.push(Page { size: sheet, ink });
    }
    Ok(pages)
}

/// `B3`: the second row, the third column.
fn tile_name(column: usize, row: usize) -> String {
    let letters = ["A", "B", "C", "D", "E", "F", "G", "H", "J", "K", "L", "M", "N", "P", "Q", "R", "S", "T", "U", "V"];
    let row = if row < letters.len() {
        letters[row].to_owned()
    } else {
        format!("{}{}", letters[row / letters.len() - 1], letters[row % letters.len()])
    };
    format!("{row}{}", column + 1)
}

fn cross([x, y]: [f64; 2]) -> [Ink; 2] {
    let line = |from: [f64; 2], to: [f64; 2]| Ink::Rule { from, to, width: 0.2, colour: GREY };
    [line([x - ARM, y], [x + ARM, y]), line([x, y - ARM], [x, y + ARM])]
}

/// How the sheets lie, and the square.
fn overview(title: &str, drawing: &Drawing, sheet: [f64; 2], used: &[(usize, usize)], step: [f64; 2]) -> Page {
    let text =
        |at: [f64; 2], points: f64, bold: bool, words: String| Ink::Text { at, points, bold, colour: BLACK, side: Side::Left, words };
    let top = 2.0 * MARGIN;
    let mut ink = vec![
        text([MARGIN, top], 18.0, true, title.to_owned()),
        text(
            [MARGIN, top + 7.0],
            9.5,
            false,
            format!("{} sheets. Print at 100 %, cut off the white edge, lay cross on cross.", used.len()),
        ),
    ];
    let corner = [MARGIN, top + 14.0];
    let square = BezPath::from_vec(Rect::new(corner[0], corner[1], corner[0] + SQUARE, corner[1] + SQUARE).path_elements(0.1).collect());
    ink.push(Ink::Lines { path: square, width: 0.3, dash: Vec::new(), colour: BLACK });
    ink.push(text([corner[0] + 4.0, corner[1] + 8.0], 9.5, false, "10 cm by 10 cm: measure it before you cut".into()));
    ink.extend(drawing.legend([corner[0] + SQUARE + 10.0, corner[1] + 5.0]));
    let map = [corner[0], corner[1] + SQUARE + 10.0];
    let room = [sheet[0] - 2.0 * MARGIN, sheet[1] - MARGIN - map[1]];
    let scale = (room[0] / drawing.size[0]).min(room[1] / drawing.size[1]);
    for (c, r) in used {
        let at = [map[0] + *c as f64 * step[0] * scale, map[1] + *r as f64 * step[1] * scale];
        let frame = Rect::new(at[0], at[1], at[0] + (step[0] + OVERLAP) * scale, at[1] + (step[1] + OVERLAP) * scale);
        ink.push(Ink::Lines { path: BezPath::from_vec(frame.path_elements(0.1).collect()), width: 0.15, dash: Vec::new(), colour: GREY });
        ink.push(Ink::Text {
            at: [at[0] + 2.0, at[1] + 4.5],
            points: 8.0,
            bold: true,
            colour: SOFT,
            side: Side::Left,
            words: tile_name(*c, *r),
        });
    }
    let small = Affine::translate((map[0], map[1])) * Affine::scale(scale);
    ink.extend(drawing.ink.iter().filter_map(|i| match i {
        Ink::Lines { path, colour, .. } => Some(Ink::Lines { path: small * path.clone(), width: 0.15, dash: Vec::new(), colour: *colour }),
        _ => None,
    }));
    Page { size: sheet, ink }
}

/// Everything on one sheet, with the square beside the title in a strip below.
fn whole(title: &str, drawing: &Drawing, paper: Paper) -> Result<Vec<Page>, String> {
    let strip = SQUARE + 2.0 * MARGIN;
    let need = [drawing.size[0] + 2.0 * MARGIN, drawing.size[1] + MARGIN + strip];
    let fits = |sheet: [f64; 2]| need[0] <= sheet[0] && need[1] <= sheet[1];
    let too_large =
        |what: &str| format!("the pieces lie over {:.0} by {:.0} mm, more than {what}; lay them closer together", need[0], need[1]);
    let size = match paper {
        Paper::Roll(wide) if need[0] <= wide => [wide, need[1]],
        // along the roll, when they do not lie across it
        Paper::Roll(wide) if need[1] <= wide => [need[0], wide],
        Paper::Roll(wide) => return Err(too_large(&format!("a roll of {wide:.0} mm"))),
        _ => [[841.0, 1189.0], [1189.0, 841.0]].into_iter().find(|s| fits(*s)).ok_or_else(|| too_large("a sheet of A0"))?,
    };
    let mut ink = vec![drawing.part([0.0; 2], drawing.size, [MARGIN; 2])];
    let corner = [MARGIN, MARGIN + drawing.size[1] + MARGIN];
    let square = BezPath::from_vec(Rect::new(corner[0], corner[1], corner[0] + SQUARE, corner[1] + SQUARE).path_elements(0.1).collect());
    ink.push(Ink::Lines { path: square, width: 0.3, dash: Vec::new(), colour: BLACK });
    let words = "10 cm by 10 cm: measure it before you cut";
    let beside = corner[0] + SQUARE + 6.0;
    ink.push(Ink::Text { at: [beside, corner[1] + 10.0], points: 20.0, bold: true, colour: BLACK, side: Side::Left, words: title.into() });
    if beside + width(words, 11.0, false) < size[0] {
        ink.push(Ink::Text {
            at: [beside, corner[1] + 18.0],
            points: 11.0,
            bold: false,
            colour: SOFT,
            side: Side::Left,
            words: words.into(),
        });
    }
    ink.extend(drawing.legend([beside, corner[1] + 28.0]));
    Ok(vec![Page { size, ink }])
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::paper::pdf;

    /// A piece as wide and high as said, at a place of the table.
    fn piece(x: f64, y: f64, w: f64, h: f64) -> PlainPiece {
        let outline = BezPath::from_svg(&format!("M{x} {y} h{w} v{h} h-{w} Z")).expect("a path");
        PlainPiece { name: "Panel".into(), outline, ..PlainPiece::default() }
    }

    /// Darkness of a page by mm, from a reader that knows nothing of this.
    fn read(bytes: &[u8], page: usize) -> (Vec<u8>, usize, usize) {
        let grey = crate::scan_grey(bytes, page).expect("a page");
        (grey.pixels().to_vec(), grey.width(), grey.height())
    }

    #[test]
    fn the_square_measures_ten_centimetres_and_sheets_meet_at_their_crosses() {
        let pages = pattern_pages("Panel", &[piece(0.0, 0.0, 300.0, 420.0)], Paper::A4).expect("pages");
        // 330 x 450 mm with the room around, on sheets that add 180 x 267
        assert_eq!(pages.len(), 1 + 4);
        let bytes = pdf("Panel", &pages).expect("a PDF");
        let (pixels, w, h) = read(&bytes, 0);
        let mm = 210.0 / w as f64;
        // the upper and lower edge of the square along a column through it, below the words
        let column = ((20.0 + 60.0) / mm) as usize;
        let rows: Vec<f64> =
            (0..h).filter(|y| pixels[y * w + column] < 160).map(|y| y as f64 * 297.0 / h as f64).filter(|y| *y < 140.0).collect();
        let (first, last) = (rows.iter().copied().find(|y| *y > 33.0).expect("an edge"), rows.iter().copied().fold(0.0, f64::max));
        assert!((last - first - 100.0).abs() < 0.4, "{first} to {last}");
        // the left side of the panel is 15 mm right of the sheet's printed room, over both sheets of the first column
        for page in [1, 3] {
            let (pixels, w, h) = read(&bytes, page);
            let row = h / 2;
            let edge = (0..w).find(|x| pixels[row * w + x] < 160).expect("an edge") as f64 * 210.0 / w as f64;
            assert!((edge - 25.0).abs() < 0.3, "page {page}: {edge}");
        }
    }

    #[test]
    fn sizes_lie_in_each_other_with_lines_of_their_own_and_a_legend() {
        let sized = |k: usize, w: f64| PlainPiece { size: Some((k, format!("Size {k}"))), ..piece(0.0, 0.0, w, 100.0) };
        let pages = pattern_pages("Nest", &[sized(0, 100.0), sized(1, 110.0), sized(2, 121.0)], Paper::A4).expect("pages");
        let dashes = |ink: &[Ink]| -> Vec<Vec<f64>> {
            ink.iter().filter_map(|i| if let Ink::Lines { dash, width: 0.4, .. } = i { Some(dash.clone()) } else { None }).collect()
        };
        let wanted: Vec<Vec<f64>> = SIZES[..3].iter().map(|d| d.to_vec()).collect();
        assert_eq!(dashes(&pages[0].ink), wanted, "the legend");
        let Ink::Within { ink, .. } = &pages[1].ink[0] else { panic!("the pieces come first") };
        assert_eq!(dashes(ink), wanted, "the pieces");
        let named = pages[0].ink.iter().filter(|i| matches!(i, Ink::Text { words, .. } if words.starts_with("Size "))).count();
        assert_eq!(named, 3);
    }

    #[test]
    fn paper_that_is_too_small_is_told_and_empty_sheets_are_left_out() {
        assert!(pattern_pages("None", &[], Paper::A4).is_err());
        let far = [piece(0.0, 0.0, 50.0, 50.0), piece(900.0, 0.0, 50.0, 50.0)];
        assert_eq!(pattern_pages("Two", &far, Paper::A3).expect("pages").len(), 1 + 2, "nothing lies between them");
        let along = pattern_pages("Two", &far, Paper::Roll(600.0)).expect("lying along the roll");
        assert!(along[0].size[0] > 950.0 && along[0].size[1] == 600.0, "{:?}", along[0].size);
        let apart = [piece(0.0, 0.0, 50.0, 50.0), piece(900.0, 900.0, 50.0, 50.0)];
        assert!(pattern_pages("Two", &apart, Paper::Roll(600.0)).is_err_and(|e| e.contains("a roll of 600 mm")));
        let roll = pattern_pages("Two", &far, Paper::Roll(1200.0)).expect("a sheet");
        assert_eq!((roll.len(), roll[0].size[0]), (1, 1200.0));
        assert!(pattern_pages("Two", &far, Paper::A0).expect("a sheet")[0].size == [1189.0, 841.0]);
        assert_eq!((tile_name(2, 1), tile_name(0, 20)), ("B3".into(), "AA1".into()));
    }
}
