//! What pictures under the paper must obey.

use super::{Checked, at_most, is_hash, name, on_table, turn, within};
use crate::{Costume, Counted, Quantity, Refusal, RefusalKind, Underlay, limits};

pub(super) fn check(costume: &Costume) -> Checked {
    at_most("costume", Counted::Underlays, costume.underlays.len(), limits::UNDERLAYS)?;
    costume.underlays.iter().try_for_each(underlay)
}

fn underlay(u: &Underlay) -> Checked {
    name("picture", &u.name)?;
    if !is_hash(&u.asset) {
        return Err(Refusal::of(&u.name, RefusalKind::NoHash));
    }
    within(&u.name, Quantity::Fade, u.fade, &(0.0..=1.0))?;
    for side in u.pixels {
        within(&u.name, Quantity::Pixels, f64::from(side), &limits::PIXELS)?;
    }
    within(&u.name, Quantity::Page, f64::from(u.page), &(0.0..=1000.0))?;
    u.corners.iter().try_for_each(|c| on_table(&u.name, *c))?;
    // it lies face up and is seen whole: its corners go clockwise around, none of them dented
    let c = &u.corners;
    if !(0..4).all(|k| turn(c[k], c[(k + 1) % 4], c[(k + 2) % 4]) < -1.0) {
        return Err(Refusal::of(&u.name, RefusalKind::NoRectangle));
    }
    within(&u.name, Quantity::Dpi, 25.4 / u.pixel(), &limits::DPI)
}
