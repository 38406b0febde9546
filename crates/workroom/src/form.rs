//! A body made ready for cloth: the figure in its pose, the skin that cloth meets and its distance grid.

use crate::contact::{self, ShyPart, left_out};
use body::{Body, Measure, Pose, PoseFault, PosedBody, Request, SheetFault, Surface, mannequin, rough_mannequin};
use cloth::{BodyShape, DistanceGrid};
use costume::{BodyChoice, Costume, Refusal};
use std::collections::BTreeSet;
use std::sync::Arc;

/// Shared by all drapes on one body; cheap to clone.
#[derive(Clone)]
pub struct ContactBody {
    /// The body in its neutral pose.
    pub figure: Arc<Body>,
    /// The body in the pose of the document.
    pub posed: Arc<PosedBody>,
    /// The skin that cloth meets: closed, without the parts left out.
    pub skin: Arc<Surface>,
    /// Signed distances to the skin that cloth meets, m.
    pub grid: Arc<DistanceGrid>,
    /// The same as cloth feels it, at rest.
    shape: BodyShape,
    /// Keys of the parts that cloth passes through.
    pub out: BTreeSet<String>,
    shy: Arc<[ShyPart]>,
}

impl ContactBody {
    /// A figure in the pose of a choice, met by cloth except for the parts `out`.
    pub fn new(figure: Arc<Body>, choice: &BodyChoice, out: BTreeSet<String>) -> Result<Self, Refusal> {
        let posed = figure.posed(&pose(choice)).map_err(pose_refusal)?;
        let skin = contact::skin(&figure, &posed, choice, &out, false);
        let shy = ShyPart::of(&figure, &posed, choice, &out);
        Ok(Self {
            shy: shy.into(),
            figure,
            posed: Arc::new(posed),
            skin: Arc::new(skin.surface),
            grid: skin.shape.grid.clone(),
            shape: skin.shape,
            out,
        })
    }

    /// The body of a costume on a figure that is at hand, when cloth has reached some of its parts.
    pub fn of(costume: &Costume, figure: Arc<Body>, reached: &BTreeSet<String>) -> Result<Self, Refusal> {
        let out = left_out(costume, &figure, reached);
        Self::new(figure, &costume.body, out)
    }

    /// This body as cloth meets it, without any movement.
    pub fn still(&self) -> BodyShape {
        self.shape.clone()
    }

    /// Parts that left themselves out and that some of these points (m) come near.
    pub fn reached_by(&self, positions: &[[f32; 3]]) -> BTreeSet<String> {
        self.shy.iter().filter(|part| positions.iter().any(|p| part.is_near(p))).map(|part| part.key.clone()).collect()
    }

    /// What cloth at these points (m) has reached by now, when it comes near a part that had left itself out.
    pub fn reached_anew(&self, choice: &BodyChoice, positions: &[[f32; 3]]) -> Option<BTreeSet<String>> {
        let near = self.reached_by(positions);
        (!near.is_empty()).then(|| self.taking_in(choice, near))
    }

    /// All shy parts that cloth meets by now, and those that it comes near.
    pub fn taking_in(&self, choice: &BodyChoice, near: BTreeSet<String>) -> BTreeSet<String> {
        let mut all = contact::reached(choice, &self.figure, &self.out);
        all.extend(near);
        all
    }
}

/// Generates the figure of a size or made to measure (about a second); imported figures come from elsewhere.
pub fn figure(choice: &BodyChoice) -> Result<Body, Refusal> {
    if choice.figure.is_some() {
        return Err(Refusal::elsewhere("body", "is a figure from elsewhere, which is not at hand", "bring its file, or choose a size"));
    }
    mannequin(&request(choice)?).map_err(refusal)
}

/// A coarse figure of the same measures, made in a moment.
pub fn rough_figure(choice: &BodyChoice) -> Result<Body, Refusal> {
    rough_mannequin(&request(choice)?).map_err(refusal)
}

/// The pose of a choice.
pub fn pose(choice: &BodyChoice) -> Pose {
    Pose { bones: choice.pose.clone() }
}

/// Why there is no such body, with what would do.
pub(crate) fn refusal(fault: SheetFault) -> Refusal {
    match fault {
        SheetFault::UnknownPreset { key, offered } => {
            Refusal::elsewhere("body", format!("there is no size `{key}`"), format!("choose one of {offered}"))
        }
        other => Refusal::elsewhere("body", other.to_string(), "change the measure, or choose the nearest size"),
    }
}

/// Why a pose cannot be taken.
pub fn pose_refusal(fault: PoseFault) -> Refusal {
    let remedy = match fault {
        PoseFault::NoBone(_) => "choose a pose made for this figure, or reset it",
        PoseFault::Limit { .. } => "turn the joint back within its limits",
    };
    Refusal::elsewhere("pose", fault.to_string(), remedy)
}

/// The choice in terms of the measuring sheet; refuses measures that do not exist.
pub(crate) fn request(choice: &BodyChoice) -> Result<Request, Refusal> {
    let known = |(key, mm): (&String, &f64)| {
        let keys = || Measure::ALL.map(Measure::key).join(", ");
        let measure = Measure::from_key(key)
            .ok_or_else(|| Refusal::elsewhere("body", format!("there is no measure `{key}`"), format!("use one of {}", keys())))?;
        Ok((measure, *mm))
    };
    Ok(Request { preset: choice.preset.clone(), set: choice.overrides.iter().map(known).collect::<Result<_, Refusal>>()? })
}
