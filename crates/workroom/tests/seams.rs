//! Seams of every kind, from the document to rest: each is cut, hung on a body and draped, and judged by what is promised
//! of it.

mod common;

use cloth::Drape;
use costume::{Anchor, Closure, ClosureKind, Costume, Ease, Edit, Lacing, Placement, Pleat, Point, Purpose, Run, SeamMake, Spot};
use workroom::{Assembly, ContactBody, check};

fn done(costume: &Costume, edit: Edit) -> Costume {
    workroom::apply(costume, &edit).unwrap_or_else(|refusal| panic!("{edit:?}: {refusal}"))
}

/// A costume in the making on Woman 38, piece by piece; edges of a rectangle are numbered from its lower one, all around.
struct Rig(Costume);

const LOWER: usize = 0;
const RIGHT: usize = 1;
const UPPER: usize = 2;
const LEFT: usize = 3;

impl Rig {
    fn new(mm: f64) -> Self {
        Self(done(
            &common::tabard(mm),
            Edit::Batch { edits: common::tabard(mm).pieces.iter().rev().map(|p| Edit::RemovePiece { piece: p.id }).collect() },
        ))
    }

    /// A piece around points at a station; its place in the costume.
    fn piece(&mut self, name: &str, points: &[[f64; 2]], at: Placement) -> usize {
        let across = 900.0 * self.0.pieces.len() as f64;
        let points = points.iter().map(|p| Point::new(p[0], p[1]).into()).collect();
        self.0 = done(&self.0, Edit::AddPiece { name: name.into(), at: Point::new(across, 0.0), points, fold: None });
        let k = self.0.pieces.len() - 1;
        self.0 = done(&self.0, Edit::Place { piece: self.0.pieces[k].id, placement: Some(at) });
        k
    }

    fn band(&mut self, name: &str, width: f64, height: f64, station: &str, (x, y): (f64, f64)) -> usize {
        let at = Placement { shift: Point::new(x, y), ..Placement::at(station) };
        self.piece(name, &[[0.0, 0.0], [width, 0.0], [width, height], [0.0, height]], at)
    }

    /// A panel that is wider at its lower edge, its middle under its upper one.
    fn flared(&mut self, name: &str, (upper, lower): (f64, f64), height: f64, station: &str, (x, y): (f64, f64)) -> usize {
        let out = 0.5 * (lower - upper);
        let at = Placement { shift: Point::new(x, y), ..Placement::at(station) };
        self.piece(name, &[[0.0, 0.0], [lower, 0.0], [lower - out, height], [out, height]], at)
    }

    fn line(&self, (piece, edge): (usize, usize)) -> Run {
        let p = &self.0.pieces[piece];
        Run::whole(p.id, p.drawing().expect("drawn").outline[edge])
    }

    /// Sews whole edges; the seam's place.
    fn sew(&mut self, a: &[(usize, usize)], b: &[(usize, usize)]) -> usize {
        let side = |s: &[(usize, usize)]| s.iter().map(|e| self.line(*e)).collect();
        self.0 = done(&self.0, Edit::SewTogether { a: side(a), b: side(b) });
        self.0.seams.len() - 1
    }

    fn make(&mut self, seam: usize, make: SeamMake) {
        self.0 = done(&self.0, Edit::MakeSeam { seam: self.0.seams[seam].id, make });
    }

    /// A stay along an edge, so that what hangs from it does not sink.
    fn stay(&mut self, (piece, edge): (usize, usize)) {
        let run = self.line((piece, edge));
        self.0 =
            done(&self.0, Edit::FinishLine { piece: run.piece, line: run.line, from: 0.0, to: 1.0, finish: Some(costume::Finish::Stay) });
    }

    fn hung(&self) -> Assembly {
        let figure = std::sync::Arc::new(workroom::figure(&self.0.body).expect("a preset"));
        workroom::hang(&self.0, |reached| ContactBody::of(&self.0, figure.clone(), reached)).unwrap_or_else(|e| panic!("{e}"))
    }

    /// Draped to rest, with what is promised of every drape: sewn to a millimetre, and nothing through anything.
    fn rested(&self, what: &str) -> (Assembly, Drape) {
        let mut assembly = self.hung();
        let drape = common::rested(&mut assembly);
        sound(what, &assembly, &drape);
        (assembly, drape)
    }
}

fn sound(what: &str, assembly: &Assembly, drape: &Drape) {
    let gaps = drape.seam_gaps(assembly.seam_tags.len());
    // a lapped edge lies within the overlap; here it is asked to lie within a few millimetres of where it is sewn down
    let most = |k: usize| if assembly.pattern.seams[k].make.lap.is_some() { 4e-3 } else { 1e-3 };
    assert!(gaps.iter().enumerate().all(|(k, g)| *g < most(k)), "{what}: gaps {gaps:?}");
    let found = check(assembly, drape);
    assert!(found.crossings.is_empty(), "{what}: {:?}", found.crossings);
    assert!(found.strain_max < 0.3, "{what}: stretched by {:.0} %", 100.0 * found.strain_max);
}

/// A skirt of four panels, and the edges at its waist from the front's right to the back's right; side seams are sewn.
fn four_panels(rig: &mut Rig, width: f64, height: f64) -> Vec<(usize, usize)> {
    let y = -0.5 * height - 20.0;
    let panels = [
        ("Left front", "waist-front", 0.5),
        ("Left back", "waist-back", -0.5),
        ("Right back", "waist-back", 0.5),
        ("Right front", "waist-front", -0.5),
    ]
    .map(|(name, station, side)| rig.flared(name, (width, width.max(290.0)), height, station, (side * (width.max(290.0) + 20.0), y)));
    let [lf, lb, rb, rf] = panels;
    // seen from outside, left and right of the front are the body's other way round
    rig.sew(&[(lf, RIGHT)], &[(lb, LEFT)]);
    rig.sew(&[(lb, RIGHT)], &[(rb, LEFT)]);
    rig.sew(&[(rb, RIGHT)], &[(rf, LEFT)]);
    rig.sew(&[(rf, RIGHT)], &[(lf, LEFT)]);
    vec![(lf, UPPER), (lb, UPPER), (rb, UPPER), (rf, UPPER)]
}

/// A waistband in two parts around the body, held at the waist; its lower edges from front to back.
fn waistband(rig: &mut Rig, girth: f64) -> Vec<(usize, usize)> {
    let front = rig.band("Band front", 0.5 * girth, 40.0, "waist-front", (0.0, 5.0));
    let back = rig.band("Band back", 0.5 * girth, 40.0, "waist-back", (0.0, 5.0));
    rig.sew(&[(front, RIGHT)], &[(back, LEFT)]);
    rig.sew(&[(back, RIGHT)], &[(front, LEFT)]);
    rig.stay((front, UPPER));
    rig.stay((back, UPPER));
    vec![(front, LOWER), (back, LOWER)]
}

#[test]
fn a_waistband_goes_over_four_panels_by_one_seam() {
    let mut rig = Rig::new(30.0);
    let panels = four_panels(&mut rig, 190.0, 400.0);
    let band = waistband(&mut rig, 760.0);
    rig.sew(&band, &[panels[3], panels[0], panels[1], panels[2]]);
    rig.rested("waistband");
}

#[test]
fn a_gather_that_is_meant_drapes_into_its_bib_and_is_not_told_as_uneven() {
    let mut pinafore = costume::read(include_str!("../../../demo/ferry-pinafore.ourlet.json")).expect("a demo");
    pinafore.fineness = costume::Fineness::Custom(25.0);
    let pattern = costume::resolve(&pinafore);
    let gathered: Vec<_> =
        pattern.seams.iter().map(|s| (s.id, costume::judge(&pinafore, &pattern, s))).filter(|(_, j)| j.ratio > 1.3).collect();
    assert!(gathered.len() >= 2, "skirt front and back");
    let mut rig = Rig(pinafore);
    for (seam, judged) in gathered {
        let make = SeamMake { gather: Some(judged.ratio), ..SeamMake::default() };
        rig.0 = done(&rig.0, Edit::MakeSeam { seam, make });
    }
    let pattern = costume::resolve(&rig.0);
    let told = costume::diagnostics(&rig.0, &pattern);
    assert!(!told.iter().any(|d| matches!(d.kind, costume::DiagnosticKind::Uneven { .. })), "{told:?}");
    rig.rested("gathers");
}

#[test]
fn straight_panels_are_gathered_into_a_waistband() {
    let mut rig = Rig::new(25.0);
    let [front, back] = ["waist-front", "waist-back"].map(|station| rig.band("Panel", 912.0, 400.0, station, (0.0, -220.0)));
    rig.sew(&[(front, RIGHT)], &[(back, LEFT)]);
    rig.sew(&[(back, RIGHT)], &[(front, LEFT)]);
    let band = waistband(&mut rig, 760.0);
    for (edge, panel) in band.into_iter().zip([front, back]) {
        let seam = rig.sew(&[edge], &[(panel, UPPER)]);
        rig.make(seam, SeamMake { gather: Some(2.4), ..SeamMake::default() });
    }
    rig.rested("gathered 2.4 : 1");
}

#[test]
fn a_folded_band_takes_the_skirt_between_its_edges() {
    let mut rig = Rig::new(20.0);
    let stations = ["waist-front", "waist-back"];
    let panels = stations.map(|station| rig.flared("Panel", (380.0, 680.0), 400.0, station, (0.0, -220.0)));
    rig.sew(&[(panels[0], RIGHT)], &[(panels[1], LEFT)]);
    rig.sew(&[(panels[1], RIGHT)], &[(panels[0], LEFT)]);
    let bands = stations.map(|station| rig.band("Band", 380.0, 80.0, station, (0.0, 25.0)));
    // pressed at half its height: edges are lower, right below and above the fold, upper, left above and below
    for band in bands {
        let piece = rig.0.pieces[band].id;
        let points = [RIGHT, LEFT].map(|edge| Anchor::On { line: rig.line((band, edge)).line, at: 0.5 }).to_vec();
        rig.0 = done(&rig.0, Edit::AddInside { piece, points, purpose: Purpose::Fold { angle: -165.0 } });
    }
    for (one, other) in [(0, 1), (1, 0)] {
        rig.sew(&[(bands[one], 1)], &[(bands[other], 5)]);
        rig.sew(&[(bands[one], 2)], &[(bands[other], 4)]);
        rig.sew(&[(panels[one], UPPER)], &[(bands[one], LOWER)]);
        let second = rig.sew(&[(panels[one], UPPER)], &[(bands[one], 3)]);
        let made = &rig.0.seams[second];
        assert_eq!(made.a[0].from < made.a[0].to, made.b[0].from < made.b[0].to, "the second edge goes the way of the first");
        rig.stay((bands[one], LOWER));
    }
    let (assembly, drape) = rig.rested("folded band");
    // it stays folded: its upper edge lies as low as its lower one, and behind it
    let at = drape.positions();
    for band in assembly.pieces.iter().filter(|p| p.name == "Band") {
        let outline = &assembly.pattern.piece(band.piece).expect("a piece").outline;
        let level = |edge: usize| {
            let own = band.line_vertices(outline[edge]);
            own.iter().map(|v| f64::from(at[*v as usize][1])).sum::<f64>() / own.len() as f64
        };
        let fold = band.vertices().map(|v| f64::from(at[v][1])).fold(f64::MIN, f64::max);
        assert!((level(LOWER) - level(3)).abs() < 0.002, "sewn along one line");
        assert!((fold - level(LOWER) - 0.04).abs() < 0.012, "{} mm high", 1e3 * (fold - level(LOWER)));
    }
}

#[test]
fn knife_pleats_lie_under_a_waistband() {
    let mut rig = Rig::new(25.0);
    let [front, back] = ["waist-front", "waist-back"].map(|station| rig.flared("Panel", (380.0, 560.0), 350.0, station, (0.0, -195.0)));
    rig.sew(&[(front, RIGHT)], &[(back, LEFT)]);
    rig.sew(&[(back, RIGHT)], &[(front, LEFT)]);
    let (upper, lower) = (rig.line((front, UPPER)).line, rig.line((front, LOWER)).line);
    let spot = |line, at| Spot::On { line, at };
    let (from, to, piece) = (spot(upper, 0.3), spot(lower, 356.0 / 560.0), rig.0.pieces[front].id);
    rig.0 = done(&rig.0, Edit::AddPleats { piece, from, to, count: 3, depth: 20.0, spacing: 60.0, pleat: Pleat::Knife });
    // pleats hang free below: what was sewn at the hem is unpicked
    let pattern = costume::resolve(&rig.0);
    let level = |r: &costume::PatternRun| kurbo::ParamCurve::start(&pattern.pieces[r.piece].lines[r.line].curve).y;
    let hem: Vec<Edit> = pattern.seams[2..].iter().filter(|s| level(&s.a[0]) < 1.0).map(|s| Edit::Unpick { seam: s.id }).collect();
    assert_eq!(hem.len(), 3);
    rig.0 = done(&rig.0, Edit::Batch { edits: hem });
    let pattern = costume::resolve(&rig.0);
    let shown = &pattern.pieces[front];
    let pleated = |l: usize| pattern.seams[2..].iter().any(|s| s.a.iter().chain(&s.b).any(|r| r.piece == front && r.line == l));
    let top = |l: usize| {
        let curve = &shown.lines[l].curve;
        kurbo::ParamCurve::start(curve).y > 349.0 && kurbo::ParamCurve::end(curve).y > 349.0
    };
    let open: Vec<Run> = shown.outline.iter().filter(|&&l| top(l) && !pleated(l)).map(|&l| Run::whole(piece, shown.lines[l].id)).collect();
    assert_eq!(open.len(), 4, "the front between its pleats");
    let band = waistband(&mut rig, 760.0);
    let b = open.into_iter().rev().chain([rig.line((back, UPPER))]).collect();
    let a = band.iter().map(|e| rig.line(*e)).collect();
    rig.0 = done(&rig.0, Edit::SewTogether { a, b });
    rig.rested("knife pleats");
}

#[test]
fn a_sleeve_is_eased_into_its_armhole_from_notch_to_notch() {
    let mut rig = Rig::new(30.0);
    let tee = Edit::AddBlock { recipe: "tee".into(), values: Default::default(), measures: Default::default(), at: Point::new(0.0, 0.0) };
    rig.0 = done(&rig.0, tee);
    let sleeve = rig.0.pieces.iter().position(|p| p.name == "Sleeve").expect("a sleeve");
    let piece = rig.0.pieces[sleeve].id;
    // both halves of the cap bow out until they are 15 mm longer
    for edge in [2, 3] {
        let line = rig.line((sleeve, edge)).line;
        rig.0 = done(&rig.0, Edit::AddEase { piece, line, amount: 15.0 });
    }
    let caps: Vec<_> =
        rig.0.seams.iter().filter(|s| s.runs().any(|r| r.piece == piece) && s.runs().any(|r| r.piece != piece)).map(|s| s.id).collect();
    assert_eq!(caps.len(), 2);
    for seam in caps {
        for at in [60.0, 140.0] {
            rig.0 = done(&rig.0, Edit::AddSeamNotch { seam, at, double: false });
        }
        rig.0 = done(&rig.0, Edit::EaseSeam { seam, ease: Ease::BetweenNotches });
        let pattern = costume::resolve(&rig.0);
        let of = pattern.seams.iter().find(|s| s.id == seam).expect("the seam");
        let lengths = pattern.seam_lengths(of);
        assert!((lengths.difference().abs() - 15.0).abs() < 3.0, "{lengths:?}");
        // notches lie at the same length on both sides: all of the ease is above the last of them
        assert!(of.notches.iter().all(|[a, b]| (a * lengths.a - b * lengths.b).abs() < 0.1), "{:?}", of.notches);
    }
    rig.rested("eased sleeve");
}

#[test]
fn a_two_piece_sleeve_goes_into_the_armhole_of_a_bodice() {
    let mut rig = Rig::new(25.0);
    for recipe in ["bodice", "two-piece-sleeve"] {
        let at = Point::new(900.0 * rig.0.pieces.len() as f64, 0.0);
        rig.0 = done(&rig.0, Edit::AddBlock { recipe: recipe.into(), values: Default::default(), measures: Default::default(), at });
    }
    let named = |name: &str| rig.0.pieces.iter().position(|p| p.name == name).expect("a piece");
    let (front, back, upper, under) = (named("Front"), named("Back"), named("Upper sleeve"), named("Under sleeve"));
    // around the armhole from the side seam over the front, and around the cap: under, upper, under sleeve
    let a = [(front, 8), (back, 2)].map(|e| rig.line(e)).to_vec();
    let b = [(under, 1), (upper, 4), (upper, 3), (under, 2)].map(|e| rig.line(e).turned()).to_vec();
    rig.0 = done(&rig.0, Edit::Sew { a, b });
    rig.rested("two-piece sleeve");
}

#[test]
fn a_pocket_is_sewn_on_three_sides_with_its_foot_doubled() {
    let mut rig = Rig::new(20.0);
    let panel = rig.band("Panel", 360.0, 420.0, "chest-front", (0.0, -150.0));
    rig.stay((panel, UPPER));
    let id = rig.0.pieces[panel].id;
    let corners = [[100.0, 300.0], [100.0, 140.0], [240.0, 140.0], [240.0, 300.0]];
    let points = corners.iter().map(|p| Anchor::At(Point::new(p[0], p[1]))).collect();
    rig.0 = done(&rig.0, Edit::AddInside { piece: id, points, purpose: Purpose::StyleLine });
    let place: Vec<Run> = rig.0.pieces[panel].drawing().expect("drawn").inside[0].lines.iter().map(|l| Run::whole(id, *l)).collect();
    let pocket = rig.band("Pocket", 140.0, 160.0, "chest-front", (-10.0, -140.0));
    let foot = rig.band("Foot", 140.0, 60.0, "chest-front", (-10.0, -190.0));
    for (piece, wear) in [(foot, 2), (pocket, 3)] {
        rig.0 = done(&rig.0, Edit::SetWear { piece: rig.0.pieces[piece].id, wear });
    }
    let sides = |rig: &Rig, piece: usize| vec![rig.line((piece, LEFT)), rig.line((piece, LOWER)), rig.line((piece, RIGHT))];
    rig.0 = done(&rig.0, Edit::SewTogether { a: place.clone(), b: sides(&rig, pocket) });
    // the foot is as high as the lowest 6 cm of the placement line
    let low = [Run { from: 1.0 - 60.0 / 160.0, ..place[0] }, place[1], Run { to: 60.0 / 160.0, ..place[2] }];
    rig.0 = done(&rig.0, Edit::SewTogether { a: low.to_vec(), b: sides(&rig, foot) });
    let (assembly, drape) = rig.rested("pocket");
    // both lie on the panel, the foot under the pocket
    let at = drape.positions();
    let middle = |name: &str| {
        let range = assembly.pieces.iter().find(|p| p.name == name).expect("the piece").vertices();
        at[range.clone()].iter().map(|p| p[2]).sum::<f32>() / range.len() as f32
    };
    assert!(middle("Pocket") > middle("Panel") - 0.02);
}

#[test]
fn facing_and_lining_are_sewn_with_the_shell_along_one_neck_line() {
    let mut rig = Rig::new(25.0);
    let neck = [[270.0, 500.0], [270.0, 430.0], [130.0, 430.0], [130.0, 500.0]];
    let shell = [&[[0.0, 0.0], [400.0, 0.0], [400.0, 500.0]][..], &neck, &[[0.0, 500.0]]].concat();
    let facing = [&[[60.0, 350.0], [340.0, 350.0], [340.0, 500.0]][..], &neck, &[[60.0, 500.0]]].concat();
    let lining = [&[[0.0, 120.0], [400.0, 120.0], [400.0, 500.0]][..], &neck, &[[0.0, 500.0]]].concat();
    let at = |station: &str, y: f64| Placement { shift: Point::new(0.0, y), ..Placement::at(station) };
    let (front, back) = (rig.piece("Front", &shell, at("chest-front", -70.0)), rig.piece("Back", &shell, at("chest-back", -70.0)));
    let lining = rig.piece("Lining", &lining, at("chest-front", -10.0));
    let facing = rig.piece("Facing", &facing, at("chest-front", 105.0));
    for (piece, wear) in [(lining, 1), (facing, 2), (front, 3), (back, 3)] {
        rig.0 = done(&rig.0, Edit::SetWear { piece: rig.0.pieces[piece].id, wear });
    }
    rig.sew(&[(front, 2)], &[(back, 6)]);
    rig.sew(&[(front, 6)], &[(back, 2)]);
    let line = |piece| [(piece, 3), (piece, 4), (piece, 5)];
    rig.sew(&line(front), &line(lining));
    rig.sew(&line(front), &line(facing));
    let pattern = costume::resolve(&rig.0);
    for seam in &pattern.seams[2..] {
        assert_eq!(seam.a[0].from < seam.a[0].to, seam.b[0].from < seam.b[0].to, "layers are met the way they lie");
    }
    rig.rested("three layers at the neck");
}

#[test]
fn a_hem_that_is_sewn_through_the_hips_is_told_before_the_drape() {
    let mut rig = Rig::new(25.0);
    let front = rig.band("Front", 360.0, 400.0, "hips-front", (0.0, 0.0));
    let back = rig.band("Back", 360.0, 400.0, "hips-back", (0.0, 0.0));
    rig.sew(&[(front, LEFT)], &[(back, RIGHT)]);
    assert_eq!(workroom::before_draping(&rig.hung()), [], "a side seam goes around");
    rig.sew(&[(front, UPPER)], &[(back, UPPER)]);
    let told = workroom::before_draping(&rig.hung());
    assert_eq!(told.len(), 1, "{told:?}");
    assert!(told[0].kind == workroom::FindingKind::ThreadsThroughBody && told[0].words == "1 seam pulls through the body: B", "{told:?}");
}

#[test]
fn a_tube_closes_and_a_lapped_seam_lies_over() {
    let mut rig = Rig::new(20.0);
    let [front, back] = ["waist-front", "waist-back"].map(|station| rig.flared("Panel", (460.0, 580.0), 260.0, station, (0.0, -60.0)));
    let sides = [rig.sew(&[(front, RIGHT)], &[(back, LEFT)]), rig.sew(&[(back, RIGHT)], &[(front, LEFT)])];
    rig.make(sides[0], SeamMake { lap: Some(15.0), felled: true, ..SeamMake::default() });
    rig.stay((front, UPPER));
    rig.stay((back, UPPER));
    let ring = rig.band("Ring", 440.0, 50.0, "neck-back", (0.0, 10.0));
    rig.sew(&[(ring, RIGHT)], &[(ring, LEFT)]);
    let (assembly, drape) = rig.rested("lapped seam");
    // the edges are past each other by the lap: each vertex of the front's edge lies 15 mm within the back
    let at = drape.positions();
    let edge = |piece: usize, line: usize| {
        let range = assembly.pieces.iter().find(|p| p.piece == rig.0.pieces[piece].id).expect("the piece");
        range.line_vertices(line)
    };
    let (over, under) = (edge(front, RIGHT), edge(back, LEFT));
    let apart = |v: u32| {
        let p = at[v as usize];
        under.iter().map(|u| (0..3).map(|c| (at[*u as usize][c] - p[c]).powi(2)).sum::<f32>().sqrt()).fold(f32::MAX, f32::min)
    };
    for v in &over[1..over.len() - 1] {
        assert!((apart(*v) - 0.015).abs() < 0.004, "{} mm", 1000.0 * apart(*v));
    }
}

#[test]
fn a_zip_opens_and_closes_while_the_drape_goes_on_and_laces_are_drawn_to_a_width() {
    let mut rig = Rig::new(20.0);
    let [front, back] = ["waist-front", "waist-back"].map(|station| rig.flared("Panel", (400.0, 560.0), 260.0, station, (0.0, -60.0)));
    let (zip, laced) = (rig.sew(&[(front, RIGHT)], &[(back, LEFT)]), rig.sew(&[(back, RIGHT)], &[(front, LEFT)]));
    rig.stay((front, UPPER));
    rig.stay((back, UPPER));
    let id = rig.0.seams[zip].id;
    let (mut assembly, mut drape) = rig.rested("closed");
    let mut change = |edit: Edit, drape: &mut Drape, assembly: &mut Assembly| {
        rig.0 = done(&rig.0, edit);
        let (next, open, laces) = workroom::reopened(assembly, &rig.0).expect("only its openings differ");
        *assembly = next;
        assert!(drape.set_openings(open, laces));
        common::to_rest(drape);
    };
    // the pairs of a seam with their shares and gaps, from its beginning
    let gaps = |seam: usize, drape: &Drape, assembly: &Assembly| {
        let at = drape.positions();
        let own: Vec<_> = assembly.scene.pairs.iter().filter(|p| p.seam == seam as u32).collect();
        let gap = |p: &cloth::SeamPair| (0..3).map(|c| (at[p.a as usize][c] - at[p.b as usize][c]).powi(2)).sum::<f32>().sqrt();
        let last = own.len() - 1;
        own.iter().enumerate().map(|(k, p)| (k as f32 / last as f32, gap(p))).collect::<Vec<_>>()
    };
    let by = ClosureKind::Zip;
    change(Edit::CloseSeam { seam: id, closure: Some(Closure { open: 0.5, by }) }, &mut drape, &mut assembly);
    let half = gaps(zip, &drape, &assembly);
    assert!(half.iter().filter(|(s, _)| *s < 0.45).all(|(_, g)| *g < 1e-4), "closed below: {half:?}");
    assert!(half.iter().map(|(_, g)| *g).fold(0.0, f32::max) > 0.004, "open above: {half:?}");
    change(Edit::CloseSeam { seam: id, closure: Some(Closure { open: 0.0, by }) }, &mut drape, &mut assembly);
    assert!(gaps(zip, &drape, &assembly).iter().all(|(_, g)| *g < 1e-4), "closed again");
    sound("closed again", &assembly, &drape);
    // buttons hold at three places, at the ends and half way
    change(
        Edit::CloseSeam { seam: id, closure: Some(Closure { open: 0.0, by: ClosureKind::Buttons { count: 3 } }) },
        &mut drape,
        &mut assembly,
    );
    let held = gaps(zip, &drape, &assembly).iter().filter(|(_, g)| *g < 1e-4).count();
    assert_eq!(held, 3);
    change(Edit::CloseSeam { seam: id, closure: None }, &mut drape, &mut assembly);
    // the other side is laced at 4 cm, then at 2
    let other = rig_seam(&assembly, laced);
    for width in [40.0, 20.0] {
        let make = SeamMake { lacing: Some(Lacing { width, steps: 4 }), ..SeamMake::default() };
        change(Edit::MakeSeam { seam: other, make }, &mut drape, &mut assembly);
        let laced: Vec<f32> = gaps(laced, &drape, &assembly).iter().map(|(_, g)| 1000.0 * g).collect();
        assert!(laced.iter().all(|g| (g - width as f32).abs() < 6.0), "{width} mm: {laced:?}");
    }
}

fn rig_seam(assembly: &Assembly, k: usize) -> costume::SeamId {
    assembly.costume.seams[k].id
}
