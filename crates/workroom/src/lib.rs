//! Takes one costume through the whole job: assemble, drape, check, deliver. The only room that knows all the others.

mod assemble;
mod carry;
mod check;
mod construct;
mod contact;
mod deliver;
mod draping;
mod figures;
mod fitting;
mod form;
pub mod half_circle;
mod known;
pub mod laboratory;
mod motion;
mod piece_range;
mod place;
mod report;
mod standing;
mod trouble;

pub use assemble::{Assembly, assemble, cloth_fabric, hang, meshes};
pub use carry::{carry, carry_cloth, carry_error};
pub use check::{CheckReport, CrossingKind, CrossingPlace, check};
pub use contact::{Solid, left_out};
pub use deliver::{DeliverOptions, Delivery, FileKind, Layout, body_clip, body_mesh, deliver, picture};
pub use draping::drape_to_rest;
pub use figures::{Arrival, flaws, foreign_figure, read_arrival};
pub use fitting::{Fitting, KeptMesh};
pub use form::{Form, figure, pose, pose_refusal, rough_figure};
pub use known::{apply, apply_on, faults, faults_of};
pub use motion::{PoseMotion, STEPS_A_FRAME};
pub use piece_range::PieceRange;
pub use report::{CrossingCount, DrapeReport, SeamGap, StrainFigures, drape_report};
pub use standing::{Finding, FindingKind, standing};
pub use trouble::{Cause, Trouble, Watch};
