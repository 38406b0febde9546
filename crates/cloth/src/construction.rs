//! How a garment is made beyond its seams: folds, tapes, stays, and which layer is worn over which.

/// Edges that rest at an angle: a fold line, a pressed pleat, or a seam pressed open or to one side.
#[derive(Clone, Debug, PartialEq)]
pub struct Fold {
    /// Vertices along the line; every mesh edge between two of them is folded.
    pub vertices: Vec<u32>,
    /// Radians from flat, within ± π; positive brings the right sides (the triangles' front) together.
    pub angle: f32,
    /// How firmly it is pressed, times the fabric's own bending stiffness.
    pub press: f32,
}

/// A tape sewn along an edge: a stay tape keeps its length, an elastic shortens it.
#[derive(Clone, Debug, PartialEq)]
pub struct EdgeTape {
    /// Mesh edges under the tape.
    pub edges: Vec<[u32; 2]>,
    /// Its own length over that of the edge: 1 for a stay tape, 0.7 for an elastic that gathers.
    pub length: f32,
    /// N: force at strain 1.
    pub stiffness: f32,
}

/// Edges drawn up by gathering threads before they are sewn to a shorter one: their pleats are finer than the mesh, so the
/// cloth along the edge takes up less room than it has, without resisting.
#[derive(Clone, Debug, PartialEq)]
pub struct Gather {
    /// Mesh edges along the line.
    pub edges: Vec<[u32; 2]>,
    /// What each takes up, over its own length: 1/3 where three times the length is sewn in.
    pub shares: Vec<f32>,
}

/// An edge held at its level on the body, as by a waist stay; it may slide around but not up or down.
#[derive(Clone, Debug, PartialEq)]
pub struct Stay {
    /// Along the held line.
    pub vertices: Vec<u32>,
    /// The level it is drawn to, m above the ground; where it hangs without one.
    pub height: Option<f32>,
}

/// Cloth held to the skin, along a line or over an area, once its seams are closed. It goes with the body.
#[derive(Clone, Debug, PartialEq)]
pub struct SkinHold {
    /// Those that are held.
    pub vertices: Vec<u32>,
    /// How firmly each is, N for every metre that it is drawn away.
    pub stiffness: Vec<f32>,
    /// From the skin, m: cloth is drawn there. As far as it lies when it is taken hold of, without one.
    pub distance: Option<f32>,
    /// It may slide along the skin; otherwise it keeps its spot.
    pub slides: bool,
    /// A thing beside the body, by its number there, in place of the nearest skin.
    pub to: Option<u32>,
}

/// A seam that is held apart at a width, as by laces: it is drawn there in steps and never fused.
#[derive(Clone, Debug, PartialEq)]
pub struct Lace {
    /// Places of its pairs among those of the scene.
    pub pairs: Vec<u32>,
    /// Between its edges when it is drawn, m.
    pub width: f32,
    /// In how many steps it is drawn from where it hangs.
    pub steps: u32,
}

/// A point of an edge that is sewn down on other cloth, as in a lapped seam.
#[derive(Clone, Debug, PartialEq)]
pub struct Lap {
    /// A vertex of the edge that lies on the other cloth.
    pub vertex: u32,
    /// The triangle it lies on, and its place there in barycentric weights.
    pub onto: [u32; 3],
    /// Of the corners; their sum is 1.
    pub weights: [f32; 3],
    /// It lies on the front of the triangle, which is its right side.
    pub on_front: bool,
    /// Number of the seam, for reports.
    pub seam: u32,
}

/// All of a scene; empty for plain cloth.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Construction {
    /// Edges that rest at an angle.
    pub folds: Vec<Fold>,
    /// Stay tapes and elastics.
    pub tapes: Vec<EdgeTape>,
    /// Lines that keep their level on the body.
    pub stays: Vec<Stay>,
    /// Edges drawn up to a shorter one.
    pub gathers: Vec<Gather>,
    /// Pairs that are left open, as above an open zip.
    pub open: Vec<u32>,
    /// Seams that are laced.
    pub laces: Vec<Lace>,
    /// Edges sewn down on other cloth.
    pub laps: Vec<Lap>,
    /// What is held to the skin.
    pub skin_holds: Vec<SkinHold>,
    /// Factor of the cloth's friction by vertex; empty when it is the same everywhere.
    pub grip: Vec<f32>,
    /// Wear order by panel, 1 next to the skin; empty when all lie alike.
    pub wear: Vec<u8>,
}

impl Construction {
    /// Whether all numbers can be simulated and all vertices exist.
    pub(crate) fn is_sound(&self, count: usize, pairs: usize) -> bool {
        let known = |v: &u32| (*v as usize) < count;
        let is_pair = |k: &u32| (*k as usize) < pairs;
        let laces = |l: &Lace| l.pairs.iter().all(is_pair) && (0.0..=2.0).contains(&l.width) && l.steps > 0;
        let laps = |l: &Lap| known(&l.vertex) && l.onto.iter().all(known) && l.weights.iter().all(|w| w.is_finite() && w.abs() < 10.0);
        let folds = |f: &Fold| f.vertices.iter().all(known) && f.angle.abs() <= std::f32::consts::PI && (0.0..=1e6).contains(&f.press);
        let tapes = |t: &EdgeTape| {
            t.edges.iter().flatten().all(known) && (0.05..=2.0).contains(&t.length) && t.stiffness > 0.0 && t.stiffness.is_finite()
        };
        let gathers = |g: &Gather| {
            g.edges.iter().flatten().all(known) && g.shares.len() == g.edges.len() && g.shares.iter().all(|s| (0.02..=1.0).contains(s))
        };
        let holds = |s: &SkinHold| {
            s.vertices.iter().all(known)
                && s.stiffness.len() == s.vertices.len()
                && s.stiffness.iter().all(|k| (0.0..=1e6).contains(k))
                && s.distance.is_none_or(|d| (0.0..=1.0).contains(&d))
        };
        self.gathers.iter().all(gathers)
            && self.open.iter().all(is_pair)
            && self.laces.iter().all(laces)
            && self.laps.iter().all(laps)
            && self.folds.iter().all(folds)
            && self.tapes.iter().all(tapes)
            && self.stays.iter().all(|s| s.vertices.iter().all(known) && s.height.is_none_or(f32::is_finite))
            && self.skin_holds.iter().all(holds)
            && (self.grip.is_empty() || self.grip.len() == count && self.grip.iter().all(|g| (0.0..=100.0).contains(g)))
    }
}
