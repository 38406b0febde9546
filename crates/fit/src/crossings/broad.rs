//! Pairs of triangles whose boxes meet, by a sweep over sorted boxes in slabs.

use rayon::prelude::*;

/// Box of a triangle.
#[derive(Clone, Copy)]
pub(crate) struct Aabb {
    low: [f32; 3],
    high: [f32; 3],
    pub triangle: u32,
    /// Of two sets that are compared, the first.
    pub first: bool,
}

/// Boxes of triangles.
pub(crate) fn boxes<'a>(positions: &'a [[f32; 3]], triangles: &'a [[u32; 3]], first: bool) -> impl Iterator<Item = Aabb> + 'a {
    triangles.iter().enumerate().map(move |(i, t)| {
        let p = t.map(|v| positions[v as usize]);
        let corner = |pick: fn(f32, f32) -> f32| [0, 1, 2].map(|k| pick(pick(p[0][k], p[1][k]), p[2][k]));
        Aabb { low: corner(f32::min), high: corner(f32::max), triangle: i as u32, first }
    })
}

/// What `test` says of all pairs whose boxes meet, in a fixed order. The sweep goes along y, within columns of x and z so wide that
/// most boxes lie in one; a pair is told in the column of the lower corner that both share.
pub(crate) fn sweep_and_prune<T: Send>(boxes: Vec<Aabb>, test: impl Fn(&Aabb, &Aabb) -> Option<T> + Sync) -> Vec<T> {
    let columns = Columns::over(&boxes);
    let mut filled: Vec<Vec<Aabb>> = vec![Vec::new(); columns.count * columns.count];
    for b in &boxes {
        columns.of(b).for_each(|k| filled[k].push(*b));
    }
    let found: Vec<Vec<T>> = filled
        .into_par_iter()
        .enumerate()
        .map(|(column, mut boxes)| {
            boxes.sort_by(|a, b| a.low[1].total_cmp(&b.low[1]).then(b.first.cmp(&a.first)).then(a.triangle.cmp(&b.triangle)));
            let mut found = Vec::new();
            for (i, a) in boxes.iter().enumerate() {
                let near = boxes[i + 1..].iter().take_while(|b| b.low[1] <= a.high[1]);
                found.extend(near.filter(|b| meet(a, b) && columns.home(a, b) == column).filter_map(|b| test(a, b)));
            }
            found
        })
        .collect();
    found.into_iter().flatten().collect()
}

fn meet(a: &Aabb, b: &Aabb) -> bool {
    (0..3).all(|k| a.low[k] <= b.high[k] && b.low[k] <= a.high[k])
}

/// A square lattice of columns over x and z.
struct Columns {
    count: usize,
    low: [f32; 2],
    scale: [f32; 2],
}

impl Columns {
    /// Columns to a side: narrow enough that a sweep meets few boxes far from its own.
    const MOST: usize = 24;
    /// Boxes to a column at least, on average.
    const LEAST: usize = 64;

    fn over(boxes: &[Aabb]) -> Self {
        let count = (((boxes.len() / Self::LEAST) as f32).sqrt() as usize).clamp(1, Self::MOST);
        let low = [0, 2].map(|k| boxes.iter().map(|b| b.low[k]).fold(f32::MAX, f32::min));
        let high = [0, 2].map(|k| boxes.iter().map(|b| b.high[k]).fold(f32::MIN, f32::max));
        let scale = [0, 1].map(|k| if high[k] > low[k] { count as f32 / (high[k] - low[k]) } else { 0.0 });
        Self { count, low, scale }
    }

    fn cell(&self, axis: usize, at: f32) -> usize {
        // what is not finite lies in the first
        (((at - self.low[axis]) * self.scale[axis]) as usize).min(self.count - 1)
    }

    fn of(&self, b: &Aabb) -> impl Iterator<Item = usize> + use<> {
        let (x, z) = (self.cell(0, b.low[0])..=self.cell(0, b.high[0]), self.cell(1, b.low[2])..=self.cell(1, b.high[2]));
        let count = self.count;
        x.flat_map(move |i| z.clone().map(move |k| i * count + k))
    }

    /// The column in which a pair is told.
    fn home(&self, a: &Aabb, b: &Aabb) -> usize {
        self.cell(0, a.low[0].max(b.low[0])) * self.count + self.cell(1, a.low[2].max(b.low[2]))
    }
}
