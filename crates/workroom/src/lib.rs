//! workroom
