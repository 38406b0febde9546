//! fit
