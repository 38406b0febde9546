//! Islands of a layout packed into a square tile: their true shapes on a lattice, the largest first, each as low and then as far left
//! as it goes; one scale for all, as large as it can be.

use crate::rows::{Row, shifted, take};

/// Cells to a side of the lattice.
const SIDE: usize = 384;
const WORDS: usize = SIDE / 64;
/// Halvings of the range of scales.
const HALVINGS: usize = 12;

/// An island: triangles over points, in any unit.
#[derive(Clone, Copy, Debug)]
pub struct Island<'a> {
    pub points: &'a [[f64; 2]],
    pub triangles: &'a [[u32; 3]],
}

/// How islands are packed.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Packing {
    /// Least distance of islands from each other and from the border, as a share of the tile.
    pub margin: f64,
    /// Islands may be turned by quarters.
    pub turn: bool,
}

/// Where an island lies: its points turned by so many quarters counter-clockwise, times the common scale, moved by `by`.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Packed {
    pub quarters: u8,
    pub scale: f64,
    pub by: [f64; 2],
}

impl Packed {
    /// A point in the tile, 0 to 1.
    pub fn place(&self, p: [f64; 2]) -> [f64; 2] {
        let [x, y] = turned(p, self.quarters);
        [self.scale * x + self.by[0], self.scale * y + self.by[1]]
    }
}

fn turned([x, y]: [f64; 2], quarters: u8) -> [f64; 2] {
    match quarters % 4 {
        0 => [x, y],
        1 => [-y, x],
        2 => [-x, -y],
        _ => [y, -x],
    }
}

/// Packs all islands into one tile from 0 to 1; none when they have no extent or the margin leaves no room.
pub fn pack(islands: &[Island], packing: Packing) -> Option<Vec<Packed>> {
    let area: f64 = islands.iter().map(area).sum();
    if islands.is_empty() || !(area > 0.0 && area.is_finite()) {
        return None;
    }
    // at the whole of the tile there would be no room between them
    let (mut low, mut high) = (0.0, (1.0 / area).sqrt());
    let mut best = None;
    for _ in 0..HALVINGS {
        let scale = 0.5 * (low + high);
        match pack_at(islands, packing, scale) {
            Some(found) => (low, best) = (scale, Some(found)),
            None => high = scale,
        }
    }
    best
}

fn area(island: &Island) -> f64 {
    let of = |t: &[u32; 3]| {
        let [a, b, c] = t.map(|v| island.points[v as usize]);
        0.5 * ((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])).abs()
    };
    island.triangles.iter().map(of).sum()
}

/// The same at a scale that is given, in tiles to a unit of length.
pub fn pack_at(islands: &[Island], packing: Packing, scale: f64) -> Option<Vec<Packed>> {
    // a cell more than the margin, since what is marked may end anywhere in its cell
    let margin = (packing.margin * SIDE as f64).ceil() as usize + 1;
    let quarters: &[u8] = if packing.turn { &[0, 1, 2, 3] } else { &[0] };
    let mut order: Vec<usize> = (0..islands.len()).collect();
    let areas: Vec<f64> = islands.iter().map(area).collect();
    order.sort_by(|a, b| areas[*b].total_cmp(&areas[*a]).then(a.cmp(b)));
    let mut taken = vec![[0u64; WORDS]; SIDE];
    let mut found = vec![Packed { quarters: 0, scale, by: [0.0; 2] }; islands.len()];
    for k in order {
        let mut best: Option<(usize, usize, Mask, u8)> = None;
        for &q in quarters {
            let Some(mask) = Mask::of(&islands[k], q, scale) else { continue };
            let Some((x, y)) = mask.lowest(&taken, margin) else { continue };
            if best.as_ref().is_none_or(|(_, top, other, _)| y + mask.height < *top + other.height) {
                best = Some((x, y, mask, q));
            }
        }
        let (x, y, mask, quarters) = best?;
        take(&mut taken, &mask.rows, x, y, margin);
        let cell = 1.0 / SIDE as f64;
        found[k] = Packed { quarters, scale, by: [x as f64 * cell - mask.low[0], y as f64 * cell - mask.low[1]] };
    }
    Some(found)
}

/// The cells that an island touches, from its lower left corner.
struct Mask {
    width: usize,
    height: usize,
    rows: Vec<Row<WORDS>>,
    /// The corner of the first cell, in the tile's unit.
    low: [f64; 2],
}

impl Mask {
    /// None when it is larger than the tile.
    fn of(island: &Island, quarters: u8, scale: f64) -> Option<Self> {
        let at = |v: u32| turned(island.points[v as usize], quarters).map(|c| c * scale);
        let used = || island.triangles.iter().flatten().map(|v| at(*v));
        let low = [0, 1].map(|k| used().map(|p| p[k]).fold(f64::MAX, f64::min));
        let high = [0, 1].map(|k| used().map(|p| p[k]).fold(f64::MIN, f64::max));
        let size = [0, 1].map(|k| ((high[k] - low[k]) * SIDE as f64).floor() + 1.0);
        if !size.iter().all(|s| *s <= SIDE as f64) {
            return None;
        }
        let [width, height] = size.map(|s| s as usize);
        let mut mask = Self { width, height, rows: vec![[0; WORDS]; height], low };
        for t in island.triangles {
            mask.fill(t.map(|v| {
                let p = at(v);
                [(p[0] - low[0]) * SIDE as f64, (p[1] - low[1]) * SIDE as f64]
            }));
        }
        Some(mask)
    }

    /// Marks all cells that a triangle touches.
    fn fill(&mut self, t: [[f64; 2]; 3]) {
        let range = |k: usize, most: usize| {
            let (low, high) = (t[0][k].min(t[1][k]).min(t[2][k]), t[0][k].max(t[1][k]).max(t[2][k]));
            (low.max(0.0) as usize)..=(high.max(0.0) as usize).min(most - 1)
        };
        let turn = ((t[1][0] - t[0][0]) * (t[2][1] - t[0][1]) - (t[1][1] - t[0][1]) * (t[2][0] - t[0][0])).signum();
        for y in range(1, self.height) {
            for x in range(0, self.width) {
                let middle = [x as f64 + 0.5, y as f64 + 0.5];
                // an edge that has the whole cell on its outer side keeps it free
                let free = (0..3).any(|k| {
                    let (a, b) = (t[k], t[(k + 1) % 3]);
                    let d = [b[0] - a[0], b[1] - a[1]];
                    let off = turn * (d[0] * (middle[1] - a[1]) - d[1] * (middle[0] - a[0]));
                    off < -0.5 * (d[0].abs() + d[1].abs()) - 1e-9
                });
                if !free {
                    self.rows[y][x / 64] |= 1 << (x % 64);
                }
            }
        }
    }

    /// The lowest and then leftmost place where it meets nothing that is taken.
    fn lowest(&self, taken: &[Row<WORDS>], margin: usize) -> Option<(usize, usize)> {
        let most = |size: usize| (SIDE + 1).checked_sub(size + margin).filter(|last| *last > margin);
        let (right, top) = (most(self.width)?, most(self.height)?);
        for y in margin..top {
            for x in margin..right {
                let free = self.rows.iter().zip(&taken[y..]).all(|(row, taken)| {
                    let moved = shifted(row, x);
                    moved.iter().zip(taken).all(|(a, b)| a & b == 0)
                });
                if free {
                    return Some((x, y));
                }
            }
        }
        None
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A rectangle as two triangles, its lower left corner at the origin.
    fn rectangle(w: f64, h: f64) -> Vec<[f64; 2]> {
        vec![[0.0, 0.0], [w, 0.0], [w, h], [0.0, h]]
    }

    const TWO: [[u32; 3]; 2] = [[0, 1, 2], [0, 2, 3]];

    fn boxes(shapes: &[Vec<[f64; 2]>], packing: Packing) -> Vec<[f64; 4]> {
        let islands: Vec<Island> = shapes.iter().map(|points| Island { points, triangles: &TWO }).collect();
        let places = pack(&islands, packing).expect("they fit");
        let ends = |points: &Vec<[f64; 2]>, place: &Packed| {
            let all: Vec<[f64; 2]> = points.iter().map(|p| place.place(*p)).collect();
            let pick = |k: usize, of: fn(f64, f64) -> f64, start: f64| all.iter().map(|p| p[k]).fold(start, of);
            [pick(0, f64::min, f64::MAX), pick(1, f64::min, f64::MAX), pick(0, f64::max, f64::MIN), pick(1, f64::max, f64::MIN)]
        };
        shapes.iter().zip(&places).map(|(points, place)| ends(points, place)).collect()
    }

    #[test]
    fn rectangles_keep_their_margin_and_use_much_of_the_tile() {
        let shapes: Vec<Vec<[f64; 2]>> =
            (0..12).map(|k| rectangle(300.0 + 70.0 * f64::from(k % 5), 900.0 - 110.0 * f64::from(k % 7))).collect();
        for (turn, least) in [(false, 0.6), (true, 0.6)] {
            let margin = 0.008;
            let found = boxes(&shapes, Packing { margin, turn });
            assert!(found.iter().all(|b| b[0] >= margin && b[1] >= margin && b[2] <= 1.0 - margin && b[3] <= 1.0 - margin), "{found:?}");
            for (i, a) in found.iter().enumerate() {
                for b in &found[i + 1..] {
                    let apart = [b[0] - a[2], a[0] - b[2], b[1] - a[3], a[1] - b[3]].into_iter().fold(f64::MIN, f64::max);
                    assert!(apart >= margin, "{apart}: {a:?} {b:?}");
                }
            }
            let used: f64 = found.iter().map(|b| (b[2] - b[0]) * (b[3] - b[1])).sum();
            assert!(used > least, "{used} of the tile");
        }
    }

    #[test]
    fn a_small_shape_lies_in_the_corner_of_an_l_and_one_of_no_extent_is_refused() {
        // an L of five sixths of a square, and the square that is left
        let l = vec![[0.0, 0.0], [3.0, 0.0], [3.0, 1.0], [1.0, 1.0], [1.0, 3.0], [0.0, 3.0]];
        let triangles = [[0, 1, 2], [0, 2, 3], [0, 3, 4], [0, 4, 5]];
        let square = rectangle(1.8, 1.8);
        let islands = [Island { points: &l, triangles: &triangles }, Island { points: &square, triangles: &TWO }];
        let places = pack(&islands, Packing { margin: 0.005, turn: false }).expect("they fit");
        let corner = places[1].place([0.0, 0.0]);
        let inner = places[0].place([1.0, 1.0]);
        assert!(corner[0] > inner[0] && corner[1] > inner[1], "it lies within the arms: {corner:?} {inner:?}");
        assert!(places[0].scale > 0.3, "{}", places[0].scale);
        let line = vec![[0.0, 0.0], [1.0, 0.0], [2.0, 0.0], [1.5, 0.0]];
        assert_eq!(pack(&[Island { points: &line, triangles: &TWO }], Packing { margin: 0.0, turn: true }), None);
        assert_eq!(pack(&[], Packing { margin: 0.0, turn: true }), None);
    }
}
