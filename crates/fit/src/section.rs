//! A plane through draped cloth: the lines in which it cuts, and what a tape reads around them.

use crate::crossings::Surface;
use crate::vector::{Point, cross, dot, sub};
use std::collections::{BTreeMap, HashMap};

/// A plane, m.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Plane {
    /// A point of it.
    pub origin: [f64; 3],
    /// Unit vector.
    pub normal: [f64; 3],
}

impl Plane {
    /// A level plane, m over the floor.
    pub fn level(height: f64) -> Self {
        Self { origin: [0.0, height, 0.0], normal: [0.0, 1.0, 0.0] }
    }

    fn height(&self, p: Point) -> f64 {
        dot(sub(p, self.origin), self.normal)
    }

    /// Coordinates in the plane, counter-clockwise as seen against the normal.
    fn flat(&self, p: Point) -> [f64; 2] {
        let n = self.normal;
        let other = if n[0].abs() < 0.6 { [1.0, 0.0, 0.0] } else { [0.0, 0.0, 1.0] };
        let across = cross(other, n);
        let length = dot(across, across).sqrt();
        let across = across.map(|v| v / length);
        let q = sub(p, self.origin);
        [dot(q, across), dot(q, cross(n, across))]
    }
}

/// A line in which a plane cuts a surface.
#[derive(Clone, Debug, PartialEq)]
pub struct Line {
    /// In order, m; the last is not the first again.
    pub points: Vec<[f64; 3]>,
    /// The edge that each lies on, and how far along it from its first vertex to its second.
    pub edges: Vec<([u32; 2], f64)>,
    /// The triangle between each and the next; empty for a line that was not cut from triangles.
    pub across: Vec<u32>,
    /// The last goes on to the first.
    pub closed: bool,
}

impl Line {
    /// The same places of the surface when its vertices are elsewhere, m.
    pub fn moved(&self, positions: &[[f32; 3]]) -> Self {
        let at = |([a, b], s): &([u32; 2], f64)| {
            let (a, b) = (positions[*a as usize].map(f64::from), positions[*b as usize].map(f64::from));
            [0, 1, 2].map(|k| a[k] + s * (b[k] - a[k]))
        };
        Self { points: self.edges.iter().map(at).collect(), ..self.clone() }
    }

    /// The plane that fits a closed line best: through its middle, with the normal of its area (Newell's).
    pub fn plane(&self) -> Plane {
        let count = self.points.len().max(1) as f64;
        let origin = [0, 1, 2].map(|k| self.points.iter().map(|p| p[k]).sum::<f64>() / count);
        let mut normal = [0.0; 3];
        for (k, a) in self.points.iter().enumerate() {
            let more = cross(sub(*a, origin), sub(self.points[(k + 1) % self.points.len()], origin));
            (0..3).for_each(|i| normal[i] += more[i]);
        }
        let length = dot(normal, normal).sqrt();
        Plane { origin, normal: if length > 0.0 { normal.map(|v| v / length) } else { [0.0, 1.0, 0.0] } }
    }

    /// Whether it goes around a point of a plane, at least for a good part.
    pub fn goes_around(&self, plane: &Plane, around: [f64; 3]) -> bool {
        let centre = plane.flat(around);
        let angle = |p: &Point| {
            let [x, y] = plane.flat(*p);
            (y - centre[1]).atan2(x - centre[0])
        };
        let last = self.closed.then(|| self.points.first()).flatten();
        let angles: Vec<f64> = self.points.iter().chain(last).map(angle).collect();
        let tau = std::f64::consts::TAU;
        angles.windows(2).map(|w| (w[1] - w[0] + 1.5 * tau).rem_euclid(tau) - 0.5 * tau).sum::<f64>().abs() > AROUND
    }

    /// How long it is in the flat pieces, m. A step over a triangle without area counts as long as it is.
    fn length_as_cut(&self, surface: &Surface, flat: &[[f32; 2]]) -> f64 {
        let step_as_cut = |(k, t): (usize, &u32)| {
            let step = sub(self.points[(k + 1) % self.points.len()], self.points[k]);
            let corners = surface.triangles[*t as usize];
            let at = corners.map(|v| surface.at(v));
            let (d1, d2) = (sub(at[1], at[0]), sub(at[2], at[0]));
            // the step by two sides of its triangle, which are known in the flat piece
            let (a, b, c) = (dot(d1, d1), dot(d1, d2), dot(d2, d2));
            let (p, q, whole) = (dot(step, d1), dot(step, d2), a * c - b * b);
            if whole <= f64::EPSILON * a * c {
                return dot(step, step).sqrt();
            }
            let (s, r) = ((p * c - q * b) / whole, (q * a - p * b) / whole);
            let side = |k: usize, i: usize| f64::from(flat[corners[k] as usize][i]) - f64::from(flat[corners[0] as usize][i]);
            (s * side(1, 0) + r * side(2, 0)).hypot(s * side(1, 1) + r * side(2, 1))
        };
        self.across.iter().enumerate().map(step_as_cut).sum()
    }

    /// m.
    pub fn length(&self) -> f64 {
        let apart = |a: &Point, b: &Point| {
            let d = sub(*a, *b);
            dot(d, d).sqrt()
        };
        let open: f64 = self.points.windows(2).map(|w| apart(&w[0], &w[1])).sum();
        let back = if self.closed { self.points.first().zip(self.points.last()).map_or(0.0, |(a, b)| apart(a, b)) } else { 0.0 };
        open + back
    }
}

/// The edges that are reached from each, and over which triangle.
type Links = BTreeMap<[u32; 2], Vec<([u32; 2], u32)>>;

/// A place of a line: where it is, and on which edge.
type Place = (Point, ([u32; 2], f64));

/// The lines of a surface in a plane, over seams as over cloth, of the triangles that `keep` names.
pub fn section(surface: &Surface, plane: &Plane, keep: impl Fn(usize) -> bool) -> Vec<Line> {
    let height = |v: u32| plane.height(surface.at(v));
    let mut links: Links = BTreeMap::new();
    let mut places: HashMap<[u32; 2], Place> = HashMap::new();
    for (t, corners) in surface.triangles.iter().enumerate().filter(|(t, _)| keep(*t)) {
        let heights = corners.map(height);
        if heights.iter().all(|h| *h < 0.0) || heights.iter().all(|h| *h >= 0.0) {
            continue;
        }
        let sewn = surface.corners(t as u32);
        let mut cut = Vec::with_capacity(2);
        for k in 0..3 {
            let next = (k + 1) % 3;
            if (heights[k] < 0.0) != (heights[next] < 0.0) {
                let edge = [sewn[k].min(sewn[next]), sewn[k].max(sewn[next])];
                let (a, b) = (surface.at(corners[k]), surface.at(corners[next]));
                let s = heights[k] / (heights[k] - heights[next]);
                places.entry(edge).or_insert(([0, 1, 2].map(|i| a[i] + s * (b[i] - a[i])), ([corners[k], corners[next]], s)));
                cut.push(edge);
            }
        }
        if let [a, b] = cut[..] {
            links.entry(a).or_default().push((b, t as u32));
            links.entry(b).or_default().push((a, t as u32));
        }
    }
    let mut lines = Vec::new();
    // from loose ends first, then around what is closed
    for ends in [true, false] {
        let starts: Vec<[u32; 2]> = links.iter().filter(|(_, to)| !ends || to.len() % 2 == 1).map(|(e, _)| *e).collect();
        for start in starts {
            while let Some(line) = walk(start, &mut links, &places) {
                lines.push(line);
            }
        }
    }
    lines
}

/// Walks on from an edge until nothing is left, and takes what it walked; none when nothing begins there.
fn walk(start: [u32; 2], links: &mut Links, places: &HashMap<[u32; 2], Place>) -> Option<Line> {
    links.get(&start).filter(|to| !to.is_empty())?;
    let (mut at, mut walked, mut across, mut closed) = (start, vec![places[&start]], Vec::new(), false);
    while let Some((next, t)) = links.get_mut(&at).and_then(Vec::pop) {
        across.push(t);
        if let Some(back) = links.get_mut(&next)
            && let Some(k) = back.iter().position(|e| *e == (at, t))
        {
            back.swap_remove(k);
        }
        closed = next == start;
        if closed {
            break;
        }
        walked.push(places[&next]);
        at = next;
    }
    let (points, edges) = walked.into_iter().unzip();
    Some(Line { points, edges, across, closed })
}

/// Lines that go around a point by less than this, radians, belong to something beside it: a sleeve beside the trunk.
const AROUND: f64 = 1.0;

/// What a tape reads around cloth.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Girth {
    /// Pulled taut over hollows and folds, m.
    pub tape: f64,
    /// Along the cloth itself, with its folds, m.
    pub cloth: f64,
    /// The cloth closes around; it may lie open, or lap.
    pub closed: bool,
}

/// The lines that go around a point of the plane.
fn lines_around<'a>(lines: &'a [Line], plane: &Plane, around: Point) -> Vec<&'a Line> {
    lines.iter().filter(|l| l.goes_around(plane, around)).collect()
}

/// How long the lines of cloth that go around a point of the plane are, times their length in the flat pieces: 1.02 where it is stretched
/// by 2 %; 1 when nothing goes around.
pub fn stretch_around(lines: &[Line], plane: &Plane, around: Point, surface: &Surface, flat: &[[f32; 2]]) -> f64 {
    let own = lines_around(lines, plane, around);
    let (now, cut): (f64, f64) = (own.iter().map(|l| l.length()).sum(), own.iter().map(|l| l.length_as_cut(surface, flat)).sum());
    if cut > 0.0 { now / cut } else { 1.0 }
}

/// The girth of the lines that go around a point of the plane; none when nothing does.
pub fn girth(lines: &[Line], plane: &Plane, around: Point) -> Option<Girth> {
    let own = lines_around(lines, plane, around);
    if own.is_empty() {
        return None;
    }
    let flat = own.iter().flat_map(|l| &l.points).map(|p| plane.flat(*p)).collect();
    Some(Girth { tape: taut(flat), cloth: own.iter().map(|l| l.length()).sum(), closed: own.iter().any(|l| l.closed) })
}

/// Perimeter of the convex hull (Andrew 1979).
fn taut(mut points: Vec<[f64; 2]>) -> f64 {
    points.sort_by(|a, b| a[0].total_cmp(&b[0]).then(a[1].total_cmp(&b[1])));
    let turn = |a: [f64; 2], b: [f64; 2], c: [f64; 2]| (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
    let half = |points: &mut dyn Iterator<Item = [f64; 2]>| {
        let mut hull: Vec<[f64; 2]> = Vec::new();
        for p in points {
            while let [.., a, b] = hull[..] {
                if turn(a, b, p) > 0.0 {
                    break;
                }
                hull.pop();
            }
            hull.push(p);
        }
        hull.windows(2).map(|w| (w[1][0] - w[0][0]).hypot(w[1][1] - w[0][1])).sum::<f64>()
    };
    half(&mut points.iter().copied()) + half(&mut points.iter().rev().copied())
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::f64::consts::TAU;

    /// An upright tube around (x, z) of so many sides, open over the last of them if wanted, with its seam sewn by `welded`.
    fn tube(sides: u32, x: f64, radius: impl Fn(f64) -> f64, open: bool) -> (Vec<[f32; 3]>, Vec<[u32; 3]>, Vec<u32>) {
        let ring = |y: f64| {
            let radius = &radius;
            (0..=sides).map(move |k| {
                let angle = f64::from(k) / f64::from(sides) * TAU;
                let r = radius(angle);
                [(x + r * angle.cos()) as f32, y as f32, (r * angle.sin()) as f32]
            })
        };
        let points: Vec<[f32; 3]> = ring(0.0).chain(ring(1.0)).collect();
        let row = sides + 1;
        let drawn = if open { sides - 1 } else { sides };
        let triangles = (0..drawn).flat_map(|k| [[k, k + 1, row + k], [k + 1, row + k + 1, row + k]]).collect();
        let welded = (0..2 * row).map(|v| if v % row == sides && !open { v - sides } else { v }).collect();
        (points, triangles, welded)
    }

    #[test]
    fn the_girth_of_a_tube_is_that_of_its_polygon_whatever_its_seam() {
        let (points, triangles, welded) = tube(60, 0.0, |_| 0.2, false);
        let lines = section(&Surface::sewn(&points, &triangles, &welded), &Plane::level(0.37), |_| true);
        assert_eq!(lines.len(), 1, "the seam does not interrupt it");
        let found = girth(&lines, &Plane::level(0.37), [0.0, 0.37, 0.0]).expect("around");
        // chords at both ends of the twisted diagonals lie within the polygon of the rings
        let polygon = 2.0 * 60.0 * 0.2 * (TAU / 120.0).sin();
        assert!(found.closed && (found.tape / polygon - 1.0).abs() < 1e-3 && (found.cloth / polygon - 1.0).abs() < 1e-3, "{found:?}");
    }

    #[test]
    fn a_line_goes_with_its_surface_and_finds_its_plane_again() {
        let (points, triangles, welded) = tube(60, 0.0, |_| 0.2, false);
        let lines = section(&Surface::sewn(&points, &triangles, &welded), &Plane::level(0.5), |_| true);
        // the tube laid along x, shifted
        let laid: Vec<[f32; 3]> = points.iter().map(|p| [p[1] + 1.0, -p[0], p[2]]).collect();
        let plane = lines[0].moved(&laid).plane();
        assert!((plane.normal[0].abs() - 1.0).abs() < 1e-6 && (plane.origin[0] - 1.5).abs() < 1e-6, "{plane:?}");
    }

    #[test]
    fn a_tape_spans_hollows_and_leaves_out_what_stands_beside() {
        let (points, triangles, welded) = tube(240, 0.0, |a| 0.2 + 0.02 * (8.0 * a).cos(), false);
        let (beside, others, sewn) = tube(60, 0.5, |_| 0.1, false);
        let count = points.len() as u32;
        let all: Vec<[f32; 3]> = points.into_iter().chain(beside).collect();
        let triangles: Vec<[u32; 3]> = triangles.into_iter().chain(others.into_iter().map(|t| t.map(|v| v + count))).collect();
        let welded: Vec<u32> = welded.into_iter().chain(sewn.into_iter().map(|v| v + count)).collect();
        let plane = Plane::level(0.5);
        let lines = section(&Surface::sewn(&all, &triangles, &welded), &plane, |_| true);
        assert_eq!(lines.len(), 2);
        let found = girth(&lines, &plane, [0.0, 0.5, 0.0]).expect("around");
        // the octagon through the folds' crests, and a little of their roundness
        let octagon = 16.0 * 0.22 * (TAU / 16.0).sin();
        assert!(found.tape > octagon && found.tape < octagon * 1.01, "{found:?} {octagon}");
        assert!(found.cloth > found.tape * 1.05, "folds are longer than the tape");
        assert!((girth(&lines, &plane, [0.5, 0.5, 0.0]).expect("the other").tape - TAU * 0.1).abs() < 1e-3);
        assert_eq!(girth(&lines, &plane, [3.0, 0.5, 0.0]), None);
    }

    #[test]
    fn stretch_is_that_between_the_flat_piece_and_the_tube() {
        for open in [false, true] {
            let (points, triangles, welded) = tube(60, 0.0, |_| 0.2, open);
            let plane = Plane::level(0.37);
            // cut 8 % narrower than it is now, and laid askew
            let side = 2.0 * 0.2 * (TAU / 120.0).sin();
            let flat: Vec<[f32; 2]> = (0..points.len())
                .map(|v| [(v % 61) as f64 * side / 1.08, f64::from(points[v][1])])
                .map(|[x, y]| [(0.8 * x - 0.6 * y) as f32, (0.6 * x + 0.8 * y) as f32])
                .collect();
            let surface = Surface::sewn(&points, &triangles, &welded);
            let lines = section(&surface, &plane, |_| true);
            let found = stretch_around(&lines, &plane, [0.0, 0.37, 0.0], &surface, &flat);
            assert!((found - 1.08).abs() < 1e-4, "{found}");
            assert_eq!(stretch_around(&lines, &plane, [3.0, 0.37, 0.0], &surface, &flat), 1.0);
        }
    }

    #[test]
    fn what_lies_open_is_measured_over_the_gap() {
        let (points, triangles, welded) = tube(60, 0.0, |_| 0.2, true);
        let plane = Plane::level(0.5);
        let lines = section(&Surface::sewn(&points, &triangles, &welded), &plane, |_| true);
        let found = girth(&lines, &plane, [0.0, 0.5, 0.0]).expect("around");
        assert!(!found.closed && (found.tape - TAU * 0.2).abs() < 2e-3, "{found:?}");
        assert!(found.tape - found.cloth > 0.9 * TAU * 0.2 / 60.0);
    }
}
