//! What travels over the drape socket.
//!
//! Commands and events are JSON text. Frames are binary, little-endian, a u32 kind first:
//! - 1, cloth: generation u32, vertices u32, low corner 3 f32, size 3 f32, then per vertex 3 u16 (position within the
//!   box) and per vertex 3 i16 (unit normal x 32767).
//! - 2, layout: generation u32, vertices u32, triangles u32, then 3 u32 per triangle, and per vertex 2 f32 (flat
//!   coordinates in the piece's frame, m).
//! - 3, map: generation u32, vertices u32, number of the map u32 (its place among `CheckMap`), then 1 f32 per vertex (in the map's
//!   unit).

use crate::costumes::change::CostumeChange;
use crate::costumes::pattern_view::PatternView;
use costume::{Edit, PieceId, Refusal, SeamId};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use std::sync::Arc;
use ts_rs::TS;
use workroom::{BearerRow, CheckMap, CrossingPlace, Finding, GirthRow, HangReport, HemRow, StretchRow};

/// What the browser asks of the live drape.
#[derive(Clone, Debug, PartialEq, Deserialize, TS)]
#[serde(tag = "do", rename_all = "kebab-case")]
pub enum Command {
    /// Shows what an edit would come to; nothing is changed. Answered to this window alone.
    Trial {
        number: u32,
        edit: Box<Edit>,
    },
    Drape,
    Pause,
    /// One time step.
    Step,
    /// Puts a piece back where it was placed, or all of them.
    Rehang {
        #[serde(default)]
        #[ts(optional)]
        piece: Option<PieceId>,
    },
    /// Lifts the cloth around a place (m) out of the body and of the layers within it, and drapes on.
    PushOut {
        at: [f32; 3],
    },
    /// Shows a moment of the last ten seconds of the drape, counted back from the newest.
    WindBack {
        by: u16,
    },
    /// Takes hold of the cloth with one of several hands.
    Grab {
        hand: u32,
        vertex: u32,
    },
    PullTo {
        hand: u32,
        at: [f32; 3],
    },
    /// Opens a hand, or all of them.
    LetGo {
        #[serde(default)]
        #[ts(optional)]
        hand: Option<u32>,
    },
    /// Lets a piece stand still as if it were body, or takes it into the drape again.
    Hold {
        piece: PieceId,
        on: bool,
    },
    /// Takes the cloth back to how it was before the present trouble.
    GoBack,
    /// Pins a vertex where it is, or lets it go when it is pinned.
    Pin {
        vertex: u32,
    },
    Air {
        air: Air,
    },
    /// Looks at the cloth as it hangs.
    Check,
    /// Shows another map of the check from now on, to all windows.
    Map {
        map: CheckMap,
    },
    Keep {
        name: String,
    },
    Open {
        #[ts(type = "number")]
        fitting: i64,
    },
}

impl Command {
    /// Numbers from a window are within what the cloth can bear.
    pub fn check(&self) -> Result<(), Refusal> {
        match self {
            Self::PullTo { at, .. } if !at.iter().all(|v| v.abs() <= REACH) => {
                Err(Refusal::elsewhere("hand", "is pulled away from the stand", format!("stay within {REACH} m of its middle")))
            }
            Self::Grab { hand, .. } | Self::PullTo { hand, .. } if *hand >= HANDS => {
                Err(Refusal::elsewhere("hand", format!("number {hand} is one too many"), format!("use {HANDS} hands")))
            }
            Self::Air { air } => air.check(),
            _ => Ok(()),
        }
    }
}

/// Farthest that a hand pulls from the middle of the stand, m; most hands.
const REACH: f32 = 10.0;
const HANDS: u32 = 8;

/// Weight, calm and wind on the stand.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(deny_unknown_fields)]
pub struct Air {
    /// Times the earth's gravity.
    pub gravity: f32,
    /// Added damping, 1/s; below 0 is livelier.
    pub calm: f32,
    /// Degrees from the front, counter-clockwise from above, from which the wind comes.
    pub from: f32,
    /// m/s.
    pub speed: f32,
    /// 0 is steady, 1 swells to twice the speed.
    pub gusts: f32,
    pub seed: u32,
}

impl Air {
    /// Within what the stand can make.
    pub fn check(&self) -> Result<(), Refusal> {
        let within = [
            ("gravity", self.gravity, -2.0..=5.0),
            ("calm", self.calm, -5.0..=50.0),
            ("direction of the wind", self.from, -360.0..=360.0),
            ("speed of the wind", self.speed, 0.0..=40.0),
            ("strength of the gusts", self.gusts, 0.0..=1.0),
        ];
        match within.iter().find(|(_, value, range)| !range.contains(value)) {
            Some((what, value, range)) => Err(Refusal::elsewhere(
                "air",
                format!("a {what} of {value}"),
                format!("choose one from {} to {}", range.start(), range.end()),
            )),
            None => Ok(()),
        }
    }
}

impl Default for Air {
    fn default() -> Self {
        Self { gravity: 1.0, calm: 0.0, from: 0.0, speed: 0.0, gusts: 0.0, seed: 1 }
    }
}

#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum Activity {
    /// The costume cannot be hung; `trouble` says why.
    Empty,
    Hung,
    Closing,
    Falling,
    Paused,
    AtRest,
}

/// Live read-out, a few times a second.
#[derive(Clone, Debug, Serialize, TS)]
pub struct Status {
    pub activity: Activity,
    pub vertices: usize,
    pub triangles: usize,
    /// Simulated seconds.
    pub time: f64,
    /// Simulated over passed seconds.
    pub real_time: f64,
    /// mm/s.
    pub fastest: f64,
    /// Seam pairs still open.
    pub open_pairs: usize,
    /// All that is the matter with the drape, in the words of every place that tells it.
    pub findings: Vec<Finding>,
    /// Keys of the parts of the body that cloth passes through.
    pub left_out: Vec<String>,
    pub trouble: Option<IssueShown>,
    /// Largest stretch, 0.02 is 2 %.
    pub stretch: f64,
    /// Places where cloth crosses cloth, when last looked at.
    pub crossings: usize,
    /// How far the shape changed when it was last carried over to another cut or mesh, mm; none when the pieces were hung.
    pub carried: Option<f64>,
    /// Pieces that stand still as if they were body.
    pub held: Vec<PieceId>,
    /// Where hands hold the cloth, m.
    pub hands: Vec<[f32; 3]>,
    /// Vertices held by pins.
    pub pins: Vec<u32>,
    pub air: Air,
    /// Moments of the last seconds, a quarter of a second apart, and how many of them lie after the one on the stand.
    pub past: (usize, usize),
    /// The body is on its way to the pose of the document.
    pub motion: Option<MotionShown>,
}

/// What is the matter, and what mends it.
#[derive(Clone, Debug, Serialize, TS)]
pub struct IssueShown {
    pub item: String,
    pub reason: String,
    pub remedy: String,
    /// Hanging this piece again may help.
    pub piece: Option<PieceId>,
    /// m, on the stand.
    pub at: Option<[f32; 3]>,
    /// Simulated seconds at which it began.
    pub since: Option<f64>,
    /// There is a good state to go back to.
    pub can_go_back: bool,
}

/// Where a moving body is.
#[derive(Clone, Debug, Serialize, TS)]
pub struct MotionShown {
    /// The pose it comes from, degrees by bone.
    pub from: BTreeMap<String, [f64; 3]>,
    /// What is left of the way, 1 to 0.
    pub left: f64,
}

/// The vertices of one piece within the frames.
#[derive(Clone, Debug, Serialize, TS)]
pub struct PieceSpan {
    pub piece: PieceId,
    pub first_vertex: usize,
    pub first_triangle: usize,
    pub triangles: usize,
}

impl PieceSpan {
    /// Those of a hung costume.
    pub fn all(assembly: &workroom::Assembly) -> Vec<Self> {
        let span = |p: &workroom::PieceRange| Self {
            piece: p.piece,
            first_vertex: p.first_vertex,
            first_triangle: p.first_triangle,
            triangles: p.flat.triangles.len(),
        };
        assembly.pieces.iter().map(span).collect()
    }
}

/// What the server tells.
#[derive(Clone, Debug, Serialize, TS)]
#[serde(tag = "is", rename_all = "kebab-case")]
pub enum Event {
    Status {
        status: Box<Status>,
    },
    /// Comes before the first frame of a generation.
    Layout {
        generation: u32,
        pieces: Vec<PieceSpan>,
        /// The seams whose numbers stand in the binary layout, in their order; twins' seams have the id of their partner.
        seams: Vec<SeamId>,
        /// Vertices that are held to the body.
        held: Vec<u32>,
    },
    Checked {
        generation: u32,
        crossings: Vec<CrossingPlace>,
        /// What the map shows whose values come along.
        map: CheckMap,
        strain_mean: f64,
        strain_p99: f64,
        strain_max: f64,
        girths: Vec<GirthRow>,
        hems: Vec<HemRow>,
        stretch: Vec<StretchRow>,
        hang: HangReport,
        /// What carries the garment, the strongest first; looked at for the map of touch alone.
        bearers: Vec<BearerRow>,
        /// Of the garment, N; 0 where it was not looked at.
        weight: f64,
        /// Cloth that lies on the skin, cm², and the highest pressure, kPa; 0 where it was not looked at.
        touching: f64,
        highest: f64,
    },
    Kept {
        #[ts(type = "number")]
        fitting: i64,
    },
    Refused {
        refusal: Refusal,
    },
    /// What an edit would come to: the pieces and seams that it changes, or why it cannot be done.
    Trial {
        number: u32,
        pattern: Option<PatternView>,
        refusal: Option<Refusal>,
    },
    /// The document moved on, here or in another window. A window that does not know the step it is told against asks for
    /// what it missed.
    Changed {
        change: Arc<CostumeChange>,
    },
}
