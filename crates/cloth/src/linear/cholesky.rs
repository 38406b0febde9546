//! Cholesky factorisation of a small dense matrix.

/// Cholesky factorisation in place (lower triangle, row by row); false when the matrix is not positive definite.
pub(crate) fn factorise(a: &mut [f32], size: usize) -> bool {
    for i in 0..size {
        let (above, rest) = a.split_at_mut(i * size);
        let row = &mut rest[..size];
        for j in 0..i {
            let other = &above[j * size..j * size + j + 1];
            row[j] = (row[j] - dot(&row[..j], &other[..j])) / other[j];
        }
        let pivot = row[i] - dot(&row[..i], &row[..i]);
        if pivot <= 0.0 || !pivot.is_finite() {
            return false;
        }
        row[i] = pivot.sqrt();
    }
    true
}

/// Solves with the factor, in place.
pub(crate) fn solve(factor: &[f32], size: usize, x: &mut [f32]) {
    for i in 0..size {
        let row = &factor[i * size..i * size + i + 1];
        x[i] = (x[i] - dot(&row[..i], &x[..i])) / row[i];
    }
    for i in (0..size).rev() {
        let row = &factor[i * size..i * size + i + 1];
        x[i] /= row[i];
        let known = x[i];
        for (v, l) in x[..i].iter_mut().zip(row) {
            *v -= known * l;
        }
    }
}

/// In eight lanes, so that it is quick and always summed alike.
fn dot(a: &[f32], b: &[f32]) -> f32 {
    let mut lanes = [0.0f32; 8];
    let (whole, tail) = (a.chunks_exact(8), a.chunks_exact(8).remainder());
    let others = b.chunks_exact(8);
    let rest: f32 = tail.iter().zip(others.remainder()).map(|(a, b)| a * b).sum();
    for (a, b) in whole.zip(others) {
        for k in 0..8 {
            lanes[k] += a[k] * b[k];
        }
    }
    lanes.iter().sum::<f32>() + rest
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_factorised_matrix_solves_its_equations() {
        // B B^T + I of fixed pseudo-random numbers is positive definite
        let size = 37;
        let b: Vec<f32> = (0..size * size).map(|k| ((k * k + 3 * k) % 17) as f32 / 17.0 - 0.5).collect();
        let entry = |i: usize, j: usize| (0..size).map(|k| b[i * size + k] * b[j * size + k]).sum::<f32>() + if i == j { 1.0 } else { 0.0 };
        let mut a: Vec<f32> = (0..size * size).map(|k| entry(k / size, k % size)).collect();
        let x: Vec<f32> = (0..size).map(|i| (i as f32 * 0.7).sin()).collect();
        let mut y: Vec<f32> = (0..size).map(|i| (0..size).map(|j| entry(i, j) * x[j]).sum()).collect();
        assert!(factorise(&mut a, size));
        solve(&a, size, &mut y);
        assert!(x.iter().zip(&y).all(|(a, b)| (a - b).abs() < 1e-4));
        let mut singular = vec![0.0; 9];
        assert!(!factorise(&mut singular, 3));
    }
}
