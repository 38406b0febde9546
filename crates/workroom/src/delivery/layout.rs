//! How the flat pieces lie in texture coordinates.

use super::options::{DeliverOptions, Layout};
use crate::Assembly;
use crate::piece_range::upright as turned_upright;
use costume::{Piece, Refusal};
use mesh::{Island, Packing, pack, pack_at};

/// How large and where a layout shows the cloth.
#[derive(Clone, Copy)]
pub(super) struct Tiling {
    /// Length in the layout of a metre of cloth.
    pub per_metre: f64,
    /// Tiles that are used.
    pub tiles: usize,
}

/// Texture coordinates of every vertex, v upwards.
pub(super) struct TextureLayout {
    pub uvs: Vec<[f32; 2]>,
    pub tiling: Tiling,
}

/// Lays the pieces out as the options say; refuses a margin that leaves no room.
pub(super) fn layout(assembly: &Assembly, options: &DeliverOptions) -> Result<TextureLayout, Refusal> {
    match options.layout {
        Layout::Metres | Layout::Unit => Ok(as_on_the_table(assembly, options.layout)),
        Layout::Tile => in_tiles(assembly, options, vec![(0..assembly.pieces.len()).collect()]),
        Layout::PieceTiles => in_tiles(assembly, options, (0..assembly.pieces.len()).map(|k| vec![k]).collect()),
        Layout::FabricTiles => {
            let mut groups: Vec<(Option<costume::FabricId>, Vec<usize>)> = Vec::new();
            for (k, range) in assembly.pieces.iter().enumerate() {
                let fabric = assembly.costume.piece(range.piece).map(|p| p.fabric);
                match groups.iter_mut().find(|(known, _)| *known == fabric) {
                    Some((_, all)) => all.push(k),
                    None => groups.push((fabric, vec![k])),
                }
            }
            in_tiles(assembly, options, groups.into_iter().map(|(_, all)| all).collect())
        }
    }
}

/// Flat pieces as they lie on the table, moved so that everything is above and right of the origin.
fn as_on_the_table(assembly: &Assembly, layout: Layout) -> TextureLayout {
    let mut uvs: Vec<[f64; 2]> = Vec::new();
    for range in &assembly.pieces {
        let at = assembly.costume.piece(range.piece).map_or([0.0; 2], |p| [p.at.x, p.at.y]);
        uvs.extend(range.flat.points.iter().map(|p| [(p[0] + at[0]) / 1000.0, (p[1] + at[1]) / 1000.0]));
    }
    let (low, high) =
        uvs.iter().fold(([f64::MAX; 2], [f64::MIN; 2]), |(l, h), p| ([l[0].min(p[0]), l[1].min(p[1])], [h[0].max(p[0]), h[1].max(p[1])]));
    let scale = match layout {
        Layout::Unit => 1.0 / (high[0] - low[0]).max(high[1] - low[1]).max(1e-9),
        _ => 1.0,
    };
    let uvs = uvs.iter().map(|p| [((p[0] - low[0]) * scale) as f32, ((p[1] - low[1]) * scale) as f32]).collect();
    TextureLayout { uvs, tiling: Tiling { per_metre: scale, tiles: 1 } }
}

/// Every group of pieces in a tile of its own, all at the scale of the fullest, with the grain upright.
fn in_tiles(assembly: &Assembly, options: &DeliverOptions, groups: Vec<Vec<usize>>) -> Result<TextureLayout, Refusal> {
    let lost = || Refusal::elsewhere("layout", "has no room for the pieces", "choose a smaller margin");
    let packing = Packing { margin: f64::from(options.margin) / f64::from(options.texture), turn: options.turn };
    let upright: Vec<Vec<[f64; 2]>> = assembly
        .pieces
        .iter()
        .map(|range| {
            let grain = assembly.costume.piece(range.piece).map_or(90.0, |p: &Piece| p.grain);
            range.flat.points.iter().map(|p| turned_upright(*p, grain).map(|v| v / 1000.0)).collect()
        })
        .collect();
    let islands = |group: &[usize]| -> Vec<Island> {
        group.iter().map(|k| Island { points: &upright[*k], triangles: &assembly.pieces[*k].flat.triangles }).collect()
    };
    let alone: Vec<_> = groups.iter().map(|group| pack(&islands(group), packing).ok_or_else(lost)).collect::<Result<_, _>>()?;
    // the same length of cloth has as many texels everywhere
    let scale = alone.iter().flatten().map(|p| p.scale).fold(f64::MAX, f64::min);
    let mut by_piece: Vec<Vec<[f32; 2]>> = vec![Vec::new(); assembly.pieces.len()];
    for (tile, (group, alone)) in groups.iter().zip(alone).enumerate() {
        // the fullest lies as it does alone
        let fullest = alone.iter().all(|p| p.scale == scale);
        let places = if fullest { alone } else { pack_at(&islands(group), packing, scale).unwrap_or(alone) };
        for (k, place) in group.iter().zip(places) {
            let shift = tile as f64;
            by_piece[*k] = upright[*k].iter().map(|p| place.place(*p)).map(|[u, v]| [(u + shift) as f32, v as f32]).collect();
        }
    }
    Ok(TextureLayout { uvs: by_piece.into_iter().flatten().collect(), tiling: Tiling { per_metre: scale, tiles: groups.len() } })
}
