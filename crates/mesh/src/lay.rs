//! Outlines laid on cloth of a given width, so that little of its length is needed: their true shapes on a lattice, each as near to the
//! start of the cloth and then as far to the left as it goes, in an order that is searched for.

use crate::rows::{Row, take};
use rayon::prelude::*;

/// Words of a row, and so the most cells across the cloth.
const WORDS: usize = 16;
const ACROSS: usize = 64 * WORDS;
/// Side of a cell, mm, on cloth that is not wider than [`ACROSS`] of them.
const CELL: f64 = 3.0;
/// Most cells along the cloth.
const LONGEST: usize = 20_000;
/// Searches that are made beside each other; the best of them counts.
const SEARCHES: u64 = 4;

/// An outline to lay, mm, its grain along y (the length of the cloth).
#[derive(Clone, Debug, PartialEq)]
pub struct LaidShape {
    pub outline: Vec<[f64; 2]>,
    /// It may lie head down.
    pub turns: bool,
}

/// Where an outline lies: turned by half a turn or not, and then moved; x across the cloth, y along it, mm.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct LaidAt {
    pub turned: bool,
    pub by: [f64; 2],
}

impl LaidAt {
    /// A point of the outline on the cloth.
    pub fn place(&self, p: [f64; 2]) -> [f64; 2] {
        let sign = if self.turned { -1.0 } else { 1.0 };
        [sign * p[0] + self.by[0], sign * p[1] + self.by[1]]
    }
}

/// A plan: a place for every outline, and the length of cloth that they take, mm.
#[derive(Clone, Debug, PartialEq)]
pub struct LayPlan {
    pub places: Vec<LaidAt>,
    pub length: f64,
    /// Share of that cloth which outlines cover.
    pub used: f64,
}

/// Lays all outlines on cloth `width` mm wide with `gap` mm between them, the best of so many `rounds` of search. None when one is
/// wider than the cloth, or there is nothing to lay.
pub fn lay(shapes: &[LaidShape], width: f64, gap: f64, rounds: usize) -> Option<LayPlan> {
    let cell = CELL.max(width / (ACROSS - 1) as f64);
    let across = (width / cell).floor() as usize;
    let masks: Vec<[Option<Mask>; 2]> =
        shapes.iter().map(|s| [Mask::of(s, false, cell, across), s.turns.then(|| Mask::of(s, true, cell, across)).flatten()]).collect();
    if masks.is_empty() || masks.iter().any(|m| m[0].is_none()) {
        return None;
    }
    let apart = (gap / cell).ceil() as usize;
    let board = Board { masks: &masks, across, apart };
    let areas: Vec<f64> = shapes.iter().map(|s| crate::planar::polygon_area(&s.outline).abs()).collect();
    let mut order: Vec<usize> = (0..shapes.len()).collect();
    order.sort_by(|a, b| areas[*b].total_cmp(&areas[*a]).then(a.cmp(b)));
    let best = (0..SEARCHES)
        .into_par_iter()
        .filter_map(|seed| board.search(&order, seed, rounds / SEARCHES as usize))
        .min_by(|a, b| a.cost.total_cmp(&b.cost))?;
    let places = (0..shapes.len()).map(|k| {
        let (x, y, turned) = best.at[k];
        let mask = masks[k][usize::from(turned)].as_ref()?;
        Some(LaidAt { turned, by: [x as f64 * cell - mask.low[0], y as f64 * cell - mask.low[1]] })
    });
    let places: Vec<LaidAt> = places.collect::<Option<_>>()?;
    let top = |(shape, place): (&LaidShape, &LaidAt)| shape.outline.iter().map(|p| place.place(*p)[1]).fold(0.0, f64::max);
    let length = shapes.iter().zip(&places).map(top).fold(0.0, f64::max);
    Some(LayPlan { places, length, used: areas.iter().sum::<f64>() / (width * length) })
}

/// The cells that an outline covers, wholly or in part.
struct Mask {
    rows: Vec<Row<WORDS>>,
    width: usize,
    /// Words that are not empty.
    words: usize,
    /// Of the outline as it is turned, mm.
    low: [f64; 2],
}

impl Mask {
    fn of(shape: &LaidShape, turned: bool, cell: f64, across: usize) -> Option<Self> {
        let sign = if turned { -1.0 } else { 1.0 };
        let points: Vec<[f64; 2]> = shape.outline.iter().map(|p| p.map(|v| sign * v)).collect();
        let low = [0, 1].map(|k| points.iter().map(|p| p[k]).fold(f64::MAX, f64::min));
        let cells: Vec<[f64; 2]> = points.iter().map(|p| [(p[0] - low[0]) / cell, (p[1] - low[1]) / cell]).collect();
        let high = [0, 1].map(|k| cells.iter().map(|p| p[k]).fold(f64::MIN, f64::max));
        if !high.iter().all(|h| h.is_finite()) || high[0] + 1.0 > across as f64 || high[1] > LONGEST as f64 / 4.0 {
            return None;
        }
        let (width, height) = (high[0].floor() as usize + 1, high[1].floor() as usize + 1);
        let mut rows = vec![[0u64; WORDS]; height];
        let n = cells.len();
        for (y, row) in rows.iter_mut().enumerate() {
            let (bottom, top) = (y as f64, y as f64 + 1.0);
            // within the outline at the middle of the row
            let mut cuts: Vec<f64> = (0..n).filter_map(|i| crossing(cells[i], cells[(i + 1) % n], y as f64 + 0.5)).collect();
            cuts.sort_by(f64::total_cmp);
            cuts.chunks_exact(2).for_each(|c| fill(row, c[0], c[1]));
            // and wherever its line goes through the row
            for i in 0..n {
                let (a, b) = (cells[i], cells[(i + 1) % n]);
                if a[1].max(b[1]) < bottom || a[1].min(b[1]) > top {
                    continue;
                }
                let at = |y: f64| {
                    if a[1] == b[1] { [a[0], b[0]] } else { [a[0] + (b[0] - a[0]) * ((y - a[1]) / (b[1] - a[1])).clamp(0.0, 1.0); 2] }
                };
                let ends = [at(bottom), at(top)].concat();
                fill(row, ends.iter().copied().fold(f64::MAX, f64::min), ends.iter().copied().fold(f64::MIN, f64::max));
            }
        }
        Some(Self { rows, width, words: width.div_ceil(64), low })
    }
}

/// Where an edge goes through a height.
fn crossing(a: [f64; 2], b: [f64; 2], y: f64) -> Option<f64> {
    ((a[1] <= y) != (b[1] <= y)).then(|| a[0] + (b[0] - a[0]) * (y - a[1]) / (b[1] - a[1]))
}

/// Marks the cells from one place to another.
fn fill(row: &mut Row<WORDS>, from: f64, to: f64) {
    for x in (from.max(0.0) as usize)..=(to.max(0.0) as usize).min(ACROSS - 1) {
        row[x / 64] |= 1 << (x % 64);
    }
}

/// What is laid, by shape: column, row, and whether it is turned.
struct Laid {
    at: Vec<(usize, usize, bool)>,
    /// Rows that are taken, and a little of how high all lie, so that what leads to less is told from what does not.
    cost: f64,
}

struct Board<'a> {
    masks: &'a [[Option<Mask>; 2]],
    across: usize,
    apart: usize,
}

impl Board<'_> {
    /// Tries other orders and turns, and keeps what is not worse.
    fn search(&self, order: &[usize], seed: u64, rounds: usize) -> Option<Laid> {
        let mut state = seed.wrapping_mul(0x9E37_79B9_7F4A_7C15) | 1;
        let mut random = move |below: usize| {
            state ^= state << 13;
            state ^= state >> 7;
            state ^= state << 17;
            (state % below.max(1) as u64) as usize
        };
        let mut order = order.to_vec();
        for _ in 0..seed {
            let (a, b) = (random(order.len()), random(order.len()));
            order.swap(a, b);
        }
        let mut best = self.laid(&order)?;
        for _ in 0..rounds {
            let mut other = order.clone();
            for _ in 0..=random(2) {
                let moved = other.remove(random(other.len()));
                other.insert(random(other.len() + 1), moved);
            }
            if let Some(found) = self.laid(&other).filter(|f| f.cost <= best.cost) {
                (best, order) = (found, other);
            }
        }
        Some(best)
    }

    /// Lays the shapes in an order, each the way round in which it ends lower.
    fn laid(&self, order: &[usize]) -> Option<Laid> {
        let mut taken: Vec<Row<WORDS>> = Vec::new();
        let mut at = vec![(0, 0, false); self.masks.len()];
        let (mut top, mut sum) = (0, 0);
        for k in order {
            let ways = self.masks[*k].iter().enumerate().filter_map(|(turned, mask)| {
                let mask = mask.as_ref()?;
                let (x, y) = self.lowest(mask, &taken)?;
                Some((y + mask.rows.len(), x, y, turned == 1, mask))
            });
            let (end, x, y, turned, mask) = ways.min_by_key(|w| (w.0, w.1))?;
            self.mark(mask, x, y, &mut taken);
            at[*k] = (x, y, turned);
            top = top.max(end);
            sum += end;
        }
        Some(Laid { at, cost: top as f64 + sum as f64 / (1e3 * self.masks.len() as f64) })
    }

    fn lowest(&self, mask: &Mask, taken: &[Row<WORDS>]) -> Option<(usize, usize)> {
        for y in 0..LONGEST {
            if y >= taken.len() {
                return Some((0, y));
            }
            let under = &taken[y..(y + mask.rows.len()).min(taken.len())];
            let mut x = 0;
            while x + mask.width <= self.across {
                let (words, bits) = (x / 64, x % 64);
                let met = mask.rows.iter().zip(under).any(|(row, taken)| {
                    (0..=mask.words).any(|w| {
                        let low = row.get(w).copied().unwrap_or(0) << bits;
                        let high = if bits > 0 && w > 0 { row[w - 1] >> (64 - bits) } else { 0 };
                        taken.get(w + words).is_some_and(|t| t & (low | high) != 0)
                    })
                });
                if !met {
                    return Some((x, y));
                }
                x += 1;
            }
        }
        None
    }

    /// Takes the cells of a shape and all within the gap of them.
    fn mark(&self, mask: &Mask, x: usize, y: usize, taken: &mut Vec<Row<WORDS>>) {
        let end = y + mask.rows.len() + self.apart;
        if taken.len() < end {
            taken.resize(end, [0; WORDS]);
        }
        take(taken, &mask.rows, x, y, self.apart);
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn rectangle(w: f64, h: f64, turns: bool) -> LaidShape {
        LaidShape { outline: vec![[0.0, 0.0], [w, 0.0], [w, h], [0.0, h]], turns }
    }

    #[test]
    fn rectangles_that_fill_the_cloth_leave_little_over() {
        // on cloth of 900 mm: three across, four along
        let shapes = vec![rectangle(298.0, 398.0, true); 12];
        let plan = lay(&shapes, 900.0, 0.0, 8).expect("a plan");
        assert!(plan.length >= 4.0 * 398.0 && plan.length < 4.0 * 402.0, "{}", plan.length);
        assert!(lay(&[rectangle(950.0, 10.0, true)], 900.0, 0.0, 8).is_none(), "wider than the cloth");
        assert!(lay(&[], 900.0, 0.0, 8).is_none());
    }

    #[test]
    fn triangles_lie_head_to_foot_and_keep_their_gap() {
        let triangle = |turns| LaidShape { outline: vec![[0.0, 0.0], [400.0, 0.0], [200.0, 600.0]], turns };
        let length = |turns| lay(&vec![triangle(turns); 4], 1060.0, 5.0, 40).expect("a plan");
        let (nap, free) = (length(false), length(true));
        assert!(free.length < 640.0 && nap.length > 1000.0, "{} head to foot, {} all one way", free.length, nap.length);
        assert!(free.places.iter().any(|p| p.turned) && !nap.places.iter().any(|p| p.turned));
        // no corner of one comes nearer to another's edge than the gap, looked at without the lattice
        let outlines: Vec<Vec<[f64; 2]>> =
            free.places.iter().map(|p| triangle(true).outline.iter().map(|q| p.place(*q)).collect()).collect();
        for (i, a) in outlines.iter().enumerate() {
            assert!(a.iter().all(|p| (-1e-9..=1060.0).contains(&p[0]) && p[1] >= -1e-9));
            for b in outlines.iter().enumerate().filter(|(j, _)| *j != i).map(|(_, b)| b) {
                for p in a {
                    let near = (0..3).map(|k| crate::net::to_segment(*p, b[k], b[(k + 1) % 3])).fold(f64::MAX, f64::min).sqrt();
                    assert!(near >= 5.0, "{near}");
                    assert!(!crate::net::inside(*p, &[b]), "{p:?}");
                }
            }
        }
        assert_eq!(free, length(true), "the same every time");
    }
}
