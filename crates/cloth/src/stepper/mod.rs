//! One time step after the other, from hanging to rest.

pub(crate) mod assembly;
pub(crate) mod bearing;
pub(crate) mod connect;
pub(crate) mod drape;
pub(crate) mod grab;
pub(crate) mod kinematic;
pub(crate) mod parts;
pub(crate) mod push_out;
pub(crate) mod rest;
pub(crate) mod saved;
pub(crate) mod stage;
pub(crate) mod step;
pub(crate) mod swing;
pub(crate) mod untangle;
