//! Trying on: many bodies, fitting to an ease, limits, the sheet.

use costume::{BodyChoice, Costume, Edit, Fineness, PieceId, Refusal};
use std::collections::BTreeMap;
use std::sync::Arc;
use workroom::{
    Assembly, ContactBody, EaseAsked, FreeValue, MeshCheck, Trial, Tried, WantedEase, apply, fit_to_ease, fitting_sheet, passed_limits,
    sheet_pdf, size_row, usual_values,
};

const TABARD: &str = include_str!("../../../demo/rakers-tabard.ourlet.json");
const SKIRT: &str = include_str!("../../../demo/gull-skirt.ourlet.json");

fn coarse(text: &str, mm: f64) -> Costume {
    let costume = costume::read(text).expect("a demo");
    apply(&costume, &Edit::ChooseFineness { fineness: Fineness::Custom(mm) }).expect("coarse")
}

/// Hangs costumes on bodies that are made once.
#[derive(Default)]
struct Bodies(BTreeMap<String, Arc<body::Body>>);

impl Bodies {
    fn hang(&mut self, costume: &Costume) -> Result<Assembly, Refusal> {
        let figure = match self.0.get(&costume.body.preset) {
            Some(figure) => figure.clone(),
            None => Arc::new(workroom::figure(&costume.body)?),
        };
        self.0.insert(costume.body.preset.clone(), figure.clone());
        workroom::hang(costume, |reached| ContactBody::of(costume, figure.clone(), reached))
    }
}

fn bust(ease: f64) -> Vec<WantedEase> {
    vec![WantedEase { measure: "bust".into(), ease }]
}

#[test]
fn a_tabard_cut_too_small_is_brought_to_its_ease_and_a_run_that_was_broken_off_ends_alike() {
    let mut bodies = Bodies::default();
    let full = coarse(TABARD, 36.0);
    let pieces: Vec<PieceId> = full.pieces.iter().map(|p| p.id).collect();
    // so narrow that the tape reads less than the body's own girth
    let cut = costume::resolve(&full);
    let narrow: Vec<Edit> = cut.pieces.iter().map(|p| Edit::ScalePiece { piece: p.id, x: 410.0 / p.size()[0], y: 1.0 }).collect();
    let small = apply(&full, &Edit::Batch { edits: narrow }).expect("narrow");
    let asked = EaseAsked { wanted: bust(80.0), free: Vec::new() };
    let mut kept: Vec<Tried> = Vec::new();
    let outcome = fit_to_ease(&small, &asked, &[], &mut |c| bodies.hang(c), &mut || true, &mut |tried, trial| {
        kept.push((tried.clone(), trial.drape.positions()));
        true
    });
    let outcome = outcome.expect("it is tried").expect("to the end");
    let (before, after) = (&outcome.tries[0], &outcome.tries[outcome.best]);
    assert!(outcome.reached && (after.eases[0] - 80.0).abs() < 5.0, "{outcome:?}");
    assert!(before.eases[0] < 40.0 && before.strain_p99 > after.strain_p99, "tight before: {before:?}, and clear after: {after:?}");
    assert_eq!(outcome.pieces.len(), 2, "both panels are wider: {:?}", outcome.pieces);
    assert!(outcome.pieces.iter().all(|p| p.after[0] > p.before[0] + 10.0 && (p.after[1] - p.before[1]).abs() < 1e-6));
    let taken = apply(&small, &outcome.edit).expect("the step can be taken");
    assert_eq!(taken.pieces.iter().map(|p| p.id).collect::<Vec<_>>(), pieces);
    // the girth is the tape's over the draped cloth, found again from nothing
    let again = Trial::of(&taken, &mut |c| bodies.hang(c), None, &mut || true).expect("hung").expect("draped");
    let read = again.report.girths.iter().find(|g| g.measure == "bust").expect("a bust").ease;
    assert!((read - 80.0).abs() < 12.0, "draped anew it has {read} mm");

    // broken off after the first tries, and taken up by another
    let known = &kept[..kept.len() - 1];
    let resumed =
        fit_to_ease(&small, &asked, known, &mut |c| bodies.hang(c), &mut || true, &mut |_, _| true).expect("tried").expect("ended");
    assert_eq!(resumed, outcome, "the same to the bit");
}

#[test]
fn a_block_is_changed_by_its_own_value_and_a_value_that_nothing_answers_to_is_told() {
    let mut bodies = Bodies::default();
    let skirt = coarse(SKIRT, 36.0);
    let trial = Trial::of(&skirt, &mut |c| bodies.hang(c), None, &mut || true).expect("hung").expect("draped");
    let block = skirt.blocks[0].id;
    let positions = trial.drape.positions();
    assert_eq!(usual_values(&trial.assembly, &positions, "waist"), [FreeValue::Block { block, value: "ease".into() }]);

    let waist = vec![WantedEase { measure: "waist".into(), ease: 55.0 }];
    let length = EaseAsked { wanted: waist.clone(), free: vec![FreeValue::Block { block, value: "length".into() }] };
    let refused = fit_to_ease(&skirt, &length, &[], &mut |c| bodies.hang(c), &mut || true, &mut |_, _| true);
    assert!(refused.is_err_and(|r| r.item.contains("length") && r.remedy.contains("wider")));

    let count = EaseAsked { wanted: waist, free: vec![FreeValue::Block { block, value: "share".into() }] };
    let refused = fit_to_ease(&skirt, &count, &[], &mut |c| bodies.hang(c), &mut || true, &mut |_, _| true);
    assert!(refused.is_err_and(|r| r.reason.contains("not a length")));
    let none = EaseAsked { wanted: Vec::new(), free: Vec::new() };
    assert!(fit_to_ease(&skirt, &none, &[], &mut |c| bodies.hang(c), &mut || true, &mut |_, _| true).is_err());
    // told to end, it ends
    let all = EaseAsked { wanted: bust(10.0), free: vec![FreeValue::Block { block, value: "ease".into() }] };
    assert_eq!(fit_to_ease(&skirt, &all, &[], &mut |c| bodies.hang(c), &mut || false, &mut |_, _| true), Ok(None));

    // the sheet of the drape that is at hand: its figures, and pages that a reader opens
    let report = trial.report.clone();
    let sheet = fitting_sheet(&trial.assembly, &trial.drape, trial.report);
    assert_eq!((sheet.report.girths.len(), &sheet.passed), (report.girths.len(), &passed_limits(&skirt, &report)));
    let carried: f64 = sheet.bearers.iter().map(|b| b.force).sum();
    assert!((carried / sheet.weight - 1.0).abs() < 0.03, "{carried} N of {} N", sheet.weight);
    let picture = formats::grey_png(
        &formats::scan_grey(
            &workroom::picture(&trial.assembly, &positions, trial.drape.fused_with(), &workroom::Prints::default(), (60, 80), 0.0),
            0,
        )
        .expect("a picture"),
        72.0,
    );
    let pages = sheet_pdf(&sheet, &[picture.clone(), picture.clone(), picture]).expect("pages");
    assert!(formats::scan_pages(&pages).expect("a PDF").len() >= 2);

    // wanted ease on both sides of what is there
    let mut wanted = skirt.clone();
    let ease = report.girths.iter().find(|g| g.measure == "waist").expect("a waist").ease;
    for (range, words) in [([ease + 1.0, ease + 30.0], "too tight"), ([ease - 30.0, ease - 1.0], "too wide")] {
        wanted.wanted_ease = [("waist".to_owned(), range)].into();
        let passed = passed_limits(&wanted, &report);
        assert!(passed.len() == 1 && passed[0].contains(words), "{passed:?}");
    }
    // the drape as a mesh is one part without a fault once it is welded
    let (cloth, welded) = (trial.drape.positions(), trial.drape.fused_with());
    let triangles: Vec<[u32; 3]> = trial.assembly.scene.triangles.iter().map(|t| t.map(|v| welded[v as usize])).collect();
    let found = MeshCheck::of(&cloth, &triangles, None, Some(&trial.assembly.form));
    assert_eq!((found.parts.len(), found.cloth_body, found.cloth_cloth, found.touching.len()), (1, 0, 0, 0), "{found:?}");
    // a dent into the skin is one crossing, and is pushed out again
    let low = cloth.iter().map(|p| p[1]).fold(f32::MAX, f32::min);
    let front = *cloth.iter().filter(|p| p[1] > low + 0.52).max_by(|a, b| a[2].total_cmp(&b[2])).expect("cloth");
    let away = |p: &[f32; 3]| (0..3).map(|k| (p[k] - front[k]).powi(2)).sum::<f32>().sqrt();
    let dented: Vec<[f32; 3]> = cloth.iter().map(|p| [p[0], p[1], p[2] - 0.05 * (1.0 - away(p) / 0.06).max(0.0)]).collect();
    let into = |cloth: &[[f32; 3]]| MeshCheck::of(cloth, &triangles, None, Some(&trial.assembly.form)).cloth_body;
    let deep = *dented.iter().zip(&cloth).max_by(|a, b| (a.1[2] - a.0[2]).total_cmp(&(b.1[2] - b.0[2]))).expect("cloth").0;
    assert_eq!((into(&dented), into(&workroom::pushed_out(&trial.assembly, &dented, deep))), (1, 0));
    let open = MeshCheck::of(&cloth, &trial.assembly.scene.triangles, None, None);
    assert!(open.parts.len() == 4 && open.touching.len() > 50 && open.passed.iter().any(|p| p.contains("fall apart")));
}

#[test]
fn blocks_are_drafted_for_each_body_of_a_size_run_and_drawn_pieces_stay() {
    let mut bodies = Bodies::default();
    let mut row = |costume: &Costume, size: &str| {
        let made = size_row(costume, &BodyChoice::size(size), &mut |c| bodies.hang(c), &mut || true).expect("to the end");
        assert_eq!(made.0.report.is_some(), made.1.is_some());
        made.0
    };
    let skirt = coarse(SKIRT, 40.0);
    let (small, large) = (row(&skirt, "woman-38"), row(&skirt, "woman-46"));
    let ease = |r: &workroom::SizeRow| {
        r.report.as_ref().and_then(|r| r.girths.iter().find(|g| g.measure == "waist")).map(|g| g.ease).expect("a waist")
    };
    assert!((ease(&small) - ease(&large)).abs() < 12.0, "the band goes along: {} and {}", ease(&small), ease(&large));
    assert!(large.pieces.iter().zip(&small.pieces).any(|(l, s)| l.0 == s.0 && l.1 > s.1 + 40.0));
    let mut nobody = BodyChoice::size("woman-38");
    nobody.overrides.insert("waist".into(), 4000.0);
    let made = size_row(&skirt, &nobody, &mut |_| unreachable!("no such body"), &mut || true).expect("a row");
    assert!(made.0.report.is_none() && made.0.passed.len() == 1 && made.0.badness() > large.badness(), "{:?}", made.0.passed);
    let tabard = coarse(TABARD, 40.0);
    let (a, b) = (costume::resolve(&tabard), workroom::on_body(&tabard, &BodyChoice::size("man-50")).expect("worn"));
    assert_eq!(
        a.pieces.iter().map(|p| p.size()).collect::<Vec<_>>(),
        costume::resolve(&b).pieces.iter().map(|p| p.size()).collect::<Vec<_>>()
    );
}
