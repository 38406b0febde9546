//! Documents of earlier formats, brought to today's when they are read: files, revisions, fittings and running drapes.

mod format1;

use crate::{Costume, FORMAT, Refusal, RefusalKind};
use serde::Deserialize;
use serde::de::Error as _;

#[derive(Deserialize)]
struct Version {
    format: u32,
}

/// A document of any format that this build knows, from the text of a file. Rules are not checked.
pub(crate) fn from_text(text: &str) -> Result<Costume, Refusal> {
    let damaged = |e: serde_json::Error| Refusal::of("costume file", RefusalKind::Unreadable { found: e.to_string() });
    match serde_json::from_str::<Version>(text).map_err(damaged)?.format {
        1 => serde_json::from_str::<format1::CostumeV1>(text).map(format1::CostumeV1::migrated).map_err(damaged),
        FORMAT => serde_json::from_str(text).map_err(damaged),
        other => Err(unknown(other)),
    }
}

/// The same from a stored value. What was stored obeyed the rules.
pub fn from_value(value: serde_json::Value) -> Result<Costume, serde_json::Error> {
    match value.get("format").and_then(serde_json::Value::as_u64) {
        Some(1) => serde_json::from_value::<format1::CostumeV1>(value).map(format1::CostumeV1::migrated),
        Some(now) if now == u64::from(FORMAT) => serde_json::from_value(value),
        _ => Err(serde_json::Error::custom("its format is not one that this build reads")),
    }
}

fn unknown(format: u32) -> Refusal {
    Refusal::of("costume file", RefusalKind::Format { found: format, newest: FORMAT })
}
