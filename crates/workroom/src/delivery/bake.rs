//! Prints drawn into the texture of a layout, for files that have one set of texture coordinates, or where that is wanted.

use super::{DeliverOptions, FileKind, Layout};
use costume::Refusal;
use formats::{ColourPicture, ExportMesh, Group, Texture};
use std::sync::Arc;

/// Most pixels of all tiles together.
const MOST_PIXELS: usize = 1 << 26;

/// Whether the prints of a mesh are drawn into its texture.
pub(super) fn bakes(mesh: &ExportMesh, options: &DeliverOptions) -> bool {
    let printed = mesh.groups.iter().any(|g| g.material.print.is_some());
    let takes = match options.kind {
        FileKind::Obj => true,
        FileKind::Glb | FileKind::Usda | FileKind::Usdz => options.baked,
        FileKind::Ply | FileKind::Stl => false,
    };
    printed && takes && options.layout != Layout::Metres
}

/// Refuses tiles that would be too many or too large to draw.
pub(super) fn check(options: &DeliverOptions, tiles: usize) -> Result<(), Refusal> {
    let side = options.texture as usize;
    if tiles * side * side <= MOST_PIXELS {
        return Ok(());
    }
    let reason = format!("would draw prints into {tiles} tiles of {side} px, which is more than is held at a time");
    Err(Refusal::elsewhere("delivery", reason, "choose a smaller texture, or fewer tiles"))
}

/// What a tile is called.
pub(super) fn tile_name(tile: usize) -> String {
    format!("cloth-{}", tile + 1)
}

/// The tile that a group lies in.
fn tile_of(mesh: &ExportMesh, group: &Group) -> usize {
    let all = mesh.uv_triangles[group.first..group.first + group.count].iter().flatten();
    let least = all.map(|v| mesh.uvs[*v as usize][0]).fold(f32::MAX, f32::min);
    (least + 1e-4).max(0.0) as usize
}

/// Draws the cloth of a mesh into tiles of so many pixels a side.
pub(super) fn tiles_of(mesh: &ExportMesh, options: &DeliverOptions, count: usize) -> Vec<Arc<Texture>> {
    let side = options.texture as usize;
    let mut tiles = vec![ColourPicture::plain(side, side, [0; 4]); count];
    for group in &mesh.groups {
        let tile = tile_of(mesh, group).min(count.saturating_sub(1));
        let Some(picture) = tiles.get_mut(tile) else { continue };
        let plain = bytes(group.material.colour);
        for t in group.first..group.first + group.count {
            let corners = mesh.uv_triangles[t].map(|v| {
                let [u, v] = mesh.uvs[v as usize];
                [(u - tile as f32) * side as f32, (1.0 - v) * side as f32]
            });
            let at = mesh.uv_triangles[t].map(|v| mesh.print_uvs.get(v as usize).copied().unwrap_or_default());
            let colour = |w: [f32; 3]| match &group.material.print {
                Some(print) => print.pixel([0, 1].map(|k| w[0] * at[0][k] + w[1] * at[1][k] + w[2] * at[2][k])),
                None => plain,
            };
            formats::each_pixel(corners, (side, side), |x, y, w| picture.pixels[y * side + x] = colour(w));
        }
    }
    let margin = options.margin.max(2) as usize;
    let made = tiles.into_iter().enumerate().map(|(k, mut picture)| {
        spread(&mut picture, margin);
        Arc::new(Texture { name: tile_name(k), picture, once: false })
    });
    made.collect()
}

/// Puts the tiles on a mesh, in place of what was printed on it.
pub(super) fn dress(mesh: &mut ExportMesh, tiles: &[Arc<Texture>]) {
    let of: Vec<usize> = mesh.groups.iter().map(|g| tile_of(mesh, g)).collect();
    for (group, tile) in mesh.groups.iter_mut().zip(of) {
        group.material.print = tiles.get(tile).cloned();
    }
    mesh.print_uvs.clone_from(&mesh.uvs);
}

/// Carries the colours at the border of what is drawn on by some pixels, so that nothing bare shows at an edge; what is left has their
/// mean.
fn spread(picture: &mut ColourPicture, pixels: usize) {
    let (width, height) = (picture.width, picture.height);
    let mut front: Vec<usize> = (0..width * height).filter(|k| picture.pixels[*k][3] > 0).collect();
    let mut sum = [0u64; 3];
    front.iter().for_each(|k| (0..3).for_each(|c| sum[c] += u64::from(picture.pixels[*k][c])));
    let count = front.len().max(1) as u64;
    for _ in 0..pixels {
        let mut next = Vec::new();
        for k in front {
            let (x, y) = (k % width, k / width);
            let beside = [
                (x > 0).then(|| k - 1),
                (x + 1 < width).then_some(k + 1),
                (y > 0).then(|| k - width),
                (y + 1 < height).then_some(k + width),
            ];
            for n in beside.into_iter().flatten().filter(|n| picture.pixels[*n][3] == 0).collect::<Vec<_>>() {
                picture.pixels[n] = picture.pixels[k];
                next.push(n);
            }
        }
        front = next;
    }
    let mean = sum.map(|s| (s / count) as u8);
    picture.pixels.iter_mut().filter(|p| p[3] == 0).for_each(|p| *p = [mean[0], mean[1], mean[2], 255]);
}

/// Linear light as sRGB bytes.
fn bytes(colour: [f32; 3]) -> [u8; 4] {
    let [r, g, b] = colour.map(|v| formats::srgb(v).round() as u8);
    [r, g, b, 255]
}
