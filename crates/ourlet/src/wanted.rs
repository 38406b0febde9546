//! Wanted ease and lengths as they are written on the command line.

use body::Measure;
use costume::Costume;
use workroom::{EaseKind, wanted_ranges};

/// A length such as `8cm`, `-5mm` or `80` (mm), mm.
pub fn length(text: &str) -> Result<f64, String> {
    let (number, factor) = match (text.strip_suffix("cm"), text.strip_suffix("mm")) {
        (Some(cm), _) => (cm, 10.0),
        (_, Some(mm)) => (mm, 1.0),
        _ => (text, 1.0),
    };
    let value: f64 = number.trim().parse().map_err(|_| format!("`{text}` is no length; write it as 8cm or 80mm"))?;
    if value.is_finite() { Ok(value * factor) } else { Err(format!("`{text}` is no length; write it as 8cm or 80mm")) }
}

/// A girth and what is said about it: `bust=…`.
pub fn girth(text: &str) -> Result<(String, &str), String> {
    let (key, said) = text.split_once('=').ok_or_else(|| format!("`{text}`: write a girth and a length, such as bust=8cm"))?;
    match Measure::from_key(key) {
        Some(measure) => Ok((measure.key().to_owned(), said)),
        None => Err(format!("`{key}` is no measure of the body; write one such as bust, waist or hip")),
    }
}

/// Puts what is wanted onto the costume, later words over earlier ones.
pub fn want(costume: &mut Costume, words: &[String]) -> Result<(), String> {
    for word in words {
        let kind = match word.as_str() {
            "close" => Some(EaseKind::Close),
            "regular" => Some(EaseKind::Regular),
            "loose" => Some(EaseKind::Loose),
            _ => None,
        };
        if let Some(kind) = kind {
            costume.wanted_ease = wanted_ranges(kind);
            continue;
        }
        let (key, range) = girth(word)?;
        let (low, high) = range.split_once("..").ok_or_else(|| format!("`{word}`: write a range such as bust=6..10cm"))?;
        // the unit may stand once, at the end
        let unit = if high.ends_with("cm") && !low.ends_with('m') { "cm" } else { "" };
        let range = [length(&format!("{low}{unit}"))?, length(high)?];
        if range[0] > range[1] {
            return Err(format!("`{word}`: the least ease is more than the most"));
        }
        costume.wanted_ease.insert(key, range);
    }
    Ok(())
}
