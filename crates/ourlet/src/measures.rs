//! The measures of a body, as they are printed and as they stand in reports.

use crate::output::say;
use body::{Body, Measurement};
use serde::Serialize;

#[derive(Serialize)]
pub struct Line {
    name: &'static str,
    asked_mm: Option<f64>,
    measured_mm: f64,
    /// Where the tape lies in the neutral pose: height of its middle and normal of its plane; none for lengths.
    height_mm: Option<f64>,
    normal: Option<[f64; 3]>,
}

/// All measures of a figure as they stand in a report.
pub fn lines(figure: &Body) -> Vec<Line> {
    let line = |t: &Measurement| Line {
        name: t.measure.key(),
        asked_mm: t.asked,
        measured_mm: t.measured,
        height_mm: t.plane.map(|p| p.0),
        normal: t.plane.map(|p| p.1),
    };
    figure.taken.iter().map(line).collect()
}

/// Prints the measures.
pub fn show(figure: &Body) {
    for t in &figure.taken {
        let asked = t.asked.map_or_else(String::new, |asked| format!("asked {:>6.1} cm  ", asked / 10.0));
        say!("{:<16} {asked}measured {:>6.1} cm", t.measure.key(), t.measured / 10.0);
    }
}
