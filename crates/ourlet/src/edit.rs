//! `ourlet edit`: the same edits as at the table, from a file.

use crate::output::say;
use costume::{Costume, Edit};
use std::path::Path;
use std::process::ExitCode;

/// Largest file of edits in bytes.
const EDITS_BYTES: u64 = 16 << 20;

/// Carries out a list of edits (a JSON array) on a costume file and writes the costume they make. Each edit builds on the
/// ones before; the first that is refused ends it, and nothing is written.
pub fn run(file: &Path, edits: &Path, out: &Path) -> Result<ExitCode, String> {
    let mut costume: Costume = crate::files::read(file)?;
    let failed = |e: &dyn std::fmt::Display| format!("{}: {e}", edits.display());
    let length = std::fs::metadata(edits).map_err(|e| failed(&e))?.len();
    if length > EDITS_BYTES {
        return Err(failed(&format!("{length} bytes are more than a list of edits may have, {EDITS_BYTES}")));
    }
    let text = std::fs::read_to_string(edits).map_err(|e| failed(&e))?;
    let list: Vec<Edit> = serde_json::from_str(&text).map_err(|e| failed(&e))?;
    for (k, edit) in list.iter().enumerate() {
        costume = workroom::apply(&costume, edit).map_err(|refusal| failed(&format!("edit {}: {refusal}", k + 1)))?;
    }
    let written = costume::write(&costume).map_err(|e| e.to_string())?;
    crate::files::write(out, written.as_bytes())?;
    say!("{}: {} edits, {} pieces, {} seams", costume.name, list.len(), costume.pieces.len(), costume.seams.len());
    Ok(ExitCode::SUCCESS)
}
