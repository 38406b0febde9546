//! The parts of a time step, told to whoever watches; the simulator itself has no clock.

/// A part of a time step.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Stage {
    /// Forces and matrix blocks.
    Assembly,
    /// Search for pairs of features that may meet.
    Search,
    /// Contacts, seams, hands.
    Contacts,
    /// Gathering and factorising the coarse space.
    Coarse,
    /// Conjugate gradients.
    Solve,
    /// The guard that no step brings cloth through cloth.
    Guard,
    /// Fusing of seams, velocities, rest.
    Rest,
}

impl Stage {
    /// In the order of a step.
    pub const ALL: [Self; 7] = [Self::Assembly, Self::Search, Self::Contacts, Self::Coarse, Self::Solve, Self::Guard, Self::Rest];
}

/// Called when a stage begins.
pub(crate) type Watch<'a> = &'a mut dyn FnMut(Stage);
