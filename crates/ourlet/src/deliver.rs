//! `ourlet deliver`: from a costume to the garment as it is wanted elsewhere, with a manifest that says what it is.

use crate::drape::{hung_on, with_threads, worn};
use crate::files::{kind_of, write};
use crate::options::DeliverCommand;
use crate::output::{note, say};
use crate::wanted::length;
use serde::Serialize;
use serde::de::DeserializeOwned;
use std::process::ExitCode;
use workroom::{DeliverOptions, DrapeReport, FileKind, Layout, Trial, deliver};

/// What a delivery is, for whoever takes it over; written beside it.
#[derive(Serialize)]
struct Manifest<'a> {
    costume: &'a str,
    body: &'a str,
    files: Vec<&'a str>,
    options: &'a DeliverOptions,
    /// Of the cloth before it has thickness.
    vertices: usize,
    triangles: usize,
    pieces: Vec<&'a str>,
    materials: Vec<&'a str>,
    report: &'a DrapeReport,
}

pub fn run(options: &DeliverCommand) -> Result<ExitCode, String> {
    let wanted = DeliverOptions {
        kind: kind_of(&options.out)?,
        welded: !options.open_seams,
        layout: if options.unit_square { Layout::Unit } else { Layout::Metres },
        with_body: options.with_body,
        unit: named("unit", &options.unit, "m, cm, mm or inch")?,
        z_up: options.z_up,
        smooth: options.smooth,
        thickness: options.thick.as_deref().map(length).transpose()?.unwrap_or(0.0),
        side: named("side", &options.side, "outwards, inwards or both")?,
    };
    if wanted.kind == FileKind::Glb && (options.unit != "m" || options.z_up) {
        return Err("GLB is in metres with y up; choose .obj, .ply or .stl for another unit or axis".into());
    }
    let costume = worn(&options.file, options.preset.as_deref(), options.fineness.as_deref(), false)?;
    let stem = options.out.file_stem().and_then(|s| s.to_str()).unwrap_or("garment");
    let made = with_threads(options.threads, || -> Result<_, String> {
        let figure = workroom::figure(&costume.body).map_err(|e| e.to_string())?;
        let trial =
            Trial::of(&costume, &mut hung_on(figure.into()), None, &mut || true).map_err(|e| e.to_string())?.ok_or("it was told to end")?;
        let (positions, fused) = (trial.drape.positions(), trial.drape.fused_with());
        let delivery = deliver(&trial.assembly, &positions, fused, &wanted, stem).map_err(|e| e.to_string())?;
        Ok((trial.report, delivery))
    })?;
    let (report, delivery) = made?;
    for (name, bytes) in &delivery.files {
        write(&options.out.with_file_name(name), bytes)?;
        say!("{name}: {} bytes", bytes.len());
    }
    let manifest = Manifest {
        costume: &costume.name,
        body: &report.body,
        files: delivery.files.iter().map(|(name, _)| name.as_str()).collect(),
        options: &wanted,
        vertices: report.vertices,
        triangles: report.triangles,
        pieces: costume.pieces.iter().filter(|p| !p.parked).map(|p| p.name.as_str()).collect(),
        materials: costume.fabrics.iter().map(|f| f.name.as_str()).collect(),
        report: &report,
    };
    let text = serde_json::to_string_pretty(&manifest).map_err(|e| e.to_string())?;
    write(&options.out.with_file_name(format!("{stem}.manifest.json")), text.as_bytes())?;
    for finding in &report.findings {
        note!("ourlet: {}", finding.words);
    }
    Ok(if report.is_good() { ExitCode::SUCCESS } else { ExitCode::from(1) })
}

/// A choice by its name in documents.
fn named<T: DeserializeOwned>(what: &str, text: &str, known: &str) -> Result<T, String> {
    serde_json::from_value(serde_json::Value::String(text.to_owned())).map_err(|_| format!("`{text}` is no {what}; write {known}"))
}
