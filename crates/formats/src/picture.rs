//! A small still picture of meshes: depth buffer, soft light from the upper left, twice oversampled, as PNG.
//!
//! The eye looks level from the front, turned by some degrees, without perspective, so that lengths can be compared. Facets
//! take the mean of their corner normals; gloss and see-through follow the material. The same values give the same bytes.

use crate::png_writing::png_of;
use crate::raster::{each_pixel, srgb};
use crate::{ExportMesh, Material};

/// How the picture is taken. Angles in degrees; 0 looks at the front, 90 at the left side.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct View {
    /// Pixels.
    pub width: usize,
    /// Pixels.
    pub height: usize,
    /// Degrees to the side, counter-clockwise from above.
    pub turn: f32,
    /// Region shown, m: middle height and total height.
    pub middle: f32,
    /// Height of what is seen, m.
    pub span: f32,
}

/// Samples per pixel along each side.
const OVER: usize = 2;

/// A triangle on the canvas: corners in pixels and depth (m, away from the eye), normals.
struct Facet<'a> {
    corners: [[f32; 3]; 3],
    normals: [[f32; 3]; 3],
    /// Where they lie in the print.
    print: [[f32; 2]; 3],
    material: &'a Material,
}

/// Colours and depths of the picture, row by row from the top.
struct Canvas {
    width: usize,
    height: usize,
    depth: Vec<f32>,
    colour: Vec<[f32; 3]>,
}

/// Renders the meshes on pattern-paper white; see-through cloth over all that is behind it.
pub fn picture(meshes: &[ExportMesh], view: &View) -> Vec<u8> {
    let (width, height) = (view.width * OVER, view.height * OVER);
    let mut canvas = Canvas { width, height, depth: vec![f32::MAX; width * height], colour: vec![[0.0; 3]; width * height] };
    for y in 0..height {
        let t = y as f32 / height as f32;
        let paper = [0.93 - 0.10 * t, 0.90 - 0.10 * t, 0.85 - 0.11 * t];
        canvas.colour[y * width..(y + 1) * width].fill(paper);
    }
    let (sin, cos) = view.turn.to_radians().sin_cos();
    let turned = |p: [f32; 3]| [p[0] * cos - p[2] * sin, p[1], p[0] * sin + p[2] * cos];
    let scale = height as f32 / view.span;
    let mut clear = Vec::new();
    for mesh in meshes {
        for group in &mesh.groups {
            for (k, t) in mesh.triangles.iter().enumerate().skip(group.first).take(group.count) {
                let world = t.map(|v| turned(mesh.positions[v as usize]));
                let normals = t.map(|v| turned(mesh.normals[v as usize]));
                let corners = world.map(|p| [width as f32 * 0.5 + p[0] * scale, height as f32 * 0.5 - (p[1] - view.middle) * scale, -p[2]]);
                let at = |v: u32| mesh.print_uvs.get(v as usize).copied().unwrap_or_default();
                let print = mesh.uv_triangles.get(k).map_or([[0.0; 2]; 3], |uv| uv.map(at));
                let facet = Facet { corners, normals, print, material: &group.material };
                if group.material.opacity < 1.0 {
                    clear.push(facet);
                } else {
                    canvas.draw(&facet);
                }
            }
        }
    }
    // what is see-through comes last, from the back to the front
    let depth = |f: &Facet| f.corners.iter().map(|c| c[2]).sum::<f32>();
    clear.sort_by(|a, b| depth(b).total_cmp(&depth(a)));
    clear.iter().for_each(|facet| canvas.draw(facet));
    encode(&canvas, view)
}

impl Canvas {
    /// Fills a facet where it is nearer than what is drawn already.
    fn draw(&mut self, facet: &Facet) {
        let Facet { corners: s, normals, print, material } = facet;
        let flat = s.map(|[x, y, _]| [x, y]);
        each_pixel(flat, (self.width, self.height), |x, y, w| {
            let at = y * self.width + x;
            let depth = w[0] * s[0][2] + w[1] * s[1][2] + w[2] * s[2][2];
            if depth < self.depth[at] {
                let n = unit([0, 1, 2].map(|k| w[0] * normals[0][k] + w[1] * normals[1][k] + w[2] * normals[2][k]));
                let colour = material.print.as_ref().map_or(material.colour, |texture| {
                    texture.light([0, 1].map(|k| w[0] * print[0][k] + w[1] * print[1][k] + w[2] * print[2][k]))
                });
                let lit = shade(n, material, colour);
                if material.opacity < 1.0 {
                    let (behind, share) = (self.colour[at], seen(n, material.opacity));
                    self.colour[at] = [0, 1, 2].map(|k| behind[k] + (lit[k] - behind[k]) * share);
                } else {
                    (self.depth[at], self.colour[at]) = (depth, lit);
                }
            }
        });
    }
}

/// Share of what is seen that is cloth: at a slant its threads hide more.
fn seen(n: [f32; 3], opacity: f32) -> f32 {
    1.0 - (1.0 - opacity).powf(1.0 / n[2].abs().max(0.2))
}

/// Of length 1.
fn unit(n: [f32; 3]) -> [f32; 3] {
    let length = n.iter().map(|v| v * v).sum::<f32>().sqrt().max(1e-6);
    n.map(|v| v / length)
}

/// Direction to the key light, and halfway between it and the eye.
const KEY: [f32; 3] = [-0.45, 0.6, 0.66];
/// Halfway between the light and the eye, for the gloss.
const HALF: [f32; 3] = [-0.247, 0.329, 0.911];

/// Key light, sky, a soft sheen at grazing angles, and gloss on what is not rough; the back side is a little darker.
fn shade(n: [f32; 3], material: &Material, colour: [f32; 3]) -> [f32; 3] {
    let (n, tone) = if n[2] < 0.0 { (n.map(|v| -v), 0.75) } else { (n, 1.0) };
    let towards = |d: [f32; 3]| (d[0] * n[0] + d[1] * n[1] + d[2] * n[2]).max(0.0);
    let (key, sky) = (towards(KEY), 0.5 + 0.5 * n[1]);
    let sheen = 0.10 * (1.0 - n[2]).powi(3);
    let gloss = 0.9 * (1.0 - material.roughness).powf(1.5) * towards(HALF).powf(2.0 / material.roughness.max(0.05).powi(2));
    colour.map(|c| tone * (c * (0.22 + 0.28 * sky + 0.72 * key) + sheen + gloss))
}

/// The pixels as PNG.
fn encode(canvas: &Canvas, view: &View) -> Vec<u8> {
    let mut pixels = Vec::with_capacity(view.width * view.height * 3);
    for y in 0..view.height {
        for x in 0..view.width {
            for k in 0..3 {
                let sum: f32 = (0..OVER * OVER).map(|i| canvas.colour[(y * OVER + i / OVER) * canvas.width + x * OVER + i % OVER][k]).sum();
                pixels.push(srgb(sum / (OVER * OVER) as f32).round() as u8);
            }
        }
    }
    png_of(view.width, view.height, png::ColorType::Rgb, &pixels, None)
}
