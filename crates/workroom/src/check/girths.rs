//! Girths of a garment as it hangs beside those of the body in it, in the pose that it is in: the body's own tapes go along with its
//! skin, and the garment is measured in the planes in which they then lie.

use crate::{Assembly, ContactBody};
use body::{Measure, SurfacePoint, lay};
use costume::FreeTape;
use fit::{Line, Plane, Surface, girth, section, stretch_around};
use serde::{Deserialize, Serialize};
use ts_rs::TS;

/// The tape on the body is the line of its skin whose length is nearest to what was measured, within this share of it.
const SAME: f64 = 0.06;

/// A tape whose middle is farther from the body's own is one around an arm or a leg, m.
const BESIDE: f64 = 0.03;

/// Where a garment's girth is taken.
const TAKEN: [Measure; 10] = [
    Measure::Neck,
    Measure::Bust,
    Measure::Underbust,
    Measure::Waist,
    Measure::Hip,
    Measure::UpperArm,
    Measure::Elbow,
    Measure::Thigh,
    Measure::Knee,
    Measure::Calf,
];

/// A girth of the garment and that of the body beneath, mm.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
pub struct GirthRow {
    /// Key of the measure, such as `bust`; of a tape laid by hand `tape-` and its id.
    pub measure: String,
    /// In the words of a measuring sheet.
    pub name: String,
    /// By a tape around the body as it stands.
    pub body: f64,
    /// By a tape around the garment, over hollows and folds.
    pub garment: f64,
    /// Along the cloth itself, with all its folds.
    pub cloth: f64,
    /// How far the cloth is stretched along the tape: 0.02 is 2 %; 0 where it is not.
    #[serde(default)]
    pub stretch: f64,
    /// Room between both tapes were the cloth not stretched: negative for what clings.
    pub ease: f64,
    /// The cloth closes around.
    pub closed: bool,
    /// Middle of the tape on the stand, m, and the normal of its plane.
    pub at: [f64; 3],
    pub normal: [f64; 3],
}

impl GirthRow {
    /// What is to be known of it beside its name: the cloth lies open there, or is stretched by a percent or more.
    pub fn remark(&self) -> Option<String> {
        let stretched = (self.stretch >= 0.01).then(|| format!("stretched {:.0} %", 100.0 * self.stretch));
        let open = (!self.closed).then(|| "open".to_owned());
        let words: Vec<String> = open.into_iter().chain(stretched).collect();
        (!words.is_empty()).then(|| words.join(", "))
    }
}

/// The girths that the garment has, from the neck down; arms and legs on the body's left.
pub(super) fn girths(assembly: &Assembly, cloth: &Surface) -> Vec<GirthRow> {
    let form = &assembly.form;
    let usual = TAKEN.iter().filter_map(|measure| {
        let (line, plane) = tape(form, *measure)?;
        girth_row(measure.key(), measure.name(), line, plane, assembly, cloth)
    });
    let laid = assembly.costume.tapes.iter().filter_map(|tape| {
        let line = laid_tape(form, tape)?;
        let plane = line.plane();
        girth_row(&format!("tape-{}", tape.id.0), &tape.name, line, plane, assembly, cloth)
    });
    usual.chain(laid).collect()
}

/// A closed tape that the designer laid, as it lies on the body now; none for one that does not go around.
fn laid_tape(form: &ContactBody, tape: &FreeTape) -> Option<Line> {
    let skin = &form.figure.surface;
    let spots: Vec<SurfacePoint> = tape.points.iter().filter_map(|p| SurfacePoint::nearest(skin, glam::DVec3::from(*p) * 1e-3)).collect();
    if !tape.closed || spots.len() < 2 {
        return None;
    }
    let mut points: Vec<[f64; 3]> = lay(&form.posed.surface, &spots, tape.follows, true).path.iter().map(|p| p.to_array()).collect();
    // the last is the first again
    points.pop();
    let edges = vec![([0, 0], 0.0); points.len()];
    (points.len() > 2).then_some(Line { points, edges, across: Vec::new(), closed: true })
}

fn girth_row(key: &str, name: &str, line: Line, plane: Plane, assembly: &Assembly, cloth: &Surface) -> Option<GirthRow> {
    let body = girth(&[line], &plane, plane.origin)?;
    let mut lines = section(cloth, &plane, |_| true);
    if plane.origin[0] > BESIDE {
        // what goes around the other arm or leg too is no sleeve and no leg
        let other = [-plane.origin[0], plane.origin[1], plane.origin[2]];
        lines.retain(|line| !line.goes_around(&plane, other));
    }
    let garment = girth(&lines, &plane, plane.origin)?;
    let stretch = (stretch_around(&lines, &plane, plane.origin, cloth, &assembly.scene.flat) - 1.0).max(0.0);
    let mm = |m: f64| 1000.0 * m;
    Some(GirthRow {
        measure: key.to_owned(),
        name: name.to_owned(),
        body: mm(body.tape),
        garment: mm(garment.tape),
        cloth: mm(garment.cloth),
        stretch,
        ease: mm(garment.tape / (1.0 + stretch) - body.tape),
        closed: garment.closed,
        at: plane.origin,
        normal: plane.normal,
    })
}

/// The plane of the tape at a girth of the body as it stands; none for a measure that is no girth.
pub(crate) fn girth_plane(form: &ContactBody, measure: &str) -> Option<Plane> {
    Some(tape(form, Measure::from_key(measure)?)?.1)
}

/// The tape on the body as it stands, and its plane.
fn tape(form: &ContactBody, measure: Measure) -> Option<(Line, Plane)> {
    let taken = form.figure.taken.iter().find(|t| t.measure == measure)?;
    let (height, normal) = taken.plane?;
    let skin = &form.figure.surface;
    // of a tilted plane the height is that of its middle, which lies on the left side for limbs
    let lines = |plane: &Plane| section(&Surface::closed(&skin.positions, &skin.triangles), plane, |_| true);
    let found = planes(height / 1000.0, normal, skin).into_iter().flat_map(|plane| lines(&plane).into_iter().map(move |l| (l, plane)));
    let apart = |line: &Line, plane: &Plane| {
        let own = line.plane();
        let tape = girth(std::slice::from_ref(line), plane, own.origin)?.tape * 1000.0;
        Some(((tape - taken.measured).abs() / taken.measured, own.origin[0]))
    };
    let best = found
        .filter(|(line, _)| line.closed)
        .filter_map(|(line, plane)| apart(&line, &plane).map(|(off, x)| (line, off, x)))
        .filter(|(_, off, x)| *off < SAME && *x > -0.02)
        .min_by(|a, b| a.1.total_cmp(&b.1))?;
    let line = best.0.moved(&form.posed.surface.positions);
    let plane = line.plane();
    Some((line, plane))
}

/// Planes with a normal whose middle is at this height, m. A level one is one; of a slanted one only the tilt is known, so it is laid
/// through the middles that the skin has at that height.
fn planes(height: f64, normal: [f64; 3], skin: &body::Surface) -> Vec<Plane> {
    if normal[1].abs() > 0.999 {
        return vec![Plane::level(height)];
    }
    let level = section(&Surface::closed(&skin.positions, &skin.triangles), &Plane::level(height), |_| true);
    level.iter().map(|line| Plane { origin: line.plane().origin, normal }).filter(|p| p.origin[0] > -0.02).collect()
}
