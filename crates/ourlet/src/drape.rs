//! `ourlet drape`: from a costume file to a garment file.

use crate::figure::bring;
use crate::files::{kind_of, read, read_pose, write, write_mesh};
use crate::options::{DrapeOptions, StanceOptions};
use crate::output::{note, progress};
use body::{Body, Pose};
use cloth::Drape;
use costume::{Costume, Fineness};
use std::collections::BTreeSet;
use std::io::{IsTerminal, Write};
use std::process::ExitCode;
use std::sync::Arc;
use std::time::Instant;
use workroom::{Assembly, ContactBody, DeliverOptions, Layout, PoseMotion, Prints, STEPS_A_FRAME, deliver, drape_report, drape_to_rest};

pub fn run(options: &DrapeOptions) -> Result<ExitCode, String> {
    for path in [&options.out, &options.body_out].into_iter().flatten() {
        kind_of(path)?;
    }
    let costume = worn(&options.file, options.preset.as_deref(), options.fineness.as_deref(), options.figure.is_some())?;
    let pose = options.pose.as_deref().map(read_pose).transpose()?;
    let started = Instant::now();
    let result = with_threads(options.threads, || -> Result<_, String> {
        let figure = wearer(&costume, options.figure.as_deref(), &options.stance)?;
        hang_and_move(&costume, figure, pose.as_ref(), options)
    })?;
    let (assembly, drape) = result?;
    let report = drape_report(&assembly, &drape, started.elapsed().as_secs_f64());
    write_files(options, &assembly, &drape)?;
    if let Some(path) = &options.report {
        let text = serde_json::to_string_pretty(&report).map_err(|e| e.to_string())?;
        write(path, text.as_bytes())?;
    }
    for finding in &report.findings {
        note!("ourlet: {}", finding.words);
    }
    note!("{} triangles, {:.1} s simulated in {:.1} s", report.triangles, report.simulated_seconds, report.wall_seconds);
    Ok(if report.is_good() { ExitCode::SUCCESS } else { ExitCode::from(1) })
}

/// The costume of a file on the size and at the fineness that were asked for, or plainly on a size when a figure wears it.
pub fn worn(file: &std::path::Path, preset: Option<&str>, wanted: Option<&str>, by_figure: bool) -> Result<Costume, String> {
    let mut costume = read(file)?;
    if let Some(preset) = preset {
        // another size in the same pose; blocks are drafted anew for it
        let body = costume::BodyChoice { preset: preset.to_owned(), overrides: Default::default(), figure: None, ..costume.body.clone() };
        costume = workroom::apply(&costume, &costume::Edit::ChooseBody { body }).map_err(|e| e.to_string())?;
    }
    if let Some(text) = wanted {
        costume.fineness = fineness(text)?;
    }
    if by_figure {
        costume.body = costume::BodyChoice::size(&costume.body.preset);
    }
    Ok(costume)
}

/// The figure from a file, or that of the costume.
pub fn wearer(costume: &Costume, figure: Option<&std::path::Path>, stance: &StanceOptions) -> Result<Arc<Body>, String> {
    match figure {
        Some(path) => bring(path, stance).map(|b| Arc::new(b.figure)),
        None => workroom::figure(&costume.body).map(Arc::new).map_err(|e| e.to_string()),
    }
}

/// Hangs costumes on a figure.
pub fn hung_on(figure: Arc<Body>) -> impl FnMut(&Costume) -> Result<Assembly, costume::Refusal> {
    move |costume| workroom::hang(costume, |reached| ContactBody::of(costume, figure.clone(), reached))
}

/// Drapes in the pose of the file, then on the way to the pose that was asked for.
fn hang_and_move(costume: &Costume, figure: Arc<Body>, pose: Option<&Pose>, options: &DrapeOptions) -> Result<(Assembly, Drape), String> {
    let refused = |e: costume::Refusal| e.to_string();
    let mut assembly = hung_on(figure.clone())(costume).map_err(refused)?;
    let mut drape = Drape::new(assembly.scene.clone()).map_err(|e| e.to_string())?;
    to_rest(&mut assembly, &mut drape, options.limit)?;
    if let Some(pose) = pose {
        let mut posed = costume.clone();
        posed.body.pose = pose.bones.clone();
        let out = assembly.form.out.clone();
        let mut motion = PoseMotion::new(figure.clone(), &costume.body, &posed.body, out, usize::from(options.frames)).map_err(refused)?;
        note!("moving the body over {} frames", motion.frames());
        let seconds = f64::from(drape.scene().settings.time_step) * STEPS_A_FRAME as f64;
        while let Some(body) = motion.advance(seconds) {
            drape.set_body(body);
            for _ in 0..STEPS_A_FRAME {
                drape.step();
            }
        }
        let reached = assembly.form.taking_in(&posed.body, BTreeSet::new());
        let form = ContactBody::of(&posed, figure, &reached).map_err(refused)?;
        drape.set_body(form.still());
        assembly = Assembly { costume: posed, form, ..assembly };
        let limit = drape.time() + options.limit;
        to_rest(&mut assembly, &mut drape, limit)?;
    }
    Ok((assembly, drape))
}

/// The body of a costume, ready for cloth.
pub fn body_of(costume: &Costume) -> Result<ContactBody, String> {
    let figure = workroom::figure(&costume.body).map_err(|e| e.to_string())?;
    ContactBody::of(costume, figure.into(), &BTreeSet::new()).map_err(|e| e.to_string())
}

/// Runs a job with the asked number of threads.
pub fn with_threads<T: Send>(threads: Option<u8>, job: impl FnOnce() -> T + Send) -> Result<T, String> {
    let count = usize::from(threads.unwrap_or(0));
    let pool = rayon::ThreadPoolBuilder::new().num_threads(count).build().map_err(|e| e.to_string())?;
    Ok(pool.install(job))
}

/// Drapes until the cloth rests or the limit of simulated seconds is reached; shows progress on a terminal.
pub fn to_rest(assembly: &mut Assembly, drape: &mut Drape, limit: f64) -> Result<(), String> {
    let show = std::io::stderr().is_terminal();
    let mut count = 0;
    let progress = |step: &cloth::StepReport| {
        count += 1;
        if show && count % 20 == 0 {
            let (fast, open) = (step.fastest * 1000.0, step.open_pairs);
            progress!("\r{:>6.2} s  fastest {fast:>7.1} mm/s  open pairs {open:>4}  {:?}   ", step.time, step.phase);
            let _ = std::io::stderr().flush();
        }
    };
    drape_to_rest(assembly, drape, limit, progress).map_err(|e| e.to_string())?;
    if show {
        note!("");
    }
    Ok(())
}

fn fineness(text: &str) -> Result<Fineness, String> {
    match text {
        "toile" => Ok(Fineness::Toile),
        "sample" => Ok(Fineness::Sample),
        "final" => Ok(Fineness::Final),
        _ => {
            let mm = text.strip_suffix("mm").and_then(|v| v.trim().parse::<f64>().ok()).filter(|v| costume::limits::FINENESS.contains(v));
            mm.map(Fineness::Custom)
                .ok_or_else(|| format!("`{text}` is no fineness; write toile, sample, final or a length from 4mm to 60mm"))
        }
    }
}

fn write_files(options: &DrapeOptions, assembly: &Assembly, drape: &Drape) -> Result<(), String> {
    if let Some(path) = &options.out {
        let stem = path.file_stem().and_then(|s| s.to_str()).unwrap_or("garment");
        let wanted = DeliverOptions {
            kind: kind_of(path)?,
            welded: !options.open_seams,
            layout: Layout::Metres,
            with_body: false,
            ..DeliverOptions::default()
        };
        let delivery = deliver(assembly, &drape.positions(), drape.fused_with(), &wanted, &Prints::of_motifs(&assembly.costume), stem)
            .map_err(|e| e.to_string())?;
        for (name, bytes) in &delivery.files {
            write(&path.with_file_name(name), bytes)?;
        }
    }
    if let Some(path) = &options.picture {
        write(
            path,
            &workroom::picture(
                assembly,
                &drape.positions(),
                drape.fused_with(),
                &Prints::of_motifs(&assembly.costume),
                (640, 900),
                options.turn,
            ),
        )?;
    }
    if let Some(path) = &options.body_out {
        write_mesh(path, workroom::body_mesh(&assembly.form))?;
    }
    Ok(())
}
