//! What a document still lacks before it can be draped, or what deserves a look. Faults never block editing.

use crate::{Costume, Fabric, Pattern, PatternPiece, PieceId, SeamId};
use serde::Serialize;
use ts_rs::TS;

/// Share of the shorter side of a seam by which the longer one is more when it is gathered in rather than eased.
pub const GATHERED: f64 = 0.12;

/// How grave a fault is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum Severity {
    /// The drape cannot start.
    Error,
    /// The drape can start; the designer should know.
    Warning,
}

/// One finding: the item, the reason and the remedy, and what to select.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct Diagnostic {
    /// Whether it keeps the drape from starting.
    pub severity: Severity,
    /// What is concerned, by the name the designer gave it.
    pub item: String,
    /// What is the matter, in words that follow the name.
    pub reason: String,
    /// What can be done.
    pub remedy: String,
    /// The piece to select.
    pub piece: Option<PieceId>,
    /// The seam to select.
    pub seam: Option<SeamId>,
}

/// All diagnostics of the document itself, gravest first.
pub fn diagnostics(costume: &Costume, pattern: &Pattern) -> Vec<Diagnostic> {
    let mut found = Vec::new();
    let hanging: Vec<_> = pattern.pieces.iter().filter(|p| !p.parked).collect();
    if hanging.is_empty() {
        let remedy = if costume.pieces.is_empty() { "Draw a piece on the table." } else { "Take a piece out of parking." };
        found.push(Diagnostic {
            severity: Severity::Error,
            item: costume.name.clone(),
            reason: "has no piece to hang".into(),
            remedy: remedy.into(),
            piece: None,
            seam: None,
        });
    }
    for piece in hanging.iter().filter(|p| p.placement.is_none()) {
        found.push(Diagnostic {
            severity: Severity::Error,
            item: piece.name.clone(),
            reason: "has no station on the body".into(),
            remedy: "Choose a station for it, or park it.".into(),
            piece: Some(piece.id),
            seam: None,
        });
    }
    found.extend(costume.fabrics.iter().filter(|f| hanging.iter().any(|p| p.fabric == f.id)).filter_map(|f| cloth_advice(costume, f)));
    found.extend(hanging.iter().filter_map(|p| stiffness_advice(costume, p)));
    for seam in &pattern.seams {
        if seam.a.iter().chain(&seam.b).any(|r| pattern.pieces[r.piece].parked) {
            found.push(advice(
                seam.id,
                &seam.tag,
                "joins a parked piece and stays open".into(),
                "Take the piece out of parking to sew it.",
            ));
            continue;
        }
        let lengths = pattern.seam_lengths(seam);
        if !lengths.is_even() && !seam.image {
            let reason = format!("its sides differ by {:.1} cm", lengths.difference().abs() / 10.0);
            let remedy = if lengths.difference().abs() > GATHERED * lengths.a.min(lengths.b) {
                "The longer one is gathered in; change an edge if it should not be."
            } else {
                "Ease it in, or change one of the edges."
            };
            found.push(advice(seam.id, &seam.tag, reason, remedy));
        }
    }
    found.extend(sewn_twice(costume));
    found
}

/// What cannot show or hold at the chosen mesh.
fn cloth_advice(costume: &Costume, fabric: &Fabric) -> Option<Diagnostic> {
    let (cloth, edge) = (fabric.cloth()?, costume.fineness.edge_mm());
    let fold = cloth.bending_length();
    let (reason, remedy) = if cloth.thickness > 0.25 * edge {
        (format!("is {} mm thick, more than a mesh of {edge} mm can keep apart", cloth.thickness), "Choose a coarser mesh.")
    } else if fold < 0.5 * edge {
        (
            format!("falls in folds of about {:.0} mm, too fine for a mesh of {edge} mm", 2.0 * fold),
            "Choose a finer mesh before you judge its folds.",
        )
    } else {
        return None;
    };
    Some(Diagnostic { severity: Severity::Warning, item: fabric.name.clone(), reason, remedy: remedy.into(), piece: None, seam: None })
}

/// A piece that bends over more than half its length stands like a board.
fn stiffness_advice(costume: &Costume, piece: &PatternPiece) -> Option<Diagnostic> {
    let bends = costume.fabric(piece.fabric)?.cloth()?.bending_length();
    let [_, length] = piece.extents();
    (length < 2.0 * bends).then(|| Diagnostic {
        severity: Severity::Warning,
        item: piece.name.clone(),
        reason: format!("is too stiff for its size: it is {length:.0} mm long, and its cloth bends over {bends:.0} mm"),
        remedy: "Choose a softer cloth, or less of its bend.".into(),
        piece: Some(piece.id),
        seam: None,
    })
}

/// Two seams over the same two stretches.
fn sewn_twice(costume: &Costume) -> Vec<Diagnostic> {
    let mut found = Vec::new();
    for (k, seam) in costume.seams.iter().enumerate() {
        let other = costume.seams[..k].iter().find(|s| (s.a == seam.a && s.b == seam.b) || (s.a == seam.b && s.b == seam.a));
        if let Some(other) = other {
            found.push(advice(seam.id, &seam.tag, format!("sews what seam {} sews", other.tag), "Unpick one of the two."));
        }
    }
    found
}

fn advice(seam: SeamId, tag: &str, reason: String, remedy: &str) -> Diagnostic {
    Diagnostic { severity: Severity::Warning, item: format!("Seam {tag}"), reason, remedy: remedy.into(), piece: None, seam: Some(seam) }
}
