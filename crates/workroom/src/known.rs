//! Edits that name bodies and stations, which the document itself cannot judge.

use costume::{Costume, Edit, Refusal};

/// [`costume::apply`] for edits from outside: also refuses bodies and stations that do not exist.
pub fn apply(costume: &Costume, edit: &Edit) -> Result<Costume, Refusal> {
    match edit {
        Edit::ChooseBody { body } if body::presets().iter().all(|p| p.key != body.preset) => {
            let offered: Vec<String> = body::presets().into_iter().map(|p| p.key).collect();
            return Err(Refusal::new(
                "body",
                format!("there is no preset `{}`", body.preset),
                format!("choose one of {}", offered.join(", ")),
            ));
        }
        Edit::Place { piece, placement: Some(placement) } if body::station_names().iter().all(|(key, _)| *key != placement.station) => {
            return Err(Refusal::new(
                costume.piece_name(*piece),
                format!("there is no station `{}`", placement.station),
                "choose a station of the body",
            ));
        }
        _ => {}
    }
    costume::apply(costume, edit)
}
