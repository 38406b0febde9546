//! Long work on a costume: asked for, worked at by any worker, kept part by part.

pub mod everywhere;
pub mod routes;
pub mod store;
pub mod work;
