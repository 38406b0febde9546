//! The plain pattern as the browser draws it: control points, lengths and seams; no rule is left to the browser.

use costume::{
    Costume, Finish, LineId, Mark, MarkId, NodeId, PaintUse, PathId, Pattern, PatternPiece, PieceId, Placement, Point, Purpose, SeamId,
    SeamKind, judge, point_at,
};
use kurbo::{ParamCurve, PathSeg};
use serde::Serialize;
use ts_rs::TS;

/// All pieces in the order of the document, and all seams with their images.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct PatternView {
    pub pieces: Vec<PieceView>,
    pub seams: Vec<SeamView>,
}

/// One whole piece in its own frame, mm.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct PieceView {
    pub piece: PieceId,
    pub at: Point,
    /// Degrees counter-clockwise.
    pub angle: f64,
    pub placement: Option<Placement>,
    pub twin_of: Option<PieceId>,
    /// Of the box around the outline with its curves.
    pub width: f64,
    pub height: f64,
    /// Counter-clockwise.
    pub outline: Vec<LineView>,
    /// Clockwise.
    pub cutouts: Vec<Vec<LineView>>,
    pub inside: Vec<PathView>,
    pub notches: Vec<NotchView>,
    /// Drill holes and texts.
    pub marks: Vec<MarkView>,
    /// What is painted on it.
    pub paint: Vec<PaintView>,
    /// Along which it is cut, the outline first; none without cloth beyond its lines.
    pub cutting: Vec<Vec<Point>>,
}

/// A map on a piece: a grey picture and where it lies, mm.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct PaintView {
    pub purpose: PaintUse,
    /// Its lower left corner; from there to the lower right and to the upper left one.
    pub at: Point,
    pub across: Point,
    pub tall: Point,
    /// PNG in base64, white where it is painted in full.
    pub image: String,
}

/// A drill hole, or a text.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct MarkView {
    pub mark: MarkId,
    pub at: Point,
    pub text: Option<String>,
}

/// A line between two points, cubic if it has handles.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct LineView {
    pub line: LineId,
    /// On the half that a fold adds: it follows the line of the document.
    pub image: bool,
    /// Shown against the direction of the document's line.
    pub turned: bool,
    /// The nodes it begins and ends at.
    pub node: NodeId,
    pub end: NodeId,
    /// The node it begins at is one of the document, not an image.
    pub own_node: bool,
    pub from: Point,
    pub to: Point,
    pub handles: Option<[Point; 2]>,
    /// Arc length.
    pub length: f64,
    /// The tape along it.
    pub finish: Option<Finish>,
    /// How it is held to the body.
    pub held: Option<Finish>,
    /// Cloth beyond the whole line: an allowance, and a hem.
    pub allowance: Option<f64>,
    pub hem: Option<f64>,
}

#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct PathView {
    pub path: PathId,
    pub purpose: Purpose,
    pub lines: Vec<LineView>,
}

/// A notch on an edge: where, and the direction into the cloth.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct NotchView {
    pub mark: MarkId,
    pub at: Point,
    pub inwards: Point,
    pub double: bool,
}

/// Both sides of a seam.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct SeamView {
    pub seam: SeamId,
    /// The mirror image of a seam of the document.
    pub image: bool,
    pub tag: String,
    /// mm.
    pub a: f64,
    pub b: f64,
    /// The longer side over the shorter one, and what is done with the difference.
    pub ratio: f64,
    pub kind: SeamKind,
    /// Flat, within what the cloth can take up, or as it is meant.
    pub good: bool,
    /// Shares up to which the cloth can be eased and stretched.
    pub ease_limit: f64,
    pub stretch_limit: f64,
    /// Pairs of notches that meet, as shares of side a and side b.
    pub notches: Vec<[f64; 2]>,
    /// Rows of top-stitching.
    pub stitches: Vec<StitchView>,
    pub runs_a: Vec<RunView>,
    pub runs_b: Vec<RunView>,
}

/// A row of stitches in the frame of its piece, and how long one is, mm.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct StitchView {
    pub piece: PieceId,
    pub points: Vec<Point>,
    pub length: f64,
}

/// A stretch of a line as it is shown, in shares of its length in the direction shown.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct RunView {
    pub piece: PieceId,
    pub line: LineId,
    pub image: bool,
    pub from: f64,
    pub to: f64,
}

impl PatternView {
    pub fn new(costume: &Costume, pattern: &Pattern) -> Self {
        Self { pieces: pattern.pieces.iter().map(piece_view).collect(), seams: seam_views(costume, pattern) }
    }
}

/// All seams with their images.
pub fn seam_views(costume: &Costume, pattern: &Pattern) -> Vec<SeamView> {
    (0..pattern.seams.len()).map(|s| seam(costume, pattern, s)).collect()
}

/// What an edit changes in the pattern: pieces that differ, and seams that touch them.
pub fn changes(before: &Pattern, costume: &Costume, after: &Pattern) -> PatternView {
    let differs = |p: &&PatternPiece| before.piece(p.id) != Some(*p);
    let changed: Vec<&PatternPiece> = after.pieces.iter().filter(differs).collect();
    let touches = |s: &usize| {
        let seam = &after.seams[*s];
        let mut runs = seam.a.iter().chain(&seam.b);
        runs.any(|r| changed.iter().any(|p| p.id == after.pieces[r.piece].id)) || before.seams.get(*s) != Some(seam)
    };
    PatternView {
        pieces: changed.iter().map(|p| piece_view(p)).collect(),
        seams: (0..after.seams.len()).filter(touches).map(|s| seam(costume, after, s)).collect(),
    }
}

pub fn piece_view(piece: &PatternPiece) -> PieceView {
    let lines = |all: &[usize]| all.iter().map(|&l| line(piece, l)).collect::<Vec<_>>();
    let [width, height] = piece.size();
    PieceView {
        piece: piece.id,
        at: piece.at,
        angle: piece.angle,
        placement: piece.placement.clone(),
        twin_of: piece.twin_of,
        width,
        height,
        outline: lines(&piece.outline),
        cutouts: piece.cutouts.iter().map(|c| lines(c)).collect(),
        inside: piece.inside.iter().map(|p| PathView { path: p.id, purpose: p.purpose, lines: lines(&p.lines) }).collect(),
        notches: piece.marks.iter().filter_map(|m| notch(piece, m.line?, &m.mark)).collect(),
        marks: piece.marks.iter().filter_map(|m| mark(&m.mark)).collect(),
        paint: piece.paint.iter().map(paint_view).collect(),
        cutting: piece.cutting_lines(),
    }
}

fn paint_view(paint: &costume::Paint) -> PaintView {
    let times = |p: Point, n: u32| Point::new(p.x * f64::from(n), p.y * f64::from(n));
    let (across, tall) = (times(paint.right, paint.image.columns()), times(paint.up, paint.image.rows()));
    PaintView { purpose: paint.purpose, at: paint.at, across, tall, image: paint.image.clone().into() }
}

fn point(p: kurbo::Point) -> Point {
    Point::new(p.x, p.y)
}

fn line(piece: &PatternPiece, index: usize) -> LineView {
    let line = &piece.lines[index];
    let handles = match line.curve {
        PathSeg::Cubic(c) => Some([point(c.p1), point(c.p2)]),
        _ => None,
    };
    let laid = |is: fn(&Finish) -> bool| piece.along.iter().find(|a| a.line == index && is(&a.finish)).map(|a| a.finish);
    let finish = laid(|f| f.holds() && !f.holds_to_body());
    let held = laid(Finish::holds_to_body);
    let whole = |a: &&costume::PatternAlong| a.line == index && a.from <= 0.0 && a.to >= 1.0;
    let width = |of: fn(&Finish) -> Option<f64>| piece.along.iter().filter(whole).find_map(|a| of(&a.finish));
    let allowance = width(|f| if let Finish::Allowance { width, .. } = f { Some(*width) } else { None });
    let hem = width(|f| if let Finish::Hem { width } = f { Some(*width) } else { None });
    let (from, to) = (point(line.curve.start()), point(line.curve.end()));
    LineView {
        line: line.id,
        image: line.image,
        turned: line.turned,
        node: line.from.id,
        end: line.to.id,
        own_node: !line.from.image,
        from,
        to,
        handles,
        length: line.length,
        finish,
        held,
        allowance,
        hem,
    }
}

fn mark(mark: &Mark) -> Option<MarkView> {
    match mark {
        Mark::Notch { .. } => None,
        Mark::DrillHole { id, at } => Some(MarkView { mark: *id, at: *at, text: None }),
        Mark::Text { id, at, text } => Some(MarkView { mark: *id, at: *at, text: Some(text.clone()) }),
    }
}

fn notch(piece: &PatternPiece, line: usize, mark: &Mark) -> Option<NotchView> {
    let Mark::Notch { id, at, double, .. } = mark else { return None };
    let curve = &piece.lines[line].curve;
    let place = point_at(curve, *at);
    let (before, after) = (point_at(curve, (at - 0.01).max(0.0)), point_at(curve, (at + 0.01).min(1.0)));
    let length = before.distance(after).max(f64::MIN_POSITIVE);
    // loops have the cloth on their left
    let inwards = Point::new(-(after.y - before.y) / length, (after.x - before.x) / length);
    Some(NotchView { mark: *id, at: place, inwards, double: *double })
}

fn stitches(pattern: &Pattern, seam: &costume::PatternSeam) -> Vec<StitchView> {
    let length = seam.make.top_stitch.map_or(0.0, |s| s.length);
    let row = |r: costume::StitchRow| StitchView { piece: pattern.pieces[r.piece].id, points: r.points, length };
    costume::top_stitching(pattern, seam).into_iter().map(row).collect()
}

fn seam(costume: &Costume, pattern: &Pattern, index: usize) -> SeamView {
    let seam = &pattern.seams[index];
    let runs = |side: &[costume::PatternRun]| {
        let run = |r: &costume::PatternRun| {
            let (piece, line) = (&pattern.pieces[r.piece], &pattern.pieces[r.piece].lines[r.line]);
            RunView { piece: piece.id, line: line.id, image: line.image, from: r.from, to: r.to }
        };
        side.iter().map(run).collect::<Vec<_>>()
    };
    let lengths = pattern.seam_lengths(seam);
    let judged = judge(costume, pattern, seam);
    SeamView {
        seam: seam.id,
        image: seam.image,
        tag: seam.tag.clone(),
        a: lengths.a,
        b: lengths.b,
        ratio: judged.ratio,
        kind: judged.kind,
        good: judged.good,
        ease_limit: judged.ease_limit,
        stretch_limit: judged.stretch_limit,
        notches: seam.notches.clone(),
        stitches: stitches(pattern, seam),
        runs_a: runs(&seam.a),
        runs_b: runs(&seam.b),
    }
}
