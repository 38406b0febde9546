//! `ourlet check`: what a costume file lacks, how it fits when it is draped, and what a mesh is like.

use crate::drape::{with_threads, worn};
use crate::figure::read_mesh;
use crate::files::write;
use crate::options::CheckOptions;
use crate::output::{note, say};
use crate::sizes::Wearer;
use costume::Severity;
use std::process::ExitCode;
use workroom::{MeshCheck, Trial, diagnostics, fitting_sheet, on_body, sheet_pdf, sheet_pictures};

pub fn run(options: &CheckOptions) -> Result<ExitCode, String> {
    if options.file.extension().is_none_or(|e| e != "json") {
        return mesh(options);
    }
    let status = diagnosed(options)?;
    if options.body.is_none() && options.judging.report.is_none() && options.sheet.is_none() && options.judging.wanted.is_empty() {
        return Ok(status);
    }
    worn_by(options)
}

/// What stops the drape, and advice.
fn diagnosed(options: &CheckOptions) -> Result<ExitCode, String> {
    let costume = crate::files::read(&options.file)?;
    let found = diagnostics(&costume);
    for fault in &found {
        let grade = if fault.severity == Severity::Error { "stops the drape" } else { "advice" };
        say!("{grade}: {} {}. {}", fault.item, fault.reason, fault.remedy);
    }
    say!("{}: {} pieces, {} seams, {} findings", costume.name, costume.pieces.len(), costume.seams.len(), found.len());
    Ok(if found.iter().any(|f| f.severity == Severity::Error) { ExitCode::from(1) } else { ExitCode::SUCCESS })
}

/// Drapes it and judges how it fits.
fn worn_by(options: &CheckOptions) -> Result<ExitCode, String> {
    let mut costume = worn(&options.file, None, options.judging.fineness.as_deref(), false)?;
    crate::wanted::want(&mut costume, &options.judging.wanted)?;
    let wearer = match &options.body {
        Some(body) => Wearer::of(body, &options.judging.stance)?,
        None => Wearer::Size(costume.body.clone()),
    };
    let costume = on_body(&costume, &wearer.choice(&costume)).map_err(|e| e.to_string())?;
    let sheet = with_threads(options.judging.threads, || -> Result<_, String> {
        let trial = Trial::of(&costume, &mut |c| wearer.hang(c), None, &mut || true).map_err(|e| e.to_string())?;
        let Trial { assembly, drape, report } = trial.ok_or("it was told to end")?;
        let sheet = fitting_sheet(&assembly, &drape, report);
        let pictures = options.sheet.as_ref().map(|_| sheet_pictures(&assembly, &drape.positions(), drape.fused_with()));
        Ok((sheet, pictures))
    })?;
    let (mut sheet, pictures) = sheet?;
    if let Wearer::Figure(file, _) = &wearer {
        sheet.report.body.clone_from(file);
    }
    if let Some(path) = &options.judging.report {
        write(path, serde_json::to_string_pretty(&sheet).map_err(|e| e.to_string())?.as_bytes())?;
    }
    if let (Some(path), Some(pictures)) = (&options.sheet, pictures) {
        write(path, &sheet_pdf(&sheet, &pictures)?)?;
    }
    for g in &sheet.report.girths {
        let remark = g.remark().map_or(String::new(), |r| format!(" ({r})"));
        say!("{:<24} garment {:>6.1}  body {:>6.1}  ease {:>+6.1} cm{remark}", g.name, g.garment / 10.0, g.body / 10.0, g.ease / 10.0);
    }
    for words in &sheet.passed {
        note!("ourlet: {words}");
    }
    Ok(if sheet.passed.is_empty() { ExitCode::SUCCESS } else { ExitCode::from(1) })
}

/// Judges a mesh from elsewhere as it is.
fn mesh(options: &CheckOptions) -> Result<ExitCode, String> {
    if options.sheet.is_some() || options.judging.fineness.is_some() || !options.judging.wanted.is_empty() {
        return Err(format!("{}: a sheet, a fineness and wanted ease are for costumes", options.file.display()));
    }
    let (positions, file) = read_mesh(&options.file, &options.judging.stance)?;
    let wearer = options.body.as_deref().map(|b| Wearer::of(b, &options.judging.stance)).transpose()?;
    let form = wearer.as_ref().map(|w| w.form()).transpose()?;
    let found = MeshCheck::of_file(&positions, &file, form.as_ref());
    if let Some(path) = &options.judging.report {
        write(path, serde_json::to_string_pretty(&found).map_err(|e| e.to_string())?.as_bytes())?;
    }
    for line in found.lines() {
        say!("{line}");
    }
    for words in &found.passed {
        note!("ourlet: {words}");
    }
    Ok(if found.passed.is_empty() { ExitCode::SUCCESS } else { ExitCode::from(1) })
}
