//! formats
