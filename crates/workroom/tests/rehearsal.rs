//! Rehearsals: cloth on a body that moves, judged frame by frame and by independent readings.

mod common;

use cloth::Drape;
use workroom::Assembly;
use workroom::rehearsal::{BodyMotion, FrameReport, Plan, Rehearsal, motion};

/// The demo tabard at rest, coarse.
fn tabard() -> (Assembly, Drape) {
    let mut assembly = common::hung(include_str!("../../../demo/rakers-tabard.ourlet.json"), "woman-38", Some(40.0));
    let drape = common::rested(&mut assembly);
    (assembly, drape)
}

fn rehearsal(motion: BodyMotion, plan: Plan) -> Rehearsal {
    let (assembly, drape) = tabard();
    Rehearsal::new(assembly, drape, motion, plan).unwrap_or_else(|e| panic!("{e}"))
}

fn middle(positions: &[[f32; 3]]) -> [f32; 3] {
    [0, 1, 2].map(|k| positions.iter().map(|p| p[k]).sum::<f32>() / positions.len() as f32)
}

#[test]
fn a_tabard_walks_along_and_nothing_goes_through_anything() {
    let plan = Plan { lead_in: 16, settle: 4, ..Plan::default() };
    let mut walk = rehearsal(motion("walk").expect("it ships"), plan);
    assert_eq!(walk.delivered() - plan.settle, (walk.frames() - plan.lead_in) - plan.settle);
    let before = middle(&walk.positions());
    let mut reports: Vec<FrameReport> = Vec::new();
    while let Some(report) = walk.advance() {
        assert!(report.is_good(), "{report:?}");
        reports.push(report);
        // three steps are enough to see it
        if reports.len() == plan.lead_in + 44 {
            break;
        }
    }
    assert_eq!((reports[0].frame, reports[plan.lead_in].frame), (-(plan.lead_in as i64), 0), "the first of the motion is 0");
    assert!(reports.iter().all(|r| r.strain_p99 < 0.08), "p99 {:?}", reports.iter().map(|r| r.strain_p99).fold(0.0, f64::max));
    // it goes where the body goes: by independent reading of the skin
    let (cloth, skin) = (middle(&walk.positions()), middle(&walk.skin().0));
    assert!(cloth[2] - before[2] > 1.2 && (cloth[2] - skin[2]).abs() < 0.12, "{cloth:?} with the body at {skin:?}");
    // seen by a reader of the shelf, no edge of cloth goes through the skin
    let text = |mesh: formats::ExportMesh| formats::obj(&[mesh], None);
    assert_eq!(common::edges_through(&text(walk.garment()), &text(walk.body())), 0);
}

#[test]
fn a_rehearsal_is_the_same_bit_for_bit_with_one_thread_and_two() {
    let plan = Plan { lead_in: 4, settle: 0, ..Plan::default() };
    let run = |threads: usize| {
        let pool = rayon::ThreadPoolBuilder::new().num_threads(threads).build().expect("threads");
        pool.install(|| {
            let mut run = rehearsal(motion("reach").expect("it ships"), plan);
            (0..14).for_each(|_| drop(run.advance().expect("a frame")));
            run.positions()
        })
    };
    assert_eq!(run(1), run(2));
}

#[test]
fn what_cannot_be_rehearsed_is_refused() {
    let (assembly, drape) = tabard();
    let walk = motion("walk").expect("it ships");
    for plan in [
        Plan { fps: f64::NAN, ..Plan::default() },
        Plan { fps: 0.0, ..Plan::default() },
        Plan { lead_in: usize::MAX, ..Plan::default() },
        Plan { floor: -1.0, ..Plan::default() },
    ] {
        assert!(plan.check().is_err(), "{plan:?}");
    }
    let bones = [("wing-left".to_owned(), [10.0, 0.0, 0.0])].into();
    let key = workroom::rehearsal::MotionKey { time: 0.0, pose: body::Pose { bones }, way: [0.0; 2], heading: 0.0 };
    let odd = BodyMotion::new("Odd", vec![key]).expect("a motion of one pose");
    let refusal = Rehearsal::new(assembly, drape, odd, Plan::default()).err().expect("the figure has no wings");
    assert!(refusal.to_string().contains("wing-left"), "{refusal}");
    assert!(walk.seconds() > 3.0);
}
