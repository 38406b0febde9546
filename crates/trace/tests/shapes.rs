//! Outlines and rulers drawn by a plain renderer of the tests' own: every pixel is as dark as the share of it that a line
//! of the given width covers, on paper that may be shaded and specked.

use proptest::prelude::*;
use trace::{Grey, NoOutline, outline, ticks};

const SIZE: usize = 320;
const MIDDLE: [f64; 2] = [SIZE as f64 / 2.0, SIZE as f64 / 2.0];

/// From a point to a stretch, px.
fn away(p: [f64; 2], [a, b]: [[f64; 2]; 2]) -> f64 {
    let (u, w) = ([b[0] - a[0], b[1] - a[1]], [p[0] - a[0], p[1] - a[1]]);
    let t = ((u[0] * w[0] + u[1] * w[1]) / (u[0] * u[0] + u[1] * u[1])).clamp(0.0, 1.0);
    (w[0] - t * u[0]).hypot(w[1] - t * u[1])
}

/// A picture of stretches of a line so wide, on paper of this brightness at each place.
fn drawn(stretches: &[[[f64; 2]; 2]], width: f64, paper: impl Fn(f64, f64) -> f64) -> Grey {
    let mut pixels = vec![0u8; SIZE * SIZE];
    for (k, pixel) in pixels.iter_mut().enumerate() {
        let p = [(k % SIZE) as f64 + 0.5, (k / SIZE) as f64 + 0.5];
        let near = stretches.iter().map(|s| away(p, *s)).fold(f64::MAX, f64::min);
        let ink = (0.5 + 0.5 * width - near).clamp(0.0, 1.0);
        let light = paper(p[0], p[1]);
        *pixel = (light * (1.0 - 0.8 * ink)).round().clamp(0.0, 255.0) as u8;
    }
    Grey::new(SIZE, SIZE, pixels).expect("a picture")
}

fn plain(_: f64, _: f64) -> f64 {
    232.0
}

/// Corners of a regular polygon around the middle.
fn polygon(sides: usize, radius: f64, turn: f64) -> Vec<[f64; 2]> {
    let at = |k: usize| turn + k as f64 / sides as f64 * std::f64::consts::TAU;
    (0..sides).map(|k| [MIDDLE[0] + radius * at(k).cos(), MIDDLE[1] + radius * at(k).sin()]).collect()
}

fn closed(points: &[[f64; 2]]) -> Vec<[[f64; 2]; 2]> {
    (0..points.len()).map(|k| [points[k], points[(k + 1) % points.len()]]).collect()
}

fn area(points: &[[f64; 2]]) -> f64 {
    let cross = |[a, b]: [[f64; 2]; 2]| a[0] * b[1] - a[1] * b[0];
    0.5 * closed(points).into_iter().map(cross).sum::<f64>().abs()
}

#[test]
fn a_circle_is_round_at_every_scale_and_width_of_line() {
    for (scale, width, radius) in [(3.0, 2.0, 110.0), (4.0, 3.0, 120.0), (6.0, 4.5, 130.0), (8.0, 2.5, 90.0)] {
        let circle = polygon(180, radius, 0.1);
        let found = outline(&drawn(&closed(&circle), width, plain), MIDDLE, scale).expect("found");
        assert!((found.area() / area(&circle) - 1.0).abs() < 0.003, "{scale} px/mm: {} for {}", found.area(), area(&circle));
        let off = found.points.iter().map(|p| ((p[0] - MIDDLE[0]).hypot(p[1] - MIDDLE[1]) - radius).abs()).fold(0.0, f64::max);
        assert!(off < 0.5, "{scale} px/mm: {off} px off");
        assert!(found.corners.is_empty(), "{scale} px/mm: {:?}", found.corners);
        assert!((found.width - width).abs() < 1.5 && found.bridged == 0.0, "{} for {width}", found.width);
    }
}

#[test]
fn shade_specks_and_writing_change_nothing() {
    let shape = polygon(5, 120.0, 0.3);
    let mut lines = closed(&shape);
    let clean = outline(&drawn(&lines, 3.0, plain), MIDDLE, 4.0).expect("found");
    // from bright to dim across the sheet, with a fold of light in it
    let shaded = |x: f64, y: f64| 235.0 - 0.25 * x - 0.1 * y + 12.0 * (x / 40.0).sin();
    let dim = outline(&drawn(&lines, 3.0, shaded), MIDDLE, 4.0).expect("found");
    assert!((dim.area() / clean.area() - 1.0).abs() < 0.002 && dim.corners.len() == 5, "{}", dim.area());
    // strokes of writing beside the place that is clicked, and one outside
    lines.extend([[[130.0, 190.0], [150.0, 215.0]], [[150.0, 215.0], [160.0, 190.0]], [[20.0, 20.0], [60.0, 24.0]]]);
    let written = outline(&drawn(&lines, 3.0, plain), MIDDLE, 4.0).expect("found");
    assert!((written.area() / clean.area() - 1.0).abs() < 0.001, "{}", written.area());
    let mut dice = 7u64;
    let mut specked = drawn(&lines, 3.0, plain).pixels().to_vec();
    for _ in 0..400 {
        dice = dice.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        specked[(dice >> 33) as usize % (SIZE * SIZE)] = 90;
    }
    let specked = outline(&Grey::new(SIZE, SIZE, specked).expect("a picture"), MIDDLE, 4.0).expect("found");
    assert!((specked.area() / clean.area() - 1.0).abs() < 0.004, "{} for {}", specked.area(), clean.area());
}

#[test]
fn a_dashed_line_is_bridged_and_says_by_how_much() {
    let circle = polygon(60, 120.0, 0.0);
    // every third stretch is missing: 12.6 px, at 8 px to a millimetre 1.6 mm less the ends of the line
    let dashes: Vec<_> = closed(&circle).into_iter().enumerate().filter(|(k, _)| k % 3 != 0).map(|(_, s)| s).collect();
    let found = outline(&drawn(&dashes, 3.0, plain), MIDDLE, 8.0).expect("found");
    assert!(found.bridged > 5.0, "{}", found.bridged);
    assert!((found.area() / area(&circle) - 1.0).abs() < 0.01, "{} for {}", found.area(), area(&circle));
}

#[test]
fn where_there_is_no_outline_the_reason_is_told() {
    let frame = drawn(&closed(&polygon(4, 100.0, 0.2)), 3.0, plain);
    assert_eq!(outline(&frame, [-3.0, 10.0], 4.0), Err(NoOutline::Outside));
    assert_eq!(outline(&frame, [10.0, 10.0], 4.0), Err(NoOutline::Open), "the paper around it goes on to the edge");
    let small = drawn(&closed(&polygon(4, 14.0, 0.2)), 2.0, plain);
    assert_eq!(outline(&small, MIDDLE, 4.0), Err(NoOutline::Small));
    let half: Vec<_> = closed(&polygon(40, 120.0, 0.0)).into_iter().take(20).collect();
    assert_eq!(outline(&drawn(&half, 3.0, plain), MIDDLE, 4.0), Err(NoOutline::Open));
    let blank = Grey::new(4, 4, vec![255; 16]).expect("a picture");
    assert!(outline(&blank, [2.0, 2.0], f64::NAN).is_err() && outline(&blank, [f64::NAN, 2.0], 4.0).is_err());
    assert!(Grey::new(0, 4, Vec::new()).is_none() && Grey::new(3, 3, vec![0; 8]).is_none() && Grey::new(usize::MAX, 2, vec![0]).is_none());
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 24, ..ProptestConfig::default() })]

    /// However it is turned, a polygon has its corners where they were drawn.
    #[test]
    fn polygons_have_their_corners(sides in 3usize..8, radius in 90.0..140.0f64, turn in 0.0..6.3f64, width in 1.6..4.0f64) {
        let shape = polygon(sides, radius, turn);
        let found = outline(&drawn(&closed(&shape), width, plain), MIDDLE, 4.0).expect("found");
        prop_assert!((found.area() / area(&shape) - 1.0).abs() < 0.004, "{} for {}", found.area(), area(&shape));
        prop_assert_eq!(found.corners.len(), sides);
        for c in &found.corners {
            let p = found.points[*c];
            let off = shape.iter().map(|q| (p[0] - q[0]).hypot(p[1] - q[1])).fold(f64::MAX, f64::min);
            prop_assert!(off < 3.0, "{} px from a corner", off);
        }
    }

    /// A picture that lies elsewhere gives the same outline elsewhere.
    #[test]
    fn an_outline_moves_with_its_picture(right in 0usize..20, down in 0usize..20) {
        let shape = polygon(6, 100.0, 0.7);
        let moved: Vec<[f64; 2]> = shape.iter().map(|p| [p[0] + right as f64, p[1] + down as f64]).collect();
        let here = outline(&drawn(&closed(&shape), 2.5, plain), MIDDLE, 4.0).expect("found");
        let there = outline(&drawn(&closed(&moved), 2.5, plain), MIDDLE, 4.0).expect("found");
        prop_assert!((here.area() - there.area()).abs() < 1e-3 * here.area());
        prop_assert_eq!(here.corners.len(), there.corners.len());
    }

    /// The ticks of a ruler are counted and measured in any direction.
    #[test]
    fn rulers_are_read_in_any_direction(spacing in 9.0..26.0f64, turn in 0.0..6.2f64, first in 0.0..6.0f64) {
        let (sin, cos) = turn.sin_cos();
        let on = |along: f64, aside: f64| [MIDDLE[0] + along * cos - aside * sin, MIDDLE[1] + along * sin + aside * cos];
        let count = (220.0 / spacing) as usize;
        let start = -0.5 * spacing * count as f64 + first;
        let marks: Vec<_> = (0..count).map(|k| start + spacing * k as f64).map(|x| [on(x, -9.0), on(x, 9.0)]).collect();
        let picture = drawn(&marks, 2.0, plain);
        let read = ticks(&picture, on(start - 0.4 * spacing, 0.0), on(start + spacing * (count as f64 - 0.6), 0.0)).expect("a ruler");
        prop_assert_eq!(read.count, count);
        prop_assert!((read.spacing / spacing - 1.0).abs() < 0.004, "{} for {}", read.spacing, spacing);
    }
}
