//! The one place where refusals of the document are put into words: a reason that follows the item's name, and a remedy.

use super::{Counted, LineSpot, Quantity, RefusalKind, Thing};
use crate::{CLOTH_VALUES, Purpose};

impl RefusalKind {
    /// Reason and remedy, without capitals and full stops.
    pub(super) fn words(&self) -> (String, String) {
        match self {
            Self::OutOfRange { of, value, low, high } => return out_of_range(of, *value, *low, *high),
            Self::TooMany { of, count, most } => {
                let what = of.words();
                return (format!("has {count} {what}, more than the limit of {most}"), format!("keep to {most} {what}"));
            }
            _ => {}
        }
        let (reason, remedy) = self.fixed();
        (reason, remedy.unwrap_or_else(|| self.counted_remedy()))
    }

    /// Remedies that tell a limit.
    fn counted_remedy(&self) -> String {
        match self {
            Self::Name { longest } => format!("give it 1 to {longest} characters"),
            Self::Text { longest } => format!("write 1 to {longest} characters"),
            Self::NoLength { shortest } => format!("keep its corners at least {shortest} mm apart"),
            Self::RunTooShort { shortest } => format!("sew at least {shortest} mm of an edge"),
            Self::Ratio { most, .. } => format!("sew stretches of which one is at most {most} times as long as the other"),
            Self::PathPoints { most, .. } => format!("give it 2 to {most} points"),
            Self::TapePoints { most, .. } => format!("lay it over 2 to {most} points"),
            Self::OffTable { metres } => format!("stay within {metres} m of its middle"),
            Self::TooLarge { most, .. } => format!("keep it under {most} bytes"),
            _ => String::new(),
        }
    }

    /// Reasons, and the remedies that hold no number.
    fn fixed(&self) -> (String, Option<String>) {
        let file = |reason: String| (reason, "restore the file from a copy");
        let (reason, remedy): (String, &str) = match self {
            Self::Gone { .. } => ("is no longer part of the costume".into(), "look at the newest state and try again"),
            Self::TwoPoses => ("is the name of two poses".into(), "rename one of them"),
            Self::Straight => ("is straight and has no handles".into(), "turn it into a curve first"),
            Self::OnTheFold => ("lies on the fold".into(), "take the piece off the fold first"),
            Self::EndOfFold => ("has its fold at this corner".into(), "take the piece off the fold first"),
            Self::TooFewCorners { removing: true } => {
                ("would have fewer than three corners".into(), "remove the piece or its cut-out instead")
            }
            Self::TooFewCorners { removing: false } => ("has fewer than three corners".into(), "a piece needs at least three"),
            Self::NoRoomToRound { radius } => {
                (format!("has no room for {radius:.1} mm at this corner"), "choose a smaller one, or make its edges longer")
            }
            Self::CutNotAcross => ("is not cut from one place of its outline to another".into(), "begin and end on two different edges"),
            Self::NotToMerge => (
                "does not join two pieces by whole edges of their outlines".into(),
                "separate twins and open folds first, and choose a seam over whole edges",
            ),
            Self::EdgesDiffer { most } => {
                (format!("its edges differ by more than {most} mm when they lie on each other"), "make both edges alike first")
            }
            Self::NotOnFold => ("is not cut on the fold".into(), "choose a piece that is"),
            Self::HalvesDiffer { most } => {
                (format!("differs on both sides of this line by more than {most} mm"), "choose its middle line, or make both halves alike")
            }
            Self::NoDart => ("has no dart with its point there".into(), "choose the point of a dart whose legs are alike"),
            Self::DartNowhere => ("has no place for a dart there".into(), "choose a place on its outline, clear of other darts"),
            Self::DartTooWide { width, line } => {
                (format!("is {line:.1} mm long, with no room for a dart of {width:.1} mm there"), "choose a narrower one, or another place")
            }
            Self::NoRoomForPleat { line } => {
                (format!("has only {line:.1} mm of edge left for the next pleat"), "choose fewer pleats, or a smaller distance")
            }
            Self::NoRecipe { key } => (format!("there is no recipe `{key}`"), "choose one of the recipes"),
            Self::NoBlockValue { key } => (format!("has no value `{key}`"), "use the values of the recipe"),
            Self::NoMeasure { key } => (format!("needs the measure `{key}`, which the body does not tell"), "choose a body that tells it"),
            Self::BlockDiffers => {
                ("would have other darts or edges than it has now".into(), "take it off the body's measures, or lay the block anew")
            }
            Self::UnderlayLocked => ("is held under the paper".into(), "let it go first"),
            Self::NoRectangle => (
                "would not lie flat: these are no four corners of a rectangle, one after the other".into(),
                "click its four corners in turn, all around",
            ),
            Self::Locked => ("is locked".into(), "unlock it first"),
            Self::Crosses { spots: [a, b], .. } => {
                (format!("{} would cross {}", a.words(), b.words()), "keep the outline free of crossings")
            }
            Self::InsideOut => ("its outline would turn inside out".into(), "keep the corners in their order"),
            Self::CutoutOutside => ("does not lie within the cloth".into(), "draw it within the outline, clear of other cut-outs"),
            Self::PathOutside { .. } => {
                ("does not lie within the outline".into(), "draw it within the outline, between two corners that see each other")
            }
            Self::PathOnItself { along } => (if *along { "lies on itself" } else { "crosses itself" }.into(), "draw it without a loop"),
            Self::PathsMeet { other, along: true } => (format!("lies on another {}", other.words()), "change the one that is there"),
            Self::PathsMeet { other, along: false } => {
                (format!("crosses another {}", other.words()), "let them meet at a corner, or take one out")
            }
            Self::NotchNowhere => ("does not lie on a line of the piece".into(), "set it anew on an edge"),
            Self::FinishNowhere => ("is finished where it is not".into(), "finish a stretch of an edge"),
            Self::PlacementOfNothing { .. } => ("is of a piece that does not exist".into(), "choose a piece of the costume"),
            Self::NoFold => ("cannot lie on the fold along this line".into(), "choose a straight edge of its outline"),
            Self::BrokenChains => file("its lines do not make closed outlines and whole paths".into()),
            Self::BrokenPiece => file("has a piece that refers to a node or line that does not exist".into()),
            Self::CutNoTimes => ("is cut no times".into(), "cut it once or more"),
            Self::NoFabric => ("is cut from a fabric that the costume does not have".into(), "choose one of its fabrics"),
            Self::TwinOfTwin => ("is a twin itself".into(), "make the twin from its partner"),
            Self::TwinOfUndrawn => ("is the twin of a piece that is not drawn".into(), "make it from a drawn piece"),
            Self::NoTwin => ("is no twin".into(), "choose a piece that follows another"),
            Self::TwinOnFold => ("is a twin".into(), "lay its partner on the fold"),
            Self::NoSwatch { key } => (format!("the swatch book has no `{key}`"), "choose a swatch of the book"),
            Self::NoClothValue { key } => (format!("has the value `{key}`, which no cloth has"), "use the values of the swatch book"),
            Self::NoColour { text } => (format!("`{text}` is not a colour"), "write colours as #rrggbb"),
            Self::NoPictureHash => ("names a picture by something that is no content hash".into(), "bring the picture again"),
            Self::NoHash => ("names a figure by something that is no content hash".into(), "choose the figure again"),
            Self::StandInAway => ("lies too far away".into(), "bring it back to the stand"),
            Self::TapeAway => ("has a point that is not on the stand".into(), "lay it again"),
            Self::SewnToItself { whole: true } => ("an edge cannot be sewn to itself".into(), "click another edge as its partner"),
            Self::SewnToItself { whole: false } => ("an edge cannot be sewn to itself".into(), "choose another stretch as its partner"),
            Self::TagTwice => ("its tag is used twice".into(), "give every seam a tag of its own"),
            Self::EmptySide => ("has an empty side".into(), "join two edges"),
            Self::RunNowhere => ("refers to an edge that does not exist".into(), "unpick it and join again"),
            Self::RunBeyond => ("goes beyond the ends of an edge".into(), "give shares of its length from 0 to 1"),
            Self::SewsTheFold => ("would sew the fold that a piece is cut on".into(), "choose another edge, or take it off the fold"),
            Self::SewnAlready { tag } => (format!("is what seam {tag} sews already"), "choose other stretches, or unpick that seam first"),
            Self::HalfTwist => ("would close a loop with half a twist in it".into(), "turn one of its sides round"),
            Self::NoParts => ("has no stretches to sew its parts to".into(), "choose one stretch, then those that its equal parts go to"),
            Self::Nested => ("holds another batch".into(), "put all edits into one"),
            Self::TooLarge { bytes, most, made: true } => {
                (format!("would take {bytes} bytes, more than the {most} of a costume file"), "split it into two costumes")
            }
            Self::Unreadable { found } => {
                (format!("cannot be read: {found}"), "restore the file from a copy or remedy the place that is named")
            }
            Self::Unwritten { found } => (format!("cannot be written: {found}"), "undo the last step and try again"),
            Self::Format { found, newest } => {
                (format!("has format {found}, this build reads up to {newest}"), "open it with the build that wrote it")
            }
            Self::IdTwice { id } => file(format!("uses the id {id} twice or beyond next_id")),
            Self::IdsBeyond { next, most } => file(format!("counts its ids up to {next}, beyond {most}")),
            // those whose remedy tells a limit
            Self::Name { .. } => return ("needs a readable name".into(), None),
            Self::Text { .. } => return ("cannot be read".into(), None),
            Self::NoLength { .. } | Self::RunTooShort { .. } => return ("would have no length".into(), None),
            Self::Ratio { ratio, .. } => return (format!("one side is {ratio:.1} times as long as the other"), None),
            Self::PathPoints { count, .. } => return (format!("cannot go through {count} points"), None),
            Self::TapePoints { count, .. } => return (format!("has {count} points"), None),
            Self::OffTable { .. } => return ("would leave the table".into(), None),
            Self::TooLarge { bytes, .. } => return (format!("{bytes} bytes is more than a costume may have"), None),
            Self::Elsewhere | Self::OutOfRange { .. } | Self::TooMany { .. } => return (String::new(), None),
        };
        (reason, Some(remedy.into()))
    }
}

fn out_of_range(of: &Quantity, value: f64, low: f64, high: f64) -> (String, String) {
    let (noun, unit) = of.words();
    let reason = if value.is_finite() {
        // what is far beyond reads better in powers of ten
        let number = if value.abs() < 1e6 { value.to_string() } else { format!("{value:e}") };
        format!("cannot have a {noun} of {number}{unit}")
    } else {
        format!("has a {noun} that is no number")
    };
    (reason, format!("choose one from {low} to {high}{unit}"))
}

impl Quantity {
    /// Noun and unit.
    fn words(&self) -> (String, String) {
        let (noun, unit) = match self {
            Self::Measure => ("measure", " mm"),
            Self::Clearance => ("clearance", " mm"),
            Self::Friction => ("friction", " times the fabric's"),
            Self::JointAngle { bone } => return (format!("turn of {bone}"), "°".into()),
            Self::HalfSize => ("half size", " mm"),
            Self::Fineness => ("mesh edge", " mm"),
            Self::Grain => ("grain", "°"),
            Self::TableAngle => ("turn on the table", "°"),
            Self::StationTurn => ("turn at its station", "°"),
            Self::WearOrder => ("wear order", ""),
            Self::PrintRepeat => ("print repeat", " mm"),
            Self::PrintHeight => ("height of the print repeat", " mm"),
            Self::PrintTurn => ("turn of the print", "°"),
            Self::ClothValue { key } => {
                let found = CLOTH_VALUES.iter().find(|v| v.key == key);
                return found.map_or_else(Default::default, |v| (v.name.to_lowercase(), format!(" {}", v.unit)));
            }
            Self::PressedAngle => ("pressed angle", "°"),
            Self::Elastic => ("elastic", " % of the edge"),
            Self::Beyond => ("hem or allowance", " mm"),
            Self::OpenShare => ("share that is open", ""),
            Self::Press => ("firmness of pressing", " times the cloth's own"),
            Self::Gather => ("gather", " : 1"),
            Self::Lap => ("overlap", " mm"),
            Self::LacingWidth => ("width of lacing", " mm"),
            Self::Steps => ("number of steps", ""),
            Self::Buttons => ("number of buttons", ""),
            Self::Rows => ("number of rows", ""),
            Self::Stitch => ("measure of stitches", " mm"),
            Self::HungAt => ("clearance", " mm"),
            Self::Lean => ("lean", "°"),
            Self::LineLength => ("length", " mm"),
            Self::LineAngle => ("angle", "°"),
            Self::Parts => ("number of parts", ""),
            Self::Tolerance => ("tolerance", " mm"),
            Self::Size => ("size", " mm"),
            Self::SectorAngle => ("angle", "°"),
            Self::Scale => ("factor", ""),
            Self::DartShare => ("share that is turned", ""),
            Self::Pleats => ("number of pleats", ""),
            Self::BlockValue { name } => return (name.to_lowercase(), String::new()),
            Self::SeamLength => ("distance along the seam", " mm"),
            Self::Dpi => ("resolution", " pixels per inch"),
            Self::Fade => ("fading", ""),
            Self::Pixels => ("side", " pixels"),
            Self::Page => ("page number", ""),
            Self::HeldAt => ("distance from the skin", " mm"),
            Self::Leash => ("way from where it is carried", " mm"),
            Self::Strength => ("strength", " %"),
            Self::Height => ("height above the ground", " mm"),
            Self::Brush => ("radius of the brush", " mm"),
            Self::Painted => ("painted value", ""),
            Self::CellSize => ("cell of its map", " mm"),
            Self::Ease => ("wanted ease", " mm"),
            Self::CornerShare => ("corner at a share of its length", ""),
        };
        (noun.into(), unit.into())
    }
}

impl Counted {
    fn words(self) -> &'static str {
        match self {
            Self::Poses => "poses",
            Self::Tapes => "tapes",
            Self::Measures => "own measures",
            Self::WantedEase => "girths with a wanted ease",
            Self::Notes => "notes",
            Self::Parts => "parts",
            Self::StandIns => "stand-ins",
            Self::Bones => "bones",
            Self::Lines => "lines",
            Self::Corners => "corners",
            Self::Marks => "marks and finishes",
            Self::Pieces => "pieces",
            Self::Seams => "seams",
            Self::Fabrics => "fabrics",
            Self::Runs => "edges on a side",
            Self::Edits => "edits",
            Self::Cuts => "cut lines",
            Self::Blocks => "blocks",
            Self::Underlays => "pictures under the paper",
            Self::Paints => "painted maps",
            Self::RoughSpots => "rough spots",
            Self::StrokePoints => "points of a stroke",
        }
    }
}

impl Thing {
    /// How it is called when it has no name.
    pub(crate) fn words(self) -> &'static str {
        match self {
            Self::Piece => "piece",
            Self::Drawing => "drawing",
            Self::Corner => "corner",
            Self::Edge => "edge",
            Self::CutOut => "cut-out",
            Self::InsideLine => "inside line",
            Self::Mark => "mark",
            Self::Seam => "seam",
            Self::Fabric => "fabric",
            Self::Tape => "tape",
            Self::Note => "note",
            Self::Pose => "pose",
            Self::Block => "block",
            Self::Underlay => "picture under the paper",
            Self::Paint => "painted map",
        }
    }
}

impl LineSpot {
    /// "edge 3".
    pub(crate) fn words(self) -> String {
        match self {
            Self::Edge(n) => format!("edge {n}"),
            Self::CutOut(n) => format!("cut-out {n}"),
            Self::Inside => "an inside line".into(),
        }
    }
}

impl Purpose {
    /// How a path inside is called by its use.
    pub(crate) fn words(self) -> &'static str {
        match self {
            Self::Fold { .. } => "fold line",
            Self::StyleLine => "style line",
            Self::Stitching => "stitching line",
            Self::DartLeg => "dart leg",
            Self::Placement { .. } => "placement line",
        }
    }
}
