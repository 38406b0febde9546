//! Trying a costume on: on many bodies one after the other, and over and over until it has the ease that is wanted.

mod easing;
mod free;
mod limits;
mod mesh_check;
mod sheet;
mod sizes;
mod trial;

pub use easing::{EaseAsked, EaseOutcome, EaseTry, Tried, WantedEase, ease_outcome, fit_to_ease, usual_values};
pub use free::{FreeValue, PieceChange, SizeChange};
pub use limits::{EaseKind, passed_limits, wanted_ranges};
pub use mesh_check::{LaidOut, LayoutCheck, MeshCheck, garment_positions};
pub use sheet::{FabricRow, FittingSheet, fitting_sheet, sheet_pdf, sheet_pictures};
pub use sizes::{SizeRow, in_sizes, on_body, size_row};
pub use trial::{LIMIT, Trial};
