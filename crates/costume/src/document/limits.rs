//! Explicit limits, so that no document can exhaust the machine.

/// Largest costume file in bytes.
pub const FILE_BYTES: usize = 16 << 20;
/// Most pieces in a costume.
pub const PIECES: usize = 200;
/// Most lines of one piece, and most of its paths, cut-outs and marks together.
pub const LINES: usize = 400;
/// Notches, drill holes and texts of one drawing.
pub const MARKS: usize = 400;
/// Most own measures of a body.
pub const MEASURES: usize = 64;
/// Most kept poses and laid tapes of a costume.
pub const POSES: usize = 100;
/// Notes pinned to the pieces of a costume.
pub const NOTES: usize = 400;
/// Tapes laid over the body by hand.
pub const TAPES: usize = 100;
/// Most points of a tape.
pub const TAPE_POINTS: usize = 64;
/// Most bones that a pose names, and stand-ins of a body.
pub const BONES: usize = 400;
/// Stand-ins of one body.
pub const SHAPES: usize = 40;
/// Most seams in a costume, and most edges on one side of a seam.
pub const SEAMS: usize = 1000;
/// Runs on one side of a seam.
pub const RUNS: usize = 100;
/// Most fabrics in a costume.
pub const FABRICS: usize = 200;
/// Largest id; far more than a lifetime of edits uses.
pub const IDS: u32 = 1 << 30;
/// Angles of grain and placement, degrees.
pub const ANGLE: std::ops::RangeInclusive<f64> = -3600.0..=3600.0;
/// Longest name in characters.
pub const NAME: usize = 80;
/// Table coordinates stay within this distance of the origin (mm).
pub const TABLE: f64 = 20_000.0;
/// Shortest edge (mm).
pub const EDGE: f64 = 1.0;
/// Wear order of a piece.
pub const WEAR: std::ops::RangeInclusive<u8> = 1..=9;
/// Length of an elastic over its edge, percent.
pub const ELASTIC: std::ops::RangeInclusive<f64> = 20.0..=100.0;
/// Widest allowance and hem (mm).
pub const WIDTH: f64 = 500.0;
/// Most edits in one batch.
pub const BATCH: usize = 1000;
/// Most points of a stroke that curves are fitted to.
pub const STROKE: usize = 20_000;
/// Most lines along which one step spreads a piece, and most pleats that it lays.
pub const CUTS: usize = 60;
/// Most pleats of one step.
pub const PLEATS: u8 = 40;
/// Most blocks of a costume.
pub const BLOCKS: usize = 100;
/// Pictures under the paper of one costume.
pub const UNDERLAYS: usize = 40;
/// Columns or rows of a picture under the paper.
pub const PIXELS: std::ops::RangeInclusive<f64> = 1.0..=32_000.0;
/// Resolution of a picture under the paper, pixels per inch of the table.
pub const DPI: std::ops::RangeInclusive<f64> = 10.0..=2400.0;
/// Lengths by which a picture is scaled or straightened, mm.
pub const UNDERLAY: std::ops::RangeInclusive<f64> = 2.0..=10_000.0;
/// Longest text of a mark in characters.
pub const TEXT: usize = 200;
/// Pressed angle of a seam or a fold line, degrees.
pub const FOLD: std::ops::RangeInclusive<f64> = -170.0..=170.0;
/// Firmness of a pressed angle, times the cloth's own bending stiffness.
pub const PRESS: std::ops::RangeInclusive<f64> = 1.0..=100.0;
/// How many times as long as the other a side of a seam may be.
pub const RATIO: f64 = 4.0;
/// Meant ratio of a gather.
pub const GATHER: std::ops::RangeInclusive<f64> = 1.0..=RATIO;
/// How far one side of a seam lies over the other (mm).
pub const LAP: std::ops::RangeInclusive<f64> = 1.0..=100.0;
/// Width at which a seam is held apart (mm), and steps in which it gets there.
pub const LACING: std::ops::RangeInclusive<f64> = 1.0..=500.0;
/// Steps of a lacing.
pub const STEPS: std::ops::RangeInclusive<f64> = 1.0..=100.0;
/// Buttons of a closure.
pub const BUTTONS: std::ops::RangeInclusive<f64> = 2.0..=60.0;
/// Rows of top-stitching; their distance and the length of a stitch (mm).
pub const ROWS: std::ops::RangeInclusive<f64> = 1.0..=6.0;
/// Distance of rows and length of stitches (mm).
pub const STITCH: std::ops::RangeInclusive<f64> = 0.5..=50.0;
/// Distance from the skin at which a piece is hung (mm).
pub const HUNG: std::ops::RangeInclusive<f64> = 0.0..=400.0;
/// Degrees by which a hung piece leans.
pub const LEAN: std::ops::RangeInclusive<f64> = -60.0..=60.0;
/// Distance from the skin at which cloth is held (mm).
pub const HELD_AT: std::ops::RangeInclusive<f64> = 0.0..=200.0;
/// How firmly it is held, percent.
pub const STRENGTH: std::ops::RangeInclusive<f64> = 1.0..=100.0;
/// Height of a band above the ground (mm).
pub const HEIGHT: std::ops::RangeInclusive<f64> = 0.0..=2500.0;
/// Factor of friction.
pub const GRIP: std::ops::RangeInclusive<f64> = 0.0..=10.0;
/// How far cloth may leave where a body in motion carries it, mm.
pub const LEASH: std::ops::RangeInclusive<f64> = 1.0..=1000.0;
/// Maps on one piece.
pub const PAINTS: usize = 16;
/// Round places of the skin with a friction of their own.
pub const ROUGH_SPOTS: usize = 100;
/// Radius of a brush (mm).
pub const BRUSH: std::ops::RangeInclusive<f64> = 1.0..=1000.0;
/// Most points of a stroke of the brush, and of all in one batch.
pub const BRUSHED: usize = 500;
/// Mesh edge lengths that may be asked for (mm).
pub const FINENESS: std::ops::RangeInclusive<f64> = 4.0..=60.0;
/// Sides of the repeat of a print, mm.
pub const PRINT: std::ops::RangeInclusive<f64> = 5.0..=2000.0;
