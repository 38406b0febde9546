//! The mannequin: tape measurements to a smooth closed surface, with stations where pieces hang.
//!
//! The shape is a set of section tables, an implicit field and a mesher; docs/body.md describes the model.
//! Fields and tables are in centimetres (x = left of the body, y = up, z = front); the finished [`Mannequin`]
//! is in metres. Pure: no I/O, no clock; the same input gives the same surface bit for bit.

mod ellipsoid;
mod field;
mod mannequin;
mod measure;
mod nets;
mod part_arm;
mod part_leg;
mod part_trunk;
mod relax;
mod spline;
mod stack;
mod stations;
mod surface;
mod tables;

pub use field::Field;
pub use mannequin::{Mannequin, Preset, UnknownPreset, mannequin, presets};
pub use measure::section_girth;
pub use stations::{Reach, Station, station_names};
pub use surface::Surface;
