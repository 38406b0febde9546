//! A body on its way to another pose.

use cloth::BodyShape;
use std::collections::BTreeMap;
use workroom::PoseMotion;

/// The body on its way to another pose.
pub(super) struct Going {
    pub motion: PoseMotion,
    /// The pose it comes from.
    pub from: BTreeMap<String, [f64; 3]>,
    /// Steps since the last frame.
    pub steps: usize,
    /// Where it arrives.
    pub arrives: BodyShape,
}

impl Going {
    /// The body meets the cloth with other parts from the next frame on.
    pub fn take_in(&mut self, form: &workroom::ContactBody) {
        self.motion.leave_out(form.out.clone());
        self.arrives = form.still();
    }
}
