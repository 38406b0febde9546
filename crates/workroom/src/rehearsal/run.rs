//! The rehearsal itself: what the body does at every frame, in as many steps as its speed needs, and what is found in the
//! cloth there.

use super::body_motion::{BodyMotion, MotionKey};
use crate::contact::{self, MetSkin, left_out};
use crate::deliver::{garment_mesh, plain_body};
use crate::motion::velocity;
use crate::{Assembly, DeliverOptions, FileKind, Layout, Solid};
use body::{Body, Pose, PosedBody, blend};
use cloth::{BodyShape, Conditions, Drape, Motion, MovingMesh, Thing};
use costume::{BodyChoice, Refusal};
use formats::ExportMesh;
use glam::{DAffine3, DQuat, DVec3, Vec3};
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;
use std::sync::Arc;

/// Farther than this from the skin nothing is told apart, m: more than skin and cloth come closer in a step.
const BAND: f32 = 0.03;
/// Farthest that the skin goes in one step, m.
const FARTHEST: f64 = 0.005;
/// Longest step, s.
const LONGEST: f64 = 1.0 / 120.0;
/// Most steps in a frame.
const MOST_STEPS: usize = 64;
/// Air takes so much of the speed of cloth that swings, 1/s.
const SWING: f32 = 0.15;
/// Share of the lead-in in which the body takes up its first pose; then it waits for the cloth.
const TAKING_UP: f64 = 0.6;

/// How a motion is rehearsed.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Plan {
    /// Frames a second.
    pub fps: f64,
    /// Frames from the pose of the drape to the first of the motion; they are not delivered.
    pub lead_in: usize,
    /// Frames after the last of the motion in which the body stands.
    pub settle: usize,
    /// Friction of the floor.
    pub floor: f64,
}

impl Default for Plan {
    fn default() -> Self {
        Self { fps: 24.0, lead_in: 50, settle: 30, floor: 0.5 }
    }
}

impl Plan {
    /// Refused when out of bounds.
    pub fn check(&self) -> Result<(), Refusal> {
        let no = |reason: &str, remedy: &str| Err(Refusal::elsewhere("rehearsal", reason, remedy));
        if !(1.0..=120.0).contains(&self.fps) {
            return no("has no such frame rate", "choose 1 to 120 frames a second");
        }
        if self.lead_in > 2000 || self.settle > 2000 {
            return no("takes too long to begin or to end", "choose at most 2000 frames for each");
        }
        if !(0.0..=3.0).contains(&self.floor) {
            return no("has no such floor", "choose a friction from 0 to 3");
        }
        Ok(())
    }
}

/// What was found in one frame.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct FrameReport {
    /// 0 is the first of the motion; the lead-in has negative numbers.
    pub frame: i64,
    /// Steps of the simulation in it.
    pub steps: usize,
    /// Places where cloth crosses the skin.
    pub through_body: usize,
    /// Places where cloth crosses cloth.
    pub through_cloth: usize,
    /// The piece of the first crossing.
    pub crossing_piece: Option<String>,
    /// Where it is, m.
    pub crossing_at: Option<[f32; 3]>,
    /// Largest strain, and the strain that 99 of 100 triangles stay below.
    pub strain_max: f64,
    pub strain_p99: f64,
    /// Fastest vertex at the end of the frame, m/s.
    pub fastest: f32,
}

impl FrameReport {
    /// Nothing crosses and nothing runs away.
    pub fn is_good(&self) -> bool {
        self.through_body == 0 && self.through_cloth == 0 && self.fastest < 20.0
    }
}

/// Things that cloth meets besides the skin, how regions move, and their friction.
type Beside = (Vec<Thing>, Vec<Motion>, Vec<f32>);

/// A garment that is rehearsed, frame by frame.
pub struct Rehearsal {
    assembly: Assembly,
    drape: Drape,
    motion: BodyMotion,
    plan: Plan,
    figure: Arc<Body>,
    choice: BodyChoice,
    out: BTreeSet<String>,
    start: Vec<DQuat>,
    /// Vertices of the full contact skin that cloth meets.
    met: MetSkin,
    mesh: Arc<MovingMesh>,
    /// What is fused at the beginning, so that every frame has the same vertices.
    fused: Vec<u32>,
    /// Height of the floor, m.
    ground: f32,
    placed: Vec<DAffine3>,
    /// Of the body, from where it began, m, and how fast it goes, m/s.
    place: DVec3,
    speed: DVec3,
    /// Of the air over the floor, m/s.
    wind: [f32; 3],
    next: usize,
    motion_frames: usize,
}

impl Rehearsal {
    /// Takes a drape at rest into a motion. Refused when the figure cannot take its poses.
    pub fn new(assembly: Assembly, drape: Drape, motion: BodyMotion, plan: Plan) -> Result<Self, Refusal> {
        plan.check()?;
        let (figure, choice) = (assembly.form.figure.clone(), assembly.costume.body.clone());
        motion.check(&figure.rig.skeleton)?;
        // hands and head may come to the cloth: only what the designer leaves out is left out
        let all: BTreeSet<String> = figure.parts.iter().cloned().collect();
        let out = left_out(&assembly.costume, &figure, &all);
        let start = figure.rig.skeleton.rotations(&Pose { bones: choice.pose.clone() });
        let posed = figure.stand(&start);
        let met = contact::met_skin(&figure, &posed, &choice, &out, false);
        let mesh = Arc::new(MovingMesh::new(&met.surface.positions, &met.surface.triangles, &met.region, &met.offsets, BAND));
        let motion_frames = (motion.seconds() * plan.fps).round() as usize + 1;
        let (wind, place, speed) = (drape.scene().settings.conditions.wind, DVec3::ZERO, DVec3::ZERO);
        Ok(Self {
            fused: drape.fused_with().to_vec(),
            ground: figure.surface.positions.iter().map(|p| p[1]).fold(f32::MAX, f32::min),
            wind,
            place,
            speed,
            placed: posed.placed,
            assembly,
            drape,
            motion,
            plan,
            figure,
            choice,
            out,
            start,
            met,
            mesh,
            next: 0,
            motion_frames,
        })
    }

    /// All frames, lead-in and settling included.
    pub fn frames(&self) -> usize {
        self.plan.lead_in + self.motion_frames + self.plan.settle
    }

    /// Frames that are delivered: all but the lead-in.
    pub fn delivered(&self) -> usize {
        self.motion_frames + self.plan.settle
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
        let options = DeliverOptions { kind: FileKind::Glb, welded: true, layout: Layout::Metres, with_body: false };
        garment_mesh(&self.assembly, &self.positions(), &self.fused, &options)
    }

    /// The skin that cloth meets as it is now, as a mesh.
    pub fn body(&self) -> ExportMesh {
        let (positions, triangles) = self.skin();
        let normals = ExportMesh::smooth_normals(&positions, triangles);
        plain_body(&self.figure.name, positions, normals, triangles.to_vec())
    }

    /// A still picture (PNG) of garment and body, `turn` degrees from the front of where the body began.
    pub fn picture(&self, width: usize, height: usize, turn: f32) -> Vec<u8> {
        let mut meshes = vec![self.garment(), self.body()];
        let time = (self.next as f64 - 1.0 - self.plan.lead_in as f64) / self.plan.fps;
        let ground = self.ground;
        for prop in &self.motion.props {
            let (at, triangles) = prop.sides();
            let place = |p: &Vec3| (prop.frame(time).transform_point3(p.as_dvec3()).as_vec3() + Vec3::Y * ground).to_array();
            // sides are flat: every triangle has corners of its own
            let corners: Vec<[f32; 3]> = triangles.iter().flatten().map(|v| place(&at[*v as usize])).collect();
            let own: Vec<[u32; 3]> = (0..triangles.len() as u32).map(|t| [3 * t, 3 * t + 1, 3 * t + 2]).collect();
            meshes.push(plain_body(&prop.name, corners.clone(), ExportMesh::smooth_normals(&corners, &own), own));
        }
        let skin = &meshes[1].positions;
        let middle = [0, 2].map(|k| skin.iter().map(|p| p[k]).sum::<f32>() / skin.len().max(1) as f32);
        let top = self.figure.surface.positions.iter().map(|p| p[1]).fold(0.0f32, f32::max);
        for p in meshes.iter_mut().flat_map(|m| &mut m.positions) {
            (p[0], p[2]) = (p[0] - middle[0], p[2] - middle[1]);
        }
        formats::picture(&meshes, &formats::View { width, height, turn, middle: 0.5 * top, span: 1.2 * top })
    }

    /// The body at a frame over the spot where it began, and its way over the floor.
    fn body_at(&self, frame: usize) -> (PosedBody, DVec3) {
        let lead = self.plan.lead_in;
        let skeleton = &self.figure.rig.skeleton;
        let key = self.motion.at((frame.max(lead) - lead) as f64 / self.plan.fps);
        let rotations = skeleton.rotations(&key.pose);
        if frame >= lead {
            return (turned(self.figure.stand(&rotations), key.heading), way_of(&key));
        }
        let t = ((frame + 1) as f64 / (TAKING_UP * lead as f64)).min(1.0);
        let share = t * t * (3.0 - 2.0 * t);
        (turned(self.figure.stand(&blend(&self.start, &rotations, share)), key.heading * share), way_of(&key) * share)
    }

    /// Goes on to the next frame; none after the last.
    pub fn advance(&mut self) -> Option<FrameReport> {
        if self.next >= self.frames() {
            return None;
        }
        let (posed, place) = self.body_at(self.next);
        let now = contact::met_skin(&self.figure, &posed, &self.choice, &self.out, false).surface.positions;
        let before: Vec<[f32; 3]> = self.mesh.positions().collect();
        let way = |(a, b): (&[f32; 3], &[f32; 3])| Vec3::from(*a).distance(Vec3::from(*b));
        let farthest = f64::from(before.iter().zip(&now).map(way).fold(0.0, f32::max));
        let seconds = 1.0 / self.plan.fps;
        let steps = ((seconds / LONGEST).ceil().max((farthest / FARTHEST).ceil()) as usize).clamp(1, MOST_STEPS);
        let h = seconds / steps as f64;
        self.drape.set_pace(h as f32, SWING);
        self.carry(place, seconds);
        let grips = contact::grips(&self.figure, &posed, &self.choice);
        let beside = self.things(&posed, seconds);
        let end = (self.next as f64 - self.plan.lead_in as f64) * seconds;
        for step in 1..=steps {
            let share = step as f32 / steps as f32;
            let (things, motion, friction) = self.with_props(&beside, end - seconds * f64::from(1.0 - share), h);
            let at: Vec<[f32; 3]> = before.iter().zip(&now).map(|(a, b)| Vec3::from(*a).lerp(Vec3::from(*b), share).to_array()).collect();
            self.mesh = Arc::new(self.mesh.moved(&at, h as f32));
            let still = self.assembly.form.still();
            self.drape.set_body(BodyShape {
                mesh: Some(self.mesh.clone()),
                grips: grips.clone(),
                things: things.into(),
                motion: motion.into(),
                friction: friction.into(),
                ..still
            });
            self.drape.step();
        }
        self.placed = posed.placed;
        self.next += 1;
        Some(self.report(steps))
    }

    /// Cloth is computed where the body began, in a frame that goes along with it: what holds back there is the change of its
    /// speed, and the air streams against its way.
    fn carry(&mut self, place: DVec3, seconds: f64) {
        let speed = (place - self.place) / seconds;
        self.drape.set_frame(((speed - self.speed) / seconds).as_vec3().to_array());
        let still = self.drape.scene().settings.conditions;
        let air = (DVec3::from(self.wind.map(f64::from)) - speed).as_vec3().to_array();
        self.drape.set_conditions(Conditions { wind: air, ..still });
        (self.place, self.speed) = (place, speed);
    }

    /// Stand-ins with their bones, and the floor after them: as things, how they move, and friction by region.
    fn things(&self, posed: &PosedBody, seconds: f64) -> Beside {
        let first = self.met.friction.len();
        let solids = contact::things(&self.figure, posed, &self.choice, first);
        let bones = &self.figure.rig.skeleton.bones;
        let mut motion = vec![Motion::default(); first];
        for carrier in contact::carriers(&self.figure, &self.choice) {
            motion.push(carrier.map_or(Motion::default(), |b| velocity(&self.placed[b], &posed.placed[b], bones[b].joint, seconds)));
        }
        let mut friction = self.met.friction.clone();
        friction.resize(first + solids.len(), 1.0);
        let thing = |(solid, region): (Solid, u8)| Thing { distance: Arc::new(move |p| solid.distance(p)), region };
        let mut things: Vec<Thing> = solids.into_iter().map(thing).collect();
        let ground = self.ground;
        things.push(Thing { distance: Arc::new(move |p| p.y - ground), region: u8::try_from(friction.len()).unwrap_or(0) });
        motion.push(Motion { linear: (-self.speed).as_vec3().to_array(), ..Motion::default() });
        friction.push(self.plan.floor as f32);
        (things, motion, friction)
    }

    /// The same with the props where they are at a time, s; they came there in the last `h` s.
    fn with_props(&self, beside: &Beside, time: f64, h: f64) -> Beside {
        let (mut things, mut motion, mut friction) = beside.clone();
        let ground = f64::from(self.ground);
        for prop in &self.motion.props {
            // in the frame that goes along with the body
            let there = DAffine3::from_translation(DVec3::Y * ground - self.place);
            let (before, now) = (there * prop.frame(time - h), there * prop.frame(time));
            let (back, shape) = (now.inverse(), prop.clone());
            let distance = move |p: Vec3| shape.distance(back.transform_point3(p.as_dvec3())) as f32;
            things.push(Thing { distance: Arc::new(distance), region: u8::try_from(friction.len()).unwrap_or(0) });
            let own = velocity(&before, &now, DVec3::ZERO, h);
            motion.push(Motion { linear: (Vec3::from(own.linear) - self.speed.as_vec3()).to_array(), ..own });
            friction.push(1.0);
        }
        (things, motion, friction)
    }

    fn report(&self, steps: usize) -> FrameReport {
        let positions = self.drape.positions();
        let triangles = &self.assembly.scene.triangles;
        let skin: Vec<[f32; 3]> = self.mesh.positions().collect();
        let body = fit::cloth_body(&positions, triangles, &skin, &self.met.surface.triangles);
        let cloth = fit::cloth_cloth(&positions, triangles, self.drape.fused_with());
        let strain = fit::spread(&self.drape.strain());
        let first = body.iter().chain(&cloth).next();
        let piece = |c: &fit::Crossing| c.triangles.first().map(|t| self.assembly.piece_of_triangle(*t as usize).name.clone());
        FrameReport {
            frame: self.next as i64 - 1 - self.plan.lead_in as i64,
            steps,
            through_body: body.len(),
            through_cloth: cloth.len(),
            crossing_piece: first.and_then(piece),
            crossing_at: first.and_then(|c| self.gone(vec![c.at]).pop()),
            strain_max: strain.max,
            strain_p99: strain.p99,
            fastest: self.drape.statistics().fastest,
        }
    }
}

fn way_of(key: &MotionKey) -> DVec3 {
    DVec3::new(key.way[0], 0.0, key.way[1])
}

/// A body turned where it stands, by degrees.
fn turned(mut posed: PosedBody, heading: f64) -> PosedBody {
    let turn = DQuat::from_rotation_y(heading.to_radians());
    for v in posed.surface.positions.iter_mut().chain(&mut posed.surface.normals) {
        *v = (turn * Vec3::from(*v).as_dvec3()).as_vec3().to_array();
    }
    for bone in &mut posed.placed {
        *bone = DAffine3::from_quat(turn) * *bone;
    }
    posed
}
