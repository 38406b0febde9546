//! Figures from elsewhere, from the bytes of a file to a body on the stand.

use body::{Body, FigureFault, FigureSheet, Flaws, ImportOrientation, RawClip, RawFigure, Weights, guess, imported_figure};
use costume::Refusal;
use formats::{ImportedMesh, ReadFault, read_figure};
use glam::DVec3;

/// A figure as it came, with what can be said about it before anyone has looked at it.
pub struct ImportedFigure {
    /// The mesh and skeleton as they came.
    pub raw: RawFigure,
    /// How it seems to stand, mended when there is something to remedy.
    pub sheet: FigureSheet,
    /// What a clean closed skin would not have.
    pub flaws: Flaws,
    /// What the file also holds and was not taken over, in words.
    pub left_out: Vec<String>,
}

/// Reads a file and guesses how its figure stands. Nothing is kept of a file that is refused.
pub fn read_arrival(name: &str, bytes: &[u8]) -> Result<ImportedFigure, Refusal> {
    let found = read_figure(name, bytes).map_err(|fault| unread(name, &fault))?;
    let (unit, z_up) = (found.unit, found.z_up);
    let left_out = found.left_out.iter().map(ToString::to_string).collect();
    let raw = raw(found);
    let stance = guess(&raw, unit, z_up);
    let flaws = flaws(&raw, &stance);
    let stem = name.rsplit(['/', '\\']).next().unwrap_or(name);
    let stem = stem.rsplit_once('.').map_or(stem, |(stem, _)| stem).trim();
    let name =
        if stem.is_empty() { "Body".to_owned() } else { stem.chars().filter(|c| !c.is_control()).take(costume::limits::NAME).collect() };
    let sheet = FigureSheet { name, stance, mended: !flaws.is_clean(), landmarks: Default::default() };
    Ok(ImportedFigure { raw, sheet, flaws, left_out })
}

/// What is wrong with a mesh when it stands like that.
pub fn flaws(raw: &RawFigure, stance: &ImportOrientation) -> Flaws {
    let positions: Vec<DVec3> = raw.positions.iter().map(|p| DVec3::from(p.map(|v| f64::from(v) * stance.unit))).collect();
    body::inspect(&positions, &raw.triangles)
}

/// The body of a raw figure; `key` is its content hash.
pub fn foreign_figure(key: &str, raw: &RawFigure, sheet: &FigureSheet) -> Result<Body, Refusal> {
    imported_figure(key, raw, sheet).map_err(|fault| {
        let remedy = match fault {
            FigureFault::Height(_) | FigureFault::Wide(_) => "choose another unit, or take away what lies far from the body",
            FigureFault::Axes => "choose another up or front axis",
            FigureFault::Nothing => "bring a mesh with a closed body",
            FigureFault::Landmark(_) | FigureFault::Place(_) => "let the landmarks be found again",
        };
        Refusal::elsewhere(&sheet.name, fault.to_string(), remedy)
    })
}

fn unread(name: &str, fault: &ReadFault) -> Refusal {
    Refusal::elsewhere(name, fault.to_string(), fault.remedy())
}

fn raw(found: ImportedMesh) -> RawFigure {
    let mut raw = RawFigure { positions: found.positions, triangles: found.triangles, ..RawFigure::default() };
    if let Some(skin) = found.skin {
        raw.bones = skin.joints.into_iter().map(|j| (j.name, j.parent, j.at)).collect();
        raw.weights =
            skin.joint_indices.into_iter().zip(skin.weights).map(|(joint_indices, weights)| Weights { joint_indices, weights }).collect();
        let frames = |clip: &formats::Clip| (0..clip.seconds.len()).map(|k| clip.rotations.iter().map(|row| row[k]).collect()).collect();
        let clip = |clip: &formats::Clip| RawClip { name: clip.name.clone(), rotations: frames(clip), root: clip.root.clone() };
        raw.clips = found.clips.iter().map(clip).collect();
    }
    if let Some(cache) = found.cache {
        raw.cache = (cache.seconds, cache.frames);
    }
    raw
}
