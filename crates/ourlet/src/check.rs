//! `ourlet check`: what a costume file still lacks.

use crate::output::say;
use costume::Severity;
use std::path::Path;
use std::process::ExitCode;
use workroom::diagnostics;

pub fn run(file: &Path) -> Result<ExitCode, String> {
    let costume = crate::files::read(file)?;
    let found = diagnostics(&costume);
    for fault in &found {
        let grade = if fault.severity == Severity::Error { "stops the drape" } else { "advice" };
        say!("{grade}: {} {}. {}", fault.item, fault.reason, fault.remedy);
    }
    say!("{}: {} pieces, {} seams, {} findings", costume.name, costume.pieces.len(), costume.seams.len(), found.len());
    Ok(if found.iter().any(|f| f.severity == Severity::Error) { ExitCode::from(1) } else { ExitCode::SUCCESS })
}
