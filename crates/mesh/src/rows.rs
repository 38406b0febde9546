//! Rows of cells as bits, 64 to a word, on which shapes are laid beside each other.

/// A row of 64 times `W` cells.
pub(crate) type Row<const W: usize> = [u64; W];

/// A row moved to the right; what goes beyond its end is lost.
pub(crate) fn shifted<const W: usize>(row: &Row<W>, by: usize) -> Row<W> {
    let (words, bits) = (by / 64, by % 64);
    std::array::from_fn(|k| {
        let at = |k: Option<usize>| k.map_or(0, |k| row[k]);
        let low = if bits > 0 { at(k.checked_sub(words + 1)) >> (64 - bits) } else { 0 };
        at(k.checked_sub(words)) << bits | low
    })
}

/// The same to the left.
fn lowered<const W: usize>(row: &Row<W>, by: usize) -> Row<W> {
    let (words, bits) = (by / 64, by % 64);
    std::array::from_fn(|k| {
        let at = |k: usize| row.get(k).copied().unwrap_or(0);
        let high = if bits > 0 { at(k + words + 1) << (64 - bits) } else { 0 };
        at(k + words) >> bits | high
    })
}

/// Takes the cells of a shape at a column and a row, and all within `margin` cells of them, as far as there are rows.
pub(crate) fn take<const W: usize>(taken: &mut [Row<W>], shape: &[Row<W>], x: usize, y: usize, margin: usize) {
    let last = taken.len() - 1;
    for (k, row) in shape.iter().enumerate() {
        let (mut wide, moved) = ([0u64; W], shifted(row, x));
        for by in 0..=margin {
            for (w, (l, r)) in wide.iter_mut().zip(shifted(&moved, by).into_iter().zip(lowered(&moved, by))) {
                *w |= l | r;
            }
        }
        for row in &mut taken[(y + k).saturating_sub(margin)..=(y + k + margin).min(last)] {
            row.iter_mut().zip(&wide).for_each(|(t, w)| *t |= w);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn rows_move_across_the_words() {
        let mut row = [0u64; 6];
        row[0] = 1 | 1 << 63;
        assert_eq!(shifted(&row, 1)[..2], [2, 1]);
        assert_eq!(shifted(&row, 64)[..2], [0, row[0]]);
        assert_eq!(lowered(&shifted(&row, 130), 130), row);
        assert_eq!(shifted(&row, 383)[5], 1 << 63);
    }

    #[test]
    fn what_is_taken_is_as_wide_as_its_margin_and_ends_with_the_rows() {
        let mut taken = vec![[0u64; 2]; 4];
        take(&mut taken, &[[1, 0]], 63, 1, 2);
        let wide = [0b111 << 61, 0b11];
        assert_eq!(taken, [wide; 4]);
        take(&mut taken, &[[1, 0]], 0, 3, 0);
        assert_eq!(taken[3], [wide[0] | 1, wide[1]]);
    }
}
