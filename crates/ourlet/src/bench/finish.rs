//! `ourlet bench finish`: what is done with a drape once it hangs — the search for crossings, the whole check, and deliveries of every
//! kind — at a mesh as fine as is wanted. The cloth falls for some steps only, so that it lies on the body.

use crate::drape::{hung_on, with_threads, worn};
use crate::options::FinishBench;
use crate::output::say;
use cloth::Drape;
use serde::Serialize;
use std::process::ExitCode;
use std::time::Instant;
use workroom::{Assembly, DeliverOptions, FileKind, Layout, Prints, check, crossings, deliver};

#[derive(Serialize)]
struct Row {
    what: String,
    triangles: usize,
    /// Of several runs the middle one, s.
    seconds: f64,
}

/// Runs of everything that is timed; the middle one counts.
const RUNS: usize = 3;

pub fn run(options: &FinishBench) -> Result<ExitCode, String> {
    let costume = worn(&options.file, options.preset.as_deref(), options.fineness.as_deref(), false)?;
    let rows = with_threads(options.common.threads, || -> Result<Vec<Row>, String> {
        let figure = workroom::figure(&costume.body).map_err(|e| e.to_string())?;
        let assembly = hung_on(figure.into())(&costume).map_err(|e| e.to_string())?;
        let mut drape = Drape::new(assembly.scene.clone()).map_err(|e| e.to_string())?;
        for _ in 0..options.steps {
            drape.step();
        }
        measured(&assembly, &drape)
    })??;
    for row in &rows {
        let thousands = row.triangles as f64 / row.seconds / 1000.0;
        say!("{:<26} {:>8} triangles {:>8.3} s {:>9.0} thousand a second", row.what, row.triangles, row.seconds, thousands);
    }
    super::write_rows(options.common.json.as_deref(), &rows)?;
    Ok(ExitCode::SUCCESS)
}

fn measured(assembly: &Assembly, drape: &Drape) -> Result<Vec<Row>, String> {
    let triangles = assembly.scene.triangles.len();
    let (positions, fused) = (drape.positions(), drape.fused_with());
    let mut rows = Vec::new();
    let mut time = |what: &str, of: &mut dyn FnMut() -> Result<(), String>| -> Result<(), String> {
        let mut runs = Vec::with_capacity(RUNS);
        for _ in 0..RUNS {
            let begun = Instant::now();
            of()?;
            runs.push(begun.elapsed().as_secs_f64());
        }
        runs.sort_by(f64::total_cmp);
        rows.push(Row { what: what.to_owned(), triangles, seconds: runs[RUNS / 2] });
        Ok(())
    };
    time("crossings", &mut || {
        crossings(assembly, drape);
        Ok(())
    })?;
    time("the whole check", &mut || {
        check(assembly, drape);
        Ok(())
    })?;
    let plain = DeliverOptions { welded: true, ..DeliverOptions::default() };
    for (what, options) in [
        ("GLB", plain.clone()),
        ("thick GLB", DeliverOptions { thickness: 1.2, ..plain.clone() }),
        ("smooth GLB", DeliverOptions { smooth: 1, ..plain.clone() }),
        ("five levels of detail", DeliverOptions { levels: 4, ..plain.clone() }),
        ("one packed tile", DeliverOptions { layout: Layout::Tile, ..plain.clone() }),
        ("USD", DeliverOptions { kind: FileKind::Usda, ..plain.clone() }),
        ("OBJ", DeliverOptions { kind: FileKind::Obj, ..plain }),
    ] {
        time(what, &mut || {
            deliver(assembly, &positions, fused, &options, &Prints::default(), "garment").map(|_| ()).map_err(|e| e.to_string())
        })?;
    }
    Ok(rows)
}
