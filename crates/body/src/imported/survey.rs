//! What a tape reads on a foreign figure, and where pieces hang on it; both follow from its landmarks.

use super::regions::Regions;
use super::section::{Loop, Plane, girth, loops};
use crate::figure::Measurement;
use crate::measuring::measures::Measure;
use crate::posing::spots;
use crate::posing::station::{Reach, Station};
use crate::posing::stations::{ACROSS, BASE, HEAD, WRIST, station_names};
use crate::skinning::surface::Surface;
use glam::DVec3;
use std::collections::BTreeMap;

/// Landmarks by key, m.
type Marks = BTreeMap<String, DVec3>;

/// Places along a limb in shares of its length: the fullest part of the upper arm, the thigh station.
const BICEPS: f64 = 0.22;
const THIGH: f64 = 0.85;
/// The shoulder point above and outside of the joint, and the thigh's girth below the crotch, in shares of the stature.
const SHOULDER: (f64, f64) = (0.010, 0.027);
const BELOW: f64 = 0.015;

/// A surface with its landmarks, while it is measured.
struct Survey<'a> {
    surface: &'a Surface,
    regions: &'a Regions,
    marks: &'a Marks,
    height: f64,
}

impl Survey<'_> {
    /// A landmark by its key.
    fn mark(&self, key: &str) -> DVec3 {
        self.marks.get(key).copied().unwrap_or_default()
    }

    /// Lines of a level, arms left out.
    fn level(&self, y: f64) -> (Plane, Vec<Loop>) {
        let plane = Plane::level(y);
        let found = loops(self.surface, &plane, |t| !t.iter().any(|v| self.regions.on_arm(*v)));
        (plane, found)
    }

    /// The girth around everything at a level but the arms.
    fn trunk(&self, y: f64) -> Option<(f64, Plane)> {
        let (plane, found) = self.level(y);
        let all = girth(found.iter().flat_map(|l| l.points.iter().copied()), &plane);
        (all > 0.0).then_some((all, plane))
    }

    /// The line nearest to a point of a limb.
    fn limb(&self, origin: DVec3, normal: DVec3) -> Option<(Loop, Plane)> {
        let plane = Plane { origin, normal: normal.normalize_or(DVec3::Y) };
        let found = loops(self.surface, &plane, |_| true);
        let nearest = found.into_iter().min_by(|a, b| a.middle().distance(origin).total_cmp(&b.middle().distance(origin)))?;
        (nearest.middle().distance(origin) < 0.1 * self.height).then_some((nearest, plane))
    }

    /// The loop around a limb at a point of its axis, with its plane; m.
    fn limb_girth(&self, origin: DVec3, normal: DVec3) -> Option<(f64, Plane)> {
        self.limb(origin, normal).map(|(l, plane)| (l.girth(&plane), plane))
    }

    fn arm_axis(&self, side: &str) -> (DVec3, DVec3) {
        let (shoulder, wrist) = (self.mark(&format!("shoulder-{side}")), self.mark(&format!("wrist-{side}")));
        (shoulder, wrist - shoulder)
    }

    fn shoulder_point(&self) -> DVec3 {
        self.mark("shoulder-left") + DVec3::new(SHOULDER.0, SHOULDER.1, 0.0) * self.height
    }

    /// The fullest level between ankle and knee.
    fn calf(&self) -> Option<(f64, Plane)> {
        let (ankle, knee) = (self.mark("ankle-left"), self.mark("knee-left"));
        let at = |k: i32| self.limb_girth(ankle.lerp(knee, 0.5 + 0.02 * f64::from(k)), DVec3::Y);
        (0..=20).filter_map(at).max_by(|a, b| a.0.total_cmp(&b.0))
    }

    /// A taut tape down the back, from the nape to the waist.
    fn back_waist(&self) -> Option<f64> {
        let (top, waist) = (self.mark("neck").y, self.mark("waist").y);
        let profile = Plane { origin: DVec3::ZERO, normal: DVec3::X };
        let keep = |t: [u32; 3]| !t.iter().any(|v| self.regions.on_arm(*v));
        let mut back: Vec<DVec3> = loops(self.surface, &profile, keep)
            .into_iter()
            .flat_map(|l| l.points)
            .filter(|p| p.z < 0.0 && p.y >= waist && p.y <= top)
            .collect();
        back.sort_by(|a, b| b.y.total_cmp(&a.y).then(a.z.total_cmp(&b.z)));
        // the hull on the side away from the body: z must not turn back
        let mut taut: Vec<DVec3> = Vec::new();
        for p in back {
            while let [.., a, b] = taut[..] {
                if (b.y - a.y) * (p.z - a.z) - (b.z - a.z) * (p.y - a.y) < 0.0 {
                    break;
                }
                taut.pop();
            }
            taut.push(p);
        }
        (taut.len() > 1).then(|| taut.windows(2).map(|w| w[0].distance(w[1])).sum())
    }

    /// A girth by its section, m.
    fn girth(&self, what: Measure) -> Option<(f64, Plane)> {
        let (shoulder, arm) = self.arm_axis("left");
        match what {
            Measure::Bust => self.trunk(self.mark("bust").y),
            Measure::Waist => self.trunk(self.mark("waist").y),
            Measure::Hip => self.trunk(self.mark("hips").y),
            Measure::Neck => {
                let (sin, cos) = 20f64.to_radians().sin_cos();
                self.limb_girth(self.mark("neck"), DVec3::new(0.0, cos, sin))
            }
            Measure::UpperArm => self.limb_girth(shoulder + arm * BICEPS, arm),
            Measure::Elbow => self.limb_girth(self.mark("elbow-left"), arm),
            Measure::Wrist => self.limb_girth(self.mark("wrist-left"), self.mark("wrist-left") - self.mark("elbow-left")),
            Measure::Thigh => {
                let y = self.mark("crotch").y - BELOW * self.height;
                self.limb_girth(self.mark("knee-left").with_y(y), DVec3::Y)
            }
            Measure::Knee => self.limb_girth(self.mark("knee-left"), DVec3::Y),
            Measure::Calf => self.calf(),
            Measure::Ankle => self.limb_girth(self.mark("ankle-left"), DVec3::Y),
            _ => None,
        }
    }

    /// A length between landmarks, m.
    fn length(&self, what: Measure) -> Option<f64> {
        match what {
            Measure::Stature => Some(self.height),
            Measure::WaistHeight => Some(self.mark("waist").y),
            Measure::Inseam => Some(self.mark("crotch").y),
            Measure::ShoulderWidth => Some(2.0 * self.shoulder_point().x),
            Measure::ArmLength => {
                let (elbow, wrist) = (self.mark("elbow-left"), self.mark("wrist-left"));
                Some(self.shoulder_point().distance(elbow) + elbow.distance(wrist))
            }
            Measure::BackWaist => self.back_waist(),
            _ => None,
        }
    }
}

/// Every measure that the landmarks allow; the underbust does not show on a finished surface.
pub(crate) fn measures(surface: &Surface, regions: &Regions, marks: &Marks) -> Vec<Measurement> {
    let survey = Survey { surface, regions, marks, height: marks.get("crown").map_or(1.7, |p| p.y) };
    let take = |measure: Measure| {
        let girth = survey.girth(measure).map(|(g, plane)| (g, Some((1000.0 * plane.origin.y, plane.normal.to_array()))));
        let (measured, plane) = girth.or_else(|| survey.length(measure).map(|l| (l, None)))?;
        Some(Measurement { measure, asked: None, measured: 1000.0 * measured, plane })
    };
    Measure::ALL.into_iter().filter_map(take).collect()
}

/// Stations at the landmarks; those whose section cannot be found are missing.
pub(crate) fn stations(surface: &Surface, regions: &Regions, marks: &Marks) -> Vec<Station> {
    let survey = Survey { surface, regions, marks, height: marks.get("crown").map_or(1.7, |p| p.y) };
    let mut all: Vec<Station> = BASE.iter().filter_map(|&(key, name)| station(&survey, key, name)).collect();
    all.extend(spots::following(&all, station_names()));
    all
}

/// A place where pieces hang; none when the surface has no loop there.
fn station(survey: &Survey, key: &'static str, name: &'static str) -> Option<Station> {
    let side = if key.ends_with("left") { "left" } else { "right" };
    let (centre, up, out, radii, reach) = match key.split('-').next()? {
        "chest" => trunk(survey, survey.mark("bust").y, key)?,
        "waist" => trunk(survey, survey.mark("waist").y, key)?,
        "hips" => trunk(survey, survey.mark("hips").y, key)?,
        "upper" => arm(survey, side, BICEPS, 1.0)?,
        "under" => arm(survey, side, BICEPS, -1.0)?,
        "wrist" => arm(survey, side, WRIST, 1.0)?,
        "head" => {
            let (neck, crown) = (survey.mark("neck"), survey.mark("crown"));
            let out = if side == "left" { DVec3::X } else { DVec3::NEG_X };
            let line = survey.limb(neck.lerp(crown, HEAD), DVec3::Y)?.0;
            let (centre, up, out, radii, _) = around(&line, DVec3::Y, out);
            (centre, up, out, radii, Reach::Side)
        }
        "neck" => around(&survey.limb(survey.mark("neck"), DVec3::Y)?.0, DVec3::Y, DVec3::NEG_Z),
        "shoulder" => shoulder(survey, side)?,
        part => {
            let knee = survey.mark(&format!("knee-{side}"));
            let y = if part == "knee" { knee.y } else { THIGH * survey.mark("crotch").y };
            around(&survey.limb(knee.with_y(y), DVec3::Y)?.0, DVec3::Y, DVec3::Z)
        }
    };
    Some(Station { key, name, centre, right: up.cross(out), up, out, radii, reach, bone: None, limb: None })
}

type Frame = (DVec3, DVec3, DVec3, (f64, f64), Reach);

/// Around an arm at a share of its length, from outside or with -1 from the body's side.
fn arm(survey: &Survey, side: &str, share: f64, outwards: f64) -> Option<Frame> {
    let (shoulder, arm) = survey.arm_axis(side);
    let along = arm.try_normalize()?;
    let (line, _) = survey.limb(shoulder + arm * share, arm)?;
    let out = (DVec3::Y - along * along.y).normalize_or(DVec3::Z);
    Some(around(&line, -along, outwards * out))
}

/// The frame of a station around the trunk at a height.
fn trunk(survey: &Survey, y: f64, key: &str) -> Option<Frame> {
    let (_, found) = survey.level(y);
    let all =
        found.into_iter().reduce(|a, b| Loop { points: [a.points, b.points].concat(), low: a.low.min(b.low), high: a.high.max(b.high) })?;
    let out = if key.ends_with("front") { DVec3::Z } else { DVec3::NEG_Z };
    let half = 0.5 * (all.high - all.low);
    Some((all.middle(), DVec3::Y, out, (half.x, half.z), Reach::Side))
}

/// Over a shoulder, around an axis across the body half way up from the bust.
fn shoulder(survey: &Survey, side: &str) -> Option<Frame> {
    let bust = survey.mark("bust").y;
    let plane = Plane { origin: survey.mark(&format!("shoulder-{side}")) * ACROSS, normal: DVec3::X };
    let lines = loops(survey.surface, &plane, |t| !t.iter().any(|v| survey.regions.on_arm(*v)));
    let line = lines.iter().max_by(|a, b| (a.high.y - a.low.y).total_cmp(&(b.high.y - b.low.y)))?;
    let y = 0.5 * (bust + line.high.y);
    let near = line.points.iter().filter(|p| (p.y - y).abs() < 0.02 * survey.height);
    let (back, front) = near.fold((f64::MAX, f64::MIN), |(l, h), p| (l.min(p.z), h.max(p.z)));
    let up = if side == "left" { DVec3::X } else { DVec3::NEG_X };
    let centre = DVec3::new(plane.origin.x, y, 0.5 * (back + front));
    (front > back && y > bust).then_some((centre, up, DVec3::Y, (0.5 * (front - back), line.high.y - y), Reach::Around))
}

/// The frame of a loop.
fn around(line: &Loop, up: DVec3, out: DVec3) -> Frame {
    let right = up.cross(out);
    let centre = line.points.iter().sum::<DVec3>() / line.points.len() as f64;
    let reach = |axis: DVec3| line.points.iter().map(|p| (*p - centre).dot(axis).abs()).fold(0.0, f64::max);
    (centre, up, out, (reach(right), reach(out)), Reach::Around)
}
