//! Format 1: corners that own the edge to the next one, whole-edge seams, folds from corner to corner. Read, never written.

use crate::{
    Along, AlongId, BodyChoice, Costume, CutPlan, Drawing, Ease, FORMAT, Fabric, FabricId, Fineness, Finish, FreeTape, InsidePath,
    KeptPose, Line, LineId, Node, NodeId, NodeKind, PathId, PieceId, Placement, Point, Purpose, SeamId, Shape,
};
use serde::Deserialize;

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct CostumeV1 {
    #[serde(rename = "format")]
    _format: u32,
    name: String,
    body: BodyChoice,
    fineness: Fineness,
    fabrics: Vec<Fabric>,
    pieces: Vec<PieceV1>,
    seams: Vec<SeamV1>,
    #[serde(default)]
    poses: Vec<KeptPose>,
    #[serde(default)]
    tapes: Vec<FreeTape>,
    next_id: u32,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct PieceV1 {
    id: PieceId,
    name: String,
    at: Point,
    corners: Vec<Corner>,
    fabric: FabricId,
    grain: f64,
    #[serde(default)]
    placement: Option<Placement>,
    #[serde(default)]
    parked: bool,
    #[serde(default = "first")]
    wear: u8,
    #[serde(default)]
    folds: Vec<FoldLine>,
}

fn first() -> u8 {
    1
}

/// Also the edge that leaves it.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Corner {
    id: u32,
    at: Point,
    #[serde(default)]
    bow: Option<Bow>,
    #[serde(default)]
    finish: Option<EdgeFinish>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Bow {
    leave: Point,
    arrive: Point,
}

#[derive(Clone, Copy, Deserialize)]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
enum EdgeFinish {
    StayTape,
    Elastic { length: f64 },
    Stay,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct FoldLine {
    from: u32,
    to: u32,
    angle: f64,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct SeamV1 {
    id: SeamId,
    tag: String,
    a: Vec<RunV1>,
    b: Vec<RunV1>,
    #[serde(default)]
    fold: Option<f64>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct RunV1 {
    piece: PieceId,
    edge: u32,
    #[serde(default)]
    backwards: bool,
}

impl CostumeV1 {
    /// The same costume in today's format: a node and a line have the number of the corner they come from, so that
    /// seams and drapes find them again.
    pub fn migrated(self) -> Costume {
        let mut next_id = self.next_id;
        let mut fresh = || {
            next_id = next_id.saturating_add(1);
            next_id - 1
        };
        let pieces = self.pieces.into_iter().map(|p| piece(p, &mut fresh)).collect();
        Costume {
            format: FORMAT,
            name: self.name,
            body: self.body,
            fineness: self.fineness,
            fabrics: self.fabrics,
            pieces,
            seams: self.seams.into_iter().map(seam).collect(),
            blocks: Vec::new(),
            poses: self.poses,
            tapes: self.tapes,
            wanted_ease: Default::default(),
            notes: Vec::new(),
            underlays: Vec::new(),
            next_id,
        }
    }
}

fn piece(old: PieceV1, fresh: &mut impl FnMut() -> u32) -> crate::Piece {
    let n = old.corners.len();
    let node = |c: &Corner| Node { id: NodeId(c.id), at: c.at, kind: NodeKind::Corner };
    let mut drawing = Drawing { nodes: old.corners.iter().map(node).collect(), ..Drawing::default() };
    for (k, corner) in old.corners.iter().enumerate() {
        let handles = corner.bow.as_ref().map(|b| [b.leave, b.arrive]);
        drawing.lines.push(Line { id: LineId(corner.id), from: NodeId(corner.id), to: NodeId(old.corners[(k + 1) % n].id), handles });
        drawing.outline.push(LineId(corner.id));
        if let Some(finish) = corner.finish {
            drawing.along.push(Along { id: AlongId(fresh()), line: LineId(corner.id), from: 0.0, to: 1.0, finish: finish.into() });
        }
    }
    for fold in &old.folds {
        let line = LineId(fresh());
        drawing.lines.push(Line { id: line, from: NodeId(fold.from), to: NodeId(fold.to), handles: None });
        drawing.inside.push(InsidePath { id: PathId(fresh()), lines: vec![line], purpose: Purpose::Fold { angle: fold.angle } });
    }
    crate::Piece {
        id: old.id,
        name: old.name,
        at: old.at,
        angle: 0.0,
        shape: Shape::Drawn(drawing),
        fabric: old.fabric,
        grain: old.grain,
        placement: old.placement,
        locked: false,
        group: None,
        parked: old.parked,
        wear: old.wear,
        cut: CutPlan::default(),
        print_at: None,
    }
}

impl From<EdgeFinish> for Finish {
    fn from(old: EdgeFinish) -> Self {
        match old {
            EdgeFinish::StayTape => Self::StayTape,
            EdgeFinish::Elastic { length } => Self::Elastic { length },
            EdgeFinish::Stay => Self::Stay,
        }
    }
}

fn seam(old: SeamV1) -> crate::Seam {
    let side = |runs: Vec<RunV1>| {
        let run = |r: RunV1| {
            let whole = crate::Run::whole(r.piece, LineId(r.edge));
            if r.backwards { whole.turned() } else { whole }
        };
        runs.into_iter().map(run).collect()
    };
    crate::Seam {
        id: old.id,
        tag: old.tag,
        a: side(old.a),
        b: side(old.b),
        fold: old.fold,
        closure: None,
        ease: Ease::Even,
        make: Default::default(),
    }
}
