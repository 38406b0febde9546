//! `ourlet bench mesh`: how even the meshes of costumes are, at all fineness steps, and how fast they are cut.

use crate::options::BenchCommon;
use crate::output::say;
use costume::Fineness;
use serde::Serialize;
use std::path::PathBuf;
use std::process::ExitCode;
use std::time::Instant;

/// What a mesh promises: least angle of 99 % of its triangles, and of all, degrees; share of edges near the wanted length.
const ANGLE_P1: f64 = 25.0;
const LEAST: f64 = 12.0;
const IN_RANGE: f64 = 0.99;

#[derive(Serialize)]
struct Row {
    costume: String,
    piece: String,
    edge_mm: f64,
    triangles: usize,
    least_angle: f64,
    angle_p1: f64,
    edges_in_range: f64,
}

pub fn run(files: &[PathBuf], common: &BenchCommon) -> Result<ExitCode, String> {
    let mut rows = Vec::new();
    say!("{:<28} {:<20} {:>5} {:>9} {:>7} {:>7} {:>9}", "costume", "piece", "mm", "triangles", "least°", "1 %°", "in range");
    for file in files {
        let mut costume = crate::files::read(file)?;
        for fineness in [Fineness::Toile, Fineness::Sample, Fineness::Final] {
            costume.fineness = fineness;
            let begun = Instant::now();
            let meshes = workroom::meshes(&costume).map_err(|e| e.to_string())?;
            let took = begun.elapsed().as_secs_f64();
            let mut all = 0;
            for (id, mesh) in meshes {
                let q = mesh::quality(&mesh, fineness.edge_mm());
                all += q.triangles;
                rows.push(Row {
                    costume: costume.name.clone(),
                    piece: costume.piece_name(id),
                    edge_mm: fineness.edge_mm(),
                    triangles: q.triangles,
                    least_angle: q.least_angle,
                    angle_p1: q.angle_p1,
                    edges_in_range: q.edges_in_range,
                });
            }
            for row in rows.iter().filter(|r| r.costume == costume.name && r.edge_mm == fineness.edge_mm()) {
                let Row { piece, edge_mm, triangles, least_angle, angle_p1, edges_in_range, .. } = row;
                say!(
                    "{:<28} {piece:<20} {edge_mm:>5} {triangles:>9} {least_angle:>7.1} {angle_p1:>7.1} {edges_in_range:>9.4}",
                    costume.name
                );
            }
            say!("{:<28} {all} triangles, {:.0} thousand a second", costume.name, all as f64 / took / 1000.0);
        }
    }
    super::write_rows(common.json.as_deref(), &rows)?;
    let good = |r: &Row| r.angle_p1 >= ANGLE_P1 && r.least_angle >= LEAST && r.edges_in_range >= IN_RANGE;
    let missed = rows.iter().filter(|r| !good(r)).count();
    say!("{} of {} meshes as even as promised", rows.len() - missed, rows.len());
    Ok(if missed == 0 { ExitCode::SUCCESS } else { ExitCode::from(1) })
}
