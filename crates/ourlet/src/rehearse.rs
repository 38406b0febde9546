//! `ourlet rehearse`: a costume on a body in motion, frame by frame, to an animated garment.

use crate::drape::{to_rest, wearer, with_threads, worn};
use crate::files::write;
use crate::options::RehearseOptions;
use crate::output::note;
use cloth::Drape;
use formats::{AnimatedMesh, ExportMesh};
use serde::Serialize;
use std::path::Path;
use std::process::ExitCode;
use std::time::Instant;
use workroom::ContactBody;
use workroom::rehearsal::{
    AnimatedKind, BodyMotion, FrameReport, MotionChoice, MotionFile, Plan, Rehearsal, WindKey, animated, motion_names,
};

/// Longest motion file, bytes.
const LONGEST_FILE: u64 = 4_000_000;

/// What the report file holds.
#[derive(Serialize)]
struct Report {
    costume: String,
    motion: String,
    fps: f64,
    triangles: usize,
    drape_seconds: f64,
    rehearsal_seconds: f64,
    frames: Vec<FrameReport>,
}

pub fn run(options: &RehearseOptions) -> Result<ExitCode, String> {
    if options.motion == "list" {
        motion_names().iter().for_each(|(key, name)| note!("{key}: {name}"));
        return Ok(ExitCode::SUCCESS);
    }
    for path in options.out.iter().chain(&options.body_out) {
        kind(path)?;
    }
    let motion = named(&options.motion)?;
    if matches!(motion, MotionChoice::Clip(_) | MotionChoice::Skin) && options.figure.is_none() {
        return Err(format!("`{}` comes with a figure; name its file with --figure", options.motion));
    }
    let wind = options.wind.as_deref().map(wind).transpose()?.into_iter().collect();
    let (substeps, clearance) = (options.substeps, options.clearance);
    let plan = Plan { fps: options.fps, lead_in: options.lead_in, settle: options.settle, substeps, clearance, wind, ..Plan::default() };
    plan.check().map_err(|e| e.to_string())?;
    with_threads(options.threads, || rehearsed(options, motion, plan))?
}

fn rehearsed(options: &RehearseOptions, motion: MotionChoice, plan: Plan) -> Result<ExitCode, String> {
    let refused = |e: costume::Refusal| e.to_string();
    let costume = worn(&options.file, options.preset.as_deref(), options.fineness.as_deref(), options.figure.is_some())?;
    let started = Instant::now();
    let figure = wearer(&costume, options.figure.as_deref(), &options.stance)?;
    let mut assembly = workroom::hang(&costume, |reached| ContactBody::of(&costume, figure.clone(), reached)).map_err(refused)?;
    let mut drape = Drape::new(assembly.scene.clone()).map_err(|e| e.to_string())?;
    to_rest(&mut assembly, &mut drape, options.limit)?;
    let drape_seconds = started.elapsed().as_secs_f64();
    let motion = motion.on(&figure).map_err(refused)?;
    let (name, started) = (motion.name.clone(), Instant::now());
    let mut rehearsal = Rehearsal::new(assembly, drape, motion, plan.clone()).map_err(refused)?;
    let mut garment = AnimatedMesh::of(&rehearsal.garment(), plan.fps);
    let mut body = AnimatedMesh::of(&rehearsal.body(), plan.fps);
    let (mut reports, mut stills): (Vec<FrameReport>, Vec<ExportMesh>) = (Vec::new(), Vec::new());
    let every = rehearsal.delivered().div_ceil(options.count.max(1)).max(1) as i64;
    while let Some(report) = rehearsal.advance() {
        if report.frame >= 0 {
            let now = rehearsal.garment();
            if report.frame == 0 {
                stills = vec![now.clone(), rehearsal.body()];
            }
            garment.frames.push(now.positions);
            if !options.body_out.is_empty() {
                body.frames.push(rehearsal.skin().0);
            }
            if let Some(folder) = options.pictures.as_ref().filter(|_| report.frame % every == every / 2) {
                std::fs::create_dir_all(folder).map_err(|e| format!("{}: {e}", folder.display()))?;
                write(&folder.join(format!("frame-{:04}.png", report.frame)), &rehearsal.picture(640, 800, options.turn))?;
            }
        }
        if !report.is_good() {
            let piece = report.crossing_piece.as_deref().unwrap_or("cloth");
            let cause = report.cause.map_or("", |c| c.in_words());
            note!(
                "frame {}: {} crossings with the body, {} with cloth, at {piece}: {cause}",
                report.frame,
                report.through_body,
                report.through_cloth
            );
        }
        reports.push(report);
    }
    let rehearsal_seconds = started.elapsed().as_secs_f64();
    for path in &options.out {
        deliver(path, &garment, stills.first())?;
    }
    for path in &options.body_out {
        deliver(path, &body, stills.get(1))?;
    }
    let bad = reports.iter().filter(|r| !r.is_good()).count();
    let worst = reports.iter().map(|r| r.strain_p99).fold(0.0, f64::max);
    let fastest = reports.iter().map(|r| r.fastest).fold(0.0, f32::max);
    let triangles = garment.triangles.len();
    note!(
        "{triangles} triangles, {} frames in {rehearsal_seconds:.1} s; {bad} with crossings, strain p99 up to {:.1} %, up to {fastest:.1} m/s",
        reports.len(),
        100.0 * worst
    );
    if let Some(path) = &options.report {
        let report =
            Report { costume: costume.name, motion: name, fps: plan.fps, triangles, drape_seconds, rehearsal_seconds, frames: reports };
        write(path, serde_json::to_string_pretty(&report).map_err(|e| e.to_string())?.as_bytes())?;
    }
    Ok(if bad == 0 { ExitCode::SUCCESS } else { ExitCode::from(1) })
}

fn kind(path: &Path) -> Result<AnimatedKind, String> {
    AnimatedKind::of(&path.display().to_string()).map_err(|e| e.to_string())
}

fn deliver(path: &Path, mesh: &AnimatedMesh, first: Option<&ExportMesh>) -> Result<(), String> {
    let first = first.ok_or("the motion has no frames")?;
    let stem = path.file_stem().map_or_else(String::new, |s| s.to_string_lossy().into_owned());
    let delivery = animated(kind(path)?, mesh, first, &stem).map_err(|e| e.to_string())?;
    let folder = path.parent().unwrap_or(Path::new(""));
    delivery.files.iter().try_for_each(|(name, bytes)| write(&folder.join(name), bytes))
}

fn named(text: &str) -> Result<MotionChoice, String> {
    if motion_names().iter().any(|m| m.0 == text) {
        return Ok(MotionChoice::Named(text.into()));
    }
    if text == "skin" {
        return Ok(MotionChoice::Skin);
    }
    if let Some(number) = text.strip_prefix("clip:") {
        let number: usize = number.parse().ok().filter(|n| *n > 0).ok_or_else(|| format!("`{text}` is no motion; count from clip:1"))?;
        return Ok(MotionChoice::Clip(number - 1));
    }
    let path = Path::new(text);
    if path.extension().is_none_or(|e| e != "json") {
        let keys: Vec<&str> = motion_names().iter().map(|m| m.0).collect();
        return Err(format!("there is no motion `{text}`; choose one of {}, skin, clip:1 or a .json file", keys.join(", ")));
    }
    let size = std::fs::metadata(path).map_err(|e| format!("{text}: {e}"))?.len();
    if size > LONGEST_FILE {
        return Err(format!("{text} is longer than 4 MB; leave out poses"));
    }
    let read = std::fs::read_to_string(path).map_err(|e| format!("{text}: {e}"))?;
    let file: MotionFile = serde_json::from_str(&read).map_err(|e| format!("{text} holds no motion: {e}; give it a name and keys"))?;
    BodyMotion::try_from(file.clone()).map_err(|e| e.to_string())?;
    Ok(MotionChoice::Poses(Box::new(file)))
}

/// `4m/s@90`: so fast, coming from so many degrees to the left of the front.
fn wind(text: &str) -> Result<WindKey, String> {
    let no = || format!("`{text}` is no wind; write it like 4m/s@90, at most 30 m/s");
    let (speed, from) = text.split_once('@').unwrap_or((text, "0"));
    let speed: f64 = speed.trim().trim_end_matches("m/s").trim().parse().map_err(|_| no())?;
    let from: f64 = from.trim().parse().map_err(|_| no())?;
    if !(0.0..=30.0).contains(&speed) || !(-360.0..=360.0).contains(&from) {
        return Err(no());
    }
    Ok(WindKey { time: 0.0, speed, from })
}

#[cfg(test)]
mod tests {
    use super::wind;

    #[test]
    fn wind_is_read_as_it_is_written() {
        let read = wind("4m/s@90").expect("a wind");
        assert_eq!((read.speed, read.from), (4.0, 90.0));
        assert_eq!(wind("3").map(|w| (w.speed, w.from)), Ok((3.0, 0.0)));
        for odd in ["", "m/s", "99m/s@0", "4@x", "NaN@0", "4@1e9"] {
            assert!(wind(odd).is_err(), "{odd}");
        }
    }
}
