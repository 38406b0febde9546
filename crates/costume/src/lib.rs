//! The document: one costume with its pieces, seams, fabrics and placements, and the edits that change it.
//!
//! Lengths are millimetres, angles degrees; table coordinates have x to the right and y upwards, and a piece
//! lies with its right side towards the reader. Pure values: no I/O, no clock, no interface words.
//!
//! ```
//! use costume::{Costume, Edit, LoopPoint, Point, apply, resolve};
//!
//! // a square of 20 cm, and a corner of it moved out by 5 cm
//! let square = [(0.0, 0.0), (200.0, 0.0), (200.0, 200.0), (0.0, 200.0)].map(|(x, y)| LoopPoint { x, y, handles: None });
//! let drawn = Edit::AddPiece { name: "Patch".into(), at: Point::new(0.0, 0.0), points: square.to_vec(), fold: None };
//! let costume = apply(&Costume::new("Apron"), &drawn)?;
//! let piece = &costume.pieces[0];
//! let corner = piece.drawing().expect("its own drawing").nodes[2].id;
//! let moved = apply(&costume, &Edit::MoveNode { piece: piece.id, node: corner, to: Point::new(200.0, 250.0) })?;
//! // its right side is longer by as much
//! let side = resolve(&moved).pieces[0].lines[1].length;
//! assert!((side - 250.0).abs() < 1e-9);
//! # Ok::<(), costume::Refusal>(())
//! ```

mod apply;
mod blocks;
mod clip;
mod curve;
mod diagnostics;
mod document;
mod drawn;
mod edit;
mod fit;
mod migrate;
mod mirror;
mod pattern;
mod picture;
mod projective;
mod refusal;
mod rules;
mod sewing;
mod swatch;

pub use apply::{apply, apply_on};
pub use blocks::{BlockValue, RECIPES, Recipe, recipe};
pub use clip::clip;
pub use curve::{arc_length, line_curve, parameter, point_at, share};
pub use diagnostics::{Diagnostic, DiagnosticKind, Mend, MendKind, Severity, diagnostics};
pub use document::{
    AllowanceCorner, Along, AlongId, BandLevel, BlockId, BlockUse, BodyChoice, Closure, ClosureKind, Contact, Costume, CutPlan, Drawing,
    Ease, FORMAT, Fabric, FabricId, Fineness, Finish, FreeTape, InsidePath, KeptPose, Lacing, Line, LineId, Mark, MarkId, Node, NodeId,
    NodeKind, Note, NoteId, Paint, PaintKind, PaintUse, PartContact, PathId, Piece, PieceId, Placement, Point, Print, PrintPlace, Purpose,
    Raster, RoughSpot, Run, SIDE, Seam, SeamId, SeamMake, SeamTape, Shape, SkinHold, StandIn, StandInShape, TapeId, TopStitch, Underlay,
    UnderlayId, limits,
};
pub use drawn::{drawn_loop, drawn_path, handles};
pub use edit::{Anchor, Arrangement, Basic, Edit, LineEnd, LineRef, LoopPoint, Pleat, Spot, SpreadBy, Stroke};
pub use migrate::from_value;
pub use pattern::{
    Pattern, PatternAlong, PatternLine, PatternMark, PatternNode, PatternPath, PatternPiece, PatternRun, PatternSeam, SeamLengths, resolve,
};
pub use picture::{FlatOutline, FlatPicture, flat_picture};
pub use projective::Projective;
pub use refusal::{Counted, LineSpot, Quantity, Refusal, RefusalKind, Thing};
pub use rules::{check_print, fabric as check_fabric, is_name};
pub use sewing::Joints as Joined;
pub use sewing::together as sewn_together;
pub use sewing::{Judgement, LEAST_GATHER, SeamKind, ease_limit, judge, stretch_limit};
pub use sewing::{StitchRow, top_stitching};
pub use sewing::{Walked, walk};
pub use swatch::{CLOTH_VALUES, ClothValue, Look, SWATCHES, Swatch, swatch};

/// Reads a costume file (`*.ourlet.json`), also of an earlier format. Refuses damaged files, newer formats and documents
/// that break a rule.
pub fn read(text: &str) -> Result<Costume, Refusal> {
    if text.len() > limits::FILE_BYTES {
        let kind = RefusalKind::TooLarge { bytes: text.len(), most: limits::FILE_BYTES, made: false };
        return Err(Refusal::of("costume file", kind));
    }
    let costume = migrate::from_text(text)?;
    check(&costume)?;
    Ok(costume)
}

/// Whether a document obeys all rules; the first that is broken is returned.
pub fn check(costume: &Costume) -> Result<(), Refusal> {
    rules::check(costume, None).map(|_| ())
}

/// Writes the costume in its open file format, with a final newline.
///
/// ```
/// let costume = costume::Costume::new("Raker's tabard");
/// assert_eq!(costume::read(&costume::write(&costume)?)?, costume);
/// # Ok::<(), costume::Refusal>(())
/// ```
pub fn write(costume: &Costume) -> Result<String, Refusal> {
    let unwritten = |e: serde_json::Error| Refusal::of(&costume.name, RefusalKind::Unwritten { found: e.to_string() });
    let mut text = serde_json::to_string_pretty(costume).map_err(unwritten)?;
    text.push('\n');
    Ok(text)
}
