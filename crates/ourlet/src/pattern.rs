//! `ourlet pattern`: the flat pieces as a drawing.

use crate::output::say;
use costume::Costume;
use std::path::Path;
use std::process::ExitCode;

/// Writes all pieces as SVG; one user unit is a millimetre.
pub fn run(file: &Path, out: &Path) -> Result<ExitCode, String> {
    let costume: Costume = crate::files::read(file)?;
    let text = workroom::pattern_svg(&costume).ok_or_else(|| format!("{}: it has no piece", file.display()))?;
    crate::files::write(out, text.as_bytes())?;
    say!("{}: {} pieces", costume.name, costume.pieces.len());
    Ok(ExitCode::SUCCESS)
}
