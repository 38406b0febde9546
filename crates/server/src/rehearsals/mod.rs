//! Recorded rehearsals: asked for over HTTP, worked at by any worker that reaches the database, shown from the store.

pub mod routes;
pub mod shown;
pub mod store;
pub mod work;
