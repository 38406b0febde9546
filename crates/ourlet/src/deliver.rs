//! `ourlet deliver`: from a costume to the garment as it is wanted elsewhere, with a manifest that says what it is.

use crate::drape::{hung_on, with_threads, worn};
use crate::files::{kind_of, write};
use crate::options::DeliverCommand;
use crate::output::{note, say};
use crate::wanted::length;
use serde::de::DeserializeOwned;
use std::path::Path;
use std::process::ExitCode;
use workroom::{DeliverOptions, DeliveryManifest, Faces, FileKind, Prepared, Prints, Trial};

pub fn run(options: &DeliverCommand) -> Result<ExitCode, String> {
    let wanted: Vec<(&Path, DeliverOptions)> =
        options.out.iter().map(|out| Ok((out.as_path(), chosen(options, out)?))).collect::<Result<_, String>>()?;
    let costume = worn(&options.file, options.preset.as_deref(), options.fineness.as_deref(), false)?;
    let prints = crate::files::prints(&costume, &options.picture)?;
    let made = with_threads(options.threads, || -> Result<_, String> {
        let figure = workroom::figure(&costume.body).map_err(|e| e.to_string())?;
        let trial =
            Trial::of(&costume, &mut hung_on(figure.into()), None, &mut || true).map_err(|e| e.to_string())?.ok_or("it was told to end")?;
        for (out, wanted) in &wanted {
            write_one(&trial, wanted, &prints, out)?;
        }
        Ok(trial.report)
    })?;
    let report = made?;
    for finding in &report.findings {
        note!("ourlet: {}", finding.words);
    }
    Ok(if report.is_good() { ExitCode::SUCCESS } else { ExitCode::from(1) })
}

/// The options of one file.
fn chosen(options: &DeliverCommand, out: &Path) -> Result<DeliverOptions, String> {
    let kind = kind_of(out)?;
    if kind == FileKind::Glb && (options.unit != "m" || options.z_up) {
        return Err("GLB is in metres with y up; choose .obj, .ply, .stl or .usda for another unit or axis".into());
    }
    Ok(DeliverOptions {
        kind,
        welded: !options.open_seams,
        layout: named("layout", &options.layout, "metres, unit, tile, fabric-tiles or piece-tiles")?,
        texture: options.texture,
        margin: options.margin,
        turn: options.turn,
        baked: options.bake,
        with_body: options.with_body,
        unit: named("unit", &options.unit, "m, cm, mm or inch")?,
        z_up: options.z_up,
        faces: if options.quads { Faces::Quads } else { Faces::Triangles },
        smooth: options.smooth,
        lighter: options.lighter,
        levels: options.levels,
        thickness: options.thick.as_deref().map(length).transpose()?.unwrap_or(0.0),
        side: named("side", &options.side, "outwards, inwards or both")?,
    })
}

/// Writes the files of one delivery with its manifest.
fn write_one(trial: &Trial, wanted: &DeliverOptions, prints: &Prints, out: &Path) -> Result<(), String> {
    let stem = out.file_stem().and_then(|s| s.to_str()).unwrap_or("garment");
    let (positions, fused) = (trial.drape.positions(), trial.drape.fused_with());
    let delivery = Prepared::of(&trial.assembly, &positions, fused, wanted, prints, stem).map_err(|e| e.to_string())?;
    let manifest = DeliveryManifest::of(&trial.assembly.costume, &trial.report, wanted, &delivery.preview);
    let text = serde_json::to_string_pretty(&manifest).map_err(|e| e.to_string())?;
    for (name, bytes) in &delivery.write().files {
        write(&out.with_file_name(name), bytes)?;
        say!("{name}: {} bytes", bytes.len());
    }
    write(&out.with_file_name(format!("{stem}.manifest.json")), text.as_bytes())
}

/// A choice by its name in documents.
fn named<T: DeserializeOwned>(what: &str, text: &str, known: &str) -> Result<T, String> {
    serde_json::from_value(serde_json::Value::String(text.to_owned())).map_err(|_| format!("`{text}` is no {what}; write {known}"))
}
