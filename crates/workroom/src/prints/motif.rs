//! The motifs that ship with the application, as shapes in a repeat of side 1.

/// A motif that repeats in both directions.
pub struct Motif {
    /// As documents name it.
    pub key: &'static str,
    /// As the designer reads it.
    pub name: &'static str,
    shapes: fn() -> Vec<Inked>,
}

/// The motifs, as they are offered.
pub const MOTIFS: [Motif; 4] = [
    Motif { key: "salt-crystals", name: "Salt crystals", shapes: salt_crystals },
    Motif { key: "tide-lines", name: "Tide lines", shapes: tide_lines },
    Motif { key: "net-check", name: "Net check", shapes: net_check },
    Motif { key: "floats", name: "Floats", shapes: floats },
];

/// A motif by its key.
pub fn motif(key: &str) -> Option<&'static Motif> {
    MOTIFS.iter().find(|m| m.key == key)
}

/// What is drawn of a motif: x to the right, y upwards, both from 0 to 1; how strong its ink is.
struct Inked {
    shape: Shape,
    strength: f64,
}

enum Shape {
    /// From one point to the other, with half its width.
    Stroke([f64; 2], [f64; 2], f64),
    Disc([f64; 2], f64),
    /// Across the whole repeat: the axis along which it is measured, from and to.
    Band(usize, f64, f64),
}

impl Shape {
    /// How far a place is outside of it, less than 0 within; through the border of the repeat too.
    fn outside(&self, at: [f64; 2]) -> f64 {
        let near = |d: f64| d - d.round();
        match *self {
            Self::Disc(middle, radius) => near(at[0] - middle[0]).hypot(near(at[1] - middle[1])) - radius,
            Self::Band(axis, from, to) => near(at[axis] - 0.5 * (from + to)).abs() - 0.5 * (to - from),
            Self::Stroke(a, b, half) => {
                let way = [b[0] - a[0], b[1] - a[1]];
                let middle = [0.5 * (a[0] + b[0]), 0.5 * (a[1] + b[1])];
                let off = [near(at[0] - middle[0]), near(at[1] - middle[1])];
                let long = (way[0] * way[0] + way[1] * way[1]).max(1e-12);
                let along = ((off[0] * way[0] + off[1] * way[1]) / long).clamp(-0.5, 0.5);
                (off[0] - along * way[0]).hypot(off[1] - along * way[1]) - half
            }
        }
    }
}

impl Motif {
    /// Shares of ink (0 to 1) of the pixels of a repeat, row by row from the top.
    pub fn ink(&self, width: usize, height: usize) -> Vec<f64> {
        let shapes = (self.shapes)();
        let pixel = 1.0 / width.max(height).max(1) as f64;
        let mut ink = Vec::with_capacity(width * height);
        for y in 0..height {
            for x in 0..width {
                let at = [(x as f64 + 0.5) / width as f64, 1.0 - (y as f64 + 0.5) / height as f64];
                let clear = shapes.iter().fold(1.0, |clear, s| {
                    let covered = (0.5 - s.shape.outside(at) / pixel).clamp(0.0, 1.0);
                    clear * (1.0 - s.strength * covered)
                });
                ink.push(1.0 - clear);
            }
        }
        ink
    }
}

fn full(shape: Shape) -> Inked {
    Inked { shape, strength: 1.0 }
}

/// Numbers from 0 to 1 without order, the same in every run.
fn scattered(seed: u64) -> impl FnMut() -> f64 {
    let mut state = seed;
    move || {
        state = state.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        (state >> 40) as f64 / (1u64 << 24) as f64
    }
}

/// Cubes seen on edge, two of them large, with grains between.
fn salt_crystals() -> Vec<Inked> {
    let mut shapes = Vec::new();
    let mut cube = |x: f64, y: f64, radius: f64, turn: f64| {
        let corner = |k: usize| {
            let (sin, cos) = (k as f64 * std::f64::consts::FRAC_PI_3 + turn).sin_cos();
            [x + radius * sin, y + radius * cos]
        };
        for k in 0..6 {
            shapes.push(full(Shape::Stroke(corner(k), corner(k + 1), 0.003)));
            if k % 2 == 1 {
                shapes.push(full(Shape::Stroke([x, y], corner(k), 0.003)));
            }
        }
    };
    for (x, y) in [(0.25, 0.75), (0.75, 0.25)] {
        cube(x, y, 0.13, 0.2);
        cube(x + 0.17, y - 0.11, 0.06, 0.7);
        cube(x - 0.15, y - 0.13, 0.045, 0.1);
    }
    let mut any = scattered(7);
    shapes.extend((0..26).map(|_| full(Shape::Disc([any(), any()], 0.003 + 0.004 * any()))));
    shapes
}

/// Stripes along the grain, a broad one between two narrow ones.
fn tide_lines() -> Vec<Inked> {
    [(0.0, 0.36), (0.44, 0.5), (0.86, 0.92)].map(|(from, to)| full(Shape::Band(0, from, to))).into()
}

/// Half ink in both directions, full where they cross.
fn net_check() -> Vec<Inked> {
    [0, 1].map(|axis| Inked { shape: Shape::Band(axis, 0.0, 0.5), strength: 0.55 }).into()
}

/// Discs of two sizes, staggered.
fn floats() -> Vec<Inked> {
    [([0.25, 0.25], 0.13), ([0.75, 0.75], 0.13), ([0.75, 0.25], 0.05), ([0.25, 0.75], 0.05)]
        .map(|(middle, radius)| full(Shape::Disc(middle, radius)))
        .into()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn ink_covers_as_much_as_the_shapes_and_goes_on_over_the_border() {
        let share = |key: &str| {
            let ink = motif(key).expect("a motif").ink(200, 200);
            ink.iter().sum::<f64>() / ink.len() as f64
        };
        let discs = 2.0 * std::f64::consts::PI * (0.13f64.powi(2) + 0.05f64.powi(2));
        assert!((share("floats") - discs).abs() < 1e-3, "{}", share("floats"));
        assert!((share("tide-lines") - 0.48).abs() < 1e-3);
        assert!((share("net-check") - (0.55 - 0.25 * 0.55 * 0.55)).abs() < 1e-3);
        // a stroke over the border is drawn at both sides of it
        let stroke = Shape::Stroke([0.9, 0.5], [1.1, 0.5], 0.01);
        assert!(stroke.outside([0.05, 0.5]) < 0.0 && stroke.outside([0.95, 0.5]) < 0.0 && stroke.outside([0.5, 0.5]) > 0.3);
    }
}
