//! A half-circle of every swatch over a stand: pictures to look at.

use super::write_rows;
use crate::drape::{with_threads, write};
use crate::options::BenchCommon;
use costume::{SWATCHES, Swatch};
use serde::Serialize;
use std::path::Path;
use std::process::ExitCode;
use std::time::Instant;
use workroom::cloth_fabric;
use workroom::half_circle::half_circle;

/// Side of a picture, pixels.
const SIDE: usize = 720;
/// Colours in linear RGB, one swatch after the other.
const COLOURS: [[f32; 3]; 5] = [[0.62, 0.45, 0.33], [0.20, 0.29, 0.40], [0.42, 0.46, 0.34], [0.55, 0.33, 0.30], [0.66, 0.60, 0.48]];

#[derive(Serialize)]
struct Row {
    swatch: &'static str,
    triangles: usize,
    at_rest: bool,
    crossings: usize,
    /// Height of the lowest point over the floor, mm.
    lowest_mm: f64,
    seconds: f64,
}

pub fn run(folder: &Path, edge: f64, only: &[String], common: &BenchCommon) -> Result<ExitCode, String> {
    if let Some(unknown) = only.iter().find(|key| costume::swatch(key).is_none()) {
        return Err(format!("the swatch book has no `{unknown}`"));
    }
    std::fs::create_dir_all(folder).map_err(|e| format!("{}: {e}", folder.display()))?;
    let chosen = SWATCHES.iter().enumerate().filter(|(_, s)| only.is_empty() || only.iter().any(|key| key == s.key));
    let mut rows = Vec::new();
    println!("{:<16} {:>9} {:>7} {:>9} {:>9} {:>7}", "swatch", "triangles", "rests", "crossings", "lowest mm", "s");
    for (k, swatch) in chosen {
        let row = with_threads(common.threads, || hang(swatch, COLOURS[k % COLOURS.len()], edge, folder))??;
        println!(
            "{:<16} {:>9} {:>7} {:>9} {:>9.0} {:>7.1}",
            row.swatch, row.triangles, row.at_rest, row.crossings, row.lowest_mm, row.seconds
        );
        rows.push(row);
    }
    write_rows(common.json.as_deref(), &rows)?;
    Ok(if rows.iter().all(|r| r.crossings == 0) { ExitCode::SUCCESS } else { ExitCode::from(1) })
}

fn hang(swatch: &Swatch, colour: [f32; 3], edge: f64, folder: &Path) -> Result<Row, String> {
    let started = Instant::now();
    let hung = half_circle(&cloth_fabric(swatch), edge / 1000.0).ok_or_else(|| format!("{}: cannot be hung", swatch.key))?;
    let seconds = started.elapsed().as_secs_f64();
    write(&folder.join(format!("{}.png", swatch.key)), &hung.picture(colour, SIDE))?;
    let lowest = hung.positions.iter().map(|p| p[1]).fold(f32::MAX, f32::min);
    Ok(Row {
        swatch: swatch.key,
        triangles: hung.triangles.len(),
        at_rest: hung.at_rest,
        crossings: hung.crossings,
        lowest_mm: f64::from(lowest) * 1000.0,
        seconds,
    })
}
