//! What can be asked for on the command line.

use clap::{Args, Parser, Subcommand};
use std::path::PathBuf;

/// Drafts, drapes and delivers costumes.
#[derive(Parser)]
#[command(name = "ourlet", version, about)]
pub struct Options {
    #[command(subcommand)]
    pub command: Command,
}

#[derive(Subcommand)]
pub enum Command {
    /// Drape a costume file until it rests, and write the garment.
    Drape(DrapeOptions),
    /// Drape a costume, then take the body through a motion and write the garment over time.
    Rehearse(RehearseOptions),
    /// Report the diagnostics of a costume file; with a body, a report or a sheet: drape it and judge how it fits. A mesh
    /// (.obj .glb .gltf .ply .usda .abc) is judged as it is.
    Check(CheckOptions),
    /// Drape a costume on many bodies and compare how it fits.
    Sizes(SizesOptions),
    /// Change the pattern until the garment, draped, has the wanted ease.
    Fit(FitOptions),
    /// Draft a block from the measures of a size, as a costume file.
    Block {
        /// Key of the recipe, such as tee; `list` names them all with their values
        recipe: String,
        /// The size it is drafted for
        #[arg(long, default_value = "woman-38")]
        preset: String,
        /// A value in mm such as ease=80; may be repeated
        #[arg(long = "value")]
        values: Vec<String>,
        /// The costume file that is written (*.ourlet.json)
        #[arg(long)]
        out: Option<PathBuf>,
    },
    /// Write the flat pieces of a costume file at true scale; the ending (.svg or .dxf) decides the format.
    Pattern {
        file: PathBuf,
        #[arg(long)]
        out: PathBuf,
        /// Of a .png, which shows the pieces as a scanned sheet: pixels per inch.
        #[arg(long, default_value_t = 150.0)]
        dpi: f64,
        /// How far askew the scanned sheet lies, degrees.
        #[arg(long, default_value_t = 0.0, allow_negative_numbers = true)]
        tilt: f64,
    },
    /// Drape a costume and write the garment as it is wanted elsewhere: unit, axes, thickness, seams; with a manifest.
    Deliver(DeliverCommand),
    /// Print the flat pieces of a costume file at true scale (PDF): tiled over sheets with marks, or on one sheet.
    Print {
        file: PathBuf,
        #[arg(long)]
        out: PathBuf,
        /// a4, a3, letter, a0, or a roll by its width such as roll:91cm.
        #[arg(long, default_value = "a4")]
        paper: String,
        /// Sizes that lie in each other with lines of their own, such as woman-38,woman-46.
        #[arg(long, value_delimiter = ',')]
        sizes: Vec<String>,
    },
    /// Lay the pieces on cloth of a given width, in one size or several.
    Lay(LayCommand),
    /// Read the pieces of a pattern file (.svg or .dxf) into a costume file.
    Read {
        file: PathBuf,
        #[arg(long)]
        out: PathBuf,
    },
    /// Carry out a list of edits (JSON) on a costume file, as at the table.
    Edit {
        /// A costume file (*.ourlet.json); one of an earlier format is brought to today's.
        file: PathBuf,
        /// The edits, a JSON array.
        #[arg(long = "do")]
        edits: PathBuf,
        /// Write the costume here.
        #[arg(long)]
        out: PathBuf,
    },
    /// Make a body of a size or to measure, and write it with its measures.
    Body(BodyOptions),
    /// Serve the application to browsers on this machine.
    Serve(ServeOptions),
    /// Work at rehearsals that were asked for in the application, on this machine, until it is stopped.
    Worker(WorkerOptions),
    /// Measure the simulator.
    Bench(BenchOptions),
}

#[derive(Args)]
pub struct DrapeOptions {
    /// A costume file (*.ourlet.json).
    pub file: PathBuf,
    /// toile, sample, final or an edge length such as 8mm.
    #[arg(long)]
    pub fineness: Option<String>,
    /// Another body, such as man-50.
    #[arg(long)]
    pub preset: Option<String>,
    /// Hang it on a figure from this file (.obj .glb .gltf .ply .usda .abc) instead.
    #[arg(long, conflicts_with = "preset")]
    pub figure: Option<PathBuf>,
    #[command(flatten)]
    pub stance: StanceOptions,
    /// Drape in the pose of the file, then move the body to this one: such as arms-down, or a pose file (.json).
    #[arg(long)]
    pub pose: Option<String>,
    /// Fewest frames of that motion; a wide one takes more.
    #[arg(long, default_value_t = 30, requires = "pose", value_parser = clap::value_parser!(u16).range(2..=400))]
    pub frames: u16,
    /// Write the garment here; the ending (.obj or .glb) decides the format.
    #[arg(long)]
    pub out: Option<PathBuf>,
    /// Write the body here (.obj or .glb).
    #[arg(long)]
    pub body_out: Option<PathBuf>,
    /// Write a picture of the drape here (PNG).
    #[arg(long)]
    pub picture: Option<PathBuf>,
    /// Degrees by which the picture is turned from the front.
    #[arg(long, default_value_t = 25.0, allow_hyphen_values = true)]
    pub turn: f32,
    /// Write the figures of the drape here (JSON).
    #[arg(long)]
    pub report: Option<PathBuf>,
    /// Leave seams open in the delivered mesh.
    #[arg(long)]
    pub open_seams: bool,
    /// Number of threads; both give the same result.
    #[arg(long, value_parser = clap::value_parser!(u8).range(1..=2))]
    pub threads: Option<u8>,
    /// Give up after this many simulated seconds.
    #[arg(long, default_value_t = 30.0)]
    pub limit: f64,
}

#[derive(Args)]
pub struct DeliverCommand {
    /// A costume file (*.ourlet.json).
    pub file: PathBuf,
    /// Write the garment here; the ending (.glb .obj .ply .stl .usda .usdz) decides the format. May be repeated.
    #[arg(long, required = true)]
    pub out: Vec<PathBuf>,
    /// Another body, such as man-50.
    #[arg(long)]
    pub preset: Option<String>,
    /// toile, sample, final or an edge length such as 8mm.
    #[arg(long)]
    pub fineness: Option<String>,
    /// So many times every triangle becomes four, smoothly.
    #[arg(long, default_value_t = 0, value_parser = clap::value_parser!(u8).range(0..=3))]
    pub smooth: u8,
    /// Four-sided faces along the grain (in .obj, .ply and .usda).
    #[arg(long)]
    pub quads: bool,
    /// Share of the triangles that is kept, percent.
    #[arg(long, default_value_t = 100.0)]
    pub lighter: f64,
    /// Further levels of detail, each with half the triangles, in files of their own.
    #[arg(long, default_value_t = 0)]
    pub levels: u8,
    /// Thickness of the cloth, such as 1.2mm.
    #[arg(long)]
    pub thick: Option<String>,
    /// To which side: outwards, inwards or both.
    #[arg(long, default_value = "outwards")]
    pub side: String,
    /// Unit of the file (not of .glb): m, cm, mm or inch.
    #[arg(long, default_value = "m")]
    pub unit: String,
    /// z up instead of y (not in .glb).
    #[arg(long)]
    pub z_up: bool,
    /// Texture coordinates: metres, unit (0 to 1), tile (packed), fabric-tiles or piece-tiles.
    #[arg(long, default_value = "metres")]
    pub layout: String,
    /// Side of the texture of a tile, px.
    #[arg(long, default_value_t = 4096)]
    pub texture: u32,
    /// Least distance of pieces in a tile, px.
    #[arg(long, default_value_t = 8)]
    pub margin: u32,
    /// Pieces may be turned by quarters in a tile.
    #[arg(long)]
    pub turn: bool,
    /// Draw prints into the texture of the layout, instead of repeating them.
    #[arg(long)]
    pub bake: bool,
    /// A picture (PNG or JPEG) that is printed on a fabric of the costume; may be repeated.
    #[arg(long)]
    pub picture: Vec<PathBuf>,
    /// Leave seams open.
    #[arg(long)]
    pub open_seams: bool,
    /// The body as a mesh beside the garment.
    #[arg(long)]
    pub with_body: bool,
    /// Number of threads; all give the same result.
    #[arg(long, value_parser = clap::value_parser!(u8).range(1..=2))]
    pub threads: Option<u8>,
}

#[derive(Args)]
pub struct LayCommand {
    /// A costume file.
    pub file: PathBuf,
    /// Width of the cloth.
    #[arg(long, default_value = "140cm")]
    pub width: String,
    /// Sizes, such as woman-38,woman-46; without them the costume as it is.
    #[arg(long, value_delimiter = ',')]
    pub bodies: Vec<String>,
    /// Between pieces.
    #[arg(long, default_value = "3mm")]
    pub gap: String,
    /// The cloth has a nap: no piece lies head down.
    #[arg(long)]
    pub nap: bool,
    /// Orders that are tried.
    #[arg(long, default_value_t = 400, value_parser = clap::value_parser!(u32).range(1..=20000))]
    pub rounds: u32,
    /// Draw the plan here (SVG).
    #[arg(long)]
    pub out: Option<PathBuf>,
    /// Write the plan here (JSON).
    #[arg(long)]
    pub report: Option<PathBuf>,
}

/// How garments are judged, one or many.
#[derive(Args)]
pub struct JudgingOptions {
    /// toile, sample, final or an edge length such as 8mm.
    #[arg(long)]
    pub fineness: Option<String>,
    /// Wanted ease: close, regular or loose, or a girth with its range such as bust=6..10cm; may be repeated.
    #[arg(long)]
    pub wanted: Vec<String>,
    /// Write what was found here (JSON).
    #[arg(long)]
    pub report: Option<PathBuf>,
    /// How a mesh, or a figure, is to be taken.
    #[command(flatten)]
    pub stance: StanceOptions,
    /// Number of threads; all give the same result.
    #[arg(long, value_parser = clap::value_parser!(u8).range(1..=2))]
    pub threads: Option<u8>,
}

#[derive(Args)]
pub struct CheckOptions {
    /// A costume file (*.ourlet.json) or a mesh.
    pub file: PathBuf,
    /// The size, such as man-50, or the file of a figure.
    #[arg(long)]
    pub body: Option<String>,
    #[command(flatten)]
    pub judging: JudgingOptions,
    /// Write the fitting sheet here (PDF).
    #[arg(long)]
    pub sheet: Option<PathBuf>,
}

#[derive(Args)]
pub struct SizesOptions {
    /// A costume file (*.ourlet.json).
    pub file: PathBuf,
    /// Sizes such as woman-38, or files of figures.
    #[arg(long, value_delimiter = ',', required = true)]
    pub bodies: Vec<String>,
    #[command(flatten)]
    pub judging: JudgingOptions,
    /// Write a picture of each (PNG) into this folder.
    #[arg(long)]
    pub pictures: Option<PathBuf>,
}

#[derive(Args)]
pub struct FitOptions {
    /// A costume file (*.ourlet.json).
    pub file: PathBuf,
    /// A girth and the ease wanted there, such as bust=8cm; may be repeated.
    #[arg(long, required = true, allow_hyphen_values = true)]
    pub ease: Vec<String>,
    /// What may change: a value of a block such as tee:ease, or width:PIECE+PIECE, height:PIECE; may be repeated. Without it, what
    /// makes the garment wider there.
    #[arg(long)]
    pub change: Vec<String>,
    /// Another body, such as man-50.
    #[arg(long)]
    pub preset: Option<String>,
    /// toile, sample, final or an edge length such as 8mm.
    #[arg(long)]
    pub fineness: Option<String>,
    /// Write the changed costume here (*.ourlet.json).
    #[arg(long)]
    pub out: Option<PathBuf>,
    /// Write what was tried here (JSON).
    #[arg(long)]
    pub report: Option<PathBuf>,
    /// Number of threads; all give the same result.
    #[arg(long, value_parser = clap::value_parser!(u8).range(1..=2))]
    pub threads: Option<u8>,
}

/// How a figure from elsewhere is to be taken; what is not said is guessed.
#[derive(Args)]
pub struct StanceOptions {
    /// Unit of the file: m, cm, mm, in or ft.
    #[arg(long)]
    pub unit: Option<String>,
    /// The axis that points up, such as +z.
    #[arg(long, allow_hyphen_values = true)]
    pub up: Option<String>,
    /// The axis that points to the front, such as -y.
    #[arg(long, allow_hyphen_values = true)]
    pub front: Option<String>,
}

#[derive(Subcommand)]
pub enum BodyAction {
    /// Measure a figure (.obj .glb .gltf .ply .usda .abc) or the body of a costume (.json).
    Measure(MeasureOptions),
}

#[derive(Args)]
pub struct MeasureOptions {
    pub file: PathBuf,
    /// Also lay the tapes of this costume over it.
    #[arg(long)]
    pub costume: Option<PathBuf>,
    #[command(flatten)]
    pub stance: StanceOptions,
    /// Write the figures here (JSON).
    #[arg(long)]
    pub report: Option<PathBuf>,
    /// Write the figure as it stands, mended, here (.obj or .glb).
    #[arg(long)]
    pub out: Option<PathBuf>,
}

#[derive(Args)]
#[command(args_conflicts_with_subcommands = true)]
pub struct BodyOptions {
    #[command(subcommand)]
    pub action: Option<BodyAction>,
    /// The size it is based on.
    #[arg(long, default_value = "woman-38")]
    pub preset: String,
    /// An own measure such as waist=74cm or inseam=790mm; may be repeated.
    #[arg(long, value_name = "MEASURE=LENGTH")]
    pub set: Vec<String>,
    /// A pose such as t or seated, or a pose file (.json).
    #[arg(long, default_value = "a")]
    pub pose: String,
    /// Write a motion of this many frames into the GLB, from another pose to this one.
    #[arg(long, value_parser = clap::value_parser!(u16).range(2..=10_000))]
    pub frames: Option<u16>,
    /// The pose in which the motion begins.
    #[arg(long, default_value = "a", requires = "frames")]
    pub from: String,
    /// Write the body here (.obj or .glb).
    #[arg(long)]
    pub out: Option<PathBuf>,
    /// Write its measures here (JSON).
    #[arg(long)]
    pub report: Option<PathBuf>,
    /// List the sizes with their measures.
    #[arg(long)]
    pub list: bool,
}

#[derive(Args)]
pub struct BenchOptions {
    #[command(subcommand)]
    pub action: BenchAction,
}

#[derive(Args)]
pub struct MovingBench {
    /// Costume files.
    #[arg(required = true)]
    pub files: Vec<PathBuf>,
    /// Motions that ship, by their keys.
    #[arg(long, value_delimiter = ',', default_value = "walk,run-and-stop,turn,sit,kneel,slow-dance")]
    pub motions: Vec<String>,
    /// toile, sample, final or an edge length such as 8mm.
    #[arg(long)]
    pub fineness: Option<String>,
    /// Another body, such as man-50.
    #[arg(long)]
    pub preset: Option<String>,
    /// A figure from this file instead.
    #[arg(long, conflicts_with = "preset")]
    pub figure: Option<PathBuf>,
    /// Frames before the motion.
    #[arg(long, default_value_t = 50)]
    pub lead_in: usize,
    /// Frames after it.
    #[arg(long, default_value_t = 30)]
    pub settle: usize,
    #[command(flatten)]
    pub common: BenchCommon,
}

#[derive(Subcommand)]
pub enum BenchAction {
    /// Speed of two sheets and of a costume at growing numbers of triangles.
    Cloth {
        /// Costume file to measure.
        #[arg(default_value = "demo/rakers-tabard.ourlet.json")]
        file: PathBuf,
        /// Only the smallest meshes.
        #[arg(long)]
        quick: bool,
        /// Run every sheet once more at a tenth of the time step, and compare.
        #[arg(long)]
        reference: bool,
        #[command(flatten)]
        common: BenchCommon,
    },
    /// What is done with a drape: the search for crossings, the check, deliveries of every kind.
    Finish(FinishBench),
    /// A half-circle of each swatch, hung over a stand and drawn.
    Hung {
        /// Folder for the pictures (PNG), one a swatch.
        folder: PathBuf,
        /// Mesh edge, mm.
        #[arg(long, default_value = "12", value_parser = edge)]
        edge: f64,
        /// Only these swatches.
        #[arg(long, value_delimiter = ',')]
        only: Vec<String>,
        #[command(flatten)]
        common: BenchCommon,
    },
    /// How even the meshes of costumes are, and how fast they are cut.
    Mesh {
        /// Costume files.
        #[arg(required = true)]
        files: Vec<PathBuf>,
        #[command(flatten)]
        common: BenchCommon,
    },
    /// Costumes through motions: faults, strain, speed, and the size of what is stored.
    Moving(MovingBench),
    /// The swatch book in the laboratory: strip, cantilever and drape test, each against its range.
    Swatches {
        /// Mesh edges of the drape test, mm.
        #[arg(long, value_delimiter = ',', default_value = "10,5", value_parser = edge)]
        edge: Vec<f64>,
        /// Only this swatch.
        #[arg(long)]
        only: Option<String>,
        #[command(flatten)]
        common: BenchCommon,
    },
}

#[derive(Args)]
pub struct FinishBench {
    /// A costume file.
    pub file: PathBuf,
    /// toile, sample, final or an edge length such as 5mm.
    #[arg(long)]
    pub fineness: Option<String>,
    /// Another body, such as man-50.
    #[arg(long)]
    pub preset: Option<String>,
    /// Time steps for which the cloth falls before it is looked at.
    #[arg(long, default_value_t = 60)]
    pub steps: u32,
    #[command(flatten)]
    pub common: BenchCommon,
}

#[derive(Args)]
pub struct BenchCommon {
    #[arg(long, value_parser = clap::value_parser!(u8).range(1..=2))]
    pub threads: Option<u8>,
    /// Also write the figures as JSON.
    #[arg(long)]
    pub json: Option<PathBuf>,
}

fn edge(text: &str) -> Result<f64, String> {
    text.parse().ok().filter(|mm| (2.0..=30.0).contains(mm)).ok_or_else(|| format!("`{text}` is no edge; write 2 to 30 mm"))
}

#[derive(Args)]
pub struct ServeOptions {
    #[arg(long, default_value_t = 4600)]
    pub port: u16,
    /// postgres://user@127.0.0.1:port/name
    #[arg(long)]
    pub database: String,
    /// Folder with demo costumes for an empty database.
    #[arg(long)]
    pub demo: Option<PathBuf>,
    /// Drape the demo costumes in the background when they are loaded, so that the rail shows cloth.
    #[arg(long)]
    pub drape_demo: bool,
    /// How many workers are started on this machine while there is long work; with 0, others do it (`ourlet worker`).
    #[arg(long, default_value_t = 1, value_parser = clap::value_parser!(u16).range(0..=64))]
    pub workers: u16,
}

#[derive(Args)]
pub struct WorkerOptions {
    /// postgres://user@127.0.0.1:port/name
    #[arg(long)]
    pub database: String,
    /// Ends when this process is no longer the one that started it.
    #[arg(long, hide = true)]
    pub parent: Option<u32>,
}

#[derive(Args)]
pub struct RehearseOptions {
    /// A costume file (*.ourlet.json).
    pub file: PathBuf,
    /// A motion that ships, by its key (`list` names them), a file with poses in a row (.json), or one that came with the
    /// figure: `skin`, or `clip:1` and so on.
    #[arg(long)]
    pub motion: String,
    /// toile, sample, final or an edge length such as 8mm.
    #[arg(long)]
    pub fineness: Option<String>,
    /// Another body, such as man-50.
    #[arg(long)]
    pub preset: Option<String>,
    /// A figure from this file (.obj .glb .gltf .ply .usda .abc) instead.
    #[arg(long, conflicts_with = "preset")]
    pub figure: Option<PathBuf>,
    #[command(flatten)]
    pub stance: StanceOptions,
    /// Frames from the pose of the drape to the first of the motion; they are not written.
    #[arg(long, default_value_t = 50)]
    pub lead_in: usize,
    /// Frames after the motion in which the body stands.
    #[arg(long, default_value_t = 30)]
    pub settle: usize,
    /// Frames a second.
    #[arg(long, default_value_t = 24.0)]
    pub fps: f64,
    /// So many times the steps that the speed of the body asks for.
    #[arg(long, default_value_t = 1)]
    pub substeps: u32,
    /// Added to the clearance from the skin, mm.
    #[arg(long, default_value_t = 0.0, allow_negative_numbers = true)]
    pub clearance: f64,
    /// Wind, how fast and from where in degrees from the front: such as 4m/s@90.
    #[arg(long)]
    pub wind: Option<String>,
    /// Write the garment here; the ending decides the format: .usda (time samples), .abc (Alembic), .glb
    /// (morph targets), or .pc2 (point cache, with an .obj of the
    /// first frame beside it). May be repeated.
    #[arg(long)]
    pub out: Vec<PathBuf>,
    /// Write the skin that cloth meets here, in the same way.
    #[arg(long)]
    pub body_out: Vec<PathBuf>,
    /// Write what was found in every frame here (JSON).
    #[arg(long)]
    pub report: Option<PathBuf>,
    /// Write pictures of so many frames (PNG) into this folder.
    #[arg(long)]
    pub pictures: Option<PathBuf>,
    /// How many.
    #[arg(long, default_value_t = 5)]
    pub count: usize,
    /// Degrees by which pictures are turned from the front.
    #[arg(long, default_value_t = 35.0, allow_negative_numbers = true)]
    pub turn: f32,
    /// Number of threads; all give the same result.
    #[arg(long)]
    pub threads: Option<u8>,
    /// Give up draping after this many simulated seconds.
    #[arg(long, default_value_t = 30.0)]
    pub limit: f64,
}
