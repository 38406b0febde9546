//! Draping to rest without anybody who watches.

use crate::{Assembly, ContactBody, STEPS_A_FRAME};
use cloth::{Drape, Phase, StepReport};
use costume::Refusal;

/// Steps until the cloth rests or has moved for `limit` simulated seconds since the start; `each` hears of every step. Parts
/// of the body that had left themselves out are taken in when cloth comes near them.
pub fn drape_to_rest(assembly: &mut Assembly, drape: &mut Drape, limit: f64, mut each: impl FnMut(&StepReport)) -> Result<(), Refusal> {
    drape_while(assembly, drape, limit, |step| {
        each(step);
        true
    })
    .map(drop)
}

/// The same as long as `each` says yes; false when it said no.
pub(crate) fn drape_while(
    assembly: &mut Assembly,
    drape: &mut Drape,
    limit: f64,
    mut each: impl FnMut(&StepReport) -> bool,
) -> Result<bool, Refusal> {
    let mut steps = 0;
    while drape.phase() != Phase::AtRest && drape.time() < limit {
        if !each(&drape.step()) {
            return Ok(false);
        }
        steps += 1;
        if steps % STEPS_A_FRAME == 0 || drape.phase() == Phase::AtRest {
            take_in(assembly, drape)?;
        }
    }
    Ok(true)
}

fn take_in(assembly: &mut Assembly, drape: &mut Drape) -> Result<(), Refusal> {
    let Some(reached) = assembly.form.reached_anew(&assembly.costume.body, &drape.positions()) else { return Ok(()) };
    let form = ContactBody::of(&assembly.costume, assembly.form.figure.clone(), &reached)?;
    drape.set_body(form.still());
    assembly.form = form;
    Ok(())
}
