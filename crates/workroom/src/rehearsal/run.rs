//! The rehearsal itself: cloth in every frame of a course, in as many steps as the body's speed needs, and what is found there.

use super::body_motion::BodyMotion;
use super::carried::Carried;
use super::course::{Course, CourseProp};
use super::deliver::garment;
use super::plan::Plan;
use super::report::{self, Cause, FrameReport};
use super::saved::SavedRehearsal;
use crate::contact::{self, MetSkin, left_out};
use crate::delivery::plain_body;
use crate::motion::velocity;
use crate::{Assembly, Solid};
use body::PosedBody;
use cloth::{BodyShape, Conditions, Drape, GripSpot, Leash, Motion, MovingMesh, SceneFault, Thing};
use costume::{BodyChoice, Refusal};
use fit::Surface;
use formats::ExportMesh;
use glam::{DAffine3, DVec3, Vec3};
use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

/// Farther than this from the skin nothing is told apart, m: more than skin and cloth come closer in a step.
const BAND: f32 = 0.03;
/// Farthest that the skin goes in one step, m.
const FARTHEST: f64 = 0.005;
/// Longest step, s.
pub(super) const LONGEST: f64 = 1.0 / 120.0;
/// Most steps in a frame.
const MOST_STEPS: usize = 128;
/// Air takes so much of the speed of cloth that swings, 1/s.
const SWING: f32 = 0.15;
/// Fewer frames than this from one saved state to the next, for cloth of so many triangles: about a second of work.
const SAVED_EVERY: usize = 6;
const SAVED_FOR: usize = 8_000;

/// Things that cloth meets besides the skin, how regions move, and their friction.
type Beside = (Vec<Thing>, Vec<Motion>, Vec<f32>);

/// Where a prop is before a step and after it, in the frame that goes along with the body.
type PropWay = [DAffine3; 2];

/// A vertex that is held to a prop, where it was when the rehearsal began, m, and its place in the frame of the prop.
#[derive(Clone, Copy)]
struct HeldVertex {
    vertex: u32,
    prop: usize,
    start: [f32; 3],
    there: DVec3,
}

/// A garment that is rehearsed, frame by frame.
pub struct Rehearsal {
    pub(super) assembly: Assembly,
    pub(super) drape: Drape,
    pub(super) course: Course,
    choice: BodyChoice,
    out: BTreeSet<String>,
    /// Vertices of the full contact skin that cloth meets.
    met: MetSkin,
    pub(super) mesh: Arc<MovingMesh>,
    /// What is fused at the beginning, so that every frame has the same vertices.
    fused: Vec<u32>,
    pub(super) placed: Vec<DAffine3>,
    /// What of the cloth the body carries, and where that was at the end of the last frame, m.
    carried: Option<Carried>,
    pub(super) carried_at: Vec<[f32; 3]>,
    /// What is held to props, and where the bones were when it was.
    held: Vec<HeldVertex>,
    began: Vec<DAffine3>,
    /// Of the body, from where it began, m, and how fast it goes, m/s.
    pub(super) place: DVec3,
    pub(super) speed: DVec3,
    pub(super) next: usize,
}

/// What of a garment is held to the props of a course, as it lies when the rehearsal begins, m. Refused when a line is not part of it.
fn held(assembly: &Assembly, course: &Course, at: impl Fn(u32) -> [f32; 3]) -> Result<Vec<HeldVertex>, Refusal> {
    let mut all = Vec::new();
    for (prop, one) in course.props.iter().enumerate() {
        let into = course.own_frame(one, course.time(0)).inverse();
        for line in &one.prop.holds {
            let gone = || Refusal::elsewhere(&one.prop.name, "holds a line that does not hang", "choose lines of pieces that hang");
            let piece = assembly.pieces.iter().find(|p| p.piece == line.piece).ok_or_else(gone)?;
            let known = piece.lines.iter().position(|(id, _)| *id == line.line).ok_or_else(gone)?;
            all.extend(piece.flat.lines[known].iter().map(|v| {
                let vertex = piece.first_vertex as u32 + v;
                let start = at(vertex);
                HeldVertex { vertex, prop, start, there: into.transform_point3(Vec3::from(start).as_dvec3()) }
            }));
        }
    }
    Ok(all)
}

/// Between how bones have moved at two ends of a frame: at two shares of the way.
fn between(from: &[Option<DAffine3>], to: &[Option<DAffine3>], before: f64, now: f64) -> Vec<Option<[DAffine3; 2]>> {
    let at = |a: &DAffine3, b: &DAffine3, share: f64| {
        let ((_, turned, moved), (_, turns, moves)) = (a.to_scale_rotation_translation(), b.to_scale_rotation_translation());
        DAffine3::from_rotation_translation(turned.slerp(turns, share), moved.lerp(moves, share))
    };
    from.iter().zip(to).map(|(a, b)| Some([at(&(*a)?, &(*b)?, before), at(&(*a)?, &(*b)?, now)])).collect()
}

impl Rehearsal {
    /// Takes a drape at rest into a motion. Refused when the figure cannot take its poses.
    pub fn new(assembly: Assembly, drape: Drape, motion: BodyMotion, plan: Plan) -> Result<Self, Refusal> {
        let (figure, choice) = (assembly.form.figure.clone(), assembly.costume.body.clone());
        let course = Course::new(figure.clone(), &choice, motion, plan)?;
        // hands and head may come to the cloth: only what the designer leaves out is left out
        let all: BTreeSet<String> = figure.parts.iter().cloned().collect();
        let out = left_out(&assembly.costume, &figure, &all);
        let posed = course.at_start();
        let mut met = contact::met_skin(&figure, &posed, &choice, &out, false);
        let more = (course.plan.clearance / 1000.0) as f32;
        met.offsets.iter_mut().for_each(|offset| *offset += more);
        let mesh = Arc::new(MovingMesh::new(&met.surface.positions, &met.surface.triangles, &met.region, &met.offsets, BAND));
        let at = drape.positions();
        let carried = Carried::new(&assembly, !course.motion.of_skin, &posed, drape.fused_with(), |v| at[v as usize]);
        Ok(Self {
            fused: drape.fused_with().to_vec(),
            carried_at: carried.as_ref().map_or_else(Vec::new, |c| c.places(&posed)),
            carried,
            place: DVec3::ZERO,
            speed: DVec3::ZERO,
            held: held(&assembly, &course, |v| at[v as usize])?,
            began: posed.placed.clone(),
            placed: posed.placed,
            assembly,
            drape,
            course,
            choice,
            out,
            met,
            mesh,
            next: 0,
        })
    }

    /// Goes on from a saved state of the same garment. Refused when it is of another one.
    pub fn resume(assembly: Assembly, saved: &SavedRehearsal, motion: BodyMotion, plan: Plan) -> Result<Self, Refusal> {
        let foreign =
            |_: SceneFault| Refusal::elsewhere("rehearsal", "belongs to another cut of this costume", "rehearse from the beginning");
        let drape = Drape::resume(assembly.scene.clone(), &saved.drape).map_err(foreign)?;
        let mut made = Self::new(assembly, drape, motion, plan)?;
        if saved.next > made.frames() || saved.fused.len() != made.fused.len() {
            return Err(foreign(SceneFault::Index));
        }
        made.fused.clone_from(&saved.fused);
        (made.place, made.speed) = (saved.place.into(), saved.speed.into());
        made.next = saved.next;
        let known: BTreeMap<u32, [f32; 3]> = saved.carried.iter().copied().collect();
        let start = made.course.at_start();
        made.carried =
            Carried::new(&made.assembly, !made.course.motion.of_skin, &start, &made.fused, |v| known.get(&v).copied().unwrap_or_default());
        if made.carried.as_ref().is_some_and(|c| c.start().any(|(v, _)| !known.contains_key(&v))) {
            return Err(foreign(SceneFault::Index));
        }
        made.held = held(&made.assembly, &made.course, |v| known.get(&v).copied().unwrap_or_default())?;
        if made.held.iter().any(|held| !known.contains_key(&held.vertex)) {
            return Err(foreign(SceneFault::Index));
        }
        made.carried_at = made.carried.as_ref().map_or_else(Vec::new, |c| c.places(&start));
        if let Some(last) = saved.next.checked_sub(1) {
            let (posed, _) = made.course.body_at(last);
            let skin = made.skin_of(&posed);
            // how fast it went does not matter: every step sets that anew
            made.mesh = Arc::new(made.mesh.moved(&skin, 1.0));
            made.carried_at = made.carried.as_ref().map_or_else(Vec::new, |c| c.places(&posed));
            made.placed = posed.placed;
        }
        Ok(made)
    }

    /// The state from which [`Rehearsal::resume`] goes on. The rehearsal itself goes on from it too, so that both end with the
    /// same bits.
    pub fn checkpoint(&mut self) -> Result<SavedRehearsal, Refusal> {
        let drape = self.drape.save();
        let (place, speed) = (self.place.to_array(), self.speed.to_array());
        let held = self.held.iter().map(|held| (held.vertex, held.start));
        let carried = self.carried.iter().flat_map(Carried::start).chain(held).collect();
        let saved = SavedRehearsal { next: self.next, place, speed, fused: self.fused.clone(), carried, drape };
        let lost = |e: SceneFault| Refusal::elsewhere("rehearsal", e.to_string(), "rehearse with more steps");
        self.drape = Drape::resume(self.assembly.scene.clone(), &saved.drape).map_err(lost)?;
        Ok(saved)
    }

    /// Whether a state is to be saved before the next frame: about every second of work, by the size of the cloth alone.
    pub fn is_to_be_saved(&self) -> bool {
        let every = (SAVED_EVERY * SAVED_FOR / self.assembly.scene.triangles.len().max(1)).clamp(1, 2 * SAVED_EVERY);
        self.next.is_multiple_of(every)
    }

    /// Frames that are done.
    pub fn done(&self) -> usize {
        self.next
    }

    /// All frames, lead-in and settling included.
    pub fn frames(&self) -> usize {
        self.course.frames()
    }

    /// Frames that are delivered: all but the lead-in.
    pub fn delivered(&self) -> usize {
        self.course.delivered()
    }

    /// For every vertex of the cloth the one it is fused with in all frames.
    pub fn fused(&self) -> &[u32] {
        &self.fused
    }

    /// The garment.
    pub fn assembly(&self) -> &Assembly {
        &self.assembly
    }

    /// The cloth as it is now.
    pub fn drape(&self) -> &Drape {
        &self.drape
    }

    /// The skin that cloth meets as it is now, m, and its triangles.
    pub fn skin(&self) -> (Vec<[f32; 3]>, &[[u32; 3]]) {
        (self.gone(self.mesh.positions().collect()), &self.met.surface.triangles)
    }

    /// Positions of the cloth as it is now, m.
    pub fn positions(&self) -> Vec<[f32; 3]> {
        self.gone(self.drape.positions())
    }

    /// From the frame that goes along with the body to the floor.
    fn gone(&self, mut positions: Vec<[f32; 3]>) -> Vec<[f32; 3]> {
        for p in &mut positions {
            *p = (Vec3::from(*p).as_dvec3() + self.place).as_vec3().to_array();
        }
        positions
    }

    /// The garment as it is now, welded as it was at the beginning: its vertices are the same in every frame.
    pub fn garment(&self) -> ExportMesh {
        garment(&self.assembly, &self.positions(), &self.fused)
    }

    /// The skin that cloth meets as it is now, as a mesh.
    pub fn body(&self) -> ExportMesh {
        let (positions, triangles) = self.skin();
        let normals = ExportMesh::smooth_normals(&positions, triangles);
        plain_body(&self.course.figure.name, positions, normals, triangles.to_vec())
    }

    /// A still picture (PNG) of garment and body, `turn` degrees from the front of where the body began.
    pub fn picture(&self, width: usize, height: usize, turn: f32) -> Vec<u8> {
        let mut meshes = vec![self.garment(), self.body()];
        let shown = self.course.props_at(self.next.saturating_sub(1));
        for ((name, at, triangles), frame) in self.course.props().into_iter().zip(shown) {
            // sides are flat: every triangle has corners of its own
            let place = |v: &u32| frame.transform_point3(at[*v as usize].as_dvec3()).as_vec3().to_array();
            let corners: Vec<[f32; 3]> = triangles.iter().flatten().map(place).collect();
            let own: Vec<[u32; 3]> = (0..triangles.len() as u32).map(|t| [3 * t, 3 * t + 1, 3 * t + 2]).collect();
            meshes.push(plain_body(&name, corners.clone(), ExportMesh::smooth_normals(&corners, &own), own));
        }
        let skin = &meshes[1].positions;
        let middle = [0, 2].map(|k| skin.iter().map(|p| p[k]).sum::<f32>() / skin.len().max(1) as f32);
        let top = self.course.figure.surface.positions.iter().map(|p| p[1]).fold(0.0f32, f32::max);
        for p in meshes.iter_mut().flat_map(|m| &mut m.positions) {
            (p[0], p[2]) = (p[0] - middle[0], p[2] - middle[1]);
        }
        formats::picture(&meshes, &formats::View { width, height, turn, middle: 0.5 * top, span: 1.2 * top })
    }

    /// The skin of a posed body that cloth meets, m.
    fn skin_of(&self, posed: &PosedBody) -> Vec<[f32; 3]> {
        contact::met_skin(&self.course.figure, posed, &self.choice, &self.out, false).surface.positions
    }

    /// The skin that cloth meets, as a frame makes it anew.
    pub fn collider(&self, frame: usize) -> MovingMesh {
        let (posed, _) = self.course.body_at(frame);
        self.mesh.moved(&self.skin_of(&posed), (1.0 / self.course.plan.fps) as f32)
    }

    /// Takes body and cloth to the end of the next frame, in `finer` times as many steps as they need. `beneath` as
    /// [`Rehearsal::advance_over`] has it.
    pub(super) fn frame(&mut self, beneath: &[(u32, [f32; 3])], finer: usize) -> FrameReport {
        let lain: Vec<[f32; 3]> = self.drape.positions();
        let (posed, place) = self.course.body_at(self.next);
        let now = self.skin_of(&posed);
        let before: Vec<[f32; 3]> = self.mesh.positions().collect();
        let way = |(a, b): (&[f32; 3], &[f32; 3])| Vec3::from(*a).distance(Vec3::from(*b));
        let farthest = f64::from(before.iter().zip(&now).map(way).fold(0.0, f32::max));
        let seconds = 1.0 / self.course.plan.fps;
        let asked = (seconds / LONGEST).ceil().max((farthest / FARTHEST).ceil()) as usize;
        let steps = (asked * self.course.plan.substeps as usize * finer).clamp(1, MOST_STEPS);
        let h = seconds / steps as f64;
        self.drape.set_pace(h as f32, SWING);
        self.carry(place, seconds);
        let grips = contact::grips(&self.course.figure, &posed, &self.choice);
        let beside = self.things(&posed, seconds);
        let carried_to = self.carried.as_ref().map_or_else(Vec::new, |c| c.places(&posed));
        let end = self.course.time(self.next);
        let start = &self.began;
        let (rode, rides) = (self.course.rides(start, &self.placed), self.course.rides(start, &posed.placed));
        for step in 1..=steps {
            let share = step as f32 / steps as f32;
            let way = |(a, b): (&[f32; 3], &[f32; 3])| Vec3::from(*a).lerp(Vec3::from(*b), share).to_array();
            // the last step ends where the frame does, to the bit
            let at: Vec<[f32; 3]> = if step == steps { now.clone() } else { before.iter().zip(&now).map(way).collect() };
            self.mesh = Arc::new(self.mesh.moved(&at, h as f32));
            let from = (step - 1) as f64 / steps as f64;
            let rides = between(&rode, &rides, from, f64::from(share));
            let ways = self.prop_ways(end - seconds * f64::from(1.0 - share), h, &rides);
            self.meet(&grips, &beside, &ways, h);
            let mut leashes = self.carried.as_ref().map_or_else(Vec::new, |c| c.leashes(&self.carried_at, &carried_to, share));
            leashes.extend(beneath.iter().filter(|(v, _)| (*v as usize) < lain.len()).map(|(vertex, to)| {
                let to = (Vec3::from(*to).as_dvec3() - place).as_vec3();
                Leash { vertex: *vertex, length: 0.0, place: Vec3::from(lain[*vertex as usize]).lerp(to, share).to_array() }
            }));
            leashes.extend(self.held_to_props(&ways));
            self.drape.carry(leashes);
            self.drape.step();
        }
        self.carried_at = carried_to;
        self.placed = posed.placed;
        self.next += 1;
        self.report(steps)
    }

    /// Cloth is computed where the body began, in a frame that goes along with it: what holds back there is the change of its
    /// speed, and the air streams against its way.
    fn carry(&mut self, place: DVec3, seconds: f64) {
        let speed = (place - self.place) / seconds;
        self.drape.set_frame(((speed - self.speed) / seconds).as_vec3().to_array());
        let still = self.assembly.scene.settings.conditions;
        let plan = &self.course.plan;
        let air = (DVec3::from(plan.wind_at(self.course.time(self.next))) - speed).as_vec3().to_array();
        self.drape.set_conditions(Conditions { wind: air, gusts: plan.gusts as f32, seed: plan.seed, ..still });
        (self.place, self.speed) = (place, speed);
    }

    /// Cloth meets skin, things and props after a step of `h` s.
    fn meet(&mut self, grips: &Arc<[GripSpot]>, beside: &Beside, ways: &[PropWay], h: f64) {
        let (things, motion, friction) = self.with_props(beside, ways, h);
        self.drape.set_body(BodyShape {
            mesh: Some(self.mesh.clone()),
            grips: grips.clone(),
            things: things.into(),
            motion: motion.into(),
            friction: friction.into(),
            ..self.assembly.form.still()
        });
    }

    /// Body and things stand where the last frame left them.
    pub(super) fn hold_still(&mut self) {
        let (posed, place) = self.course.body_at(self.next.saturating_sub(1));
        self.carry(place, LONGEST);
        self.mesh = Arc::new(self.mesh.moved(&self.mesh.positions().collect::<Vec<_>>(), 1.0));
        let grips = contact::grips(&self.course.figure, &posed, &self.choice);
        let beside = self.things(&posed, LONGEST);
        let rides = self.course.rides(&self.began, &self.placed);
        let rides = between(&rides, &rides, 0.0, 1.0);
        let ways = self.prop_ways(self.course.time(self.next.saturating_sub(1)), LONGEST, &rides);
        self.meet(&grips, &beside, &ways, LONGEST);
    }

    /// Stand-ins with their bones, and the floor after them: as things, how they move, and friction by region.
    fn things(&self, posed: &PosedBody, seconds: f64) -> Beside {
        let first = self.met.friction.len();
        let solids = contact::things(&self.course.figure, posed, &self.choice, first);
        let bones = &self.course.figure.rig.skeleton.bones;
        let mut motion = vec![Motion::default(); first];
        for carrier in contact::carriers(&self.course.figure, &self.choice) {
            motion.push(carrier.map_or(Motion::default(), |b| velocity(&self.placed[b], &posed.placed[b], bones[b].joint, seconds)));
        }
        let mut friction = self.met.friction.clone();
        friction.resize(first + solids.len(), 1.0);
        let thing = |(solid, region): (Solid, u8)| Thing { distance: Arc::new(move |p| solid.distance(p)), region };
        let mut things: Vec<Thing> = solids.into_iter().map(thing).collect();
        let ground = self.course.ground;
        things.push(Thing { distance: Arc::new(move |p| p.y - ground), region: u8::try_from(friction.len()).unwrap_or(0) });
        motion.push(Motion { linear: (-self.speed).as_vec3().to_array(), ..Motion::default() });
        friction.push(self.course.plan.floor as f32);
        (things, motion, friction)
    }

    /// The same with the props, which came where they are in a step of `h` s.
    fn with_props(&self, beside: &Beside, ways: &[PropWay], h: f64) -> Beside {
        let (mut things, mut motion, mut friction) = beside.clone();
        for (prop, [before, now]) in self.course.props.iter().zip(ways) {
            let (back, solid) = (now.inverse(), prop.distance.clone());
            let distance = move |p: Vec3| solid(back.transform_point3(p.as_dvec3())) as f32;
            things.push(Thing { distance: Arc::new(distance), region: u8::try_from(friction.len()).unwrap_or(0) });
            let own = velocity(before, now, DVec3::ZERO, h);
            // what goes with a bone moves in the frame that goes along with the body
            let by = if prop.bone.is_some() { Vec3::ZERO } else { self.speed.as_vec3() };
            motion.push(Motion { linear: (Vec3::from(own.linear) - by).to_array(), ..own });
            friction.push(1.0);
        }
        (things, motion, friction)
    }

    /// The ways of all props in the step of `h` s to a time of the course, s; `rides` tells how far the bones that they go with have
    /// moved since the beginning, before the step and after it.
    fn prop_ways(&self, time: f64, h: f64, rides: &[Option<[DAffine3; 2]>]) -> Vec<PropWay> {
        let way = |(prop, ride): (&CourseProp, &Option<[DAffine3; 2]>)| {
            let own = [time - h, time].map(|time| self.course.own_frame(prop, time));
            match ride {
                Some([before, now]) => [*before * own[0], *now * own[1]],
                None => own.map(|own| DAffine3::from_translation(-self.place) * own),
            }
        };
        self.course.props.iter().zip(rides).map(way).collect()
    }

    /// What of the cloth is held to props, and where those have it after a step.
    fn held_to_props(&self, ways: &[PropWay]) -> impl Iterator<Item = Leash> {
        self.held.iter().map(|held| {
            let place = ways[held.prop][1].transform_point3(held.there).as_vec3().to_array();
            Leash { vertex: held.vertex, length: 0.0, place }
        })
    }

    /// Where cloth crosses skin, and where it crosses cloth.
    pub(super) fn crossings(&self, positions: &[[f32; 3]], skin: &[[f32; 3]]) -> Found {
        let cloth = Surface::sewn(positions, &self.assembly.scene.triangles, self.drape.fused_with());
        let skin = Surface::closed(skin, &self.met.surface.triangles);
        let body = fit::cloth_body(&cloth, &skin);
        let folds = if body.is_empty() { Vec::new() } else { fit::cloth_cloth(&skin) };
        let (in_folds, body): (Vec<_>, Vec<_>) = body.into_iter().partition(|place| lies_in_folds(place, &folds));
        Found { body, cloth: fit::cloth_cloth(&cloth), in_folds: in_folds.len() }
    }

    pub(super) fn report(&self, steps: usize) -> FrameReport {
        let positions = self.drape.positions();
        let skin: Vec<[f32; 3]> = self.mesh.positions().collect();
        let Found { body, cloth, in_folds } = self.crossings(&positions, &skin);
        let strain = fit::spread(&self.drape.strain());
        let first = body.iter().chain(&cloth).next();
        let piece = |c: &fit::Crossing| c.triangles.first().map(|t| self.assembly.piece_of_triangle(*t as usize).name.clone());
        let figures = self.drape.statistics();
        let cause = match (body.first(), cloth.first()) {
            (Some(crossing), _) => Some(report::cause(&self.mesh, crossing.at.into(), self.longest_edge(crossing, &positions))),
            (None, Some(_)) => Some(Cause::Layers),
            (None, None) => report::runs_away(figures.fastest),
        };
        FrameReport {
            frame: self.next as i64 - 1 - self.course.plan.lead_in as i64,
            steps,
            through_body: body.len(),
            through_cloth: cloth.len(),
            in_skin_folds: in_folds,
            crossing_piece: first.and_then(piece),
            crossing_at: first.and_then(|c| self.gone(vec![c.at]).pop()),
            cause,
            open_pairs: figures.open_pairs,
            strain_max: strain.max,
            strain_p99: strain.p99,
            fastest: figures.fastest,
            slip: self.drape.slip(),
        }
    }

    /// Of the cloth triangle that crosses first, m.
    fn longest_edge(&self, crossing: &fit::Crossing, positions: &[[f32; 3]]) -> f32 {
        let Some(&t) = crossing.triangles.first() else { return 0.0 };
        let [a, b, c] = self.assembly.scene.triangles[t as usize].map(|v| Vec3::from(positions[v as usize]));
        a.distance(b).max(b.distance(c)).max(c.distance(a))
    }
}

/// What crosses in a frame.
pub(super) struct Found {
    pub body: Vec<fit::Crossing>,
    pub cloth: Vec<fit::Crossing>,
    /// Places where cloth lies in a fold in which the skin goes through itself.
    pub in_folds: usize,
}

impl Found {
    pub fn is_empty(&self) -> bool {
        self.body.is_empty() && self.cloth.is_empty()
    }
}

/// Cloth that crosses the skin this near to where the skin crosses itself has no other place to be, m.
const FOLD: f32 = 0.015;

/// Whether cloth crosses the skin where that goes through itself, as in the armpit of an arm that is laid on: nothing keeps cloth
/// outside there, and nothing of it is seen.
fn lies_in_folds(place: &fit::Crossing, folds: &[fit::Crossing]) -> bool {
    let points = |c: &fit::Crossing| c.curve.iter().flatten().map(|p| Vec3::from(*p)).collect::<Vec<_>>();
    let own = points(place);
    let near = |p: &Vec3| own.iter().any(|q| q.distance_squared(*p) < FOLD * FOLD);
    folds.iter().any(|fold| points(fold).iter().any(near))
}
