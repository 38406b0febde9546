//! Every swatch in the laboratory: does it stretch, bend and drape as its values say?

use super::write_rows;
use crate::drape::with_threads;
use crate::options::BenchCommon;
use crate::output::say;
use costume::{SWATCHES, Swatch};
use serde::Serialize;
use std::process::ExitCode;
use std::time::Instant;
use workroom::cloth_fabric;
use workroom::laboratory::{Cut, bending_length, drape_coefficient, expected_elongation, peirce, strip_elongation};

#[derive(Serialize)]
struct Row {
    swatch: &'static str,
    /// Elongation of a 1 m strip over what it should be, warp and weft.
    strip: [f64; 2],
    /// Bending length over Peirce's, along the warp.
    bending: f64,
    bending_length_mm: f64,
    /// Percent, by mesh edge in mm: the mean of the specimens.
    drape: Vec<(f64, f64)>,
    /// Percent: every specimen, by mesh edge in mm.
    specimens: Vec<(f64, Vec<f64>)>,
    drape_range: [f64; 2],
    at_rest: bool,
    passes: bool,
    seconds: f64,
}

pub fn run(edges: &[f64], only: Option<&str>, common: &BenchCommon) -> Result<ExitCode, String> {
    let chosen: Vec<&Swatch> = SWATCHES.iter().filter(|s| only.is_none_or(|key| s.key == key)).collect();
    if chosen.is_empty() {
        return Err(format!("the swatch book has no `{}`", only.unwrap_or_default()));
    }
    say!("{:<16} {:>7} {:>7} {:>8} {:>8}  drape % by mesh, range", "swatch", "warp", "weft", "bend mm", "Peirce");
    let mut rows = Vec::new();
    for swatch in chosen {
        let row = with_threads(common.threads, || judge(swatch, edges))?.ok_or_else(|| format!("{}: cannot be tested", swatch.key))?;
        let drape: Vec<String> = row.drape.iter().map(|(mm, c)| format!("{c:.0} ({mm} mm)")).collect();
        say!(
            "{:<16} {:>7.3} {:>7.3} {:>8.1} {:>8.3}  {:<24} {:.0} to {:.0}  {}",
            row.swatch,
            row.strip[0],
            row.strip[1],
            row.bending_length_mm,
            row.bending,
            drape.join(", "),
            row.drape_range[0],
            row.drape_range[1],
            if row.passes { "passes" } else { "FAILS" }
        );
        rows.push(row);
    }
    write_rows(common.json.as_deref(), &rows)?;
    Ok(if rows.iter().all(|r| r.passes) { ExitCode::SUCCESS } else { ExitCode::from(1) })
}

fn judge(swatch: &Swatch, edges: &[f64]) -> Option<Row> {
    let started = Instant::now();
    let fabric = cloth_fabric(swatch);
    let mut strip = [0.0; 2];
    for (k, cut) in [Cut::Warp, Cut::Weft].into_iter().enumerate() {
        strip[k] = strip_elongation(&fabric, cut, 1.0)? / expected_elongation(&fabric, cut, 1.0);
    }
    let bent = bending_length(&fabric, true, 0.003)?;
    let (mut drape, mut specimens) = (Vec::new(), Vec::new());
    let mut at_rest = true;
    for mm in edges {
        let test = drape_coefficient(&fabric, mm / 1000.0)?;
        at_rest &= test.at_rest;
        drape.push((*mm, 100.0 * test.mean()));
        specimens.push((*mm, test.each.iter().map(|c| 100.0 * c).collect()));
    }
    let bending = bent / peirce(&fabric, true);
    let inside = drape.iter().all(|(_, c)| (swatch.drape_low..=swatch.drape_high).contains(c));
    let spread = drape.iter().map(|d| d.1).fold(f64::MIN, f64::max) - drape.iter().map(|d| d.1).fold(f64::MAX, f64::min);
    let passes = strip.iter().all(|r| (r - 1.0).abs() < 0.02) && (bending - 1.0).abs() < 0.05 && inside && spread <= 5.0;
    Some(Row {
        swatch: swatch.key,
        strip,
        bending,
        bending_length_mm: 1000.0 * bent,
        drape,
        specimens,
        drape_range: [swatch.drape_low, swatch.drape_high],
        at_rest,
        passes,
        seconds: started.elapsed().as_secs_f64(),
    })
}
