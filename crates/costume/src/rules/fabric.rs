//! What a fabric must obey.

use super::{Checked, is_hash, name, within};
use crate::{CLOTH_VALUES, Fabric, Print, Quantity, Refusal, RefusalKind, limits, swatch};

/// Checks one fabric by itself.
pub fn fabric(fabric: &Fabric) -> Checked {
    name("fabric", &fabric.name)?;
    if swatch(&fabric.swatch).is_none() {
        return Err(Refusal::of(&fabric.name, RefusalKind::NoSwatch { key: fabric.swatch.clone() }));
    }
    for (key, own) in &fabric.overrides {
        let Some(known) = CLOTH_VALUES.iter().find(|v| v.key == key) else {
            return Err(Refusal::of(&fabric.name, RefusalKind::NoClothValue { key: key.clone() }));
        };
        within(&fabric.name, Quantity::ClothValue { key: key.clone() }, *own, &(known.low..=known.high))?;
    }
    colour(&fabric.name, &fabric.colour)?;
    fabric.print.as_ref().map_or(Ok(()), |print| check_print(&fabric.name, &fabric.colour, print))
}

/// Checks a print on a cloth of a colour; `item` is who is told.
pub fn check_print(item: &str, base: &str, print: &Print) -> Checked {
    colour(item, base)?;
    colour(item, &print.colour)?;
    name("print", &print.motif)?;
    within(item, Quantity::PrintRepeat, print.repeat, &limits::PRINT)?;
    within(item, Quantity::PrintHeight, print.height.unwrap_or(print.repeat), &limits::PRINT)?;
    within(item, Quantity::PrintTurn, print.turn, &limits::ANGLE)?;
    if print.image.as_deref().is_some_and(|hash| !is_hash(hash)) {
        return Err(Refusal::of(item, RefusalKind::NoPictureHash));
    }
    Ok(())
}

fn colour(item: &str, text: &str) -> Checked {
    let digits = text.strip_prefix('#').unwrap_or("");
    if digits.len() != 6 || !digits.chars().all(|c| c.is_ascii_hexdigit()) {
        return Err(Refusal::of(item, RefusalKind::NoColour { text: text.into() }));
    }
    Ok(())
}
