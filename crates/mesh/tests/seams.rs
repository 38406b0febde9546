//! Seams pair one to one, whatever the lengths of their sides, and welding fuses exactly the pairs.

use kurbo::{Line, PathSeg};
use mesh::{Cut, FlatLookup, FlatPiece, Stitch, Stretch, cut, weld};
use proptest::prelude::*;

fn rectangle(width: f64, height: f64) -> FlatPiece {
    let c = [(0.0, 0.0), (width, 0.0), (width, height), (0.0, height)];
    FlatPiece { edges: (0..4).map(|i| PathSeg::Line(Line::new(c[i], c[(i + 1) % 4]))).collect(), lines: vec![] }
}

fn stretch(piece: usize, edge: usize, backwards: bool) -> Stretch {
    Stretch { piece, edge, backwards }
}

fn point(cut: &Cut, (piece, vertex): (usize, u32)) -> [f64; 2] {
    cut.pieces[piece].points[vertex as usize]
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]
    #[test]
    fn both_sides_get_the_same_samples(a in 90.0..600.0f64, b in 90.0..600.0f64, target in 10.0..40.0f64, backwards: bool) {
        let pieces = [rectangle(120.0, a), rectangle(150.0, b)];
        let stitch = Stitch { a: vec![stretch(0, 1, false)], b: vec![stretch(1, 3, backwards)] };
        let cut = cut(&pieces, &[stitch], target).expect("it can be cut");
        // the longer side decides how many
        let parts = (a.max(b) / target).round().max(1.0);
        prop_assert_eq!(cut.pairs.len(), parts as usize + 1);
        for (k, pair) in cut.pairs.iter().enumerate() {
            let fraction = k as f64 / parts;
            let (p, q) = (point(&cut, pair.a), point(&cut, pair.b));
            prop_assert!((p[0] - 120.0).abs() < 1e-9 && (p[1] - a * fraction).abs() < 1e-6);
            // edge 3 of a rectangle runs downwards
            let up = if backwards { fraction } else { 1.0 - fraction };
            prop_assert!(q[0].abs() < 1e-9 && (q[1] - b * up).abs() < 1e-6);
        }
    }

    #[test]
    fn one_edge_pairs_with_a_chain_of_two(first in 60.0..300.0f64, second in 60.0..300.0f64, target in 12.0..30.0f64) {
        // the long edge has no corner where the chain has one, and still gets a sample there
        let pieces = [rectangle(100.0, first + second), rectangle(100.0, first), rectangle(100.0, second)];
        let stitch = Stitch { a: vec![stretch(0, 1, false)], b: vec![stretch(1, 3, true), stretch(2, 3, true)] };
        let cut = cut(&pieces, &[stitch], target).expect("it can be cut");
        let heights: Vec<f64> = cut.pairs.iter().map(|p| point(&cut, p.a)[1]).collect();
        prop_assert!(heights.iter().any(|h| (h - first).abs() < 1e-6));
        // where the chain passes from one piece to the next, both meet the same sample
        prop_assert_eq!(heights.windows(2).filter(|w| w[1] <= w[0]).count(), 1);
        for pair in &cut.pairs {
            let (p, q) = (point(&cut, pair.a), point(&cut, pair.b));
            let beyond = if pair.b.0 == 2 { first } else { 0.0 };
            prop_assert!((p[1] - q[1] - beyond).abs() < 1e-6);
        }
    }

    #[test]
    fn welding_agrees_with_a_flood_over_the_pairs(pairs in prop::collection::vec((0..40u32, 0..40u32), 0..60)) {
        let fused = weld(40, pairs.iter().copied());
        let mut group: Vec<usize> = (0..40).collect();
        loop {
            let before = group.clone();
            for &(a, b) in &pairs {
                let low = group[a as usize].min(group[b as usize]);
                group[a as usize] = low;
                group[b as usize] = low;
            }
            if group == before { break; }
        }
        for i in 0..40 {
            for j in 0..40 {
                prop_assert_eq!(fused.new_of_old[i] == fused.new_of_old[j], group[i] == group[j]);
            }
            prop_assert_eq!(fused.new_of_old[fused.old_of_new[fused.new_of_old[i] as usize] as usize], fused.new_of_old[i]);
        }
        prop_assert!(fused.old_of_new.windows(2).all(|w| w[0] < w[1]), "new vertices keep their order");
    }

    #[test]
    fn a_flat_point_is_found_again(x in 1.0..299.0f64, y in 1.0..199.0f64) {
        let cut = cut(&[rectangle(300.0, 200.0)], &[], 25.0).expect("it can be cut");
        let mesh = &cut.pieces[0];
        let (t, weights) = FlatLookup::new(mesh).locate([x, y]);
        prop_assert!(weights.iter().all(|w| *w > -1e-9));
        let sum = |k: usize| (0..3).map(|i| weights[i] * mesh.points[mesh.triangles[t][i] as usize][k]).sum::<f64>();
        prop_assert!((sum(0) - x).abs() < 1e-9 && (sum(1) - y).abs() < 1e-9);
    }
}

#[test]
fn a_tube_pairs_a_piece_with_itself_and_closes() {
    let cut =
        cut(&[rectangle(240.0, 160.0)], &[Stitch { a: vec![stretch(0, 1, false)], b: vec![stretch(0, 3, true)] }], 20.0).expect("cut");
    assert_eq!(cut.pairs.len(), 9);
    let mesh = &cut.pieces[0];
    let fused = weld(mesh.points.len(), cut.pairs.iter().map(|p| (p.a.1, p.b.1)));
    // Euler: a tube has V - E + F = 0
    let mut edges = std::collections::HashSet::new();
    for t in &mesh.triangles {
        let t = t.map(|v| fused.new_of_old[v as usize]);
        for k in 0..3 {
            edges.insert((t[k].min(t[(k + 1) % 3]), t[k].max(t[(k + 1) % 3])));
        }
    }
    assert_eq!(fused.old_of_new.len() as i64 - edges.len() as i64 + mesh.triangles.len() as i64, 0);
}

#[test]
fn a_dart_shares_its_tip() {
    // two edges of one piece that meet at a corner: the tip is one vertex already and is not paired
    let c = [(0.0, 0.0), (200.0, 0.0), (200.0, 200.0), (110.0, 200.0), (100.0, 90.0), (90.0, 200.0), (0.0, 200.0)];
    let piece = FlatPiece { edges: (0..7).map(|i| PathSeg::Line(Line::new(c[i], c[(i + 1) % 7]))).collect(), lines: vec![] };
    let dart = Stitch { a: vec![stretch(0, 3, true)], b: vec![stretch(0, 4, false)] };
    let cut = cut(&[piece], &[dart], 15.0).expect("it can be cut");
    assert_eq!(cut.pairs.len(), 7, "8 samples on each leg, less the common tip");
    assert!(cut.pairs.iter().all(|p| point(&cut, p.a) != point(&cut, p.b)));
}

#[test]
fn mesh_edges_run_along_the_lines_inside_a_piece() {
    let mut piece = rectangle(300.0, 200.0);
    piece.lines = vec![[0, 2]];
    let cut = cut(&[piece], &[], 18.0).expect("a rectangle with its diagonal");
    let flat = &cut.pieces[0];
    let line = &flat.lines[0];
    let length = 300f64.hypot(200.0);
    assert_eq!(line.len(), (length / 18.0).round() as usize + 1);
    for pair in line.windows(2) {
        let both = |t: &&[u32; 3]| pair.iter().all(|v| t.contains(v));
        assert_eq!(flat.triangles.iter().filter(both).count(), 2, "an edge with a triangle on each side");
    }
    for &v in line {
        let [x, y] = flat.points[v as usize];
        assert!((200.0 * x - 300.0 * y).abs() / length < 1e-6, "on the line");
    }
    let area: f64 = flat
        .triangles
        .iter()
        .map(|t| {
            let [a, b, c] = t.map(|v| flat.points[v as usize]);
            0.5 * ((b[0] - a[0]) * (c[1] - a[1]) - (c[0] - a[0]) * (b[1] - a[1]))
        })
        .sum();
    assert!((area - 60_000.0).abs() < 1e-6, "the piece keeps its area: {area}");
}
