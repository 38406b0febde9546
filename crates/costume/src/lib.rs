//! The document: one costume with its pieces, seams, fabrics and placements, and the edits that change it.
//!
//! Lengths are millimetres, angles degrees; table coordinates have x to the right and y upwards, and a piece
//! lies with its right side towards the reader. Pure values: no I/O, no clock, no interface words.

mod apply;
mod document;
mod edit;
mod faults;
mod outline;
mod picture;
mod refusal;
mod rules;
mod rules_body;
mod seams;
mod swatch;

pub use apply::apply;
pub use document::{
    BodyChoice, Bow, Contact, Corner, CornerId, Costume, EdgeFinish, FORMAT, Fabric, FabricId, Fineness, FoldLine, FreeTape, KeptPose,
    PartContact, Piece, PieceId, Placement, Point, Print, Run, Seam, SeamId, StandIn, StandInShape, TapeId, limits,
};
pub use edit::{EdgeRef, Edit, Handle};
pub use faults::{Fault, Severity, extents, faults};
pub use outline::{EdgeCurve, edge_curve, edge_length, outline_path, signed_area, size};
pub use picture::{FlatOutline, FlatPicture, flat_picture};
pub use refusal::Refusal;
pub use rules::{fabric as check_fabric, is_name};
pub use seams::{SeamLengths, seam_lengths, side_length};
pub use swatch::{CLOTH_VALUES, ClothValue, Look, SWATCHES, Swatch, swatch};

/// Reads a costume file (`*.ourlet.json`). Refuses damaged files, newer formats and documents that break a rule.
pub fn read(text: &str) -> Result<Costume, Refusal> {
    if text.len() > limits::FILE_BYTES {
        return Err(Refusal::new(
            "costume file",
            format!("{} bytes is more than a costume may have", text.len()),
            format!("keep it under {} bytes", limits::FILE_BYTES),
        ));
    }
    let costume: Costume = serde_json::from_str(text).map_err(|e| {
        Refusal::new("costume file", format!("cannot be read: {e}"), "restore the file from a copy or mend the place that is named")
    })?;
    if costume.format != FORMAT {
        return Err(Refusal::new(
            "costume file",
            format!("has format {}, this build reads {FORMAT}", costume.format),
            "open it with the build that wrote it",
        ));
    }
    rules::check(&costume)?;
    Ok(costume)
}

/// Writes the costume in its open file format, with a final newline.
///
/// ```
/// let costume = costume::Costume::new("Raker's tabard");
/// assert_eq!(costume::read(&costume::write(&costume)?)?, costume);
/// # Ok::<(), costume::Refusal>(())
/// ```
pub fn write(costume: &Costume) -> Result<String, Refusal> {
    let unwritten =
        |e: serde_json::Error| Refusal::new(&costume.name, format!("cannot be written: {e}"), "undo the last step and try again");
    let mut text = serde_json::to_string_pretty(costume).map_err(unwritten)?;
    text.push('\n');
    Ok(text)
}
