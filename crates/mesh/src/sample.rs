//! Where the samples on lines lie: in equal parts of arc length between stops, with the same number of parts on all
//! stretches that are sewn to each other.
//!
//! Stops are the ends of lines and runs and the notches of seams. A stop on one side of a seam makes one on the other;
//! that goes on over all seams that share a line, until every stretch between two stops has its partner.

use crate::{Domain, EdgeRun, SeamSpec};

/// Stops of a line closer than this share of the target count as one.
const NEAR: f64 = 0.1;
/// Rounds in which stops are handed on; each round adds stops at least `NEAR` apart, so that it ends by itself.
const ROUNDS: usize = 200;

/// Shares of arc length by piece and line, ascending from 0 to 1.
pub(crate) type Shares = Vec<Vec<Vec<f64>>>;

/// A sample of a side: which line, and which of its samples.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct At {
    /// Place of the piece among the domains.
    pub piece: usize,
    /// Place of the line within the piece.
    pub line: usize,
    /// Counted along the line from its beginning.
    pub sample: usize,
}

/// Samples that a seam brings together, a group for each place along it.
pub(crate) struct Meeting {
    /// Samples of one side that are one vertex once sewn.
    pub a: Vec<At>,
    /// Those of the other side.
    pub b: Vec<At>,
}

/// Samples of all lines, and the meetings of each seam in its order.
pub(crate) fn samples(domains: &[Domain], seams: &[SeamSpec], target: f64, narrow: bool) -> (Shares, Vec<Vec<Meeting>>) {
    let lengths: Vec<Vec<f64>> = domains.iter().map(|d| d.lines.iter().map(|l| l.length()).collect()).collect();
    let sides: Vec<[Side; 2]> = seams.iter().map(|s| [Side::new(&s.a, s, 0, &lengths), Side::new(&s.b, s, 1, &lengths)]).collect();
    let mut stops: Shares = lengths.iter().map(|piece| piece.iter().map(|_| vec![0.0, 1.0]).collect()).collect();
    for run in seams.iter().flat_map(|s| s.a.iter().chain(&s.b)) {
        add(&mut stops, &lengths, run.piece, run.line, run.from, 1e-6);
        add(&mut stops, &lengths, run.piece, run.line, run.to, 1e-6);
    }
    for (seam, [a, b]) in seams.iter().zip(&sides) {
        for notch in &seam.notches {
            for (side, share) in [(a, notch[0]), (b, notch[1])] {
                side.places(side.common(share)).for_each(|(run, f)| add(&mut stops, &lengths, run.piece, run.line, f, 1e-6));
            }
        }
    }
    for _ in 0..ROUNDS {
        let mut fresh = Vec::new();
        for [a, b] in &sides {
            for (from, to) in [(a, b), (b, a)] {
                let there: Vec<f64> = to.stops(&stops).into_iter().map(|s| s.0).collect();
                let near = NEAR * target / from.length.max(to.length);
                for (v, _) in from.stops(&stops) {
                    if there.iter().all(|w| (w - v).abs() > near) {
                        fresh.extend(to.places(v).map(|(run, f)| (run.piece, run.line, f)));
                    }
                }
            }
        }
        let before: usize = stops.iter().flatten().map(Vec::len).sum();
        for (piece, line, f) in fresh {
            add(&mut stops, &lengths, piece, line, f, NEAR * target);
        }
        if stops.iter().flatten().map(Vec::len).sum::<usize>() == before {
            break;
        }
    }
    let met: Vec<Vec<Meeting>> = sides.iter().map(|[a, b]| meetings(a, b, &stops, target)).collect();
    let widths: Vec<Vec<f64>> =
        domains.iter().map(|d| if narrow { crate::narrow::spacings(d, target) } else { vec![target; d.lines.len()] }).collect();
    fill(&lengths, &stops, &met, &widths)
}

/// Adds a stop unless there is one within `near` mm.
fn add(stops: &mut Shares, lengths: &[Vec<f64>], piece: usize, line: usize, share: f64, near: f64) {
    let near = (near / lengths[piece][line]).max(1e-9);
    let known = &mut stops[piece][line];
    if known.iter().all(|s| (s - share).abs() > near) {
        let at = known.partition_point(|s| *s < share);
        known.insert(at, share);
    }
}

/// One side of a seam with the share of its length at which every run begins and ends.
struct Side<'a> {
    runs: &'a [EdgeRun],
    ends: Vec<f64>,
    length: f64,
    /// Own share and common share of both sides, ascending: the ends and the notches.
    warp: Vec<[f64; 2]>,
}

impl<'a> Side<'a> {
    fn new(runs: &'a [EdgeRun], seam: &SeamSpec, which: usize, lengths: &[Vec<f64>]) -> Self {
        let parts: Vec<f64> = runs.iter().map(|r| lengths[r.piece][r.line] * (r.to - r.from).abs()).collect();
        let length: f64 = parts.iter().sum();
        let mut reached = 0.0;
        let mut ends = vec![0.0];
        for part in parts {
            reached += part;
            ends.push(reached / length);
        }
        if let Some(last) = ends.last_mut() {
            *last = 1.0;
        }
        let mut warp = vec![[0.0, 0.0]];
        warp.extend(seam.notches.iter().map(|n| [n[which], 0.5 * (n[0] + n[1])]));
        warp.push([1.0, 1.0]);
        Self { runs, ends, length, warp }
    }

    /// The common share of an own one.
    fn common(&self, own: f64) -> f64 {
        interpolate(&self.warp, 0, own)
    }

    /// The own share of a common one.
    fn own(&self, common: f64) -> f64 {
        interpolate(&self.warp, 1, common)
    }

    /// The runs that a common share falls on, each with the share of its line: two where one follows another.
    fn places(&self, common: f64) -> impl Iterator<Item = (&EdgeRun, f64)> {
        let own = self.own(common);
        self.runs.iter().enumerate().filter_map(move |(k, run)| {
            let (from, to) = (self.ends[k], self.ends[k + 1]);
            if own < from - 1e-9 || own > to + 1e-9 {
                return None;
            }
            let along = ((own - from) / (to - from)).clamp(0.0, 1.0);
            Some((run, run.from + (run.to - run.from) * along))
        })
    }

    /// The stops along the side, by common share in walking order.
    fn stops(&self, stops: &Shares) -> Vec<(f64, At)> {
        let mut found = Vec::new();
        for (k, run) in self.runs.iter().enumerate() {
            let (low, high) = (run.from.min(run.to), run.from.max(run.to));
            let on = &stops[run.piece][run.line];
            let within: Vec<usize> = (0..on.len()).filter(|&s| on[s] > low - 1e-9 && on[s] < high + 1e-9).collect();
            let place = |sample: usize| {
                let along = (on[sample] - run.from) / (run.to - run.from);
                let own = self.ends[k] + (self.ends[k + 1] - self.ends[k]) * along;
                (self.common(own), At { piece: run.piece, line: run.line, sample })
            };
            let walked: Vec<(f64, At)> = within.into_iter().map(place).collect();
            if run.from > run.to { found.extend(walked.into_iter().rev()) } else { found.extend(walked) }
        }
        found
    }
}

fn interpolate(table: &[[f64; 2]], from: usize, x: f64) -> f64 {
    let k = table.partition_point(|row| row[from] <= x).clamp(1, table.len() - 1);
    let (a, b) = (table[k - 1], table[k]);
    let share = if b[from] > a[from] { (x - a[from]) / (b[from] - a[from]) } else { 0.0 };
    a[1 - from] + (b[1 - from] - a[1 - from]) * share
}

/// Stops of both sides that meet, in walking order.
fn meetings(a: &Side, b: &Side, stops: &Shares, target: f64) -> Vec<Meeting> {
    let near = 2.0 * NEAR * target / a.length.max(b.length);
    let groups = |side: &Side| {
        let mut groups: Vec<(f64, Vec<At>)> = Vec::new();
        for (v, at) in side.stops(stops) {
            match groups.last_mut() {
                Some((w, all)) if v - *w < 1e-7 => {
                    if !all.contains(&at) {
                        all.push(at);
                    }
                }
                _ => groups.push((v, vec![at])),
            }
        }
        groups
    };
    let (a, b) = (groups(a), groups(b));
    let mut met = Vec::with_capacity(a.len());
    let (mut i, mut j) = (0, 0);
    while i < a.len() && j < b.len() {
        let apart = a[i].0 - b[j].0;
        if apart.abs() <= near {
            met.push(Meeting { a: a[i].1.clone(), b: b[j].1.clone() });
            (i, j) = (i + 1, j + 1);
        } else if apart < 0.0 {
            i += 1;
        } else {
            j += 1;
        }
    }
    met
}

/// A stretch between two neighbouring stops of a line.
#[derive(Clone, Copy, PartialEq)]
struct Interval {
    piece: usize,
    line: usize,
    first: usize,
    backwards: bool,
}

/// The stretch that one meeting leaves and the next reaches, on one side.
fn interval(from: &[At], to: &[At]) -> Option<Interval> {
    from.iter().rev().flat_map(|f| to.iter().map(move |t| (f, t))).find_map(|(f, t)| {
        let same = (f.piece, f.line) == (t.piece, t.line) && f.sample.abs_diff(t.sample) == 1;
        same.then(|| Interval { piece: f.piece, line: f.line, first: f.sample.min(t.sample), backwards: t.sample < f.sample })
    })
}

/// Fills the stretches between stops with samples at about the spacing of their lines; those that are sewn together get the same number.
fn fill(lengths: &[Vec<f64>], stops: &Shares, met: &[Vec<Meeting>], spacing: &[Vec<f64>]) -> (Shares, Vec<Vec<Meeting>>) {
    // all intervals in one row
    let mut first: Vec<Vec<usize>> = Vec::new();
    let mut count = 0;
    for piece in stops {
        first.push(
            piece
                .iter()
                .map(|line| {
                    let at = count;
                    count += line.len() - 1;
                    at
                })
                .collect(),
        );
    }
    let number = |i: &Interval| first[i.piece][i.line] + i.first;
    let sewn: Vec<Vec<Option<(Interval, Interval)>>> =
        met.iter().map(|row| row.windows(2).map(|w| Some((interval(&w[0].a, &w[1].a)?, interval(&w[0].b, &w[1].b)?))).collect()).collect();
    let pairs = sewn.iter().flatten().flatten().map(|(a, b)| (number(a) as u32, number(b) as u32));
    let classes = crate::weld(count, pairs).new_of_old;
    let mut parts = vec![1usize; count];
    for (piece, lines) in stops.iter().enumerate() {
        for (line, on) in lines.iter().enumerate() {
            for k in 0..on.len() - 1 {
                let class = classes[first[piece][line] + k] as usize;
                let wanted = ((on[k + 1] - on[k]) * lengths[piece][line] / spacing[piece][line]).round() as usize;
                parts[class] = parts[class].max(wanted);
            }
        }
    }
    let parts_of = |piece: usize, line: usize, k: usize| parts[classes[first[piece][line] + k] as usize];
    let mut shares = stops.clone();
    // the new number of every stop
    let mut moved: Vec<Vec<Vec<usize>>> = Vec::new();
    for (piece, lines) in stops.iter().enumerate() {
        let mut of_piece = Vec::new();
        for (line, on) in lines.iter().enumerate() {
            let (mut all, mut at) = (vec![on[0]], vec![0]);
            for k in 0..on.len() - 1 {
                let n = parts_of(piece, line, k);
                all.extend((1..n).map(|i| on[k] + (on[k + 1] - on[k]) * i as f64 / n as f64));
                all.push(on[k + 1]);
                at.push(all.len() - 1);
            }
            shares[piece][line] = all;
            of_piece.push(at);
        }
        moved.push(of_piece);
    }
    let stop = |at: &At| At { sample: moved[at.piece][at.line][at.sample], ..*at };
    let step = |i: &Interval, k: usize| {
        let (low, n) = (moved[i.piece][i.line][i.first], parts_of(i.piece, i.line, i.first));
        At { piece: i.piece, line: i.line, sample: low + if i.backwards { n - k } else { k } }
    };
    let full = met
        .iter()
        .zip(&sewn)
        .map(|(row, between)| {
            let mut all = Vec::new();
            for (k, meeting) in row.iter().enumerate() {
                all.push(Meeting { a: meeting.a.iter().map(stop).collect(), b: meeting.b.iter().map(stop).collect() });
                if let Some((a, b)) = between.get(k).and_then(Option::as_ref) {
                    let n = parts_of(a.piece, a.line, a.first);
                    all.extend((1..n).map(|i| Meeting { a: vec![step(a, i)], b: vec![step(b, i)] }));
                }
            }
            all
        })
        .collect();
    (shares, full)
}
