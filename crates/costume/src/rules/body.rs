//! What the body, its poses, tapes and contact must obey; whether a body has such bones is judged by the workroom.

use super::{Checked, at_most, name, within};
use crate::{BodyChoice, Costume, Counted, FreeTape, Note, PartContact, Quantity, Refusal, RefusalKind, RoughSpot, StandIn, Thing, limits};
use std::collections::BTreeMap;

/// Farthest that a point on the stand may be from its middle, mm.
const STAND: f64 = 5_000.0;

pub(super) fn check(costume: &Costume) -> Checked {
    body(&costume.body)?;
    at_most("costume", Counted::Poses, costume.poses.len(), limits::POSES)?;
    at_most("costume", Counted::Tapes, costume.tapes.len(), limits::TAPES)?;
    for kept in &costume.poses {
        name("pose", &kept.name)?;
        angles(&kept.name, &kept.bones)?;
    }
    let mut names: Vec<&str> = costume.poses.iter().map(|p| p.name.as_str()).collect();
    names.sort_unstable();
    if let Some(twice) = names.windows(2).find(|w| w[0] == w[1]) {
        return Err(Refusal::of(twice[0], RefusalKind::TwoPoses));
    }
    costume.tapes.iter().try_for_each(tape)?;
    wanted(costume)?;
    at_most("costume", Counted::Notes, costume.notes.len(), limits::NOTES)?;
    costume.notes.iter().try_for_each(|n| note(costume, n))
}

/// Least and most room at a girth, mm.
const EASE: std::ops::RangeInclusive<f64> = -500.0..=5_000.0;

fn wanted(costume: &Costume) -> Checked {
    at_most("costume", Counted::WantedEase, costume.wanted_ease.len(), limits::MEASURES)?;
    for (key, [least, most]) in &costume.wanted_ease {
        name("measure", key)?;
        within(key, Quantity::Ease, *least, &EASE)?;
        within(key, Quantity::Ease, *most, &(*least..=*EASE.end()))?;
    }
    Ok(())
}

fn note(costume: &Costume, note: &Note) -> Checked {
    let piece = costume.piece(note.piece).ok_or_else(|| Refusal::of("note", RefusalKind::Gone { what: Thing::Piece }))?;
    super::text(&format!("{}, note", piece.name), &note.text)?;
    super::on_table(&piece.name, note.at)
}

/// Largest own measure, mm.
const MEASURE: f64 = 5_000.0;

fn body(body: &BodyChoice) -> Checked {
    name("size", &body.preset)?;
    for (key, mm) in &body.overrides {
        name("measure", key)?;
        within(key, Quantity::Measure, *mm, &(0.0..=MEASURE))?;
    }
    at_most("body", Counted::Measures, body.overrides.len(), limits::MEASURES)?;
    if let Some(hash) = &body.figure
        && !super::is_hash(hash)
    {
        return Err(Refusal::of("body", RefusalKind::NoHash));
    }
    angles("body", &body.pose)?;
    at_most("body", Counted::Parts, body.contact.parts.len(), limits::BONES)?;
    at_most("body", Counted::StandIns, body.contact.shapes.len(), limits::SHAPES)?;
    body.contact.parts.iter().try_for_each(|(key, part)| part_contact(key, part))?;
    body.contact.shapes.iter().try_for_each(stand_in)?;
    at_most("body", Counted::RoughSpots, body.contact.rough.len(), limits::ROUGH_SPOTS)?;
    body.contact.rough.iter().try_for_each(rough_spot)
}

fn rough_spot(spot: &RoughSpot) -> Checked {
    spot.at.iter().try_for_each(|v| within("rough spot", Quantity::Size, *v, &(-STAND..=STAND)))?;
    within("rough spot", Quantity::Brush, spot.radius, &limits::BRUSH)?;
    within("rough spot", Quantity::Friction, spot.friction, &limits::GRIP)
}

fn angles(item: &str, bones: &BTreeMap<String, [f64; 3]>) -> Checked {
    at_most(item, Counted::Bones, bones.len(), limits::BONES)?;
    for (bone, angles) in bones {
        name("bone", bone)?;
        angles.iter().try_for_each(|a| within(item, Quantity::JointAngle { bone: bone.clone() }, *a, &(-360.0..=360.0)))?;
    }
    Ok(())
}

fn part_contact(key: &str, part: &PartContact) -> Checked {
    name("part", key)?;
    within(key, Quantity::Clearance, part.offset, &(0.0..=30.0))?;
    within(key, Quantity::Friction, part.friction, &(0.0..=5.0))
}

fn stand_in(s: &StandIn) -> Checked {
    if !s.bone.is_empty() {
        name("bone", &s.bone)?;
    }
    if !s.at.iter().all(|v| v.abs() <= STAND) || !s.turn.iter().all(|v| v.abs() <= 360.0) {
        return Err(Refusal::of("stand-in", RefusalKind::StandInAway));
    }
    s.size.iter().try_for_each(|v| within("stand-in", Quantity::HalfSize, *v, &(5.0..=1500.0)))
}

fn tape(tape: &FreeTape) -> Checked {
    name("tape", &tape.name)?;
    let count = tape.points.len();
    if !(2..=limits::TAPE_POINTS).contains(&count) {
        return Err(Refusal::of(&tape.name, RefusalKind::TapePoints { count, most: limits::TAPE_POINTS }));
    }
    if !tape.points.iter().flatten().all(|v| v.abs() <= STAND) {
        return Err(Refusal::of(&tape.name, RefusalKind::TapeAway));
    }
    Ok(())
}
