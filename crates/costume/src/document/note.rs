//! What a fitting left to do.

use crate::{NoteId, PieceId, Point};
use serde::{Deserialize, Serialize};
use ts_rs::TS;

/// A note pinned to a place of a piece; it goes with the piece and stays until it is taken off.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Note {
    /// Its own among the notes.
    pub id: NoteId,
    /// The piece that it is pinned to.
    pub piece: PieceId,
    /// In the frame of the piece, mm.
    pub at: Point,
    /// What is to be done, at most [`crate::limits::TEXT`] characters.
    pub text: String,
    /// It was done.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    #[ts(as = "Option<bool>", optional)]
    pub done: bool,
}
