//! `ourlet body measure`: what a tape reads on a figure from elsewhere or on the body of a costume.

use crate::files::{read, write, write_mesh};
use crate::measures::{Line, lines, show};
use crate::options::{MeasureOptions, StanceOptions};
use crate::output::{note, say};
use body::{Axis, Body, Flaws, ImportOrientation, SurfacePoint, lay};
use costume::{BodyChoice, Costume};
use glam::DVec3;
use serde::Serialize;
use std::collections::BTreeSet;
use std::path::Path;
use std::process::ExitCode;
use std::time::Instant;
use workroom::{ContactBody, foreign_figure, read_arrival};

#[derive(Serialize)]
struct TapeLine {
    name: String,
    length_mm: f64,
}

#[derive(Serialize)]
struct LandmarkLine {
    name: String,
    at_mm: [f64; 3],
}

#[derive(Serialize)]
struct Report {
    figure: String,
    /// How the file was taken; none for a costume's own mannequin.
    stance: Option<ImportOrientation>,
    flaws: Option<Flaws>,
    /// What the file also holds and was not taken over.
    left_out: Vec<String>,
    measures: Vec<Line>,
    tapes: Vec<TapeLine>,
    landmarks: Vec<LandmarkLine>,
    triangles: usize,
    contact_triangles: usize,
    bones: usize,
    seconds: f64,
}

/// A figure read from a file.
pub struct ImportedFile {
    pub figure: Body,
    pub stance: ImportOrientation,
    pub flaws: Flaws,
    /// What of the file was not taken over.
    pub left_out: Vec<String>,
}

/// Reads a figure; what is not said about its stance is guessed.
pub fn bring(path: &Path, options: &StanceOptions) -> Result<ImportedFile, String> {
    let bytes = read_bytes(path)?;
    let name = path.file_name().and_then(|n| n.to_str()).unwrap_or("figure");
    let mut arrival = read_arrival(name, &bytes).map_err(|e| e.to_string())?;
    let stance = &mut arrival.sheet.stance;
    if let Some(text) = &options.unit {
        stance.unit = unit(text)?;
    }
    for (text, slot) in [(&options.up, &mut stance.up), (&options.front, &mut stance.front)] {
        if let Some(text) = text {
            *slot = axis(text)?;
        }
    }
    let figure = foreign_figure(name, &arrival.raw, &arrival.sheet).map_err(|e| e.to_string())?;
    for what in &arrival.left_out {
        note!("ourlet: {}: left out: {what}", path.display());
    }
    Ok(ImportedFile { figure, stance: arrival.sheet.stance, flaws: arrival.flaws, left_out: arrival.left_out })
}

/// Reads a mesh, with its positions in metres, y up; what is not said about its stance is told by the file or by its size.
pub fn read_mesh(path: &Path, options: &StanceOptions) -> Result<(Vec<[f32; 3]>, formats::ImportedMesh), String> {
    let bytes = read_bytes(path)?;
    let name = path.file_name().and_then(|n| n.to_str()).unwrap_or("mesh");
    let found = formats::read_figure(name, &bytes).map_err(|e| format!("{}: {e}", path.display()))?;
    let unit = options.unit.as_deref().map(unit).transpose()?;
    let turned = match (&options.up, &options.front) {
        (None, None) => None,
        (up, front) => {
            let up = axis(up.as_deref().unwrap_or("+y"))?;
            let usual = if up.vector().z == 0.0 { "+z" } else { "-y" };
            let front = axis(front.as_deref().unwrap_or(usual))?;
            if up.vector().dot(front.vector()) != 0.0 {
                return Err(format!("{}: up and front cannot be the same axis", path.display()));
            }
            Some(ImportOrientation { unit: 1.0, up, front })
        }
    };
    let positions = workroom::garment_positions(name, &found, unit, turned).map_err(|e| e.to_string())?;
    Ok((positions, found))
}

/// The bytes of a figure or a mesh, within their limit.
fn read_bytes(path: &Path) -> Result<Vec<u8>, String> {
    let failed = |e: &dyn std::fmt::Display| format!("{}: {e}", path.display());
    let size = std::fs::metadata(path).map_err(|e| failed(&e))?.len();
    if size > formats::figure_limits::FILE_BYTES as u64 {
        return Err(failed(&format!("{size} bytes are more than a figure may have ({})", formats::figure_limits::FILE_BYTES)));
    }
    std::fs::read(path).map_err(|e| failed(&e))
}

fn unit(text: &str) -> Result<f64, String> {
    let known = [("m", 1.0), ("cm", 0.01), ("mm", 0.001), ("in", 0.0254), ("ft", 0.3048)];
    known
        .iter()
        .find(|(key, _)| *key == text)
        .map(|(_, metres)| *metres)
        .ok_or_else(|| format!("`{text}` is no unit; write m, cm, mm, in or ft"))
}

fn axis(text: &str) -> Result<Axis, String> {
    serde_json::from_value(serde_json::Value::String(text.to_owned()))
        .map_err(|_| format!("`{text}` is no axis; write one such as +y or -z"))
}

pub fn measure(options: &MeasureOptions) -> Result<ExitCode, String> {
    let started = Instant::now();
    let is_costume = options.file.extension().is_some_and(|e| e == "json");
    let worn = options.costume.as_deref().or_else(|| is_costume.then_some(options.file.as_path())).map(read).transpose()?;
    let (figure, brought) = match &worn {
        Some(costume) if is_costume => (workroom::figure(&costume.body).map_err(|e| e.to_string())?, None),
        _ => {
            let ImportedFile { figure, stance, flaws, left_out } = bring(&options.file, &options.stance)?;
            (figure, Some((stance, flaws, left_out)))
        }
    };
    let seconds = started.elapsed().as_secs_f64();
    let tapes = worn.as_ref().map_or_else(Vec::new, |costume| tapes(costume, &figure));
    if let Some((stance, flaws, _)) = &brought {
        say(stance, flaws);
    }
    show(&figure);
    tapes.iter().for_each(|t| say!("{:<16} laid     {:>6.1} cm", t.name, t.length_mm / 10.0));
    if let Some(path) = &options.out {
        let form = ContactBody::new(figure.clone().into(), &BodyChoice::size("woman-38"), BTreeSet::new()).map_err(|e| e.to_string())?;
        write_mesh(path, workroom::body_mesh(&form))?;
    }
    if let Some(path) = &options.report {
        let (stance, flaws, left_out) = brought.map_or((None, None, Vec::new()), |(s, f, l)| (Some(s), Some(f), l));
        let report = Report {
            figure: figure.name.clone(),
            stance,
            flaws,
            left_out,
            measures: lines(&figure),
            tapes,
            landmarks: figure.landmarks.iter().map(|(name, at)| LandmarkLine { name: name.clone(), at_mm: at.to_array() }).collect(),
            triangles: figure.surface.triangles.len(),
            contact_triangles: figure.light.as_ref().map_or(figure.surface.triangles.len(), |l| l.triangles.len()),
            bones: figure.rig.skeleton.bones.len(),
            seconds,
        };
        write(path, serde_json::to_string_pretty(&report).map_err(|e| e.to_string())?.as_bytes())?;
    }
    Ok(ExitCode::SUCCESS)
}

/// How the file was taken and what is wrong with it.
fn say(stance: &ImportOrientation, flaws: &Flaws) {
    let text = |axis: Axis| serde_json::to_value(axis).ok().and_then(|v| v.as_str().map(str::to_owned)).unwrap_or_default();
    note!("taken with a unit of {} m, {} up, {} to the front", stance.unit, text(stance.up), text(stance.front));
    if !flaws.is_clean() {
        note!(
            "mended: {} duplicate vertices, {} empty and {} flipped faces, {} holes, {} crowded edges, {} loose parts",
            flaws.duplicates,
            flaws.empty,
            flaws.flipped,
            flaws.holes,
            flaws.crowded,
            flaws.loose
        );
    }
}

/// The tapes of a costume on a figure in its neutral pose.
fn tapes(costume: &Costume, figure: &Body) -> Vec<TapeLine> {
    let line = |tape: &costume::FreeTape| {
        let spots: Vec<SurfacePoint> =
            tape.points.iter().filter_map(|p| SurfacePoint::nearest(&figure.surface, DVec3::from(*p) * 1e-3)).collect();
        TapeLine { name: tape.name.clone(), length_mm: 1000.0 * lay(&figure.surface, &spots, tape.follows, tape.closed).length }
    };
    costume.tapes.iter().map(line).collect()
}
