//! `ourlet bench`: the simulator's speed, costumes in motion, its cloths in the textile laboratory, and its meshes.

mod cloth;
mod finish;
mod hung;
mod mesh;
mod moving;
mod shape;
mod sheets;
mod split;
mod swatches;

use crate::files::write;
use crate::options::{BenchAction, BenchOptions};
use serde::Serialize;
use std::path::Path;
use std::process::ExitCode;

pub fn run(options: &BenchOptions) -> Result<ExitCode, String> {
    match &options.action {
        BenchAction::Cloth { file, quick, reference, common } => cloth::run(file, *quick, *reference, common),
        BenchAction::Finish(options) => finish::run(options),
        BenchAction::Hung { folder, edge, only, common } => hung::run(folder, *edge, only, common),
        BenchAction::Mesh { files, common } => mesh::run(files, common),
        BenchAction::Moving(options) => moving::run(options),
        BenchAction::Swatches { edge, only, common } => swatches::run(edge, only.as_deref(), common),
    }
}

fn write_rows(path: Option<&Path>, rows: &impl Serialize) -> Result<(), String> {
    match path {
        Some(path) => write(path, serde_json::to_string_pretty(rows).map_err(|e| e.to_string())?.as_bytes()),
        None => Ok(()),
    }
}
