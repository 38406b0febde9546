//! What is meshed: pieces as lines between nodes, and the seams between stretches of them.

use kurbo::{ParamCurve, ParamCurveArclen, PathSeg};

/// Accuracy of arc lengths in mm.
const ACCURACY: f64 = 1e-3;

/// A flat piece. Lengths are mm in its own frame.
#[derive(Clone, Debug, Default)]
pub struct Domain {
    /// All curves of the piece; the loops and paths below name them by their place here.
    pub lines: Vec<DomainLine>,
    /// Indices of lines, each ending at the node where the next begins; counter-clockwise.
    pub outline: Vec<usize>,
    /// The same, clockwise.
    pub cutouts: Vec<Vec<usize>>,
    /// Lines inside along which mesh edges run; they meet other lines at common nodes only.
    pub inside: Vec<usize>,
}

/// A straight or curved line between two nodes, which are numbers of the piece's own choosing.
#[derive(Clone, Copy, Debug)]
pub struct DomainLine {
    /// mm in the flat frame of the piece.
    pub curve: PathSeg,
    /// The point it begins at; lines that share a point have the same number, so that they share a vertex.
    pub from: u64,
    /// The point it ends at.
    pub to: u64,
}

impl DomainLine {
    /// Arc length, mm.
    pub fn length(&self) -> f64 {
        self.curve.arclen(ACCURACY)
    }

    /// The point at a share of the arc length.
    pub fn point_at(&self, share: f64) -> [f64; 2] {
        let t = match &self.curve {
            PathSeg::Line(_) => share,
            _ if share <= 0.0 => 0.0,
            _ if share >= 1.0 => 1.0,
            curve => curve.inv_arclen(share * self.length(), ACCURACY),
        };
        let p = self.curve.eval(t);
        [p.x, p.y]
    }
}

impl Domain {
    /// A piece without cut-outs whose lines follow each other around it.
    pub fn from_outline(curves: &[PathSeg]) -> Self {
        let n = curves.len();
        let line = |k: usize| DomainLine { curve: curves[k], from: k as u64, to: ((k + 1) % n) as u64 };
        Self { lines: (0..n).map(line).collect(), outline: (0..n).collect(), ..Self::default() }
    }

    /// All closed loops, the outline first.
    pub fn loops(&self) -> impl Iterator<Item = &Vec<usize>> {
        std::iter::once(&self.outline).chain(&self.cutouts)
    }
}

/// A stretch of a line between two shares of its arc length; `from > to` is walked backwards.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct EdgeRun {
    /// Place of the piece among the domains.
    pub piece: usize,
    /// Place of the line within the piece.
    pub line: usize,
    /// Where it begins, as a share of the arc length, 0 to 1.
    pub from: f64,
    /// Where it ends; below `from` it is walked backwards.
    pub to: f64,
}

impl EdgeRun {
    /// A whole line, walked forwards or backwards.
    pub fn whole(piece: usize, line: usize, backwards: bool) -> Self {
        let (from, to) = if backwards { (1.0, 0.0) } else { (0.0, 1.0) };
        Self { piece, line, from, to }
    }
}

/// Two sides to be sewn from their starts to their ends.
#[derive(Clone, Debug, Default)]
pub struct SeamSpec {
    /// One side, in sewing order.
    pub a: Vec<EdgeRun>,
    /// The other side; both get the same number of samples.
    pub b: Vec<EdgeRun>,
    /// The share of the seam, counted from its end, that has samples but is not sewn.
    pub open: f64,
    /// Shares of side a and of side b, both ascending, that meet apart from the ends.
    pub notches: Vec<[f64; 2]>,
}
