//! What the tests of garments share; each uses a part of it.
#![allow(dead_code)]

use cloth::{Drape, Phase};
use costume::{BodyChoice, Costume, Fineness};
use workroom::{Assembly, Form, assemble};

/// The demo tabard at a mesh of `mm`.
pub fn tabard(mm: f64) -> Costume {
    let mut costume = costume::read(include_str!("../../../../demo/rakers-tabard.ourlet.json")).expect("the demo file");
    costume.fineness = Fineness::Custom(mm);
    costume
}

/// The body of a size, as the tabard hangs on it.
pub fn form(preset: &str) -> Form {
    let figure = workroom::figure(&BodyChoice::size(preset)).expect("a preset");
    Form::of(&Costume { body: BodyChoice::size(preset), ..tabard(36.0) }, figure.into()).expect("a form")
}

/// A costume file hung on the body of a size, at its own mesh or one of `mm`.
pub fn hung(text: &str, preset: &str, mm: Option<f64>) -> Assembly {
    let mut costume = costume::read(text).expect("a costume");
    costume.fineness = mm.map_or(costume.fineness, Fineness::Custom);
    costume.body.preset = preset.into();
    let figure = workroom::figure(&costume.body).expect("a preset");
    let form = Form::of(&costume, figure.into()).expect("a form");
    assemble(&costume, &form).expect("it hangs")
}

/// Steps until the cloth rests.
pub fn to_rest(drape: &mut Drape) {
    for _ in 0..4000 {
        if drape.step().phase == Phase::AtRest {
            return;
        }
    }
    panic!("still moving after {:.1} s", drape.time());
}

/// A garment draped from its stations until it rests.
pub fn rested(assembly: &Assembly) -> Drape {
    let mut drape = Drape::new(assembly.scene.clone()).expect("a scene");
    to_rest(&mut drape);
    drape
}
