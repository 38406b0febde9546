//! The swatch book: physical values of common cloths, and the cloth that a fabric with own values is.
//!
//! Figures are typical values for such cloths, in the textile laboratory's units.

use crate::Fabric;
use serde::Serialize;
use ts_rs::TS;

/// How a cloth looks.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum Look {
    /// Plain weave, matt.
    Plain,
    /// Diagonal lines.
    Twill,
    /// Long floats, glossy.
    Satin,
    /// Loops in columns.
    Knit,
    /// Raised fibres, no weave to be seen.
    Nap,
    /// Smooth hide with a grain.
    Leather,
    /// Open mesh, see-through.
    Net,
    /// Fine and see-through.
    Sheer,
}

impl Look {
    /// 0 is a mirror, 1 is matt.
    pub const fn roughness(self) -> f64 {
        match self {
            Self::Satin => 0.34,
            Self::Leather => 0.5,
            Self::Sheer => 0.6,
            Self::Net => 0.8,
            Self::Plain => 0.92,
            Self::Twill => 0.95,
            Self::Knit => 0.97,
            Self::Nap => 1.0,
        }
    }

    /// Share of what is behind one layer that the cloth hides, seen straight on.
    pub const fn opacity(self) -> f64 {
        match self {
            Self::Net => 0.34,
            Self::Sheer => 0.62,
            _ => 1.0,
        }
    }
}

/// One cloth of the book. Warp runs along the grain, weft across.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, TS)]
pub struct Swatch {
    /// As it stands in documents.
    pub key: &'static str,
    /// As it stands in the book.
    pub name: &'static str,
    /// g/m².
    #[serde(rename = "density")]
    pub areal_density: f64,
    /// N/m, initial slope.
    #[serde(rename = "stretch_warp")]
    pub stretch_stiffness_warp: f64,
    /// N/m, initial slope, across.
    #[serde(rename = "stretch_weft")]
    pub stretch_stiffness_weft: f64,
    /// N/m.
    pub shear: f64,
    /// µN·m.
    #[serde(rename = "bend_warp")]
    pub bending_rigidity_warp: f64,
    /// µN·m, across.
    #[serde(rename = "bend_weft")]
    pub bending_rigidity_weft: f64,
    /// mm.
    pub thickness: f64,
    /// Coulomb coefficient on skin.
    pub friction: f64,
    /// Strain at which the cloth locks, percent; from there on it is ten times as stiff.
    pub locking: f64,
    /// Drape coefficient range in percent (30 cm specimen on an 18 cm disc).
    pub drape_low: f64,
    /// The upper end of that range, percent.
    pub drape_high: f64,
    /// How it is drawn.
    pub look: Look,
}

macro_rules! swatches {
    ($($key:literal $name:literal $d:literal $ku:literal $kv:literal $s:literal $bu:literal $bv:literal $t:literal $f:literal $lock:literal $lo:literal $hi:literal $look:ident;)*) => {
        /// All swatches in book order.
        pub const SWATCHES: &[Swatch] = &[$(Swatch {
            key: $key, name: $name, areal_density: $d, stretch_stiffness_warp: $ku, stretch_stiffness_weft: $kv, shear: $s, bending_rigidity_warp: $bu, bending_rigidity_weft: $bv,
            thickness: $t, friction: $f, locking: $lock, drape_low: $lo, drape_high: $hi, look: Look::$look,
        },)*];
    };
}

swatches! {
    "calico" "Calico (toile cloth)" 140.0 3500.0 2500.0 70.0 14.0 9.0 0.35 0.35 6.0 60.0 80.0 Plain;
    "cotton-lawn" "Cotton lawn" 75.0 2500.0 1800.0 45.0 5.0 4.0 0.22 0.30 6.0 45.0 65.0 Plain;
    "poplin" "Poplin shirting" 120.0 4000.0 2500.0 55.0 9.0 6.0 0.26 0.30 6.0 50.0 70.0 Plain;
    "linen" "Linen" 190.0 4500.0 3500.0 60.0 28.0 20.0 0.45 0.32 5.0 60.0 85.0 Plain;
    "denim" "Denim 12 oz" 410.0 6000.0 4000.0 150.0 110.0 60.0 0.85 0.40 5.0 70.0 92.0 Twill;
    "canvas" "Canvas duck" 380.0 7000.0 6000.0 180.0 150.0 110.0 0.80 0.42 4.0 80.0 95.0 Plain;
    "wool-flannel" "Wool flannel" 260.0 1800.0 1400.0 45.0 16.0 12.0 0.80 0.40 12.0 40.0 60.0 Nap;
    "wool-coating" "Wool coating (melton)" 520.0 2500.0 2000.0 110.0 120.0 100.0 2.0 0.45 10.0 70.0 92.0 Nap;
    "cotton-velvet" "Cotton velvet" 300.0 2500.0 2000.0 60.0 22.0 18.0 1.2 0.45 8.0 45.0 65.0 Nap;
    "silk-charmeuse" "Silk charmeuse" 85.0 1500.0 1200.0 18.0 3.0 2.0 0.22 0.18 8.0 25.0 45.0 Satin;
    "silk-chiffon" "Silk chiffon" 45.0 480.0 370.0 8.0 0.6 0.45 0.18 0.20 10.0 20.0 40.0 Sheer;
    "satin-lining" "Satin lining" 70.0 2200.0 1600.0 30.0 4.0 3.0 0.12 0.15 6.0 35.0 60.0 Satin;
    "single-jersey" "Single jersey" 160.0 300.0 180.0 35.0 1.8 1.2 0.60 0.35 45.0 20.0 45.0 Knit;
    "rib-knit" "Rib knit" 240.0 350.0 90.0 30.0 4.0 2.0 1.1 0.40 70.0 25.0 50.0 Knit;
    "heavy-knit" "Loose heavy knit" 380.0 220.0 160.0 30.0 12.0 9.0 2.6 0.45 50.0 30.0 60.0 Knit;
    "stretch-jersey" "Stretch jersey" 220.0 140.0 110.0 40.0 2.5 2.0 0.55 0.35 90.0 20.0 45.0 Knit;
    "soft-leather" "Soft leather" 650.0 9000.0 8000.0 900.0 220.0 200.0 1.0 0.50 15.0 75.0 95.0 Leather;
    "stiff-leather" "Stiff leather" 1400.0 15000.0 14000.0 2500.0 2500.0 2400.0 2.2 0.50 10.0 95.0 100.0 Leather;
    "tulle" "Tulle" 25.0 400.0 350.0 8.0 2.5 2.5 0.20 0.25 25.0 55.0 85.0 Net;
    "felt" "Felt" 350.0 3000.0 3000.0 1000.0 180.0 180.0 2.0 0.50 15.0 80.0 97.0 Nap;
}

/// Finds a swatch by its key.
pub fn swatch(key: &str) -> Option<&'static Swatch> {
    SWATCHES.iter().find(|s| s.key == key)
}

/// A value of a cloth that may differ from its swatch: key, name, unit and limits.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, TS)]
pub struct ClothValue {
    /// As it stands among the overrides of a fabric.
    pub key: &'static str,
    /// As it stands in the interface.
    pub name: &'static str,
    /// Of the value.
    pub unit: &'static str,
    /// Least value taken.
    pub low: f64,
    /// Largest value taken.
    pub high: f64,
    /// What more of it does.
    pub says: &'static str,
}

const fn value(key: &'static str, name: &'static str, unit: &'static str, low: f64, high: f64, says: &'static str) -> ClothValue {
    ClothValue { key, name, unit, low, high, says }
}

/// All values that may be changed.
pub const CLOTH_VALUES: &[ClothValue] = &[
    value("density", "Weight", "g/m²", 1.0, 5000.0, "Heavier cloth hangs closer and swings slower."),
    value("stretch-warp", "Stretch, warp", "N/m", 20.0, 50_000.0, "More of it gives less along the grain."),
    value("stretch-weft", "Stretch, weft", "N/m", 20.0, 50_000.0, "More of it gives less across the grain."),
    value("shear", "Shear", "N/m", 1.0, 10_000.0, "Less of it lets the bias give and the cloth mould itself."),
    value("bend-warp", "Bend, warp", "µN·m", 0.05, 20_000.0, "More of it makes folds along the grain larger and rounder."),
    value("bend-weft", "Bend, weft", "µN·m", 0.05, 20_000.0, "More of it makes folds across the grain larger and rounder."),
    value("thickness", "Thickness", "mm", 0.02, 10.0, "Keeps layers and skin apart."),
    value("friction", "Friction", "", 0.0, 2.0, "More of it clings to the body, less of it slides."),
    value("locking", "Locks at", "%", 1.0, 200.0, "The strain at which it stops giving."),
];

impl Swatch {
    /// The place of a value by its key.
    pub fn value(&mut self, key: &str) -> Option<&mut f64> {
        Some(match key {
            "density" => &mut self.areal_density,
            "stretch-warp" => &mut self.stretch_stiffness_warp,
            "stretch-weft" => &mut self.stretch_stiffness_weft,
            "shear" => &mut self.shear,
            "bend-warp" => &mut self.bending_rigidity_warp,
            "bend-weft" => &mut self.bending_rigidity_weft,
            "thickness" => &mut self.thickness,
            "friction" => &mut self.friction,
            "locking" => &mut self.locking,
            _ => return None,
        })
    }

    /// Peirce's bending length in mm, of the mean of warp and weft.
    pub fn bending_length(&self) -> f64 {
        let (rigidity, weight) = (0.5e-6 * (self.bending_rigidity_warp + self.bending_rigidity_weft), 1e-3 * self.areal_density * 9.81);
        1000.0 * (rigidity / weight).cbrt()
    }
}

impl Fabric {
    /// The values of its swatch with its own on top; none when the book has no such swatch.
    pub fn cloth(&self) -> Option<Swatch> {
        let mut cloth = *swatch(&self.swatch)?;
        for (key, own) in &self.overrides {
            *cloth.value(key)? = *own;
        }
        Some(cloth)
    }
}
