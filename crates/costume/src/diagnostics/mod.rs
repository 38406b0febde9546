//! What a document still lacks before it can be draped, or what deserves a look. Faults never block editing.

pub(crate) mod finding;

pub use finding::{Diagnostic, DiagnosticKind, Mend, MendKind, Severity};

use crate::{Costume, Fabric, Pattern, PatternPiece, PatternSeam};

/// Notches that lie nearer meet, mm.
const NOTCHES: f64 = 2.0;

/// All findings on the document itself, gravest first.
pub fn diagnostics(costume: &Costume, pattern: &Pattern) -> Vec<Diagnostic> {
    let hanging: Vec<_> = pattern.pieces.iter().filter(|p| !p.parked).collect();
    let mut found = Vec::new();
    if hanging.is_empty() {
        found.push(DiagnosticKind::NothingHangs { empty: costume.pieces.is_empty() });
    }
    found.extend(hanging.iter().filter(|p| p.placement.is_none()).map(|p| DiagnosticKind::NoStation { piece: p.id }));
    found.extend(costume.fabrics.iter().filter(|f| hanging.iter().any(|p| p.fabric == f.id)).filter_map(|f| of_cloth(costume, f)));
    found.extend(hanging.iter().filter_map(|p| of_stiffness(costume, p)));
    found.extend(pattern.seams.iter().filter_map(|seam| of_notches(pattern, seam)));
    found.extend(
        pattern
            .pieces
            .iter()
            .filter(|p| p.cutting_lines().iter().any(|l| crate::rules::polygon_crosses(l)))
            .map(|p| DiagnosticKind::AllowancesOverlap { piece: p.id }),
    );
    let alone = found.into_iter().map(|kind| (kind, Vec::new()));
    let all = alone.chain(crate::sewing::findings(costume, pattern));
    all.map(|(kind, mends)| Diagnostic { mends, ..Diagnostic::new(kind, costume) }).collect()
}

/// Pairs of notches that lie farther apart than the sides differ.
fn of_notches(pattern: &Pattern, seam: &PatternSeam) -> Option<DiagnosticKind> {
    let lengths = pattern.seam_lengths(seam);
    let apart = seam.notches.iter().map(|[a, b]| (a * lengths.a - b * lengths.b).abs() - lengths.difference().abs());
    let most = apart.fold(0.0, f64::max);
    (most > NOTCHES && !seam.image).then_some(DiagnosticKind::NotchesApart { seam: seam.id, apart: most })
}

/// What cannot show or hold at the chosen mesh.
fn of_cloth(costume: &Costume, fabric: &Fabric) -> Option<DiagnosticKind> {
    let (cloth, edge) = (fabric.cloth()?, costume.fineness.edge_mm());
    let fold = cloth.bending_length();
    if cloth.thickness > 0.25 * edge {
        return Some(DiagnosticKind::TooThick { fabric: fabric.id, thickness: cloth.thickness, edge });
    }
    (fold < 0.5 * edge).then_some(DiagnosticKind::FoldsTooFine { fabric: fabric.id, fold: 2.0 * fold, edge })
}

/// A piece that bends over more than half its length stands like a board.
fn of_stiffness(costume: &Costume, piece: &PatternPiece) -> Option<DiagnosticKind> {
    let bends = costume.fabric(piece.fabric)?.cloth()?.bending_length();
    let [_, length] = piece.extents();
    (length < 2.0 * bends).then_some(DiagnosticKind::TooStiff { piece: piece.id, length, bends })
}
