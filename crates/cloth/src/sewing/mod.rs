//! Which vertices are brought together, and what is connected then.

pub(crate) mod held_apart;
pub(crate) mod seams;
pub(crate) mod topology;
pub(crate) mod union;
