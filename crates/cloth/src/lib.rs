//! cloth
