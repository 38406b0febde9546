//! Values that change along keys: the two keys around a time.

/// The keys before and after a time and the share of the way between them, 0 to 1; the first or the last one beyond them. `keys` are
/// in the order of their times and not empty.
pub(super) fn around<K>(keys: &[K], time_of: impl Fn(&K) -> f64, time: f64) -> (&K, &K, f64) {
    let after = keys.partition_point(|k| time_of(k) <= time);
    let (a, b) = (&keys[after.max(1) - 1], &keys[after.min(keys.len() - 1)]);
    let span = time_of(b) - time_of(a);
    let share = if span > 0.0 { ((time - time_of(a)) / span).clamp(0.0, 1.0) } else { 0.0 };
    (a, b, share)
}

#[cfg(test)]
mod tests {
    use super::around;

    #[test]
    fn the_keys_around_a_time_and_the_share_between() {
        let keys = [0.0, 1.0, 4.0];
        let at = |time| around(&keys, |k| *k, time);
        assert_eq!(at(-2.0), (&0.0, &0.0, 0.0));
        assert_eq!(at(0.0), (&0.0, &1.0, 0.0));
        assert_eq!(at(1.75), (&1.0, &4.0, 0.25));
        assert_eq!(at(4.0), (&4.0, &4.0, 0.0));
        assert_eq!(at(9.0), (&4.0, &4.0, 0.0));
        assert_eq!(around(&keys[..1], |k| *k, 3.0), (&0.0, &0.0, 0.0));
    }
}
