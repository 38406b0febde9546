//! What a fabric must obey.

use super::{Checked, name, within};
use crate::{CLOTH_VALUES, Fabric, Quantity, Refusal, RefusalKind, swatch};

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
    if let Some(print) = &fabric.print {
        colour(&fabric.name, &print.colour)?;
        name("print", &print.motif)?;
        within(&fabric.name, Quantity::PrintRepeat, print.repeat, &(5.0..=2000.0))?;
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
