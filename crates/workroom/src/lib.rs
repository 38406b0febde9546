//! Takes one costume through the whole job: assemble, drape, check, deliver. The only room that knows all the others.
//!
//! ```
//! use costume::{Costume, Edit, LoopPoint, Point, apply};
//!
//! // a panel that no station holds yet cannot be draped, and the diagnostic says so
//! let panel = [(0.0, 0.0), (400.0, 0.0), (400.0, 600.0), (0.0, 600.0)].map(|(x, y)| LoopPoint { x, y, handles: None });
//! let drawn = Edit::AddPiece { name: "Panel".into(), at: Point::new(0.0, 0.0), points: panel.to_vec(), fold: None };
//! let apron = apply(&Costume::new("Apron"), &drawn)?;
//! assert!(workroom::diagnostics(&apron).iter().any(|d| d.item == "Panel" && d.reason.contains("no station")));
//! // its mesh can be looked at all the same: edges of about 20 mm
//! let meshes = workroom::meshes(&apron)?;
//! assert!(meshes[0].1.triangles.len() > 1000);
//! # Ok::<(), costume::Refusal>(())
//! ```

mod assemble;
mod blocks;
mod carry;
mod check;
mod construct;
mod contact;
mod delivery;
mod draping;
mod figures;
mod fits;
mod fitting;
mod flat;
mod folding;
mod form;
pub mod half_circle;
mod hanging;
mod holding;
mod imported;
mod issue;
pub mod laboratory;
mod laying;
mod lying;
mod motion;
mod openings;
mod piece_range;
mod place;
mod prints;
mod proposals;
mod references;
pub mod rehearsal;
mod report;
mod standing;
mod steering;
mod tracing;
mod words;

pub use assemble::{Assembly, assemble, cloth_fabric, hang, meshes};
pub use blocks::body_measures;
pub use carry::{carry, carry_cloth, carry_error};
pub use check::{
    BalanceRow, BearerRow, Carried, CheckMap, CheckReport, CrossingKind, CrossingPlace, DragLine, GirthRow, HangReport, HemRow, LengthRow,
    StretchRow, apart, carried, check, check_map, crossings, pushed_out,
};
pub use contact::{Solid, left_out};
pub use delivery::{
    DeliverOptions, Delivery, DeliveryManifest, DeliveryPreview, Faces, FileKind, LIGHTER, Layout, MOST_LEVELS, Prepared, SMOOTHEST,
    TEXTURES, THICKEST, ThickSide, TilesPreview, Unit, body_clip, body_mesh, deliver, delivery_preview, picture,
};
pub use draping::drape_to_rest;
pub use figures::{ImportedFigure, flaws, foreign_figure, read_arrival};
pub use fits::{
    EaseAsked, EaseKind, EaseOutcome, EaseTry, FabricRow, FittingSheet, FreeValue, LIMIT, LaidOut, LayoutCheck, MeshCheck, PieceChange,
    SizeChange, SizeRow, Trial, Tried, WantedEase, ease_outcome, fit_to_ease, fitting_sheet, garment_positions, in_sizes, on_body,
    passed_limits, sheet_pdf, sheet_pictures, size_row, usual_values, wanted_ranges,
};
pub use fitting::{Fitting, KeptMesh};
pub use flat::{MOST_NESTED, nested_pieces, pattern_dxf, pattern_pdf, pattern_svg, plain_pieces};
pub use form::{ContactBody, figure, pose, pose_refusal, rough_figure};
pub use hanging::{Hanging, hang_by_seams};
pub use imported::{ReadEdit, pieces_from};
pub use issue::{Cause, IssueMonitor, SimulationIssue};
pub use laying::{Cut, CutterWay, FabricPlan, LaidPiece, LayOptions, MOST_LAID, WIDTHS, cutter_way, laying_plan, plan_svg, to_lay};
pub use motion::{PoseMotion, STEPS_A_FRAME};
pub use openings::{differs_in_openings, reopened};
pub use piece_range::PieceRange;
pub use prints::{MOTIFS, Motif, PictureFiles, Prints, motif, print_tile};
pub use proposals::{Proposal, partners, what_fits};
pub use references::{apply, apply_on, diagnostics, diagnostics_of};
pub use report::{CrossingCount, DrapeReport, SeamGap, StrainFigures, drape_report, report_of};
pub use standing::{Finding, FindingKind, before_draping, standing};
pub use steering::{Grip, grips};
pub use tracing::{RulerTicks, TracedOutline, ruler_ticks, trace_outline};
