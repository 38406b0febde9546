//! The plain pattern: what a costume comes to when twins are mirrored and halves on the fold are opened. Rules, lengths,
//! meshes, pictures, the stand and prints see nothing else.

mod cutting_line;
mod resolve;
mod seams;

pub(crate) use resolve::mirrored_placement;
pub use resolve::resolve;
pub(crate) use resolve::resolve_after;
pub(crate) use seams::images;

use crate::{
    Closure, CutPlan, FabricId, Finish, LineId, Mark, NodeId, Paint, PathId, PieceId, Placement, Point, Purpose, SeamId, SeamMake,
};
use kurbo::{Affine, BezPath, PathSeg, Shape as _};

/// All pieces in the order of the document, and all seams; images of seams follow the seam they mirror.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Pattern {
    /// In the order of the document.
    pub pieces: Vec<PatternPiece>,
    /// Those of the document with their images after them.
    pub seams: Vec<PatternSeam>,
}

/// One whole piece of cloth. Lengths are mm in its own frame.
#[derive(Clone, Debug, PartialEq)]
pub struct PatternPiece {
    /// That of the document.
    pub id: PieceId,
    /// For messages and prints.
    pub name: String,
    /// Where its frame lies on the table, mm.
    pub at: Point,
    /// Degrees counter-clockwise.
    pub angle: f64,
    /// What it is cut from.
    pub fabric: FabricId,
    /// Degrees from the x axis of the piece's frame.
    pub grain: f64,
    /// 1 next to the skin, more for what is worn over it.
    pub wear: u8,
    /// Left out of the drape.
    pub parked: bool,
    /// Where it hangs on the body.
    pub placement: Option<Placement>,
    /// For the cutting list.
    pub cut: CutPlan,
    /// The piece whose mirror image it is.
    pub twin_of: Option<PieceId>,
    /// All lines; loops and paths name them by their place here.
    pub lines: Vec<PatternLine>,
    /// Indices of lines, each ending where the next begins; counter-clockwise.
    pub outline: Vec<usize>,
    /// The same, clockwise.
    pub cutouts: Vec<Vec<usize>>,
    /// Paths on the cloth.
    pub inside: Vec<PatternPath>,
    /// Notches are on lines of the document; those of an opened half are there twice.
    pub marks: Vec<PatternMark>,
    /// What is done along lines.
    pub along: Vec<PatternAlong>,
    /// What is painted on it.
    pub paint: Vec<Paint>,
}

/// Where lines meet: a node of the document, or its image on the half that the fold adds. Nodes on the fold are their own
/// image.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct PatternNode {
    /// That of the document.
    pub id: NodeId,
    /// On the half that a fold adds.
    pub image: bool,
}

/// A line as it lies in the cloth.
#[derive(Clone, Debug, PartialEq)]
pub struct PatternLine {
    /// That of the document.
    pub id: LineId,
    /// On the half that the fold adds.
    pub image: bool,
    /// Runs against the direction of the document's line.
    pub turned: bool,
    /// Where it begins, in the direction it is walked.
    pub from: PatternNode,
    /// Where it ends.
    pub to: PatternNode,
    /// mm in the frame of the piece, in the direction it is walked.
    pub curve: PathSeg,
    /// mm.
    pub length: f64,
}

/// A path inside a piece; each line begins where the one before ended.
#[derive(Clone, Debug, PartialEq)]
pub struct PatternPath {
    /// That of the document.
    pub id: PathId,
    /// What it is for.
    pub purpose: Purpose,
    /// Places in the list of lines.
    pub lines: Vec<usize>,
}

/// A mark, and the line that a notch is on.
#[derive(Clone, Debug, PartialEq)]
pub struct PatternMark {
    /// As it lies on this piece.
    pub mark: Mark,
    /// The line a notch is on.
    pub line: Option<usize>,
}

/// What lies along a stretch of a line, `from < to` in shares of its length.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct PatternAlong {
    /// Place in the list of lines.
    pub line: usize,
    /// Where it begins, as a share of the arc length.
    pub from: f64,
    /// Where it ends.
    pub to: f64,
    /// What is done.
    pub finish: Finish,
}

/// A stretch of a line, in shares of its length in its own direction.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct PatternRun {
    /// Index of the piece and of its line.
    pub piece: usize,
    /// Place in the piece's list of lines.
    pub line: usize,
    /// Where it begins, as a share of the arc length.
    pub from: f64,
    /// Where it ends; below `from` it is walked backwards.
    pub to: f64,
}

/// Two sides sewn together.
#[derive(Clone, Debug, PartialEq)]
pub struct PatternSeam {
    /// That of the document.
    pub id: SeamId,
    /// The mirror image of a seam of the document.
    pub image: bool,
    /// The letter on both sides.
    pub tag: String,
    /// One side, in sewing order.
    pub a: Vec<PatternRun>,
    /// The other side.
    pub b: Vec<PatternRun>,
    /// Degrees to which it is pressed.
    pub fold: Option<f64>,
    /// What closes it, and the share that is open, counted from its end.
    pub closure: Option<Closure>,
    /// How it is made.
    pub make: SeamMake,
    /// Shares of side a and side b, ascending, that meet at pairs of notches.
    pub notches: Vec<[f64; 2]>,
}

impl Pattern {
    /// The piece with this id, if there is one.
    pub fn piece(&self, id: PieceId) -> Option<&PatternPiece> {
        self.pieces.iter().find(|p| p.id == id)
    }
    /// Length of a stretch in mm.
    pub fn run_length(&self, run: &PatternRun) -> f64 {
        self.pieces[run.piece].lines[run.line].length * (run.to - run.from).abs()
    }
    /// Whether a stretch is on an outline or a cut-out, so that the cloth is on its left.
    pub fn is_on_loop(&self, run: &PatternRun) -> bool {
        let piece = &self.pieces[run.piece];
        piece.outline.contains(&run.line) || piece.cutouts.iter().any(|c| c.contains(&run.line))
    }
    /// Length of a side in mm.
    pub fn side_length(&self, side: &[PatternRun]) -> f64 {
        side.iter().map(|r| self.run_length(r)).sum()
    }
    /// Lengths of both sides of a seam.
    pub fn seam_lengths(&self, seam: &PatternSeam) -> SeamLengths {
        SeamLengths { a: self.side_length(&seam.a), b: self.side_length(&seam.b) }
    }
}

/// Both sides of a seam in mm.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct SeamLengths {
    /// Of side a, mm.
    pub a: f64,
    /// Of side b, mm.
    pub b: f64,
}

impl SeamLengths {
    /// How much longer side b is, mm.
    pub fn difference(&self) -> f64 {
        self.b - self.a
    }
    /// The longer side over the shorter one.
    pub fn ratio(&self) -> f64 {
        self.a.max(self.b) / self.a.min(self.b).max(f64::MIN_POSITIVE)
    }
    /// Sewn without comment up to 3 mm or 1 %.
    pub fn is_even(&self) -> bool {
        self.difference().abs() <= (0.01 * self.a.max(self.b)).max(3.0)
    }
}

impl PatternPiece {
    /// The first line of the document's id; that of an opened half comes after it.
    pub fn line(&self, id: LineId) -> Option<usize> {
        self.lines.iter().position(|l| l.id == id)
    }
    /// The outline with its cut-outs as closed paths; the filled area is that of the cloth.
    pub fn path(&self) -> BezPath {
        let mut path = BezPath::new();
        for lines in std::iter::once(&self.outline).chain(&self.cutouts) {
            for (k, &line) in lines.iter().enumerate() {
                let segment = self.lines[line].curve;
                if k == 0 {
                    path.move_to(kurbo::ParamCurve::start(&segment));
                }
                path.push(segment.as_path_el());
            }
            path.close_path();
        }
        path
    }
    /// The outline alone.
    pub fn outline_path(&self) -> BezPath {
        BezPath::from_path_segments(self.outline.iter().map(|&l| self.lines[l].curve))
    }
    /// What the maps of a kind mean, and how much they show at a point of the frame, 0 to 1; none where there is no map.
    pub fn painted(&self, kind: crate::PaintKind) -> Option<(crate::PaintUse, impl Fn(Point) -> f64)> {
        let maps: Vec<&Paint> = self.paint.iter().filter(|p| p.purpose.kind() == kind).collect();
        let purpose = maps.first()?.purpose;
        Some((purpose, move |p| maps.iter().map(|m| m.value(p)).fold(0.0, f64::max)))
    }

    /// From the piece's frame to the table.
    pub fn on_table(&self) -> Affine {
        Affine::translate((self.at.x, self.at.y)) * Affine::rotate(self.angle.to_radians())
    }
    /// Width and height of the box around the outline with its curves, mm, in its own frame.
    pub fn size(&self) -> [f64; 2] {
        let around = self.outline_path().bounding_box();
        [around.width(), around.height()]
    }
    /// Lesser and greater side of that box.
    pub fn extents(&self) -> [f64; 2] {
        let [width, height] = self.size();
        [width.min(height), width.max(height)]
    }
    /// Area of the cloth in mm².
    pub fn area(&self) -> f64 {
        self.path().area()
    }
}
