//! The swatch book: physical values of common cloths. Figures are typical values for such cloths, in SI-near textile units.

use serde::Serialize;
use ts_rs::TS;

/// One cloth of the book. Warp runs along the grain, weft across.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, TS)]
pub struct Swatch {
    pub key: &'static str,
    pub name: &'static str,
    /// g/m².
    pub density: f64,
    /// N/m, initial slope.
    pub stretch_warp: f64,
    pub stretch_weft: f64,
    /// N/m.
    pub shear: f64,
    /// µN·m.
    pub bend_warp: f64,
    pub bend_weft: f64,
    /// mm.
    pub thickness: f64,
    /// Coulomb coefficient on skin.
    pub friction: f64,
    /// Drape coefficient range in percent (30 cm specimen on an 18 cm disc).
    pub drape_low: f64,
    pub drape_high: f64,
}

macro_rules! swatches {
    ($($key:literal $name:literal $d:literal $ku:literal $kv:literal $s:literal $bu:literal $bv:literal $t:literal $f:literal $lo:literal $hi:literal;)*) => {
        /// All swatches in book order.
        pub const SWATCHES: &[Swatch] = &[$(Swatch {
            key: $key, name: $name, density: $d, stretch_warp: $ku, stretch_weft: $kv, shear: $s, bend_warp: $bu, bend_weft: $bv,
            thickness: $t, friction: $f, drape_low: $lo, drape_high: $hi,
        },)*];
    };
}

swatches! {
    "calico" "Calico" 140.0 3500.0 2500.0 70.0 14.0 9.0 0.35 0.35 60.0 80.0;
    "wool-flannel" "Wool flannel" 260.0 1800.0 1400.0 45.0 16.0 12.0 0.80 0.40 40.0 60.0;
    "silk-charmeuse" "Silk charmeuse" 85.0 1500.0 1200.0 18.0 3.0 2.0 0.22 0.18 25.0 45.0;
    "denim" "Denim 12 oz" 410.0 6000.0 4000.0 150.0 110.0 60.0 0.85 0.40 70.0 92.0;
}

/// Finds a swatch by its key.
pub fn swatch(key: &str) -> Option<&'static Swatch> {
    SWATCHES.iter().find(|s| s.key == key)
}
