//! What the tests of garments share; each uses a part of it.
#![allow(dead_code)]

use cloth::{Drape, Phase};
use costume::{BodyChoice, Costume, Fineness};
use glam::{DVec3, I64Vec3};
use std::collections::{BTreeSet, HashMap};
use std::sync::Arc;
use workroom::{Assembly, ContactBody, DeliverOptions, FileKind, Layout, Prints, deliver};

/// The demo tabard at a mesh of `mm`.
pub fn tabard(mm: f64) -> Costume {
    let mut costume = costume::read(include_str!("../../../../demo/rakers-tabard.ourlet.json")).expect("the demo file");
    costume.fineness = Fineness::Custom(mm);
    costume
}

/// The body of a size, as the tabard hangs on it.
pub fn form(preset: &str) -> ContactBody {
    let figure = workroom::figure(&BodyChoice::size(preset)).expect("a preset");
    ContactBody::of(&Costume { body: BodyChoice::size(preset), ..tabard(36.0) }, figure.into(), &BTreeSet::new()).expect("a form")
}

/// A costume file hung on the body of a size, at its own mesh or one of `mm`.
pub fn hung(text: &str, preset: &str, mm: Option<f64>) -> Assembly {
    let mut costume = costume::read(text).expect("a costume");
    costume.fineness = mm.map_or(costume.fineness, Fineness::Custom);
    costume.body.preset = preset.into();
    let figure = workroom::figure(&costume.body).expect("a preset");
    let figure = Arc::new(figure);
    workroom::hang(&costume, |reached| ContactBody::of(&costume, figure.clone(), reached)).expect("it hangs")
}

/// Edges of one mesh that go through triangles of another, counted from delivered OBJ text by nothing of ours: a reader of
/// the shelf, and a segment against a triangle after Moeller and Trumbore (1997).
pub fn edges_through(cloth: &str, body: &str) -> usize {
    type Mesh = (Vec<DVec3>, Vec<[usize; 3]>);
    let read = |text: &str| -> Mesh {
        let options = tobj::LoadOptions { triangulate: true, ..Default::default() };
        let (models, _) = tobj::load_obj_buf(&mut text.as_bytes(), &options, |_| Ok(Default::default())).expect("an OBJ");
        let (mut points, mut faces) = (Vec::new(), Vec::new());
        for m in models {
            let first = points.len();
            points.extend(m.mesh.positions.chunks_exact(3).map(|p| DVec3::new(p[0].into(), p[1].into(), p[2].into())));
            faces.extend(m.mesh.indices.chunks_exact(3).map(|t| [0, 1, 2].map(|k| first + t[k] as usize)));
        }
        (points, faces)
    };
    let through = |p: DVec3, q: DVec3, [a, b, c]: [DVec3; 3]| {
        let (way, u, v) = (q - p, b - a, c - a);
        let across = way.cross(v);
        let det = u.dot(across);
        if det.abs() < 1e-18 {
            return false;
        }
        let from = p - a;
        let (s, turned) = (from.dot(across) / det, from.cross(u));
        let (t, at) = (way.dot(turned) / det, v.dot(turned) / det);
        s >= 0.0 && t >= 0.0 && s + t <= 1.0 && (0.0..=1.0).contains(&at)
    };
    let ((cloth, faces), (body, skin)) = (read(cloth), read(body));
    // triangles of the skin by cells that their boxes touch
    const CELL: f64 = 0.03;
    let cell = |p: DVec3| (p / CELL).floor().as_i64vec3();
    let mut cells: HashMap<I64Vec3, Vec<usize>> = HashMap::new();
    let cover = |low: DVec3, high: DVec3| {
        let (l, h) = (cell(low), cell(high));
        (l.x..=h.x).flat_map(move |x| (l.y..=h.y).flat_map(move |y| (l.z..=h.z).map(move |z| I64Vec3::new(x, y, z))))
    };
    for (k, t) in skin.iter().enumerate() {
        let [a, b, c] = t.map(|v| body[v]);
        cover(a.min(b).min(c), a.max(b).max(c)).for_each(|at| cells.entry(at).or_default().push(k));
    }
    let edges: BTreeSet<[usize; 2]> =
        faces.iter().flat_map(|t| [[t[0], t[1]], [t[1], t[2]], [t[2], t[0]]]).map(|[a, b]| [a.min(b), a.max(b)]).collect();
    let crosses = |[a, b]: &&[usize; 2]| {
        let (p, q) = (cloth[*a], cloth[*b]);
        cover(p.min(q), p.max(q)).filter_map(|at| cells.get(&at)).flatten().any(|k| through(p, q, skin[*k].map(|v| body[v])))
    };
    edges.iter().filter(crosses).count()
}

/// The garment and its whole body, delivered apart.
pub fn delivered(assembly: &Assembly, drape: &Drape) -> (String, String) {
    let options =
        DeliverOptions { kind: FileKind::Obj, welded: true, layout: Layout::Metres, with_body: false, ..DeliverOptions::default() };
    let made = deliver(assembly, &drape.positions(), drape.fused_with(), &options, &Prints::default(), "garment").expect("a garment");
    let cloth = String::from_utf8(made.files[0].1.clone()).expect("text");
    (cloth, formats::obj(&[workroom::body_mesh(&assembly.form)], None))
}

/// Steps until the cloth rests.
pub fn to_rest(drape: &mut Drape) {
    for _ in 0..4000 {
        if drape.step().phase == Phase::AtRest {
            return;
        }
    }
    panic!("still moving after {:.1} s", drape.time());
}

/// A garment draped from its stations until it rests; parts of the body that it comes near are taken in.
pub fn rested(assembly: &mut Assembly) -> Drape {
    let mut drape = Drape::new(assembly.scene.clone()).expect("a scene");
    workroom::drape_to_rest(assembly, &mut drape, 33.0, |_| {}).expect("a body");
    assert_eq!(drape.phase(), Phase::AtRest, "still moving after {:.1} s", drape.time());
    drape
}
