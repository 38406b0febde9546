//! DXF as pairs of a code and a value. The pairs that make shapes are looked at one by one, so that damage is told with its
//! line, and only they are handed on: what else a drawing may hold never reaches its reader.

use super::pattern_limits as limits;
use crate::ReadFault;
use crate::reading::at_most;
use std::fmt::Write;

/// Lines of a file at most.
const LINES: usize = 4_000_000;
/// Longest value, bytes.
const VALUE: usize = 2000;

/// The header's unit, the blocks and the entities of a drawing, each entity with the number of its line for its handle.
pub(super) fn reduced(bytes: &[u8]) -> Result<String, ReadFault> {
    if bytes.starts_with(b"AutoCAD Binary") {
        return Err(ReadFault::Unsupported("binary DXF".into()));
    }
    let text = String::from_utf8_lossy(bytes);
    let mut made = String::new();
    let mut lines = text.lines().enumerate();
    let (mut section, mut header, mut count, mut blocks, mut is_spline) = (Section::None, false, 0usize, 0usize, false);
    while let Some((k, line)) = lines.next() {
        count += 2;
        at_most("lines", count, LINES)?;
        if line.trim().is_empty() && lines.clone().all(|(_, l)| l.trim().is_empty()) {
            break;
        }
        let code: i32 = line.trim().parse().map_err(|_| damaged(k, &format!("`{}` is no group code", short(line))))?;
        let (_, value) = lines.next().ok_or_else(|| damaged(k, "the file ends within a pair"))?;
        let value = value.trim_end_matches('\r');
        if value.len() > VALUE {
            return Err(damaged(k + 1, "a value longer than 2000 bytes"));
        }
        match (code, value.trim()) {
            (0, "SECTION") => section = Section::Opening,
            (0, "ENDSEC") => {
                if section.is_read() {
                    made.push_str("0\nENDSEC\n");
                }
                section = Section::None;
            }
            (0, "EOF") => break,
            (2, name) if section == Section::Opening => {
                section = Section::of(name);
                if section.is_read() {
                    let _ = write!(made, "0\nSECTION\n2\n{name}\n");
                }
            }
            (9, name) if section == Section::Header => {
                header = name == "$INSUNITS";
                if header {
                    made.push_str("9\n$INSUNITS\n");
                }
            }
            (70, value) if section == Section::Header && header => {
                let unit: i16 = value.parse().ok().filter(|u| (0..=24).contains(u)).ok_or_else(|| damaged(k + 1, "no unit of length"))?;
                let _ = write!(made, "70\n{unit}\n");
                header = false;
            }
            (code, value) if matches!(section, Section::Blocks | Section::Entities) => {
                blocks += usize::from(code == 0 && value == "BLOCK");
                if code == 0 {
                    is_spline = value == "SPLINE";
                }
                pair(code, value, k, is_spline, &mut made)?;
            }
            _ => {}
        }
    }
    at_most("blocks", blocks, limits::PATHS)?;
    made.push_str("0\nEOF\n");
    Ok(made)
}

#[derive(Clone, Copy, PartialEq)]
enum Section {
    None,
    Opening,
    Header,
    Blocks,
    Entities,
    Other,
}

impl Section {
    fn of(name: &str) -> Self {
        match name {
            "HEADER" => Self::Header,
            "BLOCKS" => Self::Blocks,
            "ENTITIES" => Self::Entities,
            _ => Self::Other,
        }
    }
    fn is_read(self) -> bool {
        matches!(self, Self::Header | Self::Blocks | Self::Entities)
    }
}

fn damaged(line: usize, what: &str) -> ReadFault {
    ReadFault::Damaged(format!("line {}: {what}", line + 1))
}

fn short(text: &str) -> String {
    text.trim().chars().filter(|c| !c.is_control()).take(20).collect()
}

/// A pair of an entity, if it says something of its shape. Points of splines get a height, which some files leave out.
fn pair(code: i32, value: &str, line: usize, is_spline: bool, made: &mut String) -> Result<(), ReadFault> {
    let no = |what: &str| damaged(line + 1, &format!("`{}` is no {what}", short(value)));
    let number = || value.parse::<f64>().ok().filter(|v| v.is_finite() && v.abs() < 1e12).ok_or_else(|| no("number"));
    match code {
        0 => {
            let kind: String = value.chars().filter(char::is_ascii_graphic).take(40).collect();
            let _ = write!(made, "0\n{kind}\n5\n{:X}\n", line + 1);
        }
        // texts, names and layers
        1..=3 | 8 => {
            let _ = write!(made, "{code}\n{value}\n");
        }
        30 | 31 if is_spline => {}
        20 | 21 if is_spline => {
            let _ = write!(made, "{code}\n{}\n{}\n0\n", number()?, code + 10);
        }
        10..=59 => {
            let _ = write!(made, "{code}\n{}\n", number()?);
        }
        66 | 70..=74 | 90 => {
            let whole = number()?;
            if whole.fract() != 0.0 || whole.abs() > 30_000.0 {
                return Err(no("whole number of this kind"));
            }
            let _ = write!(made, "{code}\n{whole:.0}\n");
        }
        210 | 220 | 230 => {
            let _ = write!(made, "{code}\n{}\n", number()?);
        }
        _ => {}
    }
    Ok(())
}
