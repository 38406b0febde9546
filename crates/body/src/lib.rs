//! The mannequin: tape measurements to a smooth closed surface, with stations where pieces hang.
//!
//! The shape is a set of section tables, an implicit field and a mesher; docs/body.md describes the model.
//! Fields and tables are in centimetres (x = left of the body, y = up, z = front); the finished [`Mannequin`]
//! is in metres. Pure: no I/O, no clock; the same input gives the same surface bit for bit.

mod calibrate;
mod ellipsoid;
mod field;
mod mannequin;
mod measure;
mod nets;
mod part_arm;
mod part_leg;
mod part_trunk;
mod relax;
mod sheet;
mod spline;
mod stack;
mod stations;
mod surface;
mod tables;
mod tape;

pub use calibrate::Remaining;
pub use field::Field;
pub use mannequin::{Mannequin, Preset, Taken, mannequin, mannequin_with, presets};
pub use measure::section_girth;
pub use sheet::{Request, SheetFault, check, range};
pub use stations::{Reach, Station, station_names};
pub use surface::Surface;
pub use tape::Measure;
