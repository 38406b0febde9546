//! One-dimensional interpolation: natural cubic splines for section tables, PCHIP (Fritsch & Butland 1984) for monotone warps.

/// Natural cubic spline through rows of `N` columns; constant outside its range.
#[derive(Clone, Debug)]
pub struct NaturalSpline<const N: usize> {
    knots: Vec<f64>,
    /// Per interval the coefficients of 1, u, u², u³ with u = t - knot.
    pieces: Vec<[[f64; 4]; N]>,
}

impl<const N: usize> NaturalSpline<N> {
    /// `rows` are (t, columns) in ascending t, at least two.
    pub fn new(rows: &[(f64, [f64; N])]) -> Self {
        let n = rows.len();
        let step: Vec<f64> = rows.windows(2).map(|w| w[1].0 - w[0].0).collect();
        let mut pieces = vec![[[0.0; 4]; N]; n - 1];
        for column in 0..N {
            let y: Vec<f64> = rows.iter().map(|r| r.1[column]).collect();
            let second = natural_second_derivatives(&step, &y);
            for i in 0..n - 1 {
                let h = step[i];
                let slope = (y[i + 1] - y[i]) / h - h * (2.0 * second[i] + second[i + 1]) / 6.0;
                pieces[i][column] = [y[i], slope, second[i] / 2.0, (second[i + 1] - second[i]) / (6.0 * h)];
            }
        }
        Self { knots: rows.iter().map(|r| r.0).collect(), pieces }
    }
    /// Where it begins.
    pub fn start(&self) -> f64 {
        self.knots[0]
    }
    /// Where it ends.
    pub fn end(&self) -> f64 {
        self.knots[self.knots.len() - 1]
    }
    /// Values at t.
    pub fn at(&self, t: f64) -> [f64; N] {
        let t = t.clamp(self.start(), self.end());
        let i = self.knots.partition_point(|k| *k <= t).clamp(1, self.pieces.len()) - 1;
        let u = t - self.knots[i];
        self.pieces[i].map(|c| c[0] + u * (c[1] + u * (c[2] + u * c[3])))
    }
}

/// Solves the tridiagonal system of the natural spline (second derivative zero at both ends).
fn natural_second_derivatives(step: &[f64], y: &[f64]) -> Vec<f64> {
    let n = y.len();
    let mut second = vec![0.0; n];
    if n < 3 {
        return second;
    }
    let (mut diagonal, mut right) = (vec![0.0; n], vec![0.0; n]);
    for i in 1..n - 1 {
        diagonal[i] = 2.0 * (step[i - 1] + step[i]);
        right[i] = 6.0 * ((y[i + 1] - y[i]) / step[i] - (y[i] - y[i - 1]) / step[i - 1]);
        if i > 1 {
            let factor = step[i - 1] / diagonal[i - 1];
            diagonal[i] -= factor * step[i - 1];
            right[i] -= factor * right[i - 1];
        }
    }
    for i in (1..n - 1).rev() {
        second[i] = (right[i] - step[i] * second[i + 1]) / diagonal[i];
    }
    second
}

/// Monotone piecewise cubic; `at` goes on with the end pieces, `held` stays constant outside.
#[derive(Clone, Debug)]
pub struct Pchip {
    x: Vec<f64>,
    y: Vec<f64>,
    slope: Vec<f64>,
}

impl Pchip {
    /// Points in ascending x, at least two.
    pub fn new(points: &[(f64, f64)]) -> Self {
        let (x, y): (Vec<f64>, Vec<f64>) = points.iter().copied().unzip();
        let slope = pchip_slopes(&x, &y);
        Self { x, y, slope }
    }
    /// Value at t.
    pub fn at(&self, t: f64) -> f64 {
        let i = self.x.partition_point(|k| *k <= t).clamp(1, self.x.len() - 1) - 1;
        let h = self.x[i + 1] - self.x[i];
        let u = (t - self.x[i]) / h;
        let (a, b) = (self.slope[i] * h, self.slope[i + 1] * h);
        let rise = self.y[i + 1] - self.y[i];
        self.y[i] + u * (a + u * ((3.0 * rise - 2.0 * a - b) + u * (a + b - 2.0 * rise)))
    }
    /// Value at t; beyond the ends that of the end.
    pub fn held(&self, t: f64) -> f64 {
        self.at(t.clamp(self.x[0], self.x[self.x.len() - 1]))
    }
}

/// Slopes that keep the curve monotone between its points (Fritsch and Carlson 1980).
fn pchip_slopes(x: &[f64], y: &[f64]) -> Vec<f64> {
    let n = x.len();
    let h: Vec<f64> = x.windows(2).map(|w| w[1] - w[0]).collect();
    let d: Vec<f64> = (0..n - 1).map(|i| (y[i + 1] - y[i]) / h[i]).collect();
    if n == 2 {
        return vec![d[0]; 2];
    }
    let mut slope = vec![0.0; n];
    for i in 1..n - 1 {
        if d[i - 1] * d[i] > 0.0 {
            let (w1, w2) = (2.0 * h[i] + h[i - 1], h[i] + 2.0 * h[i - 1]);
            slope[i] = (w1 + w2) / (w1 / d[i - 1] + w2 / d[i]);
        }
    }
    let end = |h0: f64, h1: f64, d0: f64, d1: f64| {
        let s = ((2.0 * h0 + h1) * d0 - h0 * d1) / (h0 + h1);
        if s * d0 <= 0.0 {
            0.0
        } else if d0 * d1 <= 0.0 && s.abs() > 3.0 * d0.abs() {
            3.0 * d0
        } else {
            s
        }
    };
    slope[0] = end(h[0], h[1], d[0], d[1]);
    slope[n - 1] = end(h[n - 2], h[n - 3], d[n - 2], d[n - 3]);
    slope
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_natural_spline_passes_its_knots_and_keeps_straight_lines() {
        let line = NaturalSpline::<1>::new(&[(0.0, [1.0]), (1.0, [3.0]), (4.0, [9.0]), (5.0, [11.0])]);
        for t in [0.0, 0.3, 1.0, 2.7, 4.9, 5.0] {
            assert!((line.at(t)[0] - (1.0 + 2.0 * t)).abs() < 1e-12);
        }
        let bent = NaturalSpline::<1>::new(&[(0.0, [0.0]), (1.0, [1.0]), (2.0, [0.0])]);
        // By hand: second derivative -3 at the middle knot, so the value at 0.5 is 0.6875.
        assert!((bent.at(0.5)[0] - 0.6875).abs() < 1e-12);
    }

    #[test]
    fn pchip_never_overshoots_and_goes_on_with_its_end_piece() {
        let p = Pchip::new(&[(0.0, 0.0), (1.0, 0.1), (2.0, 5.0), (3.0, 5.1)]);
        let mut last = -1e-9;
        for k in 0..=300 {
            let v = p.at(f64::from(k) / 100.0);
            assert!(v >= last - 1e-12);
            last = v;
        }
        let straight = Pchip::new(&[(0.0, 0.0), (1.0, 2.0), (2.0, 4.0)]);
        assert!((straight.at(3.0) - 6.0).abs() < 1e-12);
        assert!((straight.held(3.0) - 4.0).abs() < 1e-12);
    }
}
