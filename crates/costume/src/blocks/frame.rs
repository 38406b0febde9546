//! The frame of the upper body that tops and sleeves are drafted on: chest, neck, shoulder and armhole. The point where neck
//! and shoulder meet is at y = 0, lengths run down from it.

use super::Sheet;
use super::drafting::{at, curved, length};

/// What an upper body is drafted from.
pub(super) struct Frame {
    /// Quarter of the girth at the chest with its ease.
    pub quarter: f64,
    /// Down to the armhole's foot, and to the level of the bust.
    pub depth: f64,
    pub bust: f64,
    /// Half of the neck's width, and how deep it is before and behind.
    pub neck: f64,
    pub before: f64,
    pub behind: f64,
    /// The tip of the shoulder.
    pub shoulder: f64,
    pub drop: f64,
}

pub(super) const MEASURES: &[&str] = &["bust", "neck", "shoulder-width", "back-waist", "upper-arm", "wrist", "arm-length", "waist"];

pub(super) fn frame(s: &Sheet, ease: f64, opened: f64) -> Frame {
    let back = s.m("back-waist");
    let neck = s.m("neck") / 6.0 + 10.0 + opened;
    let shoulder = (0.5 * s.m("shoulder-width") + 5.0).max(neck + 40.0);
    let quarter = (0.25 * (s.m("bust") + ease)).max(shoulder + 8.0);
    Frame {
        quarter,
        depth: 0.4 * back + s.m("bust") / 40.0 + 35.0 + (0.55 * (s.m("upper-arm") - 270.0)).max(0.0),
        bust: 0.6 * back + 15.0,
        neck,
        before: neck + 8.0 + 0.4 * opened,
        behind: 20.0 + 0.3 * opened,
        shoulder,
        drop: 0.25 * (shoulder - neck) + 12.0,
    }
}

impl Frame {
    /// Control points of the armhole from its foot to the tip of the shoulder.
    fn armhole(&self) -> [(f64, f64); 2] {
        let inwards = self.quarter - self.shoulder;
        let (dx, dy) = (self.shoulder - self.neck, self.drop);
        let slope = dx.hypot(dy);
        let reach = 0.5 * (self.depth - self.drop);
        // square to the shoulder at its tip, level at its foot
        [(self.quarter - 0.75 * inwards - 14.0, -self.depth), (self.shoulder - dy / slope * reach, -self.drop - dx / slope * reach)]
    }

    pub fn armhole_length(&self) -> f64 {
        let [a, b] = self.armhole();
        length((self.quarter, -self.depth), a, b, (self.shoulder, -self.drop))
    }

    /// Points from the armhole's foot over shoulder and neck to the middle of the front.
    pub fn front_top(&self) -> Vec<crate::LoopPoint> {
        let [a, b] = self.armhole();
        vec![
            curved(self.quarter, -self.depth, a, b),
            at(self.shoulder, -self.drop),
            curved(self.neck, 0.0, (self.neck - 4.0, -0.6 * self.before), (0.55 * self.neck, -self.before)),
            at(0.0, -self.before),
        ]
    }

    /// Points from the middle of the back over neck and shoulder to the armhole's foot.
    pub fn back_top(&self) -> Vec<crate::LoopPoint> {
        let [a, b] = self.armhole().map(|(x, y)| (-x, y));
        vec![
            curved(0.0, -self.behind, (-0.55 * self.neck, -self.behind), (-self.neck + 8.0, -0.5 * self.behind)),
            at(-self.neck, 0.0),
            curved(-self.shoulder, -self.drop, b, a),
            at(-self.quarter, -self.depth),
        ]
    }
}
