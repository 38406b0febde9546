//! Rehearsals: cloth on a body that moves, judged frame by frame and by independent readings.

mod common;

use cloth::Drape;
use workroom::Assembly;
use workroom::rehearsal::{
    Beneath, BodyMotion, Course, FrameReport, HeldLine, MotionChoice, MotionKey, Plan, Prop, PropKey, PropShape, Rehearsal, SavedRehearsal,
    layers_up_to, motion,
};

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
    let mut walk = rehearsal(motion("walk").expect("it ships"), plan.clone());
    assert_eq!(walk.delivered() - plan.settle, (walk.frames() - plan.lead_in) - plan.settle);
    let before = middle(&walk.positions());
    let mut reports: Vec<FrameReport> = Vec::new();
    let mut last = walk.positions();
    while let Some(report) = walk.advance() {
        let now = walk.positions();
        if report.frame == 0 {
            // the lead-in ended when the cloth hung still: 99 of 100 vertices are slower than 2 cm/s
            let slow = |(a, b): &(&[f32; 3], &[f32; 3])| glam::Vec3::from(**a).distance((**b).into()) * 24.0 < 0.02;
            let still = now.iter().zip(&last).filter(slow).count();
            assert!(still * 100 >= now.len() * 99, "{still} of {} hang still", now.len());
        }
        last = now;
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
            let mut run = rehearsal(motion("reach").expect("it ships"), plan.clone());
            (0..14).for_each(|_| drop(run.advance().expect("a frame")));
            run.positions()
        })
    };
    assert_eq!(run(1), run(2));
}

#[test]
fn a_rehearsal_that_goes_on_from_saved_bytes_ends_with_the_same_bits() {
    let plan = Plan { lead_in: 4, settle: 0, ..Plan::default() };
    let (assembly, drape) = tabard();
    let run = motion("run-and-stop").expect("it ships");
    let mut whole = Rehearsal::new(assembly.clone(), drape, run.clone(), plan.clone()).expect("a rehearsal");
    let (mut saved, mut told) = (Vec::new(), Vec::new());
    while whole.done() < 21 {
        if whole.is_to_be_saved() {
            saved.push(whole.checkpoint().expect("a state").to_bytes());
        }
        told.push((whole.advance().expect("a frame"), whole.positions()));
    }
    assert!(saved.len() >= 2, "{} states in 21 frames", saved.len());
    for bytes in &saved {
        let state = SavedRehearsal::from_bytes(bytes).expect("it was a state");
        let mut rest = Rehearsal::resume(assembly.clone(), &state, run.clone(), plan.clone()).expect("it goes on");
        assert_eq!(rest.done(), state.next);
        for (k, frame) in told.iter().enumerate().skip(state.next) {
            if rest.done() > state.next && rest.is_to_be_saved() {
                rest.checkpoint().expect("a state");
            }
            let report = rest.advance().expect("a frame");
            assert_eq!((&report, &rest.positions()), (&frame.0, &frame.1), "frame {k} after {}", state.next);
        }
    }
    // a state of another garment is refused
    let mut foreign = SavedRehearsal::from_bytes(&saved[0]).expect("a state");
    foreign.drape.positions.pop();
    assert!(Rehearsal::resume(assembly, &foreign, run, plan).is_err());
}

#[test]
fn a_post_that_comes_from_the_side_takes_the_cloth_along() {
    let plan = Plan { lead_in: 4, settle: 8, ..Plan::default() };
    let post = Prop {
        name: "Post".into(),
        shape: PropShape::Cylinder { radius: 0.05, height: 0.6 },
        keys: vec![PropKey { time: 0.0, at: [0.7, 0.4, 0.0], turn: 0.0 }, PropKey { time: 0.6, at: [0.26, 0.4, 0.0], turn: 0.0 }],
        ..Prop::default()
    };
    let stand = |time: f64| MotionKey { time, pose: body::Pose::default(), way: [0.0; 2], heading: 0.0, height: None };
    let still = BodyMotion::new("Stand", vec![stand(0.0), stand(0.7)]).expect("a motion");
    let mut run = rehearsal(still.with(vec![post]).expect("a post"), plan);
    // the hem beside the left leg, at the height of the post
    let near = |run: &Rehearsal| {
        let at = run.positions();
        at.iter().filter(|p| (0.3..0.65).contains(&p[1]) && p[2].abs() < 0.1).map(|p| p[0]).fold(f32::MIN, f32::max)
    };
    let before = near(&run);
    while let Some(report) = run.advance() {
        assert!(report.is_good(), "{report:?}");
    }
    let after = near(&run);
    // its near side is at 21 cm
    assert!(before > 0.22, "the tabard hung in the way: {before} m");
    let inside = run.positions().iter().filter(|p| (0.11..0.69).contains(&p[1]) && (p[0] - 0.26).hypot(p[2]) < 0.048).count();
    assert!(inside == 0 && after < before + 0.1, "{inside} vertices in the post, the hem at {after} m, {before} m before");
}

#[test]
fn a_motion_that_came_with_a_figure_is_played_as_it_was_authored() {
    let choice = costume::BodyChoice::size("woman-38");
    let mut figure = workroom::rough_figure(&choice).expect("a size");
    let skeleton = figure.rig.skeleton.clone();
    // an arm that swings far, an elbow that bends the wrong way, beyond what a pose may
    let frames: Vec<Vec<glam::DQuat>> = (0..=12)
        .map(|k| {
            let share = f64::from(k) / 12.0;
            let bones = [("upper-arm-left", [70.0 * share, 0.0, 10.0 * share]), ("forearm-right", [-25.0 * share, 0.0, 0.0])];
            skeleton.rotations(&body::Pose { bones: bones.map(|(bone, angles)| (bone.to_owned(), angles)).into() })
        })
        .collect();
    // it goes forwards, hops, and would sink into the floor at the end
    let root: Vec<glam::DVec3> = (0..=12).map(|k| glam::DVec3::new(0.0, if k < 6 { 0.2 } else { -0.5 }, 0.1 * f64::from(k))).collect();
    figure.clips.push(body::Clip { name: "\u{1}".into(), frames: frames.clone(), root: root.clone() });
    let motion = MotionChoice::Clip(0).on(&figure).expect("it came with the figure");
    assert_eq!(motion.name, "Motion 1", "a name that is none is made up");
    assert!(MotionChoice::Clip(1).on(&figure).is_err());
    let plan = Plan { fps: 30.0, lead_in: 3, settle: 2, ..Plan::default() };
    let course = Course::new(std::sync::Arc::new(figure), &choice, motion, plan).expect("joints turn as authored");
    assert_eq!((course.frames(), course.delivered()), (3 + 13 + 2, 15));
    for (k, rotations) in frames.iter().enumerate() {
        let ((mut shown, way), wanted) = (course.body_at(3 + k), course.figure.stand(rotations));
        assert!((way - glam::DVec3::new(0.0, 0.0, root[k].z)).length() < 1e-9, "frame {k}: {way}");
        let lowest = |p: &[[f32; 3]]| p.iter().map(|p| p[1]).fold(f32::MAX, f32::min);
        let above = lowest(&shown.surface.positions) - lowest(&wanted.surface.positions);
        assert!(if k < 6 { above > 0.15 } else { above.abs() < 1e-5 }, "frame {k}: {above} m above the floor");
        shown.surface.positions.iter_mut().for_each(|p| p[1] -= above);
        let apart =
            shown.surface.positions.iter().zip(&wanted.surface.positions).map(|(a, b)| glam::Vec3::from(*a).distance(glam::Vec3::from(*b)));
        let farthest = apart.fold(0.0f32, f32::max);
        assert!(farthest < 1e-4, "frame {k}: {farthest} m");
    }
}

#[test]
fn a_skin_that_moves_by_itself_takes_the_cloth_along() {
    let (assembly, drape) = tabard();
    let mut figure = (*assembly.form.figure).clone();
    // it glides to its left and back, faster than it walks, and rises
    let at = |k: usize| glam::Vec3::new(0.3 * (k as f32 / 6.0).sin(), 0.02 * k as f32, 0.0);
    let frame = |k: usize| figure.surface.positions.iter().map(|p| (glam::Vec3::from(*p) + at(k)).to_array()).collect();
    let moves = body::VertexMotion { seconds: (0..12).map(|k| k as f64 / 10.0).collect(), frames: (0..12).map(frame).collect() };
    assert!(MotionChoice::Skin.on(&figure).is_err(), "it does not move yet");
    figure.moves = Some(std::sync::Arc::new(moves));
    let motion = MotionChoice::Skin.on(&figure).expect("it moves");
    let mut assembly = assembly;
    assembly.form.figure = std::sync::Arc::new(figure);
    let plan = Plan { fps: 20.0, lead_in: 2, settle: 0, ..Plan::default() };
    let mut run = Rehearsal::new(assembly, drape, motion, plan).expect("a rehearsal");
    assert_eq!(run.delivered(), 23, "1.1 s at 20 a second");
    let before = middle(&run.skin().0);
    while let Some(report) = run.advance() {
        assert!(report.is_good(), "{report:?}");
        let wanted = at(0).lerp(at(1), 0.5);
        if report.frame == 1 {
            let now = middle(&run.skin().0);
            // between two frames of the file it is half-way
            assert!((now[0] - before[0] - wanted.x).abs() < 1e-4 && (now[1] - before[1] - wanted.y).abs() < 1e-4, "{now:?}");
        }
    }
    let (cloth, skin) = (middle(&run.positions()), middle(&run.skin().0));
    assert!((cloth[0] - skin[0]).abs() < 0.1 && cloth[1] > 0.9, "{cloth:?} over {skin:?}");
}

/// The tabard with its front carried and its back on a leash of 30 mm.
fn carried_tabard() -> costume::Costume {
    let mut costume = common::tabard(40.0);
    let [front, back] = [costume.pieces[0].id, costume.pieces[1].id];
    let paint = |piece, value| costume::Edit::Paint { piece, kind: costume::PaintKind::Carried, stroke: costume::Stroke::Fill { value } };
    for edit in [paint(front, 1.0), paint(back, 0.5)] {
        costume = costume::apply(&costume, &edit).expect("it is painted");
    }
    costume
}

#[test]
fn what_is_carried_turns_with_the_body_and_what_is_on_a_leash_stays_within_it() {
    let text = costume::write(&carried_tabard()).expect("it is written");
    let mut assembly = common::hung(&text, "woman-38", Some(40.0));
    let drape = common::rested(&mut assembly);
    let (start, fused) = (drape.positions(), drape.fused_with().to_vec());
    let key = |time, heading| MotionKey { time, pose: body::Pose::default(), way: [0.0; 2], heading, height: None };
    let turn = BodyMotion::new("Turn", vec![key(0.0, 0.0), key(0.7, 150.0)]).expect("a motion");
    let plan = Plan { lead_in: 1, settle: 0, ..Plan::default() };
    let ranges: Vec<std::ops::Range<usize>> = assembly.pieces.iter().map(|p| p.vertices()).collect();
    let front = assembly.pieces.iter().position(|p| p.name.contains("Front")).expect("a front");
    let mut run = Rehearsal::new(assembly.clone(), drape, turn.clone(), plan.clone()).expect("a rehearsal");
    let mut saved = None;
    while let Some(report) = run.advance() {
        // where a body turned by so much has the cloth, by itself
        let heading = turn.at(report.frame.max(0) as f64 / plan.fps).heading;
        let turned = glam::Quat::from_rotation_y((heading as f32).to_radians());
        let now = run.positions();
        let off = |v: usize| glam::Vec3::from(now[v]).distance(turned * glam::Vec3::from(start[v]));
        let on_front: std::collections::BTreeSet<u32> = ranges[front].clone().map(|v| fused[v]).collect();
        let farthest = ranges[front].clone().map(off).fold(0.0, f32::max);
        assert!(farthest < 1e-3, "frame {}: {farthest} m from where it is carried", report.frame);
        let back = ranges[1 - front].clone().filter(|v| !on_front.contains(&fused[*v])).map(off).fold(0.0, f32::max);
        assert!(back < 0.032, "frame {}: {back} m on a leash of 30 mm", report.frame);
        if report.frame == 5 {
            saved = Some(SavedRehearsal::from_bytes(&run.checkpoint().expect("a state").to_bytes()).expect("a state"));
        }
    }
    // from a state in the middle it is carried as before
    let mut rest = Rehearsal::resume(assembly, &saved.expect("a state"), turn, plan).expect("it goes on");
    while rest.advance().is_some() {}
    assert_eq!(rest.positions(), run.positions());
}

#[test]
fn outer_layers_lie_over_the_recorded_cloth_of_the_inner_ones() {
    let mut costume = common::tabard(40.0);
    costume.pieces[1].wear = 2;
    let text = costume::write(&costume).expect("it is written");
    let inner_text = costume::write(&layers_up_to(&costume, 1)).expect("it is written");
    let plan = Plan { lead_in: 4, settle: 0, ..Plan::default() };
    let stand = |time: f64| MotionKey { time, pose: body::Pose::default(), way: [0.0; 2], heading: 0.0, height: None };
    let still = BodyMotion::new("Stand", vec![stand(0.0), stand(1.0)]).expect("a motion");
    let hang = |text: &str| {
        let mut assembly = common::hung(text, "woman-38", Some(40.0));
        let drape = common::rested(&mut assembly);
        (assembly, drape)
    };
    let (whole, drape) = hang(&text);
    let inner = common::hung(&inner_text, "woman-38", Some(40.0));
    assert_eq!((inner.pieces.len(), whole.pieces.len()), (1, 2));
    // the inner layer alone has nothing to hang by: its recorded places are those it has, moved aside a little in each frame
    let lying = |k: usize| -> Vec<[f32; 3]> {
        let all = drape.positions();
        let range = whole.pieces.iter().find(|p| p.piece == inner.pieces[0].piece).expect("it is in both").vertices();
        range.map(|v| [all[v][0], all[v][1], all[v][2] + 0.002 * k as f32]).collect()
    };
    let starts = drape.positions();
    let mut run = Rehearsal::new(
        whole.clone(),
        Drape::new(cloth::Scene { positions: starts, ..whole.scene.clone() }).expect("it hangs"),
        still,
        plan,
    )
    .expect("a rehearsal");
    let beneath = Beneath::new(&inner, &whole);
    for k in 1..=5 {
        let recorded = beneath.places(&lying(k));
        run.advance_over(&recorded).expect("a frame");
        let now = run.positions();
        let off = recorded.iter().map(|(v, at)| glam::Vec3::from(now[*v as usize]).distance((*at).into())).fold(0.0, f32::max);
        assert!(off < 1.5e-3, "frame {k}: {off} m from where it was recorded");
    }
}

#[test]
fn what_cannot_be_rehearsed_is_refused() {
    let assembly = common::hung(include_str!("../../../demo/rakers-tabard.ourlet.json"), "woman-38", Some(60.0));
    let drape = Drape::new(assembly.scene.clone()).expect("it hangs");
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
    let key = MotionKey { time: 0.0, pose: body::Pose { bones }, way: [0.0; 2], heading: 0.0, height: None };
    let odd = BodyMotion::new("Odd", vec![key]).expect("a motion of one pose");
    let refusal = Rehearsal::new(assembly, drape, odd, Plan::default()).err().expect("the figure has no wings");
    assert!(refusal.to_string().contains("wing-left"), "{refusal}");
    let post = |radius: f64, times: [f64; 2]| Prop {
        name: "Post".into(),
        shape: PropShape::Cylinder { radius, height: 1.0 },
        keys: times.map(|time| PropKey { time, at: [0.5, 0.5, 0.0], turn: 0.0 }).to_vec(),
        ..Prop::default()
    };
    assert!(walk.clone().with(vec![post(0.1, [0.0, 1.0])]).is_ok());
    for props in [vec![post(f64::NAN, [0.0, 1.0])], vec![post(0.1, [1.0, 1.0])], vec![post(0.1, [0.0, 1.0]); 17]] {
        assert!(walk.clone().with(props).is_err());
    }
}

#[test]
fn an_edge_hangs_on_a_box_that_rises_and_a_ring_goes_with_its_bone() {
    let (assembly, drape) = tabard();
    let piece = &assembly.pieces[0];
    let hem = piece.lines.iter().position(|(line, _)| *line == costume::LineId(102)).expect("the hem");
    let line = HeldLine { piece: piece.piece, line: piece.lines[hem].0 };
    let held: Vec<usize> = piece.flat.lines[hem].iter().map(|v| piece.first_vertex + *v as usize).collect();
    let key = |time: f64, at: [f64; 3]| PropKey { time, at, turn: 0.0 };
    let rail = Prop {
        name: "Rail".into(),
        shape: PropShape::Box { size: [0.02; 3] },
        keys: vec![key(0.0, [0.9, 0.5, 0.0]), key(0.25, [0.9, 0.56, 0.02])],
        holds: vec![line],
        ..Prop::default()
    };
    let ring = Prop {
        name: "Bangle".into(),
        shape: PropShape::Ring { radius: 0.06, thickness: 0.01 },
        keys: vec![key(0.0, [0.5, 1.0, 0.1])],
        rides: Some("forearm-left".into()),
        ..Prop::default()
    };
    let plan = Plan { lead_in: 2, settle: 2, ..Plan::default() };
    let bend = |time: f64, degrees: f64| MotionKey {
        time,
        pose: body::Pose { bones: [("forearm-left".to_owned(), [degrees, 0.0, 0.0])].into() },
        way: [0.0, 0.3 * time],
        heading: 0.0,
        height: None,
    };
    let wave = BodyMotion::new("Wave", vec![bend(0.0, 0.0), bend(0.25, 20.0)]).and_then(|m| m.with(vec![rail, ring])).expect("a motion");
    let start = drape.positions();
    let mut run = Rehearsal::new(assembly.clone(), drape, wave.clone(), plan.clone()).expect("a rehearsal");
    let course = Course::new(assembly.form.figure.clone(), &assembly.costume.body, wave.clone(), plan.clone()).expect("a course");
    let mut state = None;
    while run.advance().is_some() {
        let frames = course.props_at(run.done() - 1);
        let begun = course.props_at(0)[0];
        let off = held.iter().map(|v| {
            let there = (frames[0] * begun.inverse()).transform_point3(glam::Vec3::from(start[*v]).as_dvec3());
            there.as_vec3().distance(run.positions()[*v].into())
        });
        let off = off.fold(0.0, f32::max);
        assert!(off < 1e-3, "frame {}: {off} m from where the box holds it", run.done());
        // the ring is where its bone took it, over the floor
        let (posed, place) = course.body_at(run.done() - 1);
        let bone = course.figure.rig.skeleton.index("forearm-left").expect("a bone");
        let ground = glam::DVec3::Y * f64::from(course.ground);
        let at = (posed.placed[bone] * course.at_start().placed[bone].inverse()).transform_point3(glam::DVec3::new(0.5, 1.0, 0.1) + ground);
        assert!(frames[1].translation.distance(at + place) < 1e-9);
        if run.done() == 4 {
            state = Some(SavedRehearsal::from_bytes(&run.checkpoint().expect("a state").to_bytes()).expect("a state"));
        }
    }
    let risen = held.iter().map(|v| run.positions()[*v][1] - start[*v][1]).sum::<f32>() / held.len() as f32;
    assert!((risen - 0.06).abs() < 1e-3, "{risen} m");
    let mut rest = Rehearsal::resume(assembly.clone(), &state.expect("a state"), wave, plan.clone()).expect("it goes on");
    while rest.advance().is_some() {}
    assert_eq!(rest.positions(), run.positions());
    // bones and lines that are not there are named
    let refused = |change: fn(&mut Prop)| {
        let mut prop = Prop { name: "Hoop".into(), keys: vec![key(0.0, [0.0; 3])], ..Prop::default() };
        change(&mut prop);
        let still = BodyMotion::new("Still", vec![bend(0.0, 0.0), bend(0.1, 0.0)]).and_then(|m| m.with(vec![prop])).expect("a motion");
        let drape = Drape::new(assembly.scene.clone()).expect("it hangs");
        Rehearsal::new(assembly.clone(), drape, still, plan.clone()).err().expect("a refusal").to_string()
    };
    assert!(refused(|p| p.rides = Some("wing-left".into())).contains("wing-left"));
    assert!(refused(|p| p.holds = vec![HeldLine { piece: costume::PieceId(9), line: costume::LineId(9) }]).contains("does not hang"));
}
