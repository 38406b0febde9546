//! A proposed seam as it is told.

use super::stretch::Stretch;
use super::table::Table;
use costume::{Costume, Pattern, PieceId, Run};
use serde::Serialize;
use ts_rs::TS;

/// Two sides that could be sewn together, in the directions in which they would be.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct Proposal {
    /// One side.
    pub a: Vec<Run>,
    /// The other side.
    pub b: Vec<Run>,
    /// Both in words.
    pub a_name: String,
    /// Both in words.
    pub b_name: String,
    /// mm.
    pub a_length: f64,
    /// mm.
    pub b_length: f64,
    /// Nothing else comes near; what is not sure is shown and not chosen.
    pub sure: bool,
    /// 0 fits in every way, more the less it does.
    pub cost: f64,
    /// What speaks for it.
    pub reasons: Vec<String>,
}

pub(super) fn proposal(
    costume: &Costume,
    pattern: &Pattern,
    table: &Table,
    a: &Stretch,
    b: &Stretch,
    cost: f64,
    reasons: Vec<String>,
) -> Proposal {
    let (runs_a, runs_b) = costume::sewn_together(costume, pattern, &table.runs(a), &table.runs(b));
    let name = |runs: &[Run]| side_name(costume, runs);
    Proposal {
        a_name: name(&runs_a),
        b_name: name(&runs_b),
        a: runs_a,
        b: runs_b,
        a_length: a.length,
        b_length: b.length,
        sure: false,
        cost,
        reasons,
    }
}

/// "Sleeve, edge 2 + 3", piece by piece.
pub(super) fn side_name(costume: &Costume, runs: &[Run]) -> String {
    let mut parts: Vec<(PieceId, String)> = Vec::new();
    for run in runs {
        let whole = costume.line_name(run.piece, run.line);
        let short = whole.rsplit(' ').next().unwrap_or_default().to_owned();
        match parts.last_mut() {
            Some((piece, text)) if *piece == run.piece => text.push_str(&format!(" + {short}")),
            _ => parts.push((run.piece, whole)),
        }
    }
    parts.into_iter().map(|(_, text)| text).collect::<Vec<_>>().join(", ")
}
