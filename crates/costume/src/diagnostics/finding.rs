//! A finding about a document: what it is, with ids and numbers, the one place where it is put into words, and what mends it.

use crate::{Costume, Edit, FabricId, LineId, PieceId, SeamId};
use serde::Serialize;
use ts_rs::TS;

/// How grave a fault is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum Severity {
    /// The drape cannot start.
    Error,
    /// The drape can start; the designer should know.
    Warning,
}

/// What is found, with the ids and numbers that it is about; lengths in mm.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
#[serde(tag = "is", rename_all = "kebab-case")]
pub enum DiagnosticKind {
    /// Every piece is parked, or there is none.
    NothingHangs { empty: bool },
    /// No station says where the piece hangs.
    NoStation { piece: PieceId },
    /// Something that the document names does not exist outside of it: a body, a station.
    Unknown { piece: Option<PieceId>, item: String, reason: String, remedy: String },
    /// Cloth too thick for its layers to be kept apart at this edge length.
    TooThick { fabric: FabricId, thickness: f64, edge: f64 },
    /// Folds finer than the mesh can show.
    FoldsTooFine { fabric: FabricId, fold: f64, edge: f64 },
    /// A piece that bends over more than half its length.
    TooStiff { piece: PieceId, length: f64, bends: f64 },
    /// A seam that stays open because one of its pieces is parked.
    ParkedSeam { seam: SeamId },
    /// Sides that differ by more than the cloth can take up unseen: puckered, or gathered otherwise than it is meant.
    Uneven { seam: SeamId, difference: f64, gathered: bool, ratio: f64, meant: Option<f64> },
    /// A loop of cloth that this seam closes with half a twist in it.
    HalfTwist { seam: SeamId },
    /// A seam whose threads cross those of another.
    Crossed { seam: SeamId, other: String },
    /// Two seams on one line that leave this much of it open (below 0: overlap), where their other sides meet.
    CornersApart { seam: SeamId, other: String, apart: f64 },
    /// An edge that is open, while it is sewn on the twin.
    TwinOpen { piece: PieceId, line: LineId, seam: String },
    /// A piece around a limb whose two sides are open.
    OpenTube { piece: PieceId },
    /// A piece that no seam and no stay holds, in a costume that is sewn.
    HeldByNothing { piece: PieceId },
    /// Notches of both sides that no longer meet, by this much.
    NotchesApart { seam: SeamId, apart: f64 },
    /// A cutting line that crosses itself: the cloth beyond two lines overlaps.
    AllowancesOverlap { piece: PieceId },
    /// Two seams over the same two stretches.
    SewnTwice { seam: SeamId, other: String },
}

impl DiagnosticKind {
    /// Whether it keeps the drape from starting.
    pub fn severity(&self) -> Severity {
        match self {
            Self::NothingHangs { .. } | Self::NoStation { .. } | Self::Unknown { .. } => Severity::Error,
            _ => Severity::Warning,
        }
    }

    /// The piece to select.
    fn piece(&self) -> Option<PieceId> {
        match self {
            Self::NoStation { piece }
            | Self::TooStiff { piece, .. }
            | Self::AllowancesOverlap { piece }
            | Self::TwinOpen { piece, .. }
            | Self::OpenTube { piece }
            | Self::HeldByNothing { piece } => Some(*piece),
            Self::Unknown { piece, .. } => *piece,
            _ => None,
        }
    }

    /// The seam to select.
    fn seam(&self) -> Option<SeamId> {
        match self {
            Self::ParkedSeam { seam }
            | Self::Uneven { seam, .. }
            | Self::NotchesApart { seam, .. }
            | Self::SewnTwice { seam, .. }
            | Self::HalfTwist { seam }
            | Self::Crossed { seam, .. }
            | Self::CornersApart { seam, .. } => Some(*seam),
            _ => None,
        }
    }

    /// Item, reason and remedy: the one place where they are put into words.
    fn words(&self, costume: &Costume) -> (String, String, String) {
        let cloth = |id: &FabricId| costume.fabric(*id).map_or_else(String::new, |f| f.name.clone());
        let tag = |id: &SeamId| format!("Seam {}", costume.seam(*id).map_or("", |s| s.tag.as_str()));
        let (item, reason, remedy) = match self {
            Self::NothingHangs { empty } => {
                let remedy = if *empty { "Draw a piece on the table." } else { "Take a piece out of parking." };
                (costume.name.clone(), "has no piece to hang".into(), remedy)
            }
            Self::NoStation { piece } => {
                (costume.piece_name(*piece), "has no station on the body".into(), "Choose a station for it, or park it.")
            }
            Self::Unknown { item, reason, remedy, .. } => return (item.clone(), reason.clone(), remedy.clone()),
            Self::TooThick { fabric, thickness, edge } => {
                (cloth(fabric), format!("is {thickness} mm thick, more than a mesh of {edge} mm can keep apart"), "Choose a coarser mesh.")
            }
            Self::FoldsTooFine { fabric, fold, edge } => {
                let reason = format!("falls in folds of about {fold:.0} mm, too fine for a mesh of {edge} mm");
                (cloth(fabric), reason, "Choose a finer mesh before you judge its folds.")
            }
            Self::TooStiff { piece, length, bends } => {
                let reason = format!("is too stiff for its size: it is {length:.0} mm long, and its cloth bends over {bends:.0} mm");
                (costume.piece_name(*piece), reason, "Choose a softer cloth, or less of its bend.")
            }
            Self::ParkedSeam { seam } => {
                (tag(seam), "joins a parked piece and stays open".into(), "Take the piece out of parking to sew it.")
            }
            Self::Uneven { seam, meant: Some(meant), ratio, .. } => (
                tag(seam),
                format!("is gathered {ratio:.2} : 1, and {meant:.2} : 1 is meant"),
                "Change one of its edges, or what is meant.",
            ),
            Self::Uneven { seam, gathered: true, ratio, .. } => {
                (tag(seam), format!("is gathered {ratio:.2} : 1"), "Say that it is meant, or make its sides alike.")
            }
            Self::Uneven { seam, difference, .. } => {
                let reason = format!("its sides differ by {:.1} cm, more than the cloth can be eased", difference.abs() / 10.0);
                (tag(seam), reason, "Make its sides alike, or ease it in all the same.")
            }
            Self::HalfTwist { seam } => {
                (tag(seam), "closes a loop with half a twist in it".into(), "Turn it round, or another seam of the loop.")
            }
            Self::Crossed { seam, other } => (tag(seam), format!("crosses seam {other}"), "Exchange their ends on one side."),
            Self::CornersApart { seam, other, apart } => {
                let what = if *apart > 0.0 { "are" } else { "overlap by" };
                let how = if *apart > 0.0 { " apart" } else { "" };
                let reason = format!("and seam {other} {what} {:.1} cm{how} where their other sides meet", apart.abs() / 10.0);
                (tag(seam), reason, "Let it end where the other begins.")
            }
            Self::TwinOpen { piece, line, seam } => {
                let reason = format!("is open, while seam {seam} sews it on the twin");
                (costume.line_name(*piece, *line), reason, "Sew it too, or unpick the other.")
            }
            Self::HeldByNothing { piece } => {
                (costume.piece_name(*piece), "is held by nothing and will fall".into(), "Sew it, give it a stay, or park it.")
            }
            Self::OpenTube { piece } => (costume.piece_name(*piece), "is not closed around the limb".into(), "Join its two sides."),
            Self::NotchesApart { seam, apart } => (
                tag(seam),
                format!("its notches are {apart:.0} mm apart"),
                "Move one of them, or take both off and set them anew on the seam.",
            ),
            Self::AllowancesOverlap { piece } => {
                (costume.piece_name(*piece), "has allowances that overlap".into(), "Make one narrower, or open the corner between them.")
            }
            Self::SewnTwice { seam, other } => (tag(seam), format!("sews what seam {other} sews"), "Unpick one of the two."),
        };
        (item, reason, remedy.into())
    }
}

/// What a mend does.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum MendKind {
    EaseIn,
    Meant,
    Trim,
    AddNotch,
    TurnRound,
    Unpick,
    Exchange,
    Meet,
    Join,
}

impl MendKind {
    /// As it stands on a button.
    fn words(self) -> &'static str {
        match self {
            Self::EaseIn => "Ease it in",
            Self::Meant => "It is meant",
            Self::Trim => "Trim to match",
            Self::AddNotch => "Add a notch",
            Self::TurnRound => "Turn it round",
            Self::Unpick => "Unpick it",
            Self::Exchange => "Exchange ends",
            Self::Meet => "Let them meet",
            Self::Join => "Join them",
        }
    }
}

/// An edit that mends what is found.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct Mend {
    /// What it does.
    pub kind: MendKind,
    /// The same in words.
    pub name: String,
    /// The step.
    pub edit: Box<Edit>,
}

impl Mend {
    pub(crate) fn new(kind: MendKind, edit: Edit) -> Self {
        Self { kind, name: kind.words().into(), edit: Box::new(edit) }
    }
}

/// One finding with its words, and what to select.
#[derive(Clone, Debug, PartialEq, Serialize, TS)]
pub struct Diagnostic {
    /// What it is, for whoever does not read the words.
    pub kind: DiagnosticKind,
    /// Whether it keeps the drape from starting.
    pub severity: Severity,
    /// What is concerned, by the name the designer gave it.
    pub item: String,
    /// What is the matter, in words that follow the name.
    pub reason: String,
    /// What can be done.
    pub remedy: String,
    /// The piece to select.
    pub piece: Option<PieceId>,
    /// The seam to select.
    pub seam: Option<SeamId>,
    /// What mends it, likeliest first; may be none.
    pub mends: Vec<Mend>,
}

impl Diagnostic {
    /// In the words for this document.
    pub fn new(kind: DiagnosticKind, costume: &Costume) -> Self {
        let (item, reason, remedy) = kind.words(costume);
        Self { severity: kind.severity(), piece: kind.piece(), seam: kind.seam(), kind, item, reason, remedy, mends: Vec::new() }
    }
}
