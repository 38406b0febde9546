//! Cloth in a frame that speeds up, and a skin of triangles that moves through it, against formulas.

use cloth::{BodyShape, DistanceGrid, Drape, Fabric, MovingMesh, Panel, Scene, Settings};
use std::sync::Arc;

const FABRIC: Fabric =
    Fabric { areal_density: 0.2, stretch: [900.0, 900.0], shear: 60.0, bending: [1e-5; 2], thickness: 4e-4, friction: 0.4, locking: 0.2 };

/// A sheet of so many cells a side, m, at places given by its flat coordinates.
fn sheet(side: f32, cells: usize, place: impl Fn([f32; 2]) -> [f32; 3]) -> Scene {
    let n = cells + 1;
    let flat: Vec<[f32; 2]> = (0..n * n).map(|k| [(k % n) as f32, (k / n) as f32].map(|v| v * side / cells as f32)).collect();
    let v = |x: usize, y: usize| (y * n + x) as u32;
    let cell = |k: usize| (k % cells, k / cells);
    let triangles: Vec<[u32; 3]> = (0..cells * cells)
        .flat_map(|k| {
            let (x, y) = cell(k);
            [[v(x, y), v(x + 1, y), v(x + 1, y + 1)], [v(x, y), v(x + 1, y + 1), v(x, y + 1)]]
        })
        .collect();
    Scene {
        positions: flat.iter().map(|p| place(*p)).collect(),
        panels: vec![Panel { name: "sheet".into(), fabric: FABRIC, grain: 0.0, first: 0, count: triangles.len() }],
        flat,
        triangles,
        pairs: Vec::new(),
        body: None,
        pins: Vec::new(),
        construction: Default::default(),
        settings: Settings { air: 0.0, ..Settings::default() },
    }
}

/// A box with outward sides.
fn block(low: [f32; 3], high: [f32; 3]) -> (Vec<[f32; 3]>, Vec<[u32; 3]>) {
    let at = |k: usize| [0, 1, 2].map(|c| if k >> c & 1 == 1 { high[c] } else { low[c] });
    let quads = [[0, 2, 3, 1], [4, 5, 7, 6], [0, 1, 5, 4], [2, 6, 7, 3], [0, 4, 6, 2], [1, 3, 7, 5]];
    let triangles = quads.iter().flat_map(|q| [[q[0], q[1], q[2]], [q[0], q[2], q[3]]]).collect();
    ((0..8).map(at).collect(), triangles)
}

fn still() -> BodyShape {
    let far = DistanceGrid::from_fn([-0.1; 3], [0.1; 3], 0.05, 0.05, |_| 1.0);
    BodyShape::still(Arc::new(far), Arc::from([1.0]))
}

#[test]
fn a_free_sheet_in_a_frame_that_speeds_up_falls_behind_by_half_a_t_squared() {
    let mut drape = Drape::new(sheet(0.2, 6, |[x, y]| [x, 1.0, y])).expect("a scene");
    drape.set_pace(1.0 / 240.0, 0.0);
    drape.set_frame([3.0, 0.0, 0.0]);
    let before = drape.positions()[0];
    for _ in 0..120 {
        drape.step();
    }
    let after = drape.positions()[0];
    // implicit steps of h fall short of the parabola by half a step each: a t (t + h) / 2
    let t = 0.5f32;
    let want = 0.5 * t * (t + 1.0 / 240.0);
    assert!((after[0] - before[0] + 3.0 * want).abs() < 0.02 * 3.0 * want, "{}", after[0] - before[0]);
    assert!((after[1] - before[1] + 9.81 * want).abs() < 0.02 * 9.81 * want, "{}", after[1] - before[1]);
}

#[test]
fn a_block_that_goes_up_under_a_sheet_lifts_it_and_one_that_comes_fast_does_not_pass() {
    for (speed, steps) in [(0.3f32, 60), (4.0, 24)] {
        let mut drape = Drape::new(sheet(0.24, 12, |[x, y]| [x - 0.12, 0.3, y - 0.12])).expect("a scene");
        let h = 1.0 / 480.0;
        drape.set_pace(h, 0.1);
        let (at, triangles) = block([-0.2, -0.3, -0.2], [0.2, 0.28, 0.2]);
        let mut mesh = MovingMesh::new(&at, &triangles, &[], &[], 0.05);
        for step in 1..=steps {
            let up: Vec<[f32; 3]> = at.iter().map(|p| [p[0], p[1] + speed * h * step as f32, p[2]]).collect();
            mesh = mesh.moved(&up, h);
            drape.set_body(BodyShape { mesh: Some(Arc::new(mesh.clone())), ..still() });
            drape.step();
        }
        let top = 0.28 + speed * h * steps as f32;
        let low = drape.positions().iter().map(|p| p[1]).fold(f32::MAX, f32::min);
        assert!(low > top, "at {speed} m/s the sheet is {} mm below the block's top", 1e3 * (top - low));
        let high = drape.positions().iter().map(|p| p[1]).fold(f32::MIN, f32::max);
        assert!(high < top + 0.1, "it is carried, not thrown away: {} mm above", 1e3 * (high - top));
    }
}

#[test]
fn a_sheet_on_a_block_slides_when_the_block_speeds_up_by_more_than_its_friction() {
    // mu g = 0.4 * 9.81 = 3.9 m/s²: below it goes along, above it slips at that acceleration
    for (push, slips) in [(2.0f32, false), (8.0, true)] {
        let mut drape = Drape::new(sheet(0.16, 8, |[x, y]| [x - 0.08, 0.004, y - 0.08])).expect("a scene");
        let h = 1.0 / 240.0;
        drape.set_pace(h, 0.0);
        let (at, triangles) = block([-2.0, -0.3, -2.0], [2.0, 0.0, 2.0]);
        let mut mesh = MovingMesh::new(&at, &triangles, &[], &[], 0.05);
        let mut place = 0.0f32;
        let settle = 120;
        for step in 0..settle + 96 {
            let t = (step as f32 - settle as f32).max(0.0) * h;
            place = 0.5 * push * t * t;
            let gone: Vec<[f32; 3]> = at.iter().map(|p| [p[0] + place, p[1], p[2]]).collect();
            mesh = mesh.moved(&gone, h);
            drape.set_body(BodyShape { mesh: Some(Arc::new(mesh.clone())), ..still() });
            drape.step();
        }
        let middle = drape.positions().iter().map(|p| p[0]).sum::<f32>() / drape.positions().len() as f32;
        let t = 95.0 * h;
        let want = if slips { 0.5 * 0.4 * 9.81 * t * t } else { place };
        println!("push {push}: {middle} m of {place}, wanted {want}");
        assert!((middle - want).abs() < 0.05 * want, "{push} m/s²: {middle} m instead of {want} m");
    }
}

/// A strip that hangs from its upper edge, swinging in its first mode: amplitude at the free end in every step.
fn swinging(length: f32, step: f32, seconds: f32) -> Vec<f32> {
    let cells = 24;
    let n = cells + 1;
    let width = length / cells as f32;
    let flat: Vec<[f32; 2]> = (0..2 * n).map(|k| [(k % 2) as f32 * width, (k / 2) as f32 * width]).collect();
    let v = |x: usize, y: usize| (2 * y + x) as u32;
    let triangles = (0..cells).flat_map(|y| [[v(0, y), v(1, y), v(1, y + 1)], [v(0, y), v(1, y + 1), v(0, y + 1)]]).collect::<Vec<_>>();
    // the shape of the first mode of a hanging chain: the Bessel function J0(2.4048 sqrt(s)) from the free end, by its series
    let mode = |share: f32| {
        let z = 0.25 * 2.404_825_6f32.powi(2) * share;
        (0..12).fold((0.0f32, 1.0f32), |(sum, term), k| (sum + term, -term * z / ((k + 1) * (k + 1)) as f32)).0
    };
    let soft = Fabric { bending: [1e-8; 2], stretch: [4000.0; 2], ..FABRIC };
    let scene = Scene {
        positions: flat.iter().map(|p| [p[0], p[1], 0.02 * length * mode(p[1] / length)]).collect(),
        panels: vec![Panel { name: "strip".into(), fabric: soft, grain: 0.0, first: 0, count: triangles.len() }],
        pins: vec![v(0, cells), v(1, cells)],
        flat,
        triangles,
        pairs: Vec::new(),
        body: None,
        construction: Default::default(),
        settings: Settings { air: 0.0, self_contact: false, ..Settings::default() },
    };
    let mut drape = Drape::new(scene).expect("a scene");
    drape.set_pace(step, 0.0);
    (0..(seconds / step) as usize)
        .map(|_| {
            drape.set_frame([0.0; 3]);
            drape.step();
            drape.positions()[0][2]
        })
        .collect()
}

#[test]
fn a_pendulum_of_cloth_keeps_its_time_and_its_swing() {
    let (length, step) = (0.6f32, 1.0 / 120.0);
    let at = swinging(length, step, 6.5);
    // times of the zeros, found between two steps
    let zeros: Vec<f32> =
        (1..at.len()).filter(|&k| at[k - 1] * at[k] < 0.0).map(|k| (k as f32 - at[k] / (at[k] - at[k - 1])) * step).collect();
    assert!(zeros.len() >= 8, "{zeros:?}");
    let period = 2.0 * (zeros[zeros.len() - 1] - zeros[0]) / (zeros.len() - 1) as f32;
    // a hanging chain: omega = 2.4048 / 2 sqrt(g / L)
    let want = std::f32::consts::TAU / (1.202_412_8 * (9.81f32 / length).sqrt());
    println!("period {period} s, wanted {want} s");
    assert!((period / want - 1.0).abs() < 0.01, "{period} s instead of {want} s");
    let peaks: Vec<f32> = zeros
        .windows(2)
        .map(|w| at[(w[0] / step) as usize + 1..(w[1] / step) as usize].iter().fold(0.0f32, |m, v| m.max(v.abs())))
        .collect();
    println!("peaks {peaks:?}");
    let loss = 1.0 - (peaks[peaks.len() - 1] / peaks[0]).powf(1.0 / (peaks.len() - 1) as f32);
    assert!(loss < 0.03, "{} % a swing", 100.0 * loss);
    assert!(peaks.iter().all(|p| *p < 0.0205 * length), "it gains nothing: {peaks:?}");
}
