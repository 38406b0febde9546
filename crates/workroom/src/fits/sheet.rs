//! The fitting sheet: what a fitting found, for the file (JSON) and for paper (PDF).

use super::limits::passed_limits;
use crate::{Assembly, BearerRow, DrapeReport, Prints, carried, picture};
use cloth::Drape;
use costume::{CLOTH_VALUES, Costume};
use formats::paper::{A4, BLACK, Ink, Page, Side, pdf, width};
use serde::Serialize;
use ts_rs::TS;

/// All that is on the sheet.
#[derive(Clone, Debug, Serialize, TS)]
pub struct FittingSheet {
    pub report: DrapeReport,
    /// Every limit that is passed, in words.
    pub passed: Vec<String>,
    /// What carries it.
    pub bearers: Vec<BearerRow>,
    /// Of the garment, N.
    pub weight: f64,
    pub fabrics: Vec<FabricRow>,
    /// Notes that are still to be done: the piece, and the words.
    pub notes: Vec<(String, String)>,
    /// The pieces along each hem of the report.
    pub hems: Vec<String>,
    /// Pieces as they are cut: name, width and height in mm, fabric.
    pub pieces: Vec<(String, f64, f64, String)>,
}

/// A fabric with the values that it is draped with.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct FabricRow {
    pub name: String,
    /// Name, number and unit.
    pub values: Vec<(String, f64, String)>,
}

/// Looks at a drape; `report` is what the check found.
pub fn fitting_sheet(assembly: &Assembly, drape: &Drape, report: DrapeReport) -> FittingSheet {
    let costume = &assembly.costume;
    let carried = carried(assembly, drape);
    let name = |id| costume.piece(id).map_or_else(String::new, |p| p.name.clone());
    let fabric = |id| costume.fabric(id).map_or_else(String::new, |f| f.name.clone());
    let cut = assembly.pattern.pieces.iter().filter(|p| !p.parked);
    FittingSheet {
        passed: passed_limits(costume, &report),
        bearers: carried.bearers,
        weight: carried.weight,
        fabrics: fabrics(costume),
        notes: costume.notes.iter().filter(|n| !n.done).map(|n| (name(n.piece), n.text.clone())).collect(),
        pieces: cut.map(|p| (p.name.clone(), p.size()[0], p.size()[1], fabric(p.fabric))).collect(),
        hems: report.hems.iter().map(|h| h.pieces.iter().map(|p| name(*p)).collect::<Vec<_>>().join(", ")).collect(),
        report,
    }
}

fn fabrics(costume: &Costume) -> Vec<FabricRow> {
    let row = |f: &costume::Fabric| {
        let mut cloth = f.cloth()?;
        let value = |v: &costume::ClothValue| Some((v.name.to_owned(), *cloth.value(v.key)?, v.unit.to_owned()));
        Some(FabricRow { name: f.name.clone(), values: CLOTH_VALUES.iter().filter_map(value).collect() })
    };
    costume.fabrics.iter().filter_map(row).collect()
}

/// Pixels of each picture.
const PICTURE: (usize, usize) = (560, 800);

/// Front, side and back (PNG).
pub fn sheet_pictures(assembly: &Assembly, positions: &[[f32; 3]], fused: &[u32]) -> [Vec<u8>; 3] {
    let prints = Prints::of_motifs(&assembly.costume);
    [0.0, 90.0, 180.0].map(|turn| picture(assembly, positions, fused, &prints, PICTURE, turn))
}

/// Left and right edge of what is printed, and the last line of a page, mm.
const LEFT: f64 = 16.0;
const RIGHT: f64 = 194.0;
const FOOT: f64 = 281.0;
/// From one line to the next, mm.
const LINE: f64 = 5.0;
const SOFT: [u8; 3] = [120, 112, 102];
const RED: [u8; 3] = [160, 62, 44];
const EDGE: [u8; 3] = [214, 205, 190];

/// The sheet on paper; the reason when a picture cannot be read.
pub fn sheet_pdf(sheet: &FittingSheet, pictures: &[Vec<u8>; 3]) -> Result<Vec<u8>, String> {
    let mut flow = Flow::new(&sheet.report.costume, &format!("on {} · triangles of {} mm", sheet.report.body, sheet.report.edge_mm));
    flow.pictures(pictures);
    flow.heading("Standing");
    if sheet.passed.is_empty() {
        flow.line(&[cell(LEFT, "At rest, sewn, free of crossings, within what is wanted.")]);
    }
    for words in &sheet.passed {
        flow.line(&[Cell { colour: RED, ..cell(LEFT, words) }]);
    }
    let percent = |v: f64| format!("{:.1} %", 100.0 * v);
    let strain = &sheet.report.strain;
    let figures = [("stretch, mean", strain.mean), ("99 of 100 below", strain.p99), ("largest", strain.max)];
    let told: Vec<String> = figures.iter().map(|(name, v)| format!("{name} {}", percent(*v))).collect();
    flow.line(&[Cell { colour: SOFT, ..cell(LEFT, &told.join(" · ")) }]);
    girths(&mut flow, sheet);
    hems(&mut flow, sheet);
    flow.heading(&format!("Carried by ({:.2} N in all)", sheet.weight));
    for b in &sheet.bearers {
        flow.line(&[cell(LEFT, &b.name), right(90.0, format!("{:.2} N", b.force)), right(112.0, format!("{:.0} %", 100.0 * b.share))]);
    }
    if !sheet.notes.is_empty() {
        flow.heading("To do");
        for (piece, words) in &sheet.notes {
            flow.line(&[Cell { colour: SOFT, ..cell(LEFT, piece) }, cell(62.0, words)]);
        }
    }
    flow.heading("Pieces, cm");
    for (name, w, h, fabric) in &sheet.pieces {
        flow.line(&[cell(LEFT, name), right(90.0, cm(*w)), right(112.0, cm(*h)), Cell { colour: SOFT, ..cell(122.0, fabric) }]);
    }
    seams(&mut flow, sheet);
    for fabric in &sheet.fabrics {
        flow.heading(&format!("Fabric: {}", fabric.name));
        for (name, v, unit) in &fabric.values {
            flow.line(&[cell(LEFT, name), right(112.0, format!("{v:.2}")), Cell { colour: SOFT, ..cell(116.0, unit) }]);
        }
    }
    pdf(&format!("Fitting sheet: {}", sheet.report.costume), &flow.done())
}

fn cm(mm: f64) -> String {
    format!("{:.1}", mm / 10.0)
}

fn girths(flow: &mut Flow, sheet: &FittingSheet) {
    let heads = ["garment", "body", "ease", "%"];
    let places = [90.0, 112.0, 134.0, 152.0];
    flow.heading("Girths and ease, cm");
    flow.line(&heads.iter().zip(places).map(|(h, x)| Cell { colour: SOFT, ..right(x, (*h).to_owned()) }).collect::<Vec<_>>());
    for g in &sheet.report.girths {
        let share = 100.0 * g.ease / g.body;
        let told = [cm(g.garment), cm(g.body), format!("{:+.1}", g.ease / 10.0), format!("{share:.0}")];
        let colour = if g.ease < 0.0 { RED } else { BLACK };
        let remark = g.remark().map_or(String::new(), |r| format!(" ({r})"));
        let mut cells = vec![cell(LEFT, &format!("{}{remark}", g.name))];
        cells.extend(told.into_iter().zip(places).map(|(t, x)| Cell { colour, ..right(x, t) }));
        flow.line(&cells);
    }
}

fn hems(flow: &mut Flow, sheet: &FittingSheet) {
    let heads = ["around", "above floor", "front", "back", "tilt", "folds"];
    let places = [94.0, 118.0, 136.0, 154.0, 170.0, 186.0];
    flow.heading("Hems, cm");
    flow.line(&heads.iter().zip(places).map(|(h, x)| Cell { colour: SOFT, ..right(x, (*h).to_owned()) }).collect::<Vec<_>>());
    for (k, h) in sheet.report.hems.iter().enumerate() {
        let [front, _, back, _] = h.heights;
        let told = [cm(h.length), cm(h.height), cm(front), cm(back), format!("{:.1}°", h.tilt), h.folds.to_string()];
        let mut cells = vec![cell(LEFT, &sheet.hems[k])];
        cells.extend(told.into_iter().zip(places).map(|(t, x)| right(x, t)));
        flow.line(&cells);
    }
}

fn seams(flow: &mut Flow, sheet: &FittingSheet) {
    flow.heading("Seams");
    let (closed, open): (Vec<_>, Vec<_>) = sheet.report.seams.iter().partition(|s| s.max_gap_mm == 0.0);
    if !closed.is_empty() {
        let tags: Vec<&str> = closed.iter().map(|s| s.tag.as_str()).collect();
        flow.line(&[cell(LEFT, &format!("closed: {}", tags.join(", ")))]);
    }
    for seam in open {
        let colour = if seam.max_gap_mm < 1.0 { BLACK } else { RED };
        flow.line(&[Cell { colour, ..cell(LEFT, &format!("{}: open by {:.1} mm", seam.tag, seam.max_gap_mm)) }]);
    }
}

/// Words at a place of a line.
struct Cell {
    x: f64,
    side: Side,
    colour: [u8; 3],
    words: String,
}

fn cell(x: f64, words: &str) -> Cell {
    Cell { x, side: Side::Left, colour: BLACK, words: words.to_owned() }
}

fn right(x: f64, words: String) -> Cell {
    Cell { x, side: Side::Right, colour: BLACK, words }
}

/// Lines from above to below, over as many pages as it takes.
struct Flow {
    title: String,
    pages: Vec<Page>,
    y: f64,
}

impl Flow {
    fn new(title: &str, below: &str) -> Self {
        let mut flow = Self { title: title.to_owned(), pages: Vec::new(), y: 0.0 };
        flow.page();
        flow.ink(Ink::Text { at: [LEFT, 22.0], points: 20.0, bold: true, colour: BLACK, side: Side::Left, words: title.to_owned() });
        flow.ink(Ink::Text {
            at: [LEFT, 28.5],
            points: 9.5,
            bold: false,
            colour: SOFT,
            side: Side::Left,
            words: format!("Fitting sheet · {below}"),
        });
        flow.y = 33.0;
        flow
    }

    fn page(&mut self) {
        let number = (self.pages.len() + 1).to_string();
        let foot = Ink::Text { at: [RIGHT, 289.0], points: 8.0, bold: false, colour: SOFT, side: Side::Right, words: number };
        let name = Ink::Text { at: [LEFT, 289.0], points: 8.0, bold: false, colour: SOFT, side: Side::Left, words: self.title.clone() };
        self.pages.push(Page { size: A4, ink: vec![foot, name] });
        self.y = 18.0;
    }

    fn ink(&mut self, ink: Ink) {
        if let Some(page) = self.pages.last_mut() {
            page.ink.push(ink);
        }
    }

    fn pictures(&mut self, pictures: &[Vec<u8>; 3]) {
        let w = (RIGHT - LEFT - 8.0) / 3.0;
        let h = w * PICTURE.1 as f64 / PICTURE.0 as f64;
        for (k, (png, name)) in pictures.iter().zip(["front", "side", "back"]).enumerate() {
            let x = LEFT + k as f64 * (w + 4.0);
            self.ink(Ink::Picture { at: [x, self.y], size: [w, h], png: png.clone() });
            let at = [x + 0.5 * w, self.y + h + 4.0];
            self.ink(Ink::Text { at, points: 8.0, bold: false, colour: SOFT, side: Side::Middle, words: name.into() });
        }
        self.y += h + 6.0;
    }

    /// Begins a part; it is not parted from its first lines.
    fn heading(&mut self, words: &str) {
        if self.y + 4.0 * LINE > FOOT {
            self.page();
        }
        self.y += 7.0;
        self.ink(Ink::Text { at: [LEFT, self.y], points: 11.0, bold: true, colour: BLACK, side: Side::Left, words: words.into() });
        let y = self.y + 1.8;
        self.ink(Ink::Rule { from: [LEFT, y], to: [RIGHT, y], width: 0.2, colour: EDGE });
        self.y += 1.5;
    }

    fn line(&mut self, cells: &[Cell]) {
        if self.y + LINE > FOOT {
            self.page();
        }
        self.y += LINE;
        for c in cells {
            let next = cells.iter().map(|o| o.x).filter(|x| *x > c.x).fold(RIGHT, f64::min);
            let room = if c.side == Side::Left { next - c.x - 14.0 * f64::from(u8::from(next < RIGHT)) } else { c.x - LEFT };
            let words = shortened(&c.words, room);
            self.ink(Ink::Text { at: [c.x, self.y], points: 9.5, bold: false, colour: c.colour, side: c.side, words });
        }
    }

    fn done(self) -> Vec<Page> {
        self.pages
    }
}

/// Words that fit into so many mm.
fn shortened(words: &str, room: f64) -> String {
    if width(words, 9.5, false) <= room {
        return words.to_owned();
    }
    let mut short: String = words.to_owned();
    while !short.is_empty() && width(&short, 9.5, false) + 3.0 > room {
        short.pop();
    }
    format!("{}...", short.trim_end())
}
