//! What is to be draped.

use crate::{BodyShape, Conditions, Construction, Fabric};

/// A run of triangles cut from one cloth.
#[derive(Clone, Debug, PartialEq)]
pub struct Panel {
    /// For messages.
    pub name: String,
    /// What it is cut from.
    pub fabric: Fabric,
    /// Warp direction in the flat frame, radians counter-clockwise from the flat x axis.
    pub grain: f32,
    /// Triangles `first..first + count` belong to this panel.
    pub first: usize,
    /// How many triangles.
    pub count: usize,
}

/// Two vertices that a seam brings together.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct SeamPair {
    /// One vertex.
    pub a: u32,
    /// The vertex that it is fused with.
    pub b: u32,
    /// Number of the seam, for reports.
    pub seam: u32,
}

/// How to simulate.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Settings {
    /// m/s², along -y.
    pub gravity: f32,
    /// s.
    pub time_step: f32,
    /// Mass-proportional damping 1/s while the cloth falls, and when it calms down.
    pub damping: [f32; 2],
    /// Added to half the cloth's thickness against the body, m.
    pub clearance: f32,
    /// Seconds of free movement before the calmer damping sets in.
    pub calm_after: f32,
    /// Air density times drag coefficient, kg/m³.
    pub air: f32,
    /// Whether cloth meets cloth.
    pub self_contact: bool,
    /// Wind, weight and calm.
    pub conditions: Conditions,
}

impl Default for Settings {
    fn default() -> Self {
        Self {
            gravity: 9.81,
            time_step: 1.0 / 120.0,
            damping: [1.0, 6.0],
            clearance: 3e-3,
            calm_after: 0.6,
            air: 1.2,
            self_contact: true,
            conditions: Conditions::default(),
        }
    }
}

/// The simulator's input. Vertices are those of the cut pieces; seams fuse them while they close.
#[derive(Clone, Debug)]
pub struct Scene {
    /// Start positions, m.
    pub positions: Vec<[f32; 3]>,
    /// Flat coordinates of every vertex in its panel, m.
    pub flat: Vec<[f32; 2]>,
    /// Counter-clockwise in the flat frame, so that their front is the right side.
    pub triangles: Vec<[u32; 3]>,
    /// Covering all triangles without gaps, in order.
    pub panels: Vec<Panel>,
    /// What seams bring together.
    pub pairs: Vec<SeamPair>,
    /// What cloth lies on; nothing for free cloth.
    pub body: Option<BodyShape>,
    /// Vertices held where they are.
    pub pins: Vec<u32>,
    /// Folds, tapes, stays, gathers and wear order.
    pub construction: Construction,
    /// How to simulate.
    pub settings: Settings,
}

/// A scene that cannot be simulated.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum SceneFault {
    #[error("the scene has no triangles")]
    Empty,
    #[error("vertex {0} has no finite position")]
    NotFinite(usize),
    #[error("triangle {0} of `{1}` is flat to nothing")]
    NoArea(usize, String),
    #[error("`{0}` has a fabric value that is not a positive number")]
    Fabric(String),
    #[error("a fold, tape or stay has a value that cannot be simulated")]
    Construction,
    #[error("an index is out of range")]
    Index,
}

impl Scene {
    pub(crate) fn check(&self) -> Result<(), SceneFault> {
        if self.triangles.is_empty() {
            return Err(SceneFault::Empty);
        }
        let n = self.positions.len();
        let covered: usize = self.panels.iter().map(|p| p.count).sum();
        let vertices = self.triangles.iter().flatten().chain(self.pairs.iter().flat_map(|p| [&p.a, &p.b])).chain(&self.pins);
        if self.flat.len() != n || covered != self.triangles.len() || vertices.into_iter().any(|&v| v as usize >= n) {
            return Err(SceneFault::Index);
        }
        if !self.construction.is_sound(n, self.pairs.len()) {
            return Err(SceneFault::Construction);
        }
        if let Some(i) = (0..n).find(|&i| !self.positions[i].iter().chain(&self.flat[i]).all(|v| v.is_finite())) {
            return Err(SceneFault::NotFinite(i));
        }
        for panel in &self.panels {
            let f = &panel.fabric;
            let values = [f.areal_density, f.stretch[0], f.stretch[1], f.shear, f.bending[0], f.bending[1], f.thickness];
            let usable = values.iter().all(|v| v.is_finite() && *v > 0.0) && f.friction.is_finite() && f.friction >= 0.0 && f.locking > 0.0;
            if !usable {
                return Err(SceneFault::Fabric(panel.name.clone()));
            }
            for t in panel.first..panel.first + panel.count {
                let [a, b, c] = self.triangles[t].map(|v| self.flat[v as usize]);
                let area = 0.5 * ((b[0] - a[0]) * (c[1] - a[1]) - (c[0] - a[0]) * (b[1] - a[1]));
                if area < 1e-10 {
                    return Err(SceneFault::NoArea(t, panel.name.clone()));
                }
            }
        }
        Ok(())
    }
}

#[cfg(test)]
impl Scene {
    /// One panel of a plain cloth without anything else, for unit tests; it stands as it lies on the flat.
    pub(crate) fn plain(flat: Vec<[f32; 2]>, triangles: Vec<[u32; 3]>) -> Self {
        let fabric = Fabric {
            areal_density: 0.1,
            stretch: [1e3; 2],
            shear: 10.0,
            bending: [1e-5; 2],
            thickness: 1e-3,
            friction: 0.3,
            locking: f32::INFINITY,
        };
        Self {
            positions: flat.iter().map(|p| [p[0], p[1], 0.0]).collect(),
            flat,
            panels: vec![Panel { name: "plain".into(), fabric, grain: 0.0, first: 0, count: triangles.len() }],
            triangles,
            pairs: Vec::new(),
            body: None,
            pins: Vec::new(),
            construction: Default::default(),
            settings: Settings::default(),
        }
    }
}
