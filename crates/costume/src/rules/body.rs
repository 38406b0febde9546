//! What the body, its poses, tapes and contact must obey; whether a body has such bones is judged by the workroom.

use super::{Checked, at_most, name};
use crate::{BodyChoice, Costume, FreeTape, PartContact, Refusal, StandIn, limits};
use std::collections::BTreeMap;

/// Farthest that a point on the stand may be from its middle, mm.
const STAND: f64 = 5_000.0;

pub(super) fn check(costume: &Costume) -> Checked {
    body(&costume.body)?;
    at_most("costume", "poses", costume.poses.len(), limits::POSES)?;
    at_most("costume", "tapes", costume.tapes.len(), limits::TAPES)?;
    for kept in &costume.poses {
        name("pose", &kept.name)?;
        angles(&kept.name, &kept.bones)?;
    }
    let mut names: Vec<&str> = costume.poses.iter().map(|p| p.name.as_str()).collect();
    names.sort_unstable();
    if let Some(twice) = names.windows(2).find(|w| w[0] == w[1]) {
        return Err(Refusal::new(twice[0], "is the name of two poses", "rename one of them"));
    }
    costume.tapes.iter().try_for_each(tape)
}

/// Largest own measure, mm.
const MEASURE: f64 = 5_000.0;

fn body(body: &BodyChoice) -> Checked {
    name("size", &body.preset)?;
    for (key, mm) in &body.overrides {
        name("measure", key)?;
        if !(0.0..=MEASURE).contains(mm) {
            return Err(Refusal::new(key, format!("a measure of {mm} mm"), format!("choose one from 0 to {MEASURE} mm")));
        }
    }
    at_most("body", "own measures", body.overrides.len(), limits::MEASURES)?;
    if let Some(hash) = &body.figure
        && (hash.len() != 64 || !hash.chars().all(|c| c.is_ascii_digit() || ('a'..='f').contains(&c)))
    {
        return Err(Refusal::new("body", "names a figure by something that is no content hash", "choose the figure again"));
    }
    angles("body", &body.pose)?;
    at_most("body", "parts", body.contact.parts.len(), limits::BONES)?;
    at_most("body", "stand-ins", body.contact.shapes.len(), limits::SHAPES)?;
    body.contact.parts.iter().try_for_each(|(key, part)| part_contact(key, part))?;
    body.contact.shapes.iter().try_for_each(stand_in)
}

fn angles(item: &str, bones: &BTreeMap<String, [f64; 3]>) -> Checked {
    at_most(item, "bones", bones.len(), limits::BONES)?;
    for (bone, angles) in bones {
        name("bone", bone)?;
        if !angles.iter().all(|a| a.abs() <= 360.0) {
            return Err(Refusal::new(item, format!("{bone} has an angle beyond 360 degrees"), "turn the joint back"));
        }
    }
    Ok(())
}

fn part_contact(key: &str, part: &PartContact) -> Checked {
    name("part", key)?;
    if !(0.0..=30.0).contains(&part.offset) {
        return Err(Refusal::new(key, format!("a clearance of {} mm", part.offset), "choose one from 0 to 30 mm"));
    }
    if !(0.0..=5.0).contains(&part.friction) {
        return Err(Refusal::new(key, format!("a friction of {} times the fabric's", part.friction), "choose a factor from 0 to 5"));
    }
    Ok(())
}

fn stand_in(s: &StandIn) -> Checked {
    if !s.bone.is_empty() {
        name("bone", &s.bone)?;
    }
    if !s.at.iter().all(|v| v.abs() <= STAND) || !s.turn.iter().all(|v| v.abs() <= 360.0) {
        return Err(Refusal::new("stand-in", "lies too far away", "bring it back to the stand"));
    }
    if !s.size.iter().all(|v| (5.0..=1500.0).contains(v)) {
        return Err(Refusal::new("stand-in", format!("half sizes of {:?} mm", s.size), "choose each from 5 to 1500 mm"));
    }
    Ok(())
}

fn tape(tape: &FreeTape) -> Checked {
    name("tape", &tape.name)?;
    let count = tape.points.len();
    if !(2..=limits::TAPE_POINTS).contains(&count) {
        return Err(Refusal::new(&tape.name, format!("has {count} points"), format!("lay it over 2 to {} points", limits::TAPE_POINTS)));
    }
    if !tape.points.iter().flatten().all(|v| v.abs() <= STAND) {
        return Err(Refusal::new(&tape.name, "has a point that is not on the stand", "lay it again"));
    }
    Ok(())
}
