//! Valid costume files and edits with a few bytes changed: each is read or refused with its reason, none panics, and what an
//! edit makes can be read back.

#[path = "../../formats/tests/mutate/mod.rs"]
mod mutate;

use costume::{Costume, Edit, apply, read, write};
use mutate::{Rounds, mutate};

const FILES: [&str; 2] =
    [include_str!("../../../demo/heron-mantle.ourlet.json"), include_str!("../../../demo/sluice-keepers-breeches.ourlet.json")];

/// One of every kind that carries numbers, ids or names from outside.
const EDITS: [&str; 33] = [
    r#"{"do":"rename-costume","name":"Mantle of herons"}"#,
    r#"{"do":"choose-body","body":{"preset":"woman-38","set":{"waist":740.0},"pose":{"forearm-left":[10,0,0]},"contact":{"parts":{"hand-left":{"left_out":true,"offset":2.0,"friction":1.0}},"shapes":[{"shape":"box","bone":"pelvis","at":[0,900,0],"turn":[0,10,0],"size":[50,60,70]}]}}}"#,
    r#"{"do":"keep-pose","pose":{"name":"Bow","bones":{"spine":[20,0,0]}}}"#,
    r#"{"do":"lay-tape","tape":{"id":0,"name":"Tape 1","points":[[0,1000,100],[100,1000,80]],"follows":true,"closed":false}}"#,
    r#"{"do":"choose-fineness","fineness":{"custom":12.5}}"#,
    r#"{"do":"add-piece","name":"Band","at":{"x":10,"y":20},"points":[{"x":0,"y":0,"handles":[{"x":90,"y":-20},{"x":210,"y":-20}]},{"x":300,"y":0},{"x":300,"y":40},{"x":0,"y":40}]}"#,
    r#"{"do":"move-node","piece":101,"node":102,"to":{"x":12.5,"y":-3}}"#,
    r#"{"do":"split-line","piece":101,"line":102,"fraction":0.25,"by_length":true}"#,
    r#"{"do":"remove-node","piece":101,"node":103}"#,
    r#"{"do":"set-grain","piece":101,"degrees":45}"#,
    r##"{"do":"change-fabric","fabric":1,"name":"Wool","swatch":"denim","colour":"#203040","print":{"motif":"salt-crystals","repeat":90,"colour":"#ffffff"},"own":{"density":200}}"##,
    r#"{"do":"add-inside","piece":101,"points":[{"node":102},{"at":{"x":10,"y":20}},{"node":104}],"purpose":{"fold":{"angle":30}}}"#,
    r#"{"do":"finish-line","piece":101,"line":102,"from":0.1,"to":0.9,"finish":{"elastic":{"length":70}}}"#,
    r#"{"do":"place","piece":101,"placement":{"station":"chest-front","shift":{"x":0,"y":10},"turn":5}}"#,
    r#"{"do":"sew","a":[{"piece":101,"line":102,"from":0.1,"to":0.7}],"b":[{"piece":101,"line":104,"from":0.9,"to":0.2}]}"#,
    r#"{"do":"add-twin","piece":101,"at":{"x":500,"y":0}}"#,
    r#"{"do":"add-cutout","piece":101,"points":[{"x":-20,"y":300},{"x":20,"y":300},{"x":0,"y":340,"handles":[{"x":-10,"y":340},{"x":-20,"y":320}]}]}"#,
    r#"{"do":"add-notch","piece":101,"line":103,"at":0.25,"double":true}"#,
    r#"{"do":"set-cut","piece":101,"cut":{"count":2,"on_fold":103}}"#,
    r#"{"do":"bend-line","piece":101,"line":102,"at":0.4,"to":{"x":30,"y":25}}"#,
    r#"{"do":"set-length","piece":101,"line":103,"length":320.5,"moves":"to"}"#,
    r#"{"do":"round-corner","piece":101,"node":103,"radius":20}"#,
    r#"{"do":"divide-line","piece":101,"line":104,"parts":4}"#,
    r#"{"do":"redraw-line","piece":101,"line":102,"points":[{"x":0,"y":0},{"x":50,"y":9},{"x":90,"y":4}],"within":0.5}"#,
    r#"{"do":"add-basic","name":"Disc","at":{"x":0,"y":0},"basic":{"sector":{"outer":300,"inner":90,"degrees":180}}}"#,
    r#"{"do":"cut-piece","piece":101,"from":{"on":{"line":102,"at":0.5}},"to":{"on":{"line":104,"at":0.4}},"through":[{"x":10,"y":200}],"sew":true}"#,
    r#"{"do":"add-dart","piece":101,"line":102,"at":0.5,"width":20,"depth":90}"#,
    r#"{"do":"spread","piece":101,"cuts":[[{"on":{"line":102,"at":0.3}},{"on":{"line":104,"at":0.7}}]],"amount":40,"by":"hinge"}"#,
    r#"{"do":"add-pleats","piece":101,"from":{"on":{"line":104,"at":0.6}},"to":{"on":{"line":102,"at":0.4}},"count":2,"depth":20,"spacing":50,"pleat":"box"}"#,
    r#"{"do":"move-nodes","piece":101,"nodes":[102,103],"by":{"x":3,"y":-4},"reach":80}"#,
    r#"{"do":"paint","piece":101,"kind":"skin","stroke":{"with":"brush","points":[{"x":10,"y":20},{"x":60,"y":90}],"radius":30,"soft":0.5,"value":0.8}}"#,
    r#"{"do":"paint","piece":101,"kind":"grip","stroke":{"with":"picture","image":"iVBORw0KGgoAAAANSUhEUgAAAAIAAAACCAAAAABX3VL4AAAADklEQVR4nGP438DA4AAAB0EBwLUutkYAAAAASUVORK5CYII="}}"#,
    r#"{"do":"batch","edits":[{"do":"turn-piece","piece":101,"angle":12},{"do":"add-text","piece":101,"at":{"x":1,"y":2},"text":"Up"}]}"#,
];

#[test]
fn every_file_and_every_edit_is_taken_or_refused() {
    let costumes: Vec<Costume> = FILES.iter().map(|text| read(text).expect("a demo")).collect();
    assert!(EDITS.iter().all(|e| serde_json::from_str::<Edit>(e).is_ok()), "the seeds are edits");
    let mut rounds = Rounds::new();
    let (mut taken, mut made) = (0u64, 0u64);
    while rounds.goes_on(150) {
        let k = rounds.done as usize;
        let changed = mutate(FILES[k % FILES.len()].as_bytes(), &mut rounds.dice);
        rounds.keep("costume.json", &changed);
        // bytes that are no text are refused before
        if let Ok(text) = String::from_utf8(changed) {
            taken += u64::from(read(&text).is_ok());
        }
        for edit in EDITS {
            let changed = mutate(edit.as_bytes(), &mut rounds.dice);
            rounds.keep("edit.json", &changed);
            let Ok(edit) = serde_json::from_slice::<Edit>(&changed) else { continue };
            let Ok(next) = apply(&costumes[k % costumes.len()], &edit) else { continue };
            made += 1;
            let back = write(&next).and_then(|text| read(&text));
            assert_eq!(back.as_ref(), Ok(&next), "{edit:?} makes what cannot be read back");
        }
    }
    println!("{} rounds, {taken} files and {made} edits taken in spite of the change", rounds.done);
    assert!(taken + made > rounds.done / 100, "some changes are harmless, or nothing was tried");
}
