//! What a fabric must obey.

use super::{Checked, name};
use crate::{CLOTH_VALUES, Fabric, Refusal, swatch};

/// Checks one fabric by itself.
pub fn fabric(fabric: &Fabric) -> Checked {
    name("fabric", &fabric.name)?;
    if swatch(&fabric.swatch).is_none() {
        return Err(Refusal::new(&fabric.name, format!("the swatch book has no `{}`", fabric.swatch), "choose a swatch of the book"));
    }
    for (key, own) in &fabric.overrides {
        let Some(known) = CLOTH_VALUES.iter().find(|v| v.key == key) else {
            return Err(Refusal::new(
                &fabric.name,
                format!("has the value `{key}`, which no cloth has"),
                "use the values of the swatch book",
            ));
        };
        if !(known.low..=known.high).contains(own) {
            let (name, unit) = (known.name.to_lowercase(), known.unit);
            let reason = format!("a {name} of {own} {unit}");
            return Err(Refusal::new(&fabric.name, reason, format!("choose one from {} to {} {unit}", known.low, known.high)));
        }
    }
    colour(&fabric.name, &fabric.colour)?;
    if let Some(print) = &fabric.print {
        colour(&fabric.name, &print.colour)?;
        name("print", &print.motif)?;
        if !(5.0..=2000.0).contains(&print.repeat) {
            return Err(Refusal::new(&fabric.name, format!("a print repeat of {} mm", print.repeat), "choose a repeat from 5 to 2000 mm"));
        }
    }
    Ok(())
}

fn colour(item: &str, text: &str) -> Checked {
    let digits = text.strip_prefix('#').unwrap_or("");
    if digits.len() != 6 || !digits.chars().all(|c| c.is_ascii_hexdigit()) {
        return Err(Refusal::new(item, format!("`{text}` is not a colour"), "write colours as #rrggbb"));
    }
    Ok(())
}
