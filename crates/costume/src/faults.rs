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
    Stops,
    /// The drape can start; the designer should know.
    Advice,
}

/// One finding: the item, the reason and the mend, and what to select.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct Fault {
    pub severity: Severity,
    pub item: String,
    pub reason: String,
    pub mend: String,
    pub piece: Option<PieceId>,
    pub seam: Option<SeamId>,
}

/// All faults of the document itself, gravest first.
pub fn faults(costume: &Costume, pattern: &Pattern) -> Vec<Fault> {
    let mut found = Vec::new();
    let hanging: Vec<_> = pattern.pieces.iter().filter(|p| !p.parked).collect();
    if hanging.is_empty() {
        let mend = if costume.pieces.is_empty() { "Draw a piece on the table." } else { "Take a piece out of parking." };
        found.push(Fault {
            severity: Severity::Stops,
            item: costume.name.clone(),
            reason: "has no piece to hang".into(),
            mend: mend.into(),
            piece: None,
            seam: None,
        });
    }
    for piece in hanging.iter().filter(|p| p.placement.is_none()) {
        found.push(Fault {
            severity: Severity::Stops,
            item: piece.name.clone(),
            reason: "has no station on the body".into(),
            mend: "Choose a station for it, or park it.".into(),
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
            let mend = if lengths.difference().abs() > GATHERED * lengths.a.min(lengths.b) {
                "The longer one is gathered in; change an edge if it should not be."
            } else {
                "Ease it in, or change one of the edges."
            };
            found.push(advice(seam.id, &seam.tag, reason, mend));
        }
    }
    found.extend(sewn_twice(costume));
    found
}

/// What cannot show or hold at the chosen mesh.
fn cloth_advice(costume: &Costume, fabric: &Fabric) -> Option<Fault> {
    let (cloth, edge) = (fabric.cloth()?, costume.fineness.edge_mm());
    let fold = cloth.bending_length();
    let (reason, mend) = if cloth.thickness > 0.25 * edge {
        (format!("is {} mm thick, more than a mesh of {edge} mm can keep apart", cloth.thickness), "Choose a coarser mesh.")
    } else if fold < 0.5 * edge {
        (
            format!("falls in folds of about {:.0} mm, too fine for a mesh of {edge} mm", 2.0 * fold),
            "Choose a finer mesh before you judge its folds.",
        )
    } else {
        return None;
    };
    Some(Fault { severity: Severity::Advice, item: fabric.name.clone(), reason, mend: mend.into(), piece: None, seam: None })
}

/// A piece that bends over more than half its length stands like a board.
fn stiffness_advice(costume: &Costume, piece: &PatternPiece) -> Option<Fault> {
    let bends = costume.fabric(piece.fabric)?.cloth()?.bending_length();
    let [_, length] = piece.extents();
    (length < 2.0 * bends).then(|| Fault {
        severity: Severity::Advice,
        item: piece.name.clone(),
        reason: format!("is too stiff for its size: it is {length:.0} mm long, and its cloth bends over {bends:.0} mm"),
        mend: "Choose a softer cloth, or less of its bend.".into(),
        piece: Some(piece.id),
        seam: None,
    })
}

/// Two seams over the same two stretches.
fn sewn_twice(costume: &Costume) -> Vec<Fault> {
    let mut found = Vec::new();
    for (k, seam) in costume.seams.iter().enumerate() {
        let other = costume.seams[..k].iter().find(|s| (s.a == seam.a && s.b == seam.b) || (s.a == seam.b && s.b == seam.a));
        if let Some(other) = other {
            found.push(advice(seam.id, &seam.tag, format!("sews what seam {} sews", other.tag), "Unpick one of the two."));
        }
    }
    found
}

fn advice(seam: SeamId, tag: &str, reason: String, mend: &str) -> Fault {
    Fault { severity: Severity::Advice, item: format!("Seam {tag}"), reason, mend: mend.into(), piece: None, seam: Some(seam) }
}
