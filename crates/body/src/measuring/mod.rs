//! Measures: what is asked for, what the tape reads, how a body is made to them.

pub(crate) mod calibrate;
pub(crate) mod laid;
pub(crate) mod measure;
pub(crate) mod measures;
pub(crate) mod sheet;
pub(crate) mod tape;
