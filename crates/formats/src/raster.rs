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

/// A byte of sRGB as linear light.
pub(crate) fn linear_byte(byte: u8) -> f32 {
    let s = f32::from(byte) / 255.0;
    if s <= 0.04045 { s / 12.92 } else { ((s + 0.055) / 1.055).powf(2.4) }
}
