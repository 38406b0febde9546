//! The mannequin: tape measurements to a smooth closed surface, with stations where pieces hang.
//!
//! The shape is a set of section tables, an implicit field and a mesher; docs/body.md describes the model.
//! Fields and tables are in centimetres (x = left of the body, y = up, z = front); the finished [`Body`]
//! is in metres. Pure: no I/O, no clock; the same input gives the same surface bit for bit.
//!
//! ```
//! use body::{Measure, Request, check};
//!
//! // a body is asked for by a size and what differs from it, mm
//! let taller = Request { set: vec![(Measure::Stature, 1750.0)], ..Request::size("woman-38") };
//! assert!(check(&taller).is_ok());
//! // what no body has is refused before anything is made
//! assert!(check(&Request::size("giant-99")).is_err());
//! ```

mod figure;
mod implicit;
mod imported;
mod mannequin;
mod measuring;
mod posing;
mod silhouette;
mod skinning;

pub use figure::{Body, Clip, ContactLod, Measurement, PosedBody, VertexMotion};
pub use implicit::field::Field;
pub use imported::{
    Axis, FigureFault, FigureSheet, Flaws, ImportOrientation, RawClip, RawFigure, figure as imported_figure, guess, inspect,
    landmark_names, propose,
};
pub use mannequin::{Preset, mannequin, mannequin_with, presets, rough_mannequin};
pub use measuring::calibrate::Remaining;
pub use measuring::laid::{SurfacePoint, TapePath, lay};
pub use measuring::measure::section_girth;
pub use measuring::measures::Measure;
pub use measuring::sheet::{Request, SheetFault, check, measures, range};
pub use posing::parts::{in_words, part_of_bone};
pub use posing::pose::{NamedPose, Pose, PoseFault, blend, poses};
pub use posing::skeleton::{Bone, Freedom, Skeleton, other_side, own_bones};
pub use posing::skin::Rig;
pub use posing::station::{Limb, Reach, Station};
pub use posing::stations::station_names;
pub use posing::weights::{Weights, strongest};
pub use silhouette::silhouette;
pub use skinning::surface::Surface;
