//! Physical values of one cloth.

/// Stiffness beyond the locking strain over that below it.
pub const LOCKED: f32 = 10.0;

/// All values in SI units; `[warp, weft]` where direction matters.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Fabric {
    /// kg/m².
    pub areal_density: f32,
    /// N/m: force per width at strain 1 (initial slope).
    pub stretch: [f32; 2],
    /// N/m.
    pub shear: f32,
    /// N·m: flexural rigidity per width.
    pub bending: [f32; 2],
    /// m.
    pub thickness: f32,
    /// Coulomb coefficient on the body.
    pub friction: f32,
    /// Strain beyond which warp and weft are [`LOCKED`] times as stiff; infinite for none.
    pub locking: f32,
}
