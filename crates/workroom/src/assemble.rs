//! From the document to the simulator's scene, with the way back from every vertex to its piece.

use crate::construct::construct;
use crate::form::Form;
use crate::place::{self, Standoff, Surroundings};
use cloth::{Panel, Scene, SeamPair, Settings};
use costume::{Costume, EdgeCurve, Piece, PieceId, Refusal, Seam, Severity, Swatch, edge_curve};
use kurbo::PathSeg;
use mesh::{FlatMesh, FlatPiece, Stitch, Stretch};
use std::collections::{BTreeSet, HashMap};

/// The vertices and triangles of one piece within the scene.
#[derive(Clone, Debug)]
pub struct PieceRange {
    pub piece: PieceId,
    pub name: String,
    pub first_vertex: usize,
    pub first_triangle: usize,
    /// The cut piece in its own frame, mm.
    pub flat: FlatMesh,
    /// The boundary vertex at which every edge starts, and their number.
    pub edge_starts: Vec<usize>,
}

impl PieceRange {
    /// Its vertices within the scene.
    pub fn vertices(&self) -> std::ops::Range<usize> {
        self.first_vertex..self.first_vertex + self.flat.points.len()
    }

    /// The scene's vertices along an edge, from its corner to the next.
    pub fn edge_vertices(&self, edge: usize) -> Vec<u32> {
        let around = self.edge_starts[self.edge_starts.len() - 1];
        (self.edge_starts[edge]..=self.edge_starts[edge + 1]).map(|k| (self.first_vertex + k % around) as u32).collect()
    }
}

/// A costume cut, hung and ready to drape.
#[derive(Clone)]
pub struct Assembly {
    pub costume: Costume,
    pub form: Form,
    pub scene: Scene,
    pub pieces: Vec<PieceRange>,
    /// Tags in the order of the scene's seam indices.
    pub seam_tags: Vec<String>,
}

impl Assembly {
    /// The piece that a triangle of the scene belongs to.
    pub fn piece_of_triangle(&self, t: usize) -> &PieceRange {
        let after = self.pieces.partition_point(|p| p.first_triangle <= t);
        &self.pieces[after.max(1) - 1]
    }
}

/// Cuts and hangs a costume on its body. `form` makes the body when cloth has reached some of its parts; a part that a
/// piece hangs near is taken in, and all pieces are hung clear of it.
pub fn hang(costume: &Costume, mut form: impl FnMut(&BTreeSet<String>) -> Result<Form, Refusal>) -> Result<Assembly, Refusal> {
    let mut reached = BTreeSet::new();
    loop {
        let assembly = assemble(costume, &form(&reached)?)?;
        let near = assembly.form.reached_by(&assembly.scene.positions);
        if near.is_empty() {
            return Ok(assembly);
        }
        reached.extend(near);
    }
}

/// Cuts, hangs and sews the pieces that are not parked.
pub fn assemble(costume: &Costume, form: &Form) -> Result<Assembly, Refusal> {
    if let Some(fault) = crate::faults(costume).into_iter().find(|f| f.severity == Severity::Stops) {
        return Err(Refusal::new(fault.item, fault.reason, fault.mend.trim_end_matches('.')));
    }
    // inner layers hang first, so that outer ones hang outside them
    let mut hanging: Vec<&Piece> = costume.pieces.iter().filter(|p| !p.parked).collect();
    hanging.sort_by_key(|p| p.wear);
    let outlines: Vec<FlatPiece> = hanging.iter().map(|p| flat_piece(p)).collect();
    let sewn: Vec<(&Seam, Stitch)> = costume.seams.iter().filter_map(|s| Some((s, stitch(s, &hanging)?))).collect();
    let stitches: Vec<Stitch> = sewn.iter().map(|(_, stitch)| stitch.clone()).collect();
    let cut = mesh::cut(&outlines, &stitches, costume.fineness.edge_mm())
        .map_err(|e| Refusal::new(&hanging[e.piece].name, e.reason, "change the outline or the fineness"))?;
    let mut scene = Scene {
        positions: Vec::new(),
        flat: Vec::new(),
        triangles: Vec::new(),
        panels: Vec::new(),
        pairs: Vec::new(),
        body: Some(form.still()),
        pins: Vec::new(),
        construction: Default::default(),
        settings: Settings::default(),
    };
    let mut pieces = Vec::new();
    let mut standoffs = HashMap::new();
    for ((piece, flat), starts) in hanging.iter().zip(cut.pieces).zip(cut.starts) {
        pieces.push(hang_piece(costume, form, piece, (flat, starts), &mut standoffs, &mut scene)?);
    }
    let first = |piece: usize| pieces[piece].first_vertex as u32;
    scene.pairs = cut.pairs.iter().map(|p| SeamPair { a: first(p.a.0) + p.a.1, b: first(p.b.0) + p.b.1, seam: p.seam as u32 }).collect();
    scene.construction = construct(&hanging, &pieces, &sewn, &scene.pairs);
    let seam_tags = sewn.iter().map(|(seam, _)| seam.tag.clone()).collect();
    Ok(Assembly { costume: costume.clone(), form: form.clone(), scene, pieces, seam_tags })
}

/// Hangs one piece; `standoffs` are those of the pieces that already hang, by station.
fn hang_piece(
    costume: &Costume,
    form: &Form,
    piece: &Piece,
    (flat, edge_starts): (FlatMesh, Vec<usize>),
    standoffs: &mut HashMap<&str, Standoff>,
    scene: &mut Scene,
) -> Result<PieceRange, Refusal> {
    let no_station = || Refusal::new(&piece.name, "has no station on the body", "choose a station for it, or park it");
    let placement = piece.placement.as_ref().ok_or_else(no_station)?;
    let station = form.posed.station(&placement.station).ok_or_else(no_station)?;
    let near = Surroundings { grid: &form.grid, positions: &scene.positions, triangles: &scene.triangles };
    let hung = place::hang(&piece.name, &flat, placement, station, &near, standoffs.get(station.key).copied())?;
    standoffs.insert(station.key, hung.standoff);
    let swatch = costume.cloth(piece).ok_or_else(|| Refusal::new(&piece.name, "has no fabric", "choose one"))?;
    let range = PieceRange {
        piece: piece.id,
        name: piece.name.clone(),
        first_vertex: scene.positions.len(),
        first_triangle: scene.triangles.len(),
        flat,
        edge_starts,
    };
    scene.positions.extend(hung.positions);
    scene.flat.extend(range.flat.points.iter().map(|p| p.map(|v| (v / 1000.0) as f32)));
    let base = range.first_vertex as u32;
    scene.triangles.extend(range.flat.triangles.iter().map(|t| t.map(|v| v + base)));
    scene.panels.push(Panel {
        name: piece.name.clone(),
        fabric: cloth_fabric(&swatch),
        grain: piece.grain.to_radians() as f32,
        first: range.first_triangle,
        count: range.flat.triangles.len(),
    });
    Ok(range)
}

/// The swatch's values in SI units.
pub fn cloth_fabric(s: &Swatch) -> cloth::Fabric {
    cloth::Fabric {
        areal_density: (s.density * 1e-3) as f32,
        stretch: [s.stretch_warp as f32, s.stretch_weft as f32],
        shear: s.shear as f32,
        bending: [(s.bend_warp * 1e-6) as f32, (s.bend_weft * 1e-6) as f32],
        thickness: (s.thickness * 1e-3) as f32,
        friction: s.friction as f32,
        locking: (s.locking * 1e-2) as f32,
    }
}

fn flat_piece(piece: &Piece) -> FlatPiece {
    let edge = |i| match edge_curve(piece, i) {
        EdgeCurve::Straight(line) => PathSeg::Line(line),
        EdgeCurve::Bowed(cubic) => PathSeg::Cubic(cubic),
    };
    let line = |fold: &costume::FoldLine| Some([piece.index(fold.from)?, piece.index(fold.to)?]);
    FlatPiece { edges: (0..piece.corners.len()).map(edge).collect(), lines: piece.folds.iter().filter_map(line).collect() }
}

/// The seam in terms of the hanging pieces; `None` when one of them is parked.
fn stitch(seam: &Seam, hanging: &[&Piece]) -> Option<Stitch> {
    let side = |runs: &[costume::Run]| {
        runs.iter()
            .map(|run| {
                let piece = hanging.iter().position(|p| p.id == run.piece)?;
                Some(Stretch { piece, edge: hanging[piece].index(run.edge)?, backwards: run.backwards })
            })
            .collect::<Option<Vec<_>>>()
    };
    Some(Stitch { a: side(&seam.a)?, b: side(&seam.b)? })
}
