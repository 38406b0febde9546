//! What a file holds and a reader does without. None of it is an error; all of it is told.

use std::collections::BTreeSet;

/// Something that was not taken over from a file.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, thiserror::Error)]
pub enum LeftOut {
    #[error("points and lines, which have no surface")]
    PointsAndLines,
    #[error("more than four bones for a vertex; the four of JOINTS_0 were taken")]
    FurtherJoints,
    #[error("further skins; the one with the most bones was taken")]
    FurtherSkins,
    #[error("a skin or skeleton, which is not read from this format")]
    Skeleton,
    #[error("morph targets; the mesh is taken without them")]
    Morphs,
    #[error("scaling of bones in motions")]
    ScaledBones,
    #[error("a motion without a skin to move")]
    MotionWithoutSkin,
    #[error("what comes after {0} seconds of a motion")]
    LongMotion(usize),
    #[error("references to other files; only what stands in this one was taken")]
    References,
    #[error("variants; the one that stands in the file was taken")]
    Variants,
    #[error("parts that are invisible, inactive or only guides")]
    Hidden,
    #[error("instances that stand for another part")]
    Instances,
    #[error("subdivision; the mesh is taken as it is drawn")]
    Subdivision,
    #[error("faces with fewer than three corners")]
    SmallFaces,
}

/// Each kind once, in a fixed order.
pub(super) type LeftOuts = BTreeSet<LeftOut>;
