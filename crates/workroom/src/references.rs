//! Bodies and stations that a document names; the document itself cannot judge them.

use crate::blocks;
use crate::contact::is_own_part;
use crate::form::{pose, pose_refusal, refusal, request};
use body::{Skeleton, own_bones};
use costume::{BodyChoice, Costume, Diagnostic, DiagnosticKind, Edit, Pattern, Refusal, resolve};

/// A refusal of a body that cannot be made. Bones of imported figures are judged when the figure is at hand.
fn body(choice: &BodyChoice) -> Result<(), Refusal> {
    body::check(&request(choice)?).map_err(refusal)?;
    if choice.figure.is_some() {
        return Ok(());
    }
    pose(choice).check(&Skeleton { bones: own_bones().to_vec() }).map_err(pose_refusal)?;
    let unknown = |what: &str, key: &str| Refusal::elsewhere("body", format!("has no {what} `{key}`"), "choose one of the body's");
    if let Some(key) = choice.contact.parts.keys().find(|key| !is_own_part(key)) {
        return Err(unknown("part", key));
    }
    match choice.contact.shapes.iter().find(|s| !s.bone.is_empty() && !own_bones().iter().any(|b| b.name == s.bone)) {
        Some(shape) => Err(unknown("bone", &shape.bone)),
        None => Ok(()),
    }
}

/// A refusal of a station key that no body has.
fn station(piece: String, key: &str) -> Result<(), Refusal> {
    if body::station_names().iter().any(|(known, _)| *known == key) {
        return Ok(());
    }
    Err(Refusal::elsewhere(piece, format!("there is no station `{key}`"), "choose a station of the body"))
}

/// [`costume::apply`] for edits from outside: also refuses bodies and stations that do not exist.
pub fn apply(costume: &Costume, edit: &Edit) -> Result<Costume, Refusal> {
    Ok(apply_on(costume, &resolve(costume), edit)?.0)
}

/// The same where the pattern of the document is at hand, see [`costume::apply_on`].
pub fn apply_on(costume: &Costume, pattern: &Pattern, edit: &Edit) -> Result<(Costume, Pattern), Refusal> {
    let with_measures = measured_all(costume, edit);
    let edit = with_measures.as_ref().unwrap_or(edit);
    let edits = match edit {
        Edit::Batch { edits } => edits.as_slice(),
        one => std::slice::from_ref(one),
    };
    for edit in edits {
        match edit {
            Edit::ChooseBody { body: choice } => body(choice)?,
            Edit::Place { piece, placement: Some(placement) } => station(costume.piece_name(*piece), &placement.station)?,
            _ => {}
        }
    }
    let (next, pattern) = costume::apply_on(costume, pattern, edit)?;
    if next.body == costume.body { Ok((next, pattern)) } else { blocks::follow(next, pattern) }
}

/// The edit, or those of a batch, with the measures of the body where recipes need them.
fn measured_all(costume: &Costume, edit: &Edit) -> Option<Edit> {
    match edit {
        Edit::Batch { edits } if edits.iter().any(|e| blocks::measured(costume, e).is_some()) => {
            let filled = |e: &Edit| blocks::measured(costume, e).unwrap_or_else(|| e.clone());
            Some(Edit::Batch { edits: edits.iter().map(filled).collect() })
        }
        one => blocks::measured(costume, one),
    }
}

/// [`costume::diagnostics`], and those of bodies and stations named in a file that do not exist.
pub fn diagnostics(costume: &Costume) -> Vec<Diagnostic> {
    diagnostics_of(costume, &resolve(costume))
}

/// The same when the pattern is at hand.
pub fn diagnostics_of(costume: &Costume, pattern: &Pattern) -> Vec<Diagnostic> {
    let hanging = pattern.pieces.iter().filter(|p| !p.parked);
    let places = hanging.filter_map(|p| Some((p.id, station(p.name.clone(), &p.placement.as_ref()?.station).err()?)));
    let unknown = body(&costume.body).err().map(|refusal| (None, refusal));
    let named = |(piece, r): (_, Refusal)| {
        let remedy = format!("{}.", r.remedy);
        Diagnostic::new(DiagnosticKind::Unknown { piece, item: r.item, reason: r.reason, remedy }, costume)
    };
    let mut found: Vec<Diagnostic> = unknown.into_iter().chain(places.map(|(id, r)| (Some(id), r))).map(named).collect();
    found.extend(costume::diagnostics(costume, pattern));
    found
}
