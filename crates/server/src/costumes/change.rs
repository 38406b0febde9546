//! What a window is told: a costume whole, or only what differs from the step that it knows.

use super::document::{Document, Shown};
use super::pattern_view::{PatternView, PieceView, SeamView, piece_view, seam_views};
use costume::{Costume, Diagnostic, Piece, Seam};
use serde::Serialize;
use std::collections::BTreeMap;
use ts_rs::TS;

/// All that the browser shows of a costume.
#[derive(Debug, Serialize, TS)]
pub struct CostumeState {
    #[ts(type = "number")]
    pub id: i64,
    #[ts(type = "number")]
    pub production: i64,
    pub costume: Costume,
    pub step: i32,
    /// Grows with every change, also by undo and redo: an answer with a lower one is older.
    #[ts(type = "number")]
    pub version: i64,
    pub can_undo: bool,
    pub can_redo: bool,
    /// What the document comes to.
    pub pattern: PatternView,
    pub diagnostics: Vec<Diagnostic>,
    /// What every block is drafted with, chosen or usual on its body.
    pub block_values: Vec<BTreeMap<String, f64>>,
}

impl CostumeState {
    pub fn new(shown: &Shown) -> Self {
        let document = &shown.document;
        Self {
            id: shown.id,
            production: shown.production,
            costume: document.costume.clone(),
            step: shown.step,
            version: shown.version,
            can_undo: shown.parent.is_some(),
            can_redo: shown.next.is_some(),
            pattern: PatternView::new(&document.costume, &document.pattern),
            diagnostics: document.diagnostics.clone(),
            block_values: block_values(&document.costume),
        }
    }
}

/// What every block is drafted with.
fn block_values(costume: &Costume) -> Vec<BTreeMap<String, f64>> {
    costume.blocks.iter().map(costume::BlockUse::all_values).collect()
}

/// A list that became another: its new length, and the entries that are not what they were at the same place.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct ListChange<T> {
    pub count: usize,
    pub changed: Vec<(usize, T)>,
}

impl<T: PartialEq + Clone> ListChange<T> {
    fn between(before: &[T], after: &[T]) -> Self {
        Self { count: after.len(), changed: differing(before, after).map(|k| (k, after[k].clone())).collect() }
    }
}

/// Places at which the second list is not as the first.
fn differing<'a, T: PartialEq>(before: &'a [T], after: &'a [T]) -> impl Iterator<Item = usize> + 'a {
    (0..after.len()).filter(move |&k| before.get(k) != Some(&after[k]))
}

/// What a costume is now, told to a window that knows one of its steps. Steps never change, so the two together are whole.
#[derive(Clone, Debug, Serialize, TS)]
pub struct CostumeChange {
    /// The step that it is told against.
    pub since: i32,
    pub step: i32,
    #[ts(type = "number")]
    pub version: i64,
    pub can_undo: bool,
    pub can_redo: bool,
    /// The document without its pieces and seams.
    pub rest: Costume,
    pub pieces: ListChange<Piece>,
    pub seams: ListChange<Seam>,
    /// The same of the pattern.
    pub shown_pieces: ListChange<PieceView>,
    pub shown_seams: ListChange<SeamView>,
    pub diagnostics: Vec<Diagnostic>,
    /// What every block is drafted with, chosen or usual on its body.
    pub block_values: Vec<BTreeMap<String, f64>>,
}

impl CostumeChange {
    /// The way from a step to what is shown.
    pub fn new(since: i32, before: &Document, shown: &Shown) -> Self {
        let after = &*shown.document;
        let (old, new) = (&before.pattern, &after.pattern);
        let shown_pieces = differing(&old.pieces, &new.pieces).map(|k| (k, piece_view(&new.pieces[k]))).collect();
        let (was, is) = (&before.costume, &after.costume);
        let rest = Costume {
            format: is.format,
            name: is.name.clone(),
            body: is.body.clone(),
            fineness: is.fineness,
            fabrics: is.fabrics.clone(),
            pieces: Vec::new(),
            seams: Vec::new(),
            blocks: is.blocks.clone(),
            poses: is.poses.clone(),
            tapes: is.tapes.clone(),
            wanted_ease: is.wanted_ease.clone(),
            notes: is.notes.clone(),
            underlays: is.underlays.clone(),
            next_id: is.next_id,
        };
        Self {
            since,
            step: shown.step,
            version: shown.version,
            can_undo: shown.parent.is_some(),
            can_redo: shown.next.is_some(),
            rest,
            pieces: ListChange::between(&was.pieces, &is.pieces),
            seams: ListChange::between(&was.seams, &is.seams),
            shown_pieces: ListChange { count: new.pieces.len(), changed: shown_pieces },
            shown_seams: ListChange::between(&seam_views(was, old), &seam_views(is, new)),
            diagnostics: after.diagnostics.clone(),
            block_values: block_values(is),
        }
    }
}
