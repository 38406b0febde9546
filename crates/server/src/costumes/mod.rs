//! Costumes: their documents, their history, what windows are told of them, and the routes to all of it.

pub mod change;
pub mod document;
pub mod history;
pub mod pattern_view;
pub mod recent;
pub mod routes;
