//! What a choice of delivery comes to, before anything is written.

use super::layout::Tiling;
use super::{DeliverOptions, FileKind, Layout, Level, Prepared, file_names};
use crate::{Assembly, Prints};
use costume::Refusal;
use serde::Serialize;
use ts_rs::TS;

/// The counts of a delivery.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct DeliveryPreview {
    /// Of the garment.
    pub vertices: usize,
    pub triangles: usize,
    /// Of these faces how many have four sides, two triangles each.
    pub quads: usize,
    /// Of the body, if it comes along.
    pub body_triangles: usize,
    /// Groups of the garment, one for each piece.
    pub groups: usize,
    /// Different materials of the garment.
    pub materials: usize,
    /// Extent of the garment in the unit of the file: width, height, depth.
    pub size: [f64; 3],
    /// Tiles of the layout, texels to a centimetre, and the share of the tiles that cloth covers; none where pieces are not packed.
    pub tiles: Option<TilesPreview>,
    /// Triangles of the further levels of detail.
    pub levels: Vec<usize>,
    /// Names of the files that would be written.
    pub files: Vec<String>,
}

/// How a packed layout comes out.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct TilesPreview {
    pub tiles: usize,
    pub texels_per_cm: f64,
    /// 0 to 1.
    pub used: f64,
}

impl DeliveryPreview {
    pub(super) fn of(levels: &[Level], tiling: Tiling, textures: Vec<String>, assembly: &Assembly, options: &DeliverOptions) -> Self {
        let garment = &levels[0].meshes[0];
        let mut materials: Vec<&str> = garment.groups.iter().map(|g| g.material.name.as_str()).collect();
        materials.sort_unstable();
        materials.dedup();
        let per_metre = if options.kind == FileKind::Glb { 1.0 } else { options.unit.per_metre() };
        let size = [0, 1, 2].map(|k| {
            let ends = garment.positions.iter().map(|p| f64::from(p[k])).fold([f64::MAX, f64::MIN], |[l, h], v| [l.min(v), h.max(v)]);
            per_metre * (ends[1] - ends[0]).max(0.0)
        });
        Self {
            vertices: garment.positions.len(),
            triangles: garment.triangles.len(),
            quads: garment.quads.len(),
            body_triangles: levels[0].meshes.get(1).map_or(0, |body| body.triangles.len()),
            groups: garment.groups.len(),
            materials: materials.len(),
            size,
            tiles: TilesPreview::of(tiling, assembly, options),
            levels: levels[1..].iter().map(|l| l.meshes[0].triangles.len()).collect(),
            files: levels.iter().flat_map(|l| file_names(options.kind, &l.stem)).chain(textures).collect(),
        }
    }
}

impl TilesPreview {
    /// None where pieces are not packed.
    fn of(tiling: Tiling, assembly: &Assembly, options: &DeliverOptions) -> Option<Self> {
        if matches!(options.layout, Layout::Metres | Layout::Unit) {
            return None;
        }
        let cloth: f64 = (0..assembly.scene.triangles.len()).map(|t| assembly.cut_area(t)).sum();
        Some(Self {
            tiles: tiling.tiles,
            texels_per_cm: f64::from(options.texture) * tiling.per_metre / 100.0,
            used: cloth * tiling.per_metre * tiling.per_metre / tiling.tiles as f64,
        })
    }
}

/// Looks at what would be delivered.
pub fn delivery_preview(
    assembly: &Assembly,
    positions: &[[f32; 3]],
    fused: &[u32],
    options: &DeliverOptions,
    prints: &Prints,
    stem: &str,
) -> Result<DeliveryPreview, Refusal> {
    Ok(Prepared::of(assembly, positions, fused, options, prints, stem)?.preview)
}
