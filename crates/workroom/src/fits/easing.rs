//! Fit to ease: values of the pattern are changed until the garment, draped, has the ease that is wanted. Every try is a drape that
//! goes on from the one before; how ease answers to the values is learnt on the way (Broyden 1965), with least squares when there are
//! not as many values as girths.

use super::free::{FreeValue, PieceChange, SizeChange, changed_pieces};
use super::trial::Trial;
use crate::Assembly;
use crate::check::girth_plane;
use costume::{Costume, Edit, Refusal};
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;
use ts_rs::TS;

/// A girth and the room wanted there.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct WantedEase {
    /// Key of the girth, such as `bust`.
    pub measure: String,
    /// mm.
    pub ease: f64,
}

/// What is wanted, and what may change for it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct EaseAsked {
    /// One to six girths.
    pub wanted: Vec<WantedEase>,
    /// Up to six values; with none, those that make the garment wider at the girths (see [`usual_values`]).
    #[serde(default)]
    pub free: Vec<FreeValue>,
}

impl EaseAsked {
    /// Refuses what cannot be self.
    pub fn check(&self) -> Result<(), Refusal> {
        let refused = |item: &str, reason: &str, remedy: &str| Err(Refusal::elsewhere(item, reason, remedy));
        if self.wanted.is_empty() || self.wanted.len() > MOST || self.free.len() > MOST {
            return refused("fit to ease", "needs one to six girths and up to six values", "choose fewer, or more");
        }
        for wanted in &self.wanted {
            if !EASE.contains(&wanted.ease) {
                return refused(&wanted.measure, "has a wanted ease beyond all sense", "choose one from -30 to 300 cm");
            }
            if body::Measure::from_key(&wanted.measure).is_none() {
                return refused(&wanted.measure, "is no girth of the body", "choose one such as bust, waist or hip");
            }
        }
        Ok(())
    }
}

/// A pattern that was tried.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
pub struct EaseTry {
    /// Change of every free value, mm.
    pub changes: Vec<f64>,
    /// Ease at every wanted girth, mm.
    pub eases: Vec<f64>,
    pub at_rest: bool,
    /// Places where cloth goes through something.
    pub crossings: usize,
    /// Stretch that 99 of 100 triangles do not reach; 0.02 is 2 %.
    pub strain_p99: f64,
}

/// What came of it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
pub struct EaseOutcome {
    /// The step that makes the pattern so; it is the designer's to take.
    pub edit: Edit,
    /// All that was tried; the first is the pattern as it was.
    pub tries: Vec<EaseTry>,
    /// Which of them is the best.
    pub best: usize,
    /// Every girth is within [`NEAR`] of what was wanted.
    pub reached: bool,
    /// The values in words.
    pub values: Vec<SizeChange>,
    /// Pieces of another size.
    pub pieces: Vec<PieceChange>,
}

/// So near to the wanted ease is near enough, mm.
const NEAR: f64 = 2.5;
/// Most girths, and most values.
const MOST: usize = 6;
/// Tries after every value was moved once.
const TRIES: usize = 7;
/// Least and most change by which a value is tried out, mm.
const TRIED: [f64; 2] = [10.0, 60.0];
/// Most change from one try to the next, mm: cloth that is carried on into far wider pieces buckles and takes long to hang free.
const STEP: f64 = 80.0;
/// A value whose change moves no ease by more than this share of it does not belong here.
const DEAF: f64 = 0.02;
/// Least and most wanted ease, mm.
const EASE: std::ops::RangeInclusive<f64> = -300.0..=3000.0;

/// A try with the cloth that it left, from which the next one goes on; what a killed job keeps.
pub type Tried = (EaseTry, Vec<[f32; 3]>);

/// Tries until it fits. `known` are tries of a run that was broken off: they are taken as they were. `each` hears of every new try, with
/// its trial; none when `keep_on` said no.
pub fn fit_to_ease(
    costume: &Costume,
    asked: &EaseAsked,
    known: &[Tried],
    hang: &mut dyn FnMut(&Costume) -> Result<Assembly, Refusal>,
    keep_on: &mut dyn FnMut() -> bool,
    each: &mut dyn FnMut(&EaseTry, &Trial) -> bool,
) -> Result<Option<EaseOutcome>, Refusal> {
    asked.check()?;
    let mut asked = asked.clone();
    let mut first = None;
    if asked.free.is_empty() {
        // where the girths go is told by the garment as it hangs
        let (assembly, cloth) = match known.first() {
            Some((_, cloth)) => (hang(costume)?, cloth.clone()),
            None => {
                let Some(trial) = Trial::of(costume, hang, None, keep_on)? else { return Ok(None) };
                let positions = trial.drape.positions();
                let assembly = trial.assembly.clone();
                first = Some(trial);
                (assembly, positions)
            }
        };
        for wanted in &asked.wanted {
            let more = usual_values(&assembly, &cloth, &wanted.measure);
            asked.free.extend(more.into_iter().filter(|f| !asked.free.contains(f)).collect::<Vec<_>>());
        }
        asked.free.truncate(MOST);
        if asked.free.is_empty() {
            return Err(Refusal::elsewhere("fit to ease", "finds no piece that goes around there", "choose what may change"));
        }
    }
    let asked = &asked;
    let ranges = asked.free.iter().map(|f| f.range(costume)).collect::<Result<Vec<_>, _>>()?;
    let mut state = Tries { costume, asked, known, made: Vec::new(), last: None, first };
    let mut step = |state: &mut Tries, x: &[f64]| state.try_out(x, hang, keep_on, each);
    let n = asked.free.len();
    if step(&mut state, &vec![0.0; n])?.is_none() {
        return Ok(None);
    }
    let mut answer = Answer::plain(asked.wanted.len(), n);
    if state.off(0) > NEAR && asked.wanted.len() * n > 1 {
        // how each girth answers to each value
        for k in 0..n {
            let mut x = vec![0.0; n];
            let by = state.residual(0).iter().fold(0.0f64, |m, r| m.max(r.abs())).clamp(TRIED[0], TRIED[1]);
            x[k] = if by <= ranges[k][1] { by } else { -by.min(-ranges[k][0]) };
            if step(&mut state, &x)?.is_none() {
                return Ok(None);
            }
            answer.learn_column(k, x[k], &state.made[0].eases, &state.made[state.made.len() - 1].eases);
        }
    }
    while state.off(state.best()) > NEAR && state.made.len() < 1 + n + TRIES {
        let from = state.best();
        let wish = answer.step(&state.residual(from));
        let x: Vec<f64> = (0..n).map(|k| (state.made[from].changes[k] + wish[k]).clamp(ranges[k][0], ranges[k][1])).collect();
        if state.made.iter().any(|t| t.changes.iter().zip(&x).all(|(a, b)| (a - b).abs() < 0.05)) {
            break;
        }
        if step(&mut state, &x)?.is_none() {
            return Ok(None);
        }
        let (a, b) = (&state.made[from], &state.made[state.made.len() - 1]);
        answer.learn(a, b);
        deaf(costume, asked, a, b)?;
    }
    ease_outcome(costume, asked, &state.made).map(Some)
}

/// Values that make a garment wider at a girth: that of a block whose pieces go around there, or the width of the drawn pieces that do.
pub fn usual_values(assembly: &Assembly, positions: &[[f32; 3]], measure: &str) -> Vec<FreeValue> {
    let Some(plane) = girth_plane(&assembly.form, measure) else { return Vec::new() };
    let costume = &assembly.costume;
    let height = |v: u32| {
        let p = positions[v as usize].map(f64::from);
        (0..3).map(|k| (p[k] - plane.origin[k]) * plane.normal[k]).sum::<f64>()
    };
    let mut around = BTreeSet::new();
    for (k, t) in assembly.scene.triangles.iter().enumerate() {
        let side = t.map(|v| height(v) > 0.0);
        let far = positions[t[0] as usize].iter().zip(plane.origin).map(|(p, o)| (f64::from(*p) - o).powi(2)).sum::<f64>().sqrt();
        if side != [side[0]; 3] && far < NEARBY {
            around.insert(costume.owner(assembly.piece_of_triangle(k).piece));
        }
    }
    let at = match measure {
        "bust" | "underbust" => "chest",
        "hip" => "hips",
        "upper-arm" | "elbow" => "upper arm",
        "thigh" | "knee" | "calf" => "leg",
        other => other,
    };
    let values = costume.blocks.iter().filter(|b| b.pieces.iter().any(|p| around.contains(p))).filter_map(|b| {
        let known = costume::recipe(&b.recipe)?.values.iter().find(|v| v.unit == "mm" && v.name.contains("ase ") && v.name.contains(at))?;
        Some((b, FreeValue::Block { block: b.id, value: known.key.to_owned() }))
    });
    let (blocks, mut free): (Vec<_>, Vec<_>) = values.unzip();
    around.retain(|p| !blocks.iter().any(|b| b.pieces.contains(p)));
    // what is drawn by hand follows only where no block does
    if free.is_empty() && !around.is_empty() {
        free.push(FreeValue::Size { pieces: around.into_iter().collect(), up: false });
    }
    free
}

/// Cloth farther from the middle of a girth does not go around it, m.
const NEARBY: f64 = 0.45;

/// What the tries came to.
pub fn ease_outcome(costume: &Costume, asked: &EaseAsked, tries: &[EaseTry]) -> Result<EaseOutcome, Refusal> {
    let off = |t: &EaseTry| t.eases.iter().zip(&asked.wanted).map(|(e, w)| (e - w.ease).abs()).fold(0.0, f64::max);
    let best = (0..tries.len()).min_by(|a, b| off(&tries[*a]).total_cmp(&off(&tries[*b]))).unwrap_or(0);
    let changes = &tries[best].changes;
    let edit = edit(costume, asked, changes)?;
    let pieces = changed_pieces(costume, &crate::apply(costume, &edit)?);
    let values = asked.free.iter().zip(changes).map(|(f, by)| SizeChange { name: f.words(costume), by: *by }).collect();
    Ok(EaseOutcome { edit, tries: tries.to_vec(), best, reached: off(&tries[best]) <= NEAR, values, pieces })
}

fn edit(costume: &Costume, asked: &EaseAsked, changes: &[f64]) -> Result<Edit, Refusal> {
    let edits = asked.free.iter().zip(changes).filter(|(_, by)| **by != 0.0).map(|(f, by)| f.edit(costume, *by));
    let mut flat = Vec::new();
    for edit in edits {
        match edit? {
            Edit::Batch { edits } => flat.extend(edits),
            one => flat.push(one),
        }
    }
    Ok(Edit::Batch { edits: flat })
}

/// Refuses a value that no girth answers to.
fn deaf(costume: &Costume, asked: &EaseAsked, a: &EaseTry, b: &EaseTry) -> Result<(), Refusal> {
    let far = a.changes.iter().zip(&b.changes).map(|(a, b)| (a - b).abs()).fold(0.0, f64::max);
    let moved = a.eases.iter().zip(&b.eases).map(|(a, b)| (a - b).abs()).fold(0.0, f64::max);
    if far > TRIED[0] && moved < DEAF * far {
        let name = asked.free[0].words(costume);
        let reason = format!("was changed by {far:.0} mm and the ease by {moved:.1} mm");
        return Err(Refusal::elsewhere(name, reason, "choose a value that makes the garment wider there"));
    }
    Ok(())
}

struct Tries<'a> {
    costume: &'a Costume,
    asked: &'a EaseAsked,
    known: &'a [Tried],
    made: Vec<EaseTry>,
    /// The last one as it was hung, and its cloth.
    last: Option<(Assembly, Vec<[f32; 3]>)>,
    /// The pattern as it is, if it was tried already.
    first: Option<Trial>,
}

impl Tries<'_> {
    fn try_out(
        &mut self,
        x: &[f64],
        hang: &mut dyn FnMut(&Costume) -> Result<Assembly, Refusal>,
        keep_on: &mut dyn FnMut() -> bool,
        each: &mut dyn FnMut(&EaseTry, &Trial) -> bool,
    ) -> Result<Option<()>, Refusal> {
        let worn = crate::apply(self.costume, &edit(self.costume, self.asked, x)?)?;
        if let Some((known, cloth)) = self.known.get(self.made.len()) {
            // only the last of them is gone on from
            if self.made.len() + 1 == self.known.len() {
                self.last = Some((hang(&worn)?, cloth.clone()));
            }
            self.made.push(known.clone());
            return Ok(Some(()));
        }
        let before = self.last.as_ref().map(|(assembly, at)| (assembly, at.as_slice()));
        let made = match self.first.take() {
            Some(trial) => Some(trial),
            None => Trial::of(&worn, hang, before, keep_on)?,
        };
        let Some(trial) = made else { return Ok(None) };
        let eases = self.asked.wanted.iter().map(|wanted| {
            let row = trial.report.girths.iter().find(|g| g.measure == wanted.measure);
            row.map(|g| g.ease).ok_or_else(|| {
                let name = body::Measure::from_key(&wanted.measure).map_or(wanted.measure.as_str(), |m| m.name());
                Refusal::elsewhere(name, "has no cloth around it", "choose a girth that the garment goes around")
            })
        });
        let made = EaseTry {
            changes: x.to_vec(),
            eases: eases.collect::<Result<_, _>>()?,
            at_rest: trial.report.at_rest,
            crossings: trial.report.places.len(),
            strain_p99: trial.report.strain.p99,
        };
        let keep = each(&made, &trial);
        self.made.push(made);
        self.last = Some((trial.assembly, trial.drape.positions()));
        Ok(keep.then_some(()))
    }

    /// Wanted less what a try has, mm.
    fn residual(&self, of: usize) -> Vec<f64> {
        self.asked.wanted.iter().zip(&self.made[of].eases).map(|(w, e)| w.ease - e).collect()
    }

    fn off(&self, of: usize) -> f64 {
        self.residual(of).iter().fold(0.0, |m, r| m.max(r.abs()))
    }

    fn best(&self) -> usize {
        (0..self.made.len()).min_by(|a, b| self.off(*a).total_cmp(&self.off(*b))).unwrap_or(0)
    }
}

/// How the girths answer to the values: mm of ease a mm of change.
struct Answer {
    /// Of each girth to each value.
    slopes: Vec<Vec<f64>>,
}

impl Answer {
    /// A girth grows by as much as a value, until more is known.
    fn plain(girths: usize, values: usize) -> Self {
        Self { slopes: vec![vec![1.0; values]; girths] }
    }

    fn learn_column(&mut self, k: usize, by: f64, before: &[f64], after: &[f64]) {
        for (row, (a, b)) in self.slopes.iter_mut().zip(before.iter().zip(after)) {
            row[k] = (b - a) / by;
        }
    }

    /// The least change of the slopes that agrees with what was seen.
    fn learn(&mut self, a: &EaseTry, b: &EaseTry) {
        let x: Vec<f64> = a.changes.iter().zip(&b.changes).map(|(a, b)| b - a).collect();
        let length: f64 = x.iter().map(|v| v * v).sum();
        if length < 1e-12 {
            return;
        }
        for (row, (before, after)) in self.slopes.iter_mut().zip(a.eases.iter().zip(&b.eases)) {
            let told: f64 = row.iter().zip(&x).map(|(s, v)| s * v).sum();
            let missing = (after - before - told) / length;
            row.iter_mut().zip(&x).for_each(|(s, v)| *s += missing * v);
        }
    }

    /// The change that brings the residual nearest to nothing, and among those the least.
    fn step(&self, residual: &[f64]) -> Vec<f64> {
        let n = self.slopes[0].len();
        let trace: f64 = self.slopes.iter().flatten().map(|s| s * s).sum();
        // (SᵀS + ε) x = Sᵀ r, by Gauss with the greatest pivot
        let mut rows: Vec<Vec<f64>> = (0..n)
            .map(|i| {
                let product = |j: usize| self.slopes.iter().map(|row| row[i] * row[j]).sum::<f64>();
                let mut row: Vec<f64> = (0..n).map(product).collect();
                row[i] += 1e-6 * trace + 1e-12;
                row.push(self.slopes.iter().zip(residual).map(|(s, r)| s[i] * r).sum());
                row
            })
            .collect();
        for i in 0..n {
            let pivot = (i..n).max_by(|a, b| rows[*a][i].abs().total_cmp(&rows[*b][i].abs())).unwrap_or(i);
            rows.swap(i, pivot);
            for j in 0..n {
                if j != i {
                    let factor = rows[j][i] / rows[i][i];
                    for k in i..=n {
                        rows[j][k] -= factor * rows[i][k];
                    }
                }
            }
        }
        (0..n).map(|i| (rows[i][n] / rows[i][i]).clamp(-STEP, STEP)).collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn tried(changes: &[f64], eases: &[f64]) -> EaseTry {
        EaseTry { changes: changes.to_vec(), eases: eases.to_vec(), at_rest: true, crossings: 0, strain_p99: 0.0 }
    }

    /// Ease that answers to two values as garments do: more than in proportion while it is tight.
    fn garment(x: &[f64]) -> [f64; 2] {
        let soft = |v: f64| if v < 0.0 { 0.4 * v } else { v };
        [soft(0.9 * x[0] + 0.2 * x[1] - 30.0), soft(0.1 * x[0] + 1.8 * x[1] + 10.0)]
    }

    #[test]
    fn steps_by_what_was_learnt_end_at_the_wanted_ease() {
        let wanted = [80.0, 60.0];
        let mut made = vec![tried(&[0.0, 0.0], &garment(&[0.0, 0.0]))];
        let mut answer = Answer::plain(2, 2);
        for k in 0..2 {
            let mut x = [0.0; 2];
            x[k] = 40.0;
            answer.learn_column(k, 40.0, &made[0].eases, &garment(&x));
        }
        for _ in 0..6 {
            let last = made[made.len() - 1].clone();
            let residual: Vec<f64> = wanted.iter().zip(&last.eases).map(|(w, e)| w - e).collect();
            let x: Vec<f64> = answer.step(&residual).iter().zip(&last.changes).map(|(s, x)| s + x).collect();
            made.push(tried(&x, &garment(&x)));
            answer.learn(&last, &made[made.len() - 1]);
        }
        let end = &made[made.len() - 1].eases;
        assert!((end[0] - wanted[0]).abs() < 0.5 && (end[1] - wanted[1]).abs() < 0.5, "{end:?}");
    }

    #[test]
    fn with_more_girths_than_values_the_step_is_that_of_least_squares() {
        // one value, two girths that answer with 1 and 2: x = (1·10 + 2·30) / (1 + 4)
        let answer = Answer { slopes: vec![vec![1.0], vec![2.0]] };
        assert!((answer.step(&[10.0, 30.0])[0] - 14.0).abs() < 1e-3);
        // two values, one girth: both alike
        let answer = Answer { slopes: vec![vec![1.0, 1.0]] };
        let x = answer.step(&[20.0]);
        assert!((x[0] - 10.0).abs() < 1e-3 && (x[1] - 10.0).abs() < 1e-3, "{x:?}");
    }
}
