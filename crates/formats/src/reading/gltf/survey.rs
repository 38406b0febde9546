//! What the JSON of a glTF file will ask of its parser, counted before it runs: an empty object of three bytes becomes a
//! value of hundreds.

use crate::reading::budget::{Budget, at_most};
use crate::reading::{ReadFault, figure_limits};

/// Most values in lists.
const VALUES: usize = 4_000_000;

/// Counts brackets and entries of the JSON before it is parsed, so that a hostile file costs nothing.
pub(super) fn survey(bytes: &[u8], budget: &mut Budget) -> Result<(), ReadFault> {
    let (mut depth, mut values, mut objects) = (0usize, 0, 0);
    let (mut quoted, mut escaped) = (false, false);
    for b in json(bytes) {
        if quoted {
            match b {
                _ if escaped => escaped = false,
                b'\\' => escaped = true,
                b'"' => quoted = false,
                _ => {}
            }
            continue;
        }
        match b {
            b'"' => quoted = true,
            b'{' | b'[' => {
                depth += 1;
                objects += usize::from(*b == b'{');
                at_most("nested brackets", depth, figure_limits::DEPTH)?;
            }
            b'}' | b']' => depth = depth.saturating_sub(1),
            b',' => values += 1,
            _ => {}
        }
    }
    at_most("values", values, VALUES)?;
    at_most("objects", objects, 4 * figure_limits::ENTRIES)?;
    budget.entries(0)
}

/// The JSON part: all of a text file, the first chunk of a binary one.
fn json(bytes: &[u8]) -> &[u8] {
    if !bytes.starts_with(b"glTF") {
        return bytes;
    }
    let length = bytes.get(12..16).map_or(0, |b| u32::from_le_bytes([b[0], b[1], b[2], b[3]]) as usize);
    bytes.get(20..).map_or(&[], |rest| &rest[..rest.len().min(length)])
}
