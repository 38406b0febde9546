//! Seams pair one to one, whatever the lengths of their sides, and welding fuses exactly the pairs.

use kurbo::{Line, PathSeg};
use mesh::{Domain, DomainLine, EdgeRun, FlatLookup, PieceMeshes, SeamSpec, cut, weld};
use proptest::prelude::*;

fn polygon(c: &[(f64, f64)]) -> Domain {
    let n = c.len();
    Domain::from_outline(&(0..n).map(|i| PathSeg::Line(Line::new(c[i], c[(i + 1) % n]))).collect::<Vec<_>>())
}

fn rectangle(width: f64, height: f64) -> Domain {
    polygon(&[(0.0, 0.0), (width, 0.0), (width, height), (0.0, height)])
}

fn whole(piece: usize, line: usize, backwards: bool) -> EdgeRun {
    EdgeRun::whole(piece, line, backwards)
}

fn seam(a: Vec<EdgeRun>, b: Vec<EdgeRun>) -> SeamSpec {
    SeamSpec { a, b, ..SeamSpec::default() }
}

fn point(cut: &PieceMeshes, (piece, vertex): (usize, u32)) -> [f64; 2] {
    cut.pieces[piece].points[vertex as usize]
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]
    #[test]
    fn both_sides_get_the_same_samples(a in 90.0..600.0f64, b in 90.0..600.0f64, target in 10.0..40.0f64, backwards: bool) {
        let pieces = [rectangle(120.0, a), rectangle(150.0, b)];
        let sewn = seam(vec![whole(0, 1, false)], vec![whole(1, 3, backwards)]);
        let cut = cut(&pieces, &[sewn], target).expect("it can be cut");
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
        let sewn = seam(vec![whole(0, 1, false)], vec![whole(1, 3, true), whole(2, 3, true)]);
        let cut = cut(&pieces, &[sewn], target).expect("it can be cut");
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
    let cut = cut(&[rectangle(240.0, 160.0)], &[seam(vec![whole(0, 1, false)], vec![whole(0, 3, true)])], 20.0).expect("cut");
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
    let piece = polygon(&c);
    let dart = seam(vec![whole(0, 3, true)], vec![whole(0, 4, false)]);
    let cut = cut(&[piece], &[dart], 15.0).expect("it can be cut");
    assert_eq!(cut.pairs.len(), 7, "8 samples on each leg, less the common tip");
    assert!(cut.pairs.iter().all(|p| point(&cut, p.a) != point(&cut, p.b)));
}

#[test]
fn mesh_edges_run_along_the_lines_inside_a_piece() {
    let mut piece = rectangle(300.0, 200.0);
    let diagonal = PathSeg::Line(Line::new((0.0, 0.0), (300.0, 200.0)));
    piece.lines.push(DomainLine { curve: diagonal, from: 0, to: 2 });
    piece.inside = vec![4];
    let cut = cut(&[piece], &[], 18.0).expect("a rectangle with its diagonal");
    let flat = &cut.pieces[0];
    let line = &flat.lines[4];
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

/// Distance of paired points apart from where their pieces lie.
fn apart(cut: &PieceMeshes, shift: [f64; 2]) -> f64 {
    let gap = |p: &mesh::SeamPair| {
        let (a, b) = (point(cut, p.a), point(cut, p.b));
        (a[0] + shift[0] - b[0]).hypot(a[1] + shift[1] - b[1])
    };
    cut.pairs.iter().map(gap).fold(0.0, f64::max)
}

#[test]
fn a_pocket_meets_its_panel_on_three_sides_and_shares_its_foot_with_a_second_seam() {
    // a pocket of 120 x 140 mm on a panel, sewn along three inside lines; a flap is sewn to the same foot
    let mut panel = rectangle(400.0, 500.0);
    let c = [(140.0, 300.0), (140.0, 160.0), (260.0, 160.0), (260.0, 300.0)];
    for k in 0..3 {
        panel.lines.push(DomainLine { curve: PathSeg::Line(Line::new(c[k], c[k + 1])), from: 10 + k as u64, to: 11 + k as u64 });
        panel.inside.push(4 + k);
    }
    let pocket = polygon(&[(0.0, 140.0), (0.0, 0.0), (120.0, 0.0), (120.0, 140.0)]);
    let flap = polygon(&[(0.0, 0.0), (60.0, 0.0), (60.0, 30.0), (0.0, 30.0)]);
    let round = |piece, from: usize| (0..3).map(|k| whole(piece, from + k, false)).collect::<Vec<_>>();
    let sewn = seam(round(1, 0), round(0, 4));
    // half of the foot again, from its middle to its end
    let foot = seam(vec![EdgeRun { piece: 1, line: 1, from: 0.5, to: 1.0 }], vec![whole(2, 0, false)]);
    let made = cut(&[panel, pocket, flap], &[sewn, foot], 18.0).expect("it can be cut");
    let first = PieceMeshes { pairs: made.pairs.iter().filter(|p| p.seam == 0).copied().collect(), ..made.clone() };
    assert!(apart(&first, [140.0, 160.0]) < 1e-9 || apart(&first, [-140.0, -160.0]) < 1e-9);
    let second: Vec<_> = made.pairs.iter().filter(|p| p.seam == 1).collect();
    // from the middle of the foot to its end, sample by sample: the flap's edge has the same samples as the panel's line
    assert_eq!(second.len(), 60 / 18 + 1 + 1 - 1);
    for p in second {
        let (a, b) = (point(&made, p.a), point(&made, p.b));
        assert!((a[0] - 60.0 - b[0]).abs() < 1e-9, "{a:?} {b:?}");
        assert!(first.pairs.iter().any(|q| q.a == p.a || q.b == p.a), "the pocket's vertex is sewn to the panel as well");
    }
}

#[test]
fn a_band_meets_four_pieces_by_one_seam() {
    let band = rectangle(600.0, 50.0);
    let legs = [150.0, 130.0, 170.0, 150.0].map(|w| rectangle(w, 300.0));
    // the tops of the legs run leftwards, so they are walked backwards
    let tops = (0..4).map(|k| whole(k + 1, 2, true)).collect();
    let mut pieces = vec![band];
    pieces.extend(legs);
    let made = cut(&pieces, &[seam(vec![whole(0, 0, false)], tops)], 20.0).expect("it can be cut");
    let starts = [0.0, 150.0, 280.0, 450.0];
    for p in &made.pairs {
        let along = |v: (usize, u32)| point(&made, v)[0] + if v.0 == 0 { 0.0 } else { starts[v.0 - 1] };
        assert!((along(p.a) - along(p.b)).abs() < 1e-9, "{p:?}");
    }
    let joints = made.pairs.iter().filter(|p| p.b.0 > 0).map(|p| p.a.1).collect::<Vec<_>>();
    let twice = joints.iter().filter(|v| joints.iter().filter(|w| w == v).count() == 2).count();
    assert_eq!(twice, 6, "where two legs meet, both meet the band");
}

#[test]
fn a_zip_is_sewn_only_where_it_is_closed() {
    let mut zip = seam(vec![whole(0, 1, false)], vec![whole(1, 3, true)]);
    zip.open = 0.5;
    let made = cut(&[rectangle(100.0, 400.0), rectangle(100.0, 400.0)], &[zip], 20.0).expect("it can be cut");
    let heights: Vec<f64> = made.pairs.iter().map(|p| point(&made, p.a)[1]).collect();
    assert_eq!(heights.len(), 11);
    assert!(heights.iter().all(|h| *h <= 200.0 + 1e-9), "{heights:?}");
}

#[test]
fn notches_divide_the_ease() {
    // 300 mm eased into 240: all of it between the notches at 100 and 200 mm
    let mut eased = seam(vec![whole(0, 1, false)], vec![whole(1, 3, true)]);
    eased.notches = vec![[1.0 / 3.0, 100.0 / 240.0], [2.0 / 3.0, 140.0 / 240.0]];
    let made = cut(&[rectangle(100.0, 300.0), rectangle(100.0, 240.0)], &[eased], 20.0).expect("it can be cut");
    for p in &made.pairs {
        let (a, b) = (point(&made, p.a)[1], point(&made, p.b)[1]);
        let meets = if a <= 100.0 {
            a
        } else if a <= 200.0 {
            100.0 + (a - 100.0) * 0.4
        } else {
            a - 60.0
        };
        assert!((b - meets).abs() < 1e-6, "{a} meets {b}");
    }
    assert_eq!(made.pairs.len(), 16);
}

#[test]
fn a_cut_out_leaves_its_hole_open() {
    let mut plate = rectangle(300.0, 300.0);
    // clockwise around the hole
    let c = [(100.0, 100.0), (100.0, 200.0), (200.0, 200.0), (200.0, 100.0)];
    for k in 0..4 {
        let curve = PathSeg::Line(Line::new(c[k], c[(k + 1) % 4]));
        plate.lines.push(DomainLine { curve, from: 10 + k as u64, to: 10 + (k as u64 + 1) % 4 });
    }
    plate.cutouts = vec![vec![4, 5, 6, 7]];
    let made = cut(&[plate], &[], 20.0).expect("it can be cut");
    let flat = &made.pieces[0];
    let area: f64 = flat
        .triangles
        .iter()
        .map(|t| {
            let [a, b, c] = t.map(|v| flat.points[v as usize]);
            0.5 * ((b[0] - a[0]) * (c[1] - a[1]) - (c[0] - a[0]) * (b[1] - a[1]))
        })
        .sum();
    assert!((area - 80_000.0).abs() < 1e-6, "{area}");
    let edges: std::collections::HashSet<(u32, u32)> =
        flat.triangles.iter().flat_map(|t| (0..3).map(|k| (t[k].min(t[(k + 1) % 3]), t[k].max(t[(k + 1) % 3])))).collect();
    // Euler: a disc with one hole has V - E + F = 0
    assert_eq!(flat.points.len() as i64 - edges.len() as i64 + flat.triangles.len() as i64, 0);
}
