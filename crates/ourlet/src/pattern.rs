//! `ourlet pattern` and `ourlet read`: the flat pieces as drawings for other programs, and from them.

use crate::output::{note, say};
use costume::{Costume, Point};
use formats::paper::Paper;
use std::path::Path;
use std::process::ExitCode;

/// Writes all pieces at true scale, as SVG, as DXF or as a scanned sheet by the ending.
pub fn run(file: &Path, out: &Path, dpi: f64, tilt: f64) -> Result<ExitCode, String> {
    let costume: Costume = crate::files::read(file)?;
    let ends = |ending: &str| out.extension().is_some_and(|e| e.eq_ignore_ascii_case(ending));
    let bytes = if ends("dxf") {
        workroom::pattern_dxf(&costume).map_err(|e| e.to_string())?
    } else if ends("png") {
        let scanning = formats::Scanning { dpi: dpi.clamp(20.0, 1200.0), tilt, grain: 0 };
        let (sheet, _) = formats::sheet(&workroom::plain_pieces(&costume), &scanning).ok_or_else(|| {
            format!("{}: it has no piece, or its sheet would be too large; lay the pieces closer or choose fewer dpi", file.display())
        })?;
        formats::grey_png(&sheet, scanning.dpi)
    } else {
        workroom::pattern_svg(&costume).ok_or_else(|| format!("{}: it has no piece", file.display()))?.into_bytes()
    };
    crate::files::write(out, &bytes)?;
    say!("{}: {} pieces", costume.name, costume.pieces.len());
    Ok(ExitCode::SUCCESS)
}

/// Writes all pieces on paper at true scale, in several sizes if they are named.
pub fn print(file: &Path, out: &Path, paper: &str, sizes: &[String]) -> Result<ExitCode, String> {
    let costume: Costume = crate::files::read(file)?;
    let paper = match paper {
        "a4" => Paper::A4,
        "a3" => Paper::A3,
        "letter" => Paper::Letter,
        "a0" => Paper::A0,
        other => {
            let wide = other.strip_prefix("roll:").map(crate::wanted::length).transpose()?.filter(|mm| (100.0..=5000.0).contains(mm));
            Paper::Roll(
                wide.ok_or_else(|| format!("`{other}` is no paper; write a4, a3, letter, a0 or a roll of 10 to 500 cm: roll:91cm"))?,
            )
        }
    };
    let bytes = workroom::pattern_pdf(&costume, &crate::sizes::in_sizes(&costume, sizes)?, paper).map_err(|e| e.to_string())?;
    crate::files::write(out, &bytes)?;
    say!("{}: {} pieces", costume.name, costume.pieces.len());
    Ok(ExitCode::SUCCESS)
}

/// Reads the pieces of a drawing into a costume file; what is not understood is told.
pub fn read(file: &Path, out: &Path) -> Result<ExitCode, String> {
    let bytes = std::fs::read(file).map_err(|e| format!("{}: {e}", file.display()))?;
    let name = file.file_name().map(|n| n.to_string_lossy().into_owned()).unwrap_or_default();
    let found = workroom::pieces_from(&name, &bytes, Point::new(0.0, 0.0)).map_err(|e| e.to_string())?;
    for left in &found.left_out {
        note!("ourlet: {left}");
    }
    let stem = file.file_stem().map(|n| n.to_string_lossy().into_owned()).unwrap_or_default();
    let named = if costume::is_name(&stem) { stem } else { "Pattern".into() };
    let made = costume::apply(&Costume::new(&named), &found.edit).map_err(|e| e.to_string())?;
    crate::files::write(out, costume::write(&made).map_err(|e| e.to_string())?.as_bytes())?;
    say!("{}: {} pieces", made.name, made.pieces.len());
    Ok(ExitCode::SUCCESS)
}
