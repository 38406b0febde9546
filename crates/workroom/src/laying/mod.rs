//! Laying plans: all pieces of one costume or of several sizes on cloth of a given width, fabric by fabric.

mod cutter;

pub use cutter::{Cut, CutterWay, cutter_way};

use crate::{piece_range::upright, plain_pieces};
use costume::{Costume, FabricId, Refusal};
use kurbo::{BezPath, PathEl, Point};
use mesh::{LaidShape, lay};
use serde::{Deserialize, Serialize};
use std::fmt::Write as _;
use ts_rs::TS;

/// Most pieces of one plan, copies counted.
pub const MOST_LAID: usize = 400;
/// Widths of cloth that there are, mm.
pub const WIDTHS: std::ops::RangeInclusive<f64> = 100.0..=4000.0;
/// How near the flattened outline is to the curve, mm.
const FLAT: f64 = 0.3;

/// Most orders that are tried.
const ROUNDS: usize = 4000;

/// How cloth is laid.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct LayOptions {
    /// mm.
    pub width: f64,
    /// Between pieces, mm.
    pub gap: f64,
    /// The cloth has a nap: no piece lies head down.
    pub nap: bool,
    /// Orders that are tried.
    pub rounds: usize,
}

impl LayOptions {
    /// Refuses what lies beyond its limits.
    pub fn check(&self) -> Result<(), Refusal> {
        if !WIDTHS.contains(&self.width) || !(0.0..=100.0).contains(&self.gap) {
            let reason = format!("cannot be {} mm wide with gaps of {} mm", self.width, self.gap);
            return Err(Refusal::elsewhere("cloth", reason, "choose a width from 10 cm to 4 m and a gap up to 10 cm"));
        }
        if self.rounds > ROUNDS {
            let reason = format!("cannot try {} orders", self.rounds);
            return Err(Refusal::elsewhere("laying plan", reason, format!("choose at most {ROUNDS}")));
        }
        Ok(())
    }
}

/// A piece on the cloth.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
pub struct LaidPiece {
    pub name: String,
    /// Which costume or size it is of.
    pub of: String,
    pub turned: bool,
    /// The cutting line, mm; x across the cloth, y along it.
    pub outline: Vec<[f64; 2]>,
}

/// The plan of one fabric.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
pub struct FabricPlan {
    pub fabric: String,
    /// mm.
    pub width: f64,
    pub length: f64,
    /// Share of the cloth that pieces cover.
    pub used: f64,
    pub pieces: Vec<LaidPiece>,
    /// How it is cut.
    pub way: CutterWay,
}

/// What is cut from one fabric, before it is laid.
pub struct ToLay {
    pub fabric: String,
    pieces: Vec<LaidPiece>,
}

/// Lays the pieces of costumes, each with what it is called in the plan; fabrics of one name are one cloth.
pub fn laying_plan(costumes: &[(String, Costume)], options: &LayOptions) -> Result<Vec<FabricPlan>, Refusal> {
    options.check()?;
    to_lay(costumes)?.into_iter().map(|cloth| cloth.plan(options)).collect()
}

/// The pieces of costumes by the cloth that they are cut from.
pub fn to_lay(costumes: &[(String, Costume)]) -> Result<Vec<ToLay>, Refusal> {
    let mut cloths: Vec<ToLay> = Vec::new();
    let mut count = 0;
    for (of, costume) in costumes {
        let named = |id: FabricId| costume.fabric(id).map_or_else(|| "cloth".to_owned(), |f| f.name.clone());
        for (piece, plain) in costume.pieces.iter().zip(plain_pieces(costume)) {
            let copies = usize::from(plain.count.unwrap_or(1));
            count += copies;
            if count > MOST_LAID {
                let reason = format!("has more than {MOST_LAID} pieces to lay");
                return Err(Refusal::elsewhere("laying plan", reason, "lay fewer sizes at once"));
            }
            let outline = cut_upright(&plain, piece.grain);
            let fabric = named(piece.fabric);
            let at = cloths.iter().position(|cloth| cloth.fabric == fabric).unwrap_or_else(|| {
                cloths.push(ToLay { fabric, pieces: Vec::new() });
                cloths.len() - 1
            });
            for copy in 0..copies {
                // of two the second is the other hand, as when cloth lies double
                let outline = if copy % 2 == 1 { outline.iter().rev().map(|p| [-p[0], p[1]]).collect() } else { outline.clone() };
                cloths[at].pieces.push(LaidPiece { name: plain.name.clone(), of: of.clone(), turned: false, outline });
            }
        }
    }
    Ok(cloths)
}

/// The outermost line of a piece as many short ones, with the grain along y.
fn cut_upright(plain: &formats::PlainPiece, grain: f64) -> Vec<[f64; 2]> {
    let line = plain.cutting.first().unwrap_or(&plain.outline);
    points(line).iter().map(|p| upright([p.x, p.y], grain)).collect()
}

fn points(path: &BezPath) -> Vec<Point> {
    let mut found = Vec::new();
    kurbo::flatten(path.iter(), FLAT, |el| match el {
        PathEl::MoveTo(p) | PathEl::LineTo(p) => found.push(p),
        _ => {}
    });
    if found.len() > 1 && found.first() == found.last() {
        found.pop();
    }
    found
}

impl ToLay {
    /// Lays it as near together as is found, and says how it is cut.
    pub fn plan(self, options: &LayOptions) -> Result<FabricPlan, Refusal> {
        let Self { fabric, mut pieces } = self;
        let shapes: Vec<LaidShape> = pieces.iter().map(|p| LaidShape { outline: p.outline.clone(), turns: !options.nap }).collect();
        let plan = lay(&shapes, options.width, options.gap, options.rounds).ok_or_else(|| {
            let reason = format!("has a piece that does not fit on cloth {:.0} cm wide", options.width / 10.0);
            Refusal::elsewhere(&fabric, reason, "choose wider cloth, or cut the piece in two")
        })?;
        for (piece, place) in pieces.iter_mut().zip(&plan.places) {
            piece.turned = place.turned;
            piece.outline.iter_mut().for_each(|p| *p = place.place(*p));
        }
        let way = cutter_way(&pieces.iter().map(|p| p.outline.as_slice()).collect::<Vec<_>>());
        Ok(FabricPlan { fabric, width: options.width, length: plan.length, used: plan.used, pieces, way })
    }
}

/// Plans as one drawing (SVG, one unit a millimetre): cloth beside cloth, from left to right.
pub fn plan_svg(plans: &[FabricPlan]) -> String {
    const AROUND: f64 = 20.0;
    let words = |text: &str| text.replace('&', "&amp;").replace('<', "&lt;").replace('"', "&quot;");
    let width: f64 = plans.iter().map(|p| p.width + AROUND).sum::<f64>() + AROUND;
    let height = plans.iter().map(|p| p.length).fold(0.0, f64::max) + 3.0 * AROUND;
    let mut out = format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{width:.0}mm\" height=\"{height:.0}mm\" viewBox=\"0 0 {width:.0} {height:.0}\">\n"
    );
    let mut left = AROUND;
    for plan in plans {
        let title = format!(
            "{}: {:.1} cm of {:.0} cm, {:.1} % used",
            words(&plan.fabric),
            plan.length / 10.0,
            plan.width / 10.0,
            100.0 * plan.used
        );
        let _ = writeln!(out, "<text x=\"{left:.1}\" y=\"{AROUND}\" font-size=\"18\" font-family=\"sans-serif\">{title}</text>");
        let _ = writeln!(
            out,
            "<rect x=\"{left:.1}\" y=\"{:.1}\" width=\"{:.1}\" height=\"{:.1}\" fill=\"none\" stroke=\"#888\"/>",
            1.5 * AROUND,
            plan.width,
            plan.length
        );
        for piece in &plan.pieces {
            let at = |p: &[f64; 2]| [p[0] + left, p[1] + 1.5 * AROUND];
            let line: Vec<String> = piece.outline.iter().map(at).map(|p| format!("{:.2} {:.2}", p[0], p[1])).collect();
            let _ = writeln!(out, "<path d=\"M{}Z\" fill=\"#f4efe2\" stroke=\"#222\" stroke-width=\"1\"/>", line.join("L"));
            let n = piece.outline.len().max(1) as f64;
            let middle = piece.outline.iter().map(at).fold([0.0; 2], |m, p| [m[0] + p[0] / n, m[1] + p[1] / n]);
            let arrow = if piece.turned { "↓" } else { "↑" };
            let _ = writeln!(
                out,
                "<text x=\"{:.1}\" y=\"{:.1}\" font-size=\"14\" text-anchor=\"middle\" font-family=\"sans-serif\">{} {} {arrow}</text>",
                middle[0],
                middle[1],
                words(&piece.of),
                words(&piece.name)
            );
        }
        left += plan.width + AROUND;
    }
    out.push_str("</svg>\n");
    out
}
