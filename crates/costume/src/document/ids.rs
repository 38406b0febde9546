//! Ids of everything that a document can refer to; stable for the life of the costume and never used twice.

use serde::{Deserialize, Serialize};
use ts_rs::TS;

macro_rules! id {
    ($(#[$doc:meta])* $name:ident) => {
        $(#[$doc])*
        /// Never given to another thing of the same costume.
        #[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, TS)]
        #[serde(transparent)]
        pub struct $name(pub u32);
    };
}

id!(
    /// A piece.
    PieceId
);
id!(
    /// A node of a drawing.
    NodeId
);
id!(
    /// A line of a drawing; it stays whatever happens to its neighbours.
    LineId
);
id!(
    /// A path inside a piece.
    PathId
);
id!(
    /// A notch, a drill hole or a text.
    MarkId
);
id!(
    /// What is sewn or allowed along a stretch of a line.
    AlongId
);
id!(
    /// A seam.
    SeamId
);
id!(
    /// Pieces drafted by one recipe.
    BlockId
);
id!(
    /// A tape laid over the body.
    TapeId
);
id!(
    /// A note pinned to a piece.
    NoteId
);
id!(
    /// A picture under the paper.
    UnderlayId
);
id!(
    /// A fabric of this costume.
    FabricId
);
