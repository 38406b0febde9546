//! What a delivery is, for whoever takes it over: written beside its files.

use super::{DeliverOptions, DeliveryPreview};
use crate::DrapeReport;
use costume::Costume;
use serde::Serialize;

/// The manifest of a delivery.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct DeliveryManifest<'a> {
    pub costume: &'a str,
    pub body: &'a str,
    /// Names of the files, the main one first.
    pub files: &'a [String],
    pub options: &'a DeliverOptions,
    /// Counts, size and layout as delivered.
    pub mesh: &'a DeliveryPreview,
    /// Of the cloth before it has thickness, as it was simulated.
    pub vertices: usize,
    pub triangles: usize,
    pub pieces: Vec<&'a str>,
    pub materials: Vec<&'a str>,
    /// Seams, strain, crossings, girths: the checks of the drape.
    pub report: &'a DrapeReport,
}

impl<'a> DeliveryManifest<'a> {
    /// Of a drape with its report and what its delivery comes to.
    pub fn of(costume: &'a Costume, report: &'a DrapeReport, options: &'a DeliverOptions, mesh: &'a DeliveryPreview) -> Self {
        Self {
            costume: &costume.name,
            body: &report.body,
            files: &mesh.files,
            options,
            mesh,
            vertices: report.vertices,
            triangles: report.triangles,
            pieces: costume.pieces.iter().filter(|p| !p.parked).map(|p| p.name.as_str()).collect(),
            materials: costume.fabrics.iter().map(|f| f.name.as_str()).collect(),
            report,
        }
    }
}
