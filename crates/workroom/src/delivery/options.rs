//! What a delivery may be, and its limits.

use costume::Refusal;
use serde::{Deserialize, Serialize};
use ts_rs::TS;

/// File format of a delivery.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum FileKind {
    Obj,
    #[default]
    Glb,
    Ply,
    Stl,
    /// USD as text, with materials.
    Usda,
    /// The same in one archive.
    Usdz,
}

/// Unit of the texture layout.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum Layout {
    /// Flat pieces at true scale, 1 = one metre.
    #[default]
    Metres,
    /// Scaled as a whole into the square from 0 to 1.
    Unit,
    /// Packed into one tile, each piece with its grain upright.
    Tile,
    /// A tile for each fabric, beside each other.
    FabricTiles,
    /// A tile for each piece.
    PieceTiles,
}

/// Unit of the lengths in a file.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum Unit {
    Mm,
    Cm,
    #[default]
    M,
    Inch,
}

impl Unit {
    /// How many of it are a metre.
    pub(super) fn per_metre(self) -> f64 {
        match self {
            Self::Mm => 1000.0,
            Self::Cm => 100.0,
            Self::M => 1.0,
            Self::Inch => 1.0 / 0.0254,
        }
    }
}

/// What a garment is made of.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum Faces {
    /// As it was simulated.
    #[default]
    Triangles,
    /// Of four sides along the grain, and of three where they do not go together; in OBJ, PLY and USD.
    Quads,
}

/// To which side of the draped surface cloth has its thickness.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum ThickSide {
    #[default]
    Outwards,
    Inwards,
    Both,
}

/// Most thickness that is delivered, mm.
pub const THICKEST: f64 = 30.0;
/// Most rounds of smooth subdivision, and most triangles that they may come to.
pub const SMOOTHEST: u8 = 3;
pub(super) const MOST_TRIANGLES: usize = 4_000_000;

/// Shares of the triangles that can be kept, percent.
pub const LIGHTER: std::ops::RangeInclusive<f64> = 1.0..=100.0;
/// Further levels of detail at most.
pub const MOST_LEVELS: u8 = 6;
/// Sides that the texture of a tile may have, px.
pub const TEXTURES: std::ops::RangeInclusive<u32> = 256..=16384;

/// What to deliver; what is not said is as in [`DeliverOptions::default`].
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(default, deny_unknown_fields)]
pub struct DeliverOptions {
    /// The format.
    pub kind: FileKind,
    /// Seams fused into common vertices, or left as separate edges.
    pub welded: bool,
    /// How the flat pieces lie in texture coordinates.
    pub layout: Layout,
    /// Adds the body as a mesh of its own.
    pub with_body: bool,
    /// Unit of OBJ, PLY, STL and USD; GLB is in metres whatever is chosen.
    pub unit: Unit,
    /// z points up in OBJ, PLY, STL and USD, and y to the back; otherwise y is up and z to the front.
    pub z_up: bool,
    /// Triangles, or faces of four sides.
    pub faces: Faces,
    /// How often every triangle becomes four, smoothly; 0 as simulated.
    pub smooth: u8,
    /// Share of the triangles that is kept, percent: fewer where the surface is even.
    pub lighter: f64,
    /// Further levels of detail, each with half the triangles of the one before, in files of their own.
    pub levels: u8,
    /// Of the cloth, mm; 0 is a single layer.
    pub thickness: f64,
    pub side: ThickSide,
    /// Side of the texture of a tile, px: one of [`TEXTURES`].
    pub texture: u32,
    /// Least distance of pieces in a tile, px of its texture.
    pub margin: u32,
    /// Pieces may be turned by quarters in a tile, whatever their grain.
    pub turn: bool,
    /// Prints are drawn into the texture of the layout instead of repeated on coordinates of their own; in OBJ, which has but one set,
    /// always. Not where the layout is in metres.
    pub baked: bool,
}

impl Default for DeliverOptions {
    fn default() -> Self {
        Self {
            kind: FileKind::default(),
            welded: false,
            layout: Layout::default(),
            with_body: false,
            unit: Unit::default(),
            z_up: false,
            faces: Faces::default(),
            smooth: 0,
            lighter: 100.0,
            levels: 0,
            thickness: 0.0,
            side: ThickSide::default(),
            texture: 4096,
            margin: 8,
            turn: false,
            baked: false,
        }
    }
}

impl DeliverOptions {
    /// Refuses what is beyond its limits, for a garment of so many triangles.
    pub(super) fn check(&self, triangles: usize) -> Result<(), Refusal> {
        let refuse = |reason: String, remedy: String| Err(Refusal::elsewhere("delivery", reason, remedy));
        if !(0.0..=THICKEST).contains(&self.thickness) {
            return refuse(format!("cannot have a thickness of {} mm", self.thickness), format!("choose one from 0 to {THICKEST} mm"));
        }
        if self.smooth > SMOOTHEST || triangles << (2 * u32::from(self.smooth)) > MOST_TRIANGLES {
            let reason = format!("cannot be made smooth {} times: {triangles} triangles would become too many", self.smooth);
            return refuse(reason, "choose fewer rounds, or a coarser mesh".into());
        }
        if !LIGHTER.contains(&self.lighter) || self.levels > MOST_LEVELS {
            let reason = format!("cannot keep {} % of the triangles in {} levels", self.lighter, self.levels);
            return refuse(reason, format!("choose from {} to {} % and {MOST_LEVELS} levels at most", LIGHTER.start(), LIGHTER.end()));
        }
        if self.faces == Faces::Quads && (self.smooth > 0 || self.lighter < 100.0 || self.levels > 0) {
            return refuse(
                "has four-sided faces, which are neither subdivided nor thinned here".into(),
                "choose triangles for that".into(),
            );
        }
        if !TEXTURES.contains(&self.texture) || self.margin > self.texture / 16 {
            let (low, high) = (TEXTURES.start(), TEXTURES.end());
            let reason = format!("cannot have a texture of {} px with a margin of {} px", self.texture, self.margin);
            return refuse(reason, format!("choose a side from {low} to {high} px and a margin of a sixteenth of it at most"));
        }
        Ok(())
    }
}
