//! Pictures in colour: as they are read, made finer or coarser, looked up.

use crate::png_writing::png_of;

/// A picture of rows from the top; red, green, blue (sRGB) and opacity of every pixel.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct ColourPicture {
    /// Columns.
    pub width: usize,
    /// Rows.
    pub height: usize,
    /// As many as columns times rows.
    pub pixels: Vec<[u8; 4]>,
}

impl ColourPicture {
    /// Of one colour.
    pub fn plain(width: usize, height: usize, colour: [u8; 4]) -> Self {
        Self { width, height, pixels: vec![colour; width * height] }
    }

    /// In another size, every pixel the mean of what it covers; weighed by opacity, so that what is clear has no colour.
    ///
    /// ```
    /// let two = formats::ColourPicture { width: 2, height: 1, pixels: vec![[200, 0, 0, 255], [0, 0, 0, 0]] };
    /// assert_eq!(two.resized(1, 1).pixels, [[200, 0, 0, 128]]);
    /// assert_eq!(two.resized(4, 1).pixels[1], [200, 0, 0, 255]);
    /// ```
    pub fn resized(&self, width: usize, height: usize) -> Self {
        // which pixels one covers along a side, with their shares
        let covered = |from: usize, to: usize, k: usize| {
            let (low, high) = (k as f64 * from as f64 / to as f64, (k + 1) as f64 * from as f64 / to as f64);
            let last = (high.ceil() as usize).min(from);
            (low as usize..last.max(low as usize + 1)).map(move |i| (i, (high.min(i as f64 + 1.0) - low.max(i as f64)).max(0.0)))
        };
        let mut pixels = Vec::with_capacity(width * height);
        for y in 0..height {
            for x in 0..width {
                let (mut sum, mut weight) = ([0.0f64; 4], 0.0);
                for (j, rows) in covered(self.height, height, y) {
                    for (i, columns) in covered(self.width, width, x) {
                        let [r, g, b, a] = self.pixels[j * self.width + i].map(f64::from);
                        let share = rows * columns;
                        weight += share;
                        sum[3] += share * a;
                        [r, g, b].iter().zip(&mut sum).for_each(|(c, s)| *s += share * a * c);
                    }
                }
                let opaque = sum[3].max(1e-9);
                let byte = |v: f64| v.round().clamp(0.0, 255.0) as u8;
                pixels.push([byte(sum[0] / opaque), byte(sum[1] / opaque), byte(sum[2] / opaque), byte(sum[3] / weight.max(1e-9))]);
            }
        }
        Self { width, height, pixels }
    }

    /// As a PNG file.
    pub fn png(&self) -> Vec<u8> {
        let bytes: Vec<u8> = self.pixels.iter().flatten().copied().collect();
        png_of(self.width, self.height, png::ColorType::Rgba, &bytes, None)
    }
}

/// A picture that lies on cloth, by the second texture coordinates of a mesh.
#[derive(Clone, Debug)]
pub struct Texture {
    /// Of its file, without ending; pictures of one name are one.
    pub name: String,
    /// Without holes.
    pub picture: ColourPicture,
    /// Its border goes on outside, instead of the picture again.
    pub once: bool,
}

impl PartialEq for Texture {
    fn eq(&self, other: &Self) -> bool {
        (&self.name, self.once) == (&other.name, other.once)
    }
}

impl Texture {
    /// The pixel at a place, v upwards.
    pub fn pixel(&self, [u, v]: [f32; 2]) -> [u8; 4] {
        let within = |t: f32| if self.once { t.clamp(0.0, 1.0) } else { t - t.floor() };
        let pick = |t: f32, count: usize| ((t * count as f32) as usize).min(count.saturating_sub(1));
        let (x, y) = (pick(within(u), self.picture.width), pick(1.0 - within(v), self.picture.height));
        self.picture.pixels.get(y * self.picture.width + x).copied().unwrap_or([255; 4])
    }

    /// Linear red, green and blue there.
    pub(crate) fn light(&self, at: [f32; 2]) -> [f32; 3] {
        let [r, g, b, _] = self.pixel(at);
        [r, g, b].map(linear_byte)
    }
}

/// A byte of sRGB as linear light (IEC 61966-2-1).
pub fn linear_byte(byte: u8) -> f32 {
    let s = f32::from(byte) / 255.0;
    if s <= 0.04045 { s / 12.92 } else { ((s + 0.055) / 1.055).powf(2.4) }
}

/// Linear light as sRGB, 0 to 255 (IEC 61966-2-1).
pub fn srgb(light: f32) -> f32 {
    (if light <= 0.003_130_8 { 12.92 * light } else { 1.055 * light.powf(1.0 / 2.4) - 0.055 }).clamp(0.0, 1.0) * 255.0
}

/// The pixels (column, row) of a canvas whose middles lie in a triangle, each with the shares of its corners.
pub fn each_pixel(s: [[f32; 2]; 3], (width, height): (usize, usize), mut of: impl FnMut(usize, usize, [f32; 3])) {
    let cross = |a: [f32; 2], b: [f32; 2], p: [f32; 2]| (b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]);
    let area = cross(s[0], s[1], s[2]);
    if area.abs() < 1e-9 {
        return;
    }
    let range = |k: usize, limit: usize| {
        let (low, high) = s.iter().fold((f32::MAX, f32::MIN), |(l, h), p| (l.min(p[k]), h.max(p[k])));
        (low.max(0.0) as usize, (high.max(0.0) as usize + 1).min(limit))
    };
    let ((x0, x1), (y0, y1)) = (range(0, width), range(1, height));
    for y in y0..y1 {
        for x in x0..x1 {
            let p = [x as f32 + 0.5, y as f32 + 0.5];
            let w = [cross(s[1], s[2], p) / area, cross(s[2], s[0], p) / area, cross(s[0], s[1], p) / area];
            if w.iter().all(|w| *w >= 0.0) {
                of(x, y, w);
            }
        }
    }
}
