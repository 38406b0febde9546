//! Seams judged and sewn: walking directions, equal parts, what the cloth takes, and what is the matter with several together.

mod common;

use common::{done, edge, join, line, two_panels};
use costume::{
    Costume, DiagnosticKind, Edit, LineRef, MendKind, Run, SeamKind, SeamMake, apply, diagnostics, ease_limit, judge, resolve,
    stretch_limit, swatch,
};
use proptest::prelude::*;

fn run(costume: &Costume, piece: usize, k: usize) -> Run {
    Run::whole(costume.pieces[piece].id, line(&costume.pieces[piece], k))
}

fn part(costume: &Costume, piece: usize, k: usize, from: f64, to: f64) -> Run {
    Run { from, to, ..run(costume, piece, k) }
}

fn kinds(costume: &Costume) -> Vec<DiagnosticKind> {
    diagnostics(costume, &resolve(costume)).into_iter().map(|d| d.kind).collect()
}

/// The mend of a kind, carried out.
fn mended(costume: &Costume, mend: MendKind) -> Costume {
    let all = diagnostics(costume, &resolve(costume));
    let found = all.iter().flat_map(|d| &d.mends).find(|m| m.kind == mend).unwrap_or_else(|| panic!("no {mend:?} in {all:?}"));
    done(costume, (*found.edit).clone())
}

#[test]
fn thick_soft_cloth_is_eased_more_than_thin_or_firm_cloth_and_only_knits_are_stretched() {
    let of = |key: &str| swatch(key).expect("a swatch");
    let ease = |key: &str| ease_limit(of(key));
    assert!(ease("wool-flannel") > ease("calico") && ease("calico") > ease("satin-lining"));
    assert!(ease("soft-leather") < 0.03, "leather does not give: {}", ease("soft-leather"));
    // by hand for calico: a wave 0.35 mm high over half a length of 3 mm, in cloth that shears at 70 N/m
    let expected = (std::f64::consts::PI * 0.35 / 6.0).powi(2) / (1.0 + 70.0 / 200.0);
    assert!((ease("calico") - expected).abs() < 1e-12);
    assert!(stretch_limit(of("rib-knit")) > 0.05 && stretch_limit(of("calico")) == 0.0);
    assert!(costume::SWATCHES.iter().all(|s| (0.01..=0.08).contains(&ease_limit(s))));
}

#[test]
fn a_seam_is_flat_eased_puckered_or_gathered_by_its_lengths_and_as_it_is_meant() {
    let costume = join(&two_panels(), (0, 1), (1, 3));
    let with = |mm: f64| {
        let on = costume.pieces[1].id;
        done(&costume, Edit::SetLength { piece: on, line: line(&costume.pieces[1], 3), length: mm, moves: costume::LineEnd::To })
    };
    let of = |c: &Costume| {
        let pattern = resolve(c);
        judge(c, &pattern, &pattern.seams[0])
    };
    let seen = |mm: f64| (of(&with(mm)).kind, of(&with(mm)).good);
    assert_eq!(seen(502.0), (SeamKind::Flat, true));
    assert_eq!(seen(510.0), (SeamKind::Eased, true), "2 % in calico");
    assert_eq!(seen(540.0), (SeamKind::Eased, false), "8 % puckers");
    assert_eq!(seen(1000.0), (SeamKind::Gathered, false), "nobody said that it is meant");
    let meant = mended(&with(1000.0), MendKind::Meant);
    assert_eq!((of(&meant).kind, of(&meant).good), (SeamKind::Gathered, true));
    let other = done(&meant, Edit::MakeSeam { seam: meant.seams[0].id, make: SeamMake { gather: Some(3.0), ..SeamMake::default() } });
    assert!(!of(&other).good, "2 : 1 is not 3 : 1");
    // both other mends bring the sides together
    let trimmed = mended(&with(540.0), MendKind::Trim);
    assert!(of(&trimmed).difference().abs() < 0.1, "{:?}", of(&trimmed));
    let notched = mended(&with(540.0), MendKind::AddNotch);
    assert_eq!(resolve(&notched).seams[0].notches.len(), 1);
}

#[test]
fn equal_parts_of_one_side_go_to_the_lines_of_the_other() {
    let costume = two_panels();
    let third = add_third(&costume);
    // one side of 500 mm to two lines of 300: a part of 250 each
    let (a, b) = (vec![run(&third, 0, 1)], vec![run(&third, 1, 0), run(&third, 2, 0)]);
    let sewn = done(&third, Edit::SewParts { a, b });
    let pattern = resolve(&sewn);
    assert_eq!(pattern.seams.len(), 2);
    for seam in &pattern.seams {
        let lengths = pattern.seam_lengths(seam);
        assert!((lengths.a - 250.0).abs() < 1e-6 && (lengths.b - 300.0).abs() < 1e-6, "{lengths:?}");
    }
}

fn add_third(costume: &Costume) -> Costume {
    let rectangle = [(0.0, 0.0), (300.0, 0.0), (300.0, 500.0), (0.0, 500.0)];
    done(costume, common::add("Third", 800.0, &rectangle))
}

#[test]
fn what_cannot_be_sewn_is_refused_with_its_reason() {
    let costume = join(&two_panels(), (0, 1), (1, 3));
    let refused = |edit: Edit| apply(&costume, &edit).expect_err("it is refused").to_string();
    let sew = |a: Vec<Run>, b: Vec<Run>| Edit::SewTogether { a, b };
    assert!(refused(sew(vec![run(&costume, 0, 3)], vec![run(&costume, 0, 3)])).contains("sewn to itself"));
    let short = sew(vec![part(&costume, 0, 2, 0.0, 0.2)], vec![run(&costume, 1, 1)]);
    assert!(refused(short).contains("8.3 times as long"), "300 mm by 0.2 to 500 mm");
    assert!(refused(sew(vec![run(&costume, 1, 3)], vec![run(&costume, 0, 1)])).contains("seam A sews already"));
    // a tube whose edges run the same way has half a twist
    let twisted = Edit::Sew { a: vec![run(&costume, 0, 1)], b: vec![run(&costume, 0, 3)] };
    assert!(refused(twisted).contains("half a twist"));
    assert!(apply(&costume, &sew(vec![run(&costume, 0, 1)], vec![run(&costume, 0, 3)])).is_ok(), "turned by itself");
    assert!(refused(Edit::SewParts { a: vec![run(&costume, 0, 2)], b: vec![] }).contains("no stretches"));
    let none = Edit::MakeSeam { seam: costume.seams[0].id, make: SeamMake { lap: Some(0.0), ..SeamMake::default() } };
    assert!(refused(none).contains("overlap of 0"));
}

#[test]
fn a_loop_of_several_pieces_with_half_a_twist_is_told_and_turned() {
    let tube = join(&join(&two_panels(), (0, 1), (1, 3)), (1, 1), (0, 3));
    assert!(!kinds(&tube).iter().any(|k| matches!(k, DiagnosticKind::HalfTwist { .. })));
    let flipped = done(&tube, Edit::FlipSeam { seam: tube.seams[1].id });
    assert!(kinds(&flipped).contains(&DiagnosticKind::HalfTwist { seam: tube.seams[1].id }));
    assert!(!kinds(&mended(&flipped, MendKind::TurnRound)).iter().any(|k| matches!(k, DiagnosticKind::HalfTwist { .. })));
}

#[test]
fn seams_that_cross_or_miss_each_other_on_a_line_are_told_and_mended() {
    let costume = two_panels();
    let sew = |c: &Costume, a: Run, b: Run| done(c, Edit::Sew { a: vec![a], b: vec![b] });
    // lower half to upper half and the other way round: their threads cross
    let one = sew(&costume, part(&costume, 0, 1, 0.0, 0.5), part(&costume, 1, 3, 0.5, 0.0));
    let crossed = sew(&one, part(&costume, 0, 1, 0.5, 1.0), part(&costume, 1, 3, 1.0, 0.5));
    assert!(kinds(&crossed).iter().any(|k| matches!(k, DiagnosticKind::Crossed { .. })), "{:?}", kinds(&crossed));
    let mended = mended(&crossed, MendKind::Exchange);
    assert!(!kinds(&mended).iter().any(|k| matches!(k, DiagnosticKind::Crossed { .. })));
    // a band over two panels that are sewn to each other, with 9 mm left open between
    let three = add_third(&costume);
    let panels = join(&three, (0, 1), (1, 3));
    let band = done(&panels, common::add("Band", 0.0, &[(0.0, 600.0), (600.0, 600.0), (600.0, 640.0), (0.0, 640.0)]));
    let lower = |from, to| part(&band, 3, 0, from, to);
    let left = done(&band, Edit::SewTogether { a: vec![lower(0.0, 0.485)], b: vec![run(&band, 0, 2)] });
    let both = done(&left, Edit::SewTogether { a: vec![lower(0.5, 1.0)], b: vec![run(&band, 1, 2)] });
    let apart = kinds(&both).into_iter().find_map(|k| if let DiagnosticKind::CornersApart { apart, .. } = k { Some(apart) } else { None });
    assert!(apart.is_some_and(|a| (a - 9.0).abs() < 1e-6), "{apart:?}");
    let met = self::mended(&both, MendKind::Meet);
    assert!(!kinds(&met).iter().any(|k| matches!(k, DiagnosticKind::CornersApart { .. })));
}

#[test]
fn a_sleeve_that_is_not_closed_and_a_twin_that_stays_open_are_told() {
    let mut costume = two_panels();
    let sleeve = costume.pieces[1].id;
    costume = done(&costume, Edit::Place { piece: sleeve, placement: Some(costume::Placement::at("upper-arm-left")) });
    let joined = join(&costume, (0, 0), (1, 2));
    assert!(kinds(&joined).contains(&DiagnosticKind::OpenTube { piece: sleeve }));
    let closed = mended(&joined, MendKind::Join);
    assert!(!kinds(&closed).contains(&DiagnosticKind::OpenTube { piece: sleeve }));
    let twin = done(&joined, Edit::AddTwin { piece: sleeve, at: costume::Point::new(2000.0, 0.0) });
    let open = kinds(&twin).into_iter().any(|k| matches!(k, DiagnosticKind::TwinOpen { piece, .. } if piece == twin.pieces[2].id));
    assert!(open, "the body has no twin to sew it to: {:?}", kinds(&twin));
}

proptest! {
    /// However the runs of both sides are turned when they are chosen, they are sewn the same way, without a half twist.
    #[test]
    fn directions_do_not_depend_on_how_stretches_were_chosen(turns in proptest::collection::vec(any::<bool>(), 4), swap: bool) {
        let costume = join(&add_third(&two_panels()), (0, 1), (1, 3));
        let band = done(&costume, common::add("Band", 0.0, &[(0.0, 600.0), (600.0, 600.0), (600.0, 640.0), (0.0, 640.0)]));
        let turned = |r: Run, k: usize| if turns[k] { r.turned() } else { r };
        let a = vec![turned(run(&band, 3, 0), 0)];
        let b = vec![turned(run(&band, 0, 2), 1), turned(run(&band, 1, 2), 2)];
        let (a, b) = if swap { (b, a) } else { (a, b) };
        let sewn = done(&band, Edit::SewTogether { a, b });
        let seam = &resolve(&sewn).seams[1];
        let forwards = |side: &[costume::PatternRun]| side.iter().all(|r| r.from < r.to);
        let backwards = |side: &[costume::PatternRun]| side.iter().all(|r| r.from > r.to);
        prop_assert!((forwards(&seam.a) && backwards(&seam.b)) || (backwards(&seam.a) && forwards(&seam.b)));
        let twisted = kinds(&sewn).iter().any(|k| matches!(k, DiagnosticKind::HalfTwist { .. }));
        prop_assert!(!twisted);
    }
}

#[test]
fn a_line_is_joined_by_its_reference_as_by_its_run() {
    let costume = two_panels();
    let (a, b): (LineRef, LineRef) = (edge(&costume.pieces[0], 1), edge(&costume.pieces[1], 3));
    let joined = done(&costume, Edit::Join { a, b });
    let together = done(&costume, Edit::SewTogether { a: vec![run(&costume, 0, 1)], b: vec![run(&costume, 1, 3)] });
    assert_eq!(joined, together);
}
