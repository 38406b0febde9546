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

mod calibrate;
mod ellipsoid;
mod fairing;
mod field;
mod figure;
mod imported;
mod laid;
mod mannequin;
mod measure;
mod measures;
mod nets;
mod part_arm;
mod part_leg;
mod part_trunk;
mod parts;
mod pose;
mod relax;
mod shape;
mod sheet;
mod skeleton;
mod skin;
mod spline;
mod stack;
mod stations;
mod surface;
mod tables;
mod tape;
mod weights;

pub use calibrate::Remaining;
pub use field::Field;
pub use figure::{Body, Clip, ContactLod, Measurement, PosedBody};
pub use imported::{
    Axis, FigureFault, FigureSheet, Flaws, ImportOrientation, RawFigure, figure as imported_figure, guess, inspect, landmark_names, propose,
};
pub use laid::{SurfacePoint, TapePath, lay};
pub use mannequin::{Preset, mannequin, mannequin_with, presets, rough_mannequin};
pub use measure::section_girth;
pub use measures::Measure;
pub use parts::{in_words, part_of_bone};
pub use pose::{NamedPose, Pose, PoseFault, blend, poses};
pub use sheet::{Request, SheetFault, check, range};
pub use skeleton::{Bone, Freedom, Skeleton, other_side, own_bones};
pub use skin::Rig;
pub use stations::{Reach, Station, station_names};
pub use surface::Surface;
pub use weights::{Weights, strongest};
