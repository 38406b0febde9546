//! From the document to the simulator's scene, with the way back from every vertex to its piece.

use crate::construct::construct;
use crate::folding::folded;
use crate::form::ContactBody;
use crate::piece_range::PieceRange;
use crate::place::{self, Offset, Surroundings};
use cloth::{Panel, Scene, SeamPair, Settings};
use costume::{Costume, LineId, Pattern, PatternNode, PatternPiece, PatternRun, PieceId, Refusal, SeamId, Severity, Swatch, resolve};
use mesh::{CutError, Domain, DomainLine, EdgeRun, PieceMeshes, PlanarMesh, SeamSpec};
use std::collections::{BTreeSet, HashMap};

/// A costume cut, hung and ready to drape.
#[derive(Clone)]
pub struct Assembly {
    /// The document that was hung.
    pub costume: Costume,
    /// The plain pattern of the costume.
    pub pattern: Pattern,
    /// The body it hangs on, with the parts that cloth meets.
    pub form: ContactBody,
    /// Input of the simulator, m; its vertices are those of the pieces one after the other.
    pub scene: Scene,
    /// Where each hanging piece lies within the scene, inner layers first.
    pub pieces: Vec<PieceRange>,
    /// Tags in the order of the scene's seam indices.
    pub seam_tags: Vec<String>,
    /// The seams themselves in that order; twins' seams have the id of their partner.
    pub seam_ids: Vec<SeamId>,
}

impl Assembly {
    /// Area of a triangle of the scene as it was cut, m².
    pub(crate) fn cut_area(&self, t: usize) -> f64 {
        let [a, b, c] = self.scene.triangles[t].map(|v| self.scene.flat[v as usize].map(f64::from));
        0.5 * ((b[0] - a[0]) * (c[1] - a[1]) - (c[0] - a[0]) * (b[1] - a[1])).abs()
    }

    /// The piece that a triangle of the scene belongs to.
    pub fn piece_of_triangle(&self, t: usize) -> &PieceRange {
        let after = self.pieces.partition_point(|p| p.first_triangle <= t);
        &self.pieces[after.max(1) - 1]
    }
}

impl Assembly {
    /// The hanging pieces of the pattern with their places in the scene.
    pub(crate) fn hung(&self) -> impl Iterator<Item = (&PatternPiece, &PieceRange)> {
        hanging(&self.pattern).into_iter().map(|p| &self.pattern.pieces[p]).zip(&self.pieces)
    }

    /// Vertices of the scene that are held to the body, each once.
    pub fn held_vertices(&self) -> Vec<u32> {
        let made = &self.scene.construction;
        let skin = made.skin_holds.iter().flat_map(|h| &h.vertices);
        let held: BTreeSet<u32> = made.stays.iter().flat_map(|s| &s.vertices).chain(skin).copied().collect();
        held.into_iter().collect()
    }
}

/// Cuts and hangs a costume on its body. `form` makes the body when cloth has reached some of its parts; a part that a
/// piece hangs near is taken in, and all pieces are hung clear of it.
pub fn hang(costume: &Costume, mut form: impl FnMut(&BTreeSet<String>) -> Result<ContactBody, Refusal>) -> Result<Assembly, Refusal> {
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
pub fn assemble(costume: &Costume, form: &ContactBody) -> Result<Assembly, Refusal> {
    let pattern = resolve(costume);
    if let Some(fault) = crate::references::diagnostics_of(costume, &pattern).into_iter().find(|f| f.severity == Severity::Error) {
        return Err(Refusal::elsewhere(fault.item, fault.reason, fault.remedy.trim_end_matches('.')));
    }
    let hanging = hanging(&pattern);
    let pieces_hung: Vec<&PatternPiece> = hanging.iter().map(|&p| &pattern.pieces[p]).collect();
    let (domains, sewn) = domains(&pattern, &hanging);
    let specs: Vec<SeamSpec> = sewn.iter().map(|(_, spec)| spec.clone()).collect();
    let cut = mesh::cut(&domains, &specs, costume.fineness.edge_mm())
        .map_err(|e| Refusal::elsewhere(&pieces_hung[e.piece].name, e.reason, "change the outline or the fineness"))?;
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
    for (piece, flat) in pieces_hung.iter().zip(cut.pieces) {
        pieces.push(hang_piece(costume, form, piece, flat, &mut standoffs, &mut scene)?);
    }
    let first = |piece: usize| pieces[piece].first_vertex as u32;
    scene.pairs = cut.pairs.iter().map(|p| SeamPair { a: first(p.a.0) + p.a.1, b: first(p.b.0) + p.b.1, seam: p.seam as u32 }).collect();
    let seams: Vec<&costume::PatternSeam> = sewn.iter().map(|(s, _)| &pattern.seams[*s]).collect();
    scene.construction = construct(&pieces_hung, &pieces, &seams, &scene.pairs, &form.posed);
    let seam_tags = seams.iter().map(|seam| seam.tag.clone()).collect();
    let seam_ids = seams.iter().map(|seam| seam.id).collect();
    Ok(Assembly { costume: costume.clone(), form: form.clone(), scene, pieces, seam_tags, seam_ids, pattern })
}

/// The pieces that are not parked; inner layers hang first, so that outer ones hang outside them.
fn hanging(pattern: &Pattern) -> Vec<usize> {
    let mut hanging: Vec<usize> = (0..pattern.pieces.len()).filter(|&p| !pattern.pieces[p].parked).collect();
    hanging.sort_by_key(|&p| pattern.pieces[p].wear);
    hanging
}

/// The hanging pieces as the mesher takes them, and the seams between them, each with its number in the pattern.
fn domains(pattern: &Pattern, hanging: &[usize]) -> (Vec<Domain>, Vec<(usize, SeamSpec)>) {
    let domains = hanging.iter().map(|&p| domain(pattern, p)).collect();
    let sewn = (0..pattern.seams.len()).filter_map(|s| Some((s, spec(pattern, s, hanging)?))).collect();
    (domains, sewn)
}

/// How a mesher is called: pieces, seams, wanted edge length in mm.
type Cutter = fn(&[Domain], &[SeamSpec], f64) -> Result<PieceMeshes, CutError>;

/// The hanging pieces of a costume with the ids of their lines, cut by one of the meshers; nothing is hung.
#[allow(clippy::type_complexity)]
pub(crate) fn cut_of(costume: &Costume, cutter: Cutter) -> Result<(Vec<(PieceId, Vec<(LineId, bool)>)>, PieceMeshes), CutError> {
    let pattern = resolve(costume);
    let hanging = hanging(&pattern);
    let (domains, sewn) = domains(&pattern, &hanging);
    let specs: Vec<SeamSpec> = sewn.into_iter().map(|(_, spec)| spec).collect();
    let cut = cutter(&domains, &specs, costume.fineness.edge_mm())?;
    let ids = |&p: &usize| (pattern.pieces[p].id, pattern.pieces[p].lines.iter().map(|l| (l.id, l.image)).collect());
    Ok((hanging.iter().map(ids).collect(), cut))
}

/// The meshes that a costume is cut into, by piece, without hanging it.
pub fn meshes(costume: &Costume) -> Result<Vec<(PieceId, PlanarMesh)>, Refusal> {
    let (pieces, cut) =
        cut_of(costume, mesh::cut).map_err(|e| Refusal::elsewhere(&costume.name, e.to_string(), "change the outline or the fineness"))?;
    Ok(pieces.into_iter().map(|(id, _)| id).zip(cut.pieces).collect())
}

/// Hangs one piece; `standoffs` are those of the pieces that already hang, by station.
fn hang_piece<'a>(
    costume: &Costume,
    form: &'a ContactBody,
    piece: &PatternPiece,
    flat: PlanarMesh,
    standoffs: &mut HashMap<&'a str, Offset>,
    scene: &mut Scene,
) -> Result<PieceRange, Refusal> {
    let no_station = || Refusal::elsewhere(&piece.name, "has no station on the body", "choose a station for it, or park it");
    let placement = piece.placement.as_ref().ok_or_else(no_station)?;
    let station = form.posed.station(&placement.station).ok_or_else(no_station)?;
    let near = Surroundings { grid: &form.grid, positions: &scene.positions, triangles: &scene.triangles };
    let hung = place::hang(
        &piece.name,
        &flat,
        folded(piece, &flat.points).as_ref(),
        placement,
        station,
        &near,
        standoffs.get(station.key).copied(),
    )?;
    standoffs.insert(station.key, hung.standoff);
    let swatch = costume
        .fabric(piece.fabric)
        .and_then(costume::Fabric::cloth)
        .ok_or_else(|| Refusal::elsewhere(&piece.name, "has no fabric", "choose one"))?;
    let range = PieceRange {
        piece: piece.id,
        name: piece.name.clone(),
        first_vertex: scene.positions.len(),
        first_triangle: scene.triangles.len(),
        flat,
        lines: piece.lines.iter().map(|l| (l.id, l.image)).collect(),
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
        areal_density: (s.areal_density * 1e-3) as f32,
        stretch: [s.stretch_stiffness_warp as f32, s.stretch_stiffness_weft as f32],
        shear: s.shear as f32,
        bending: [(s.bending_rigidity_warp * 1e-6) as f32, (s.bending_rigidity_weft * 1e-6) as f32],
        thickness: (s.thickness * 1e-3) as f32,
        friction: s.friction as f32,
        locking: (s.locking * 1e-2) as f32,
    }
}

/// A piece of the pattern as the mesher takes it.
fn domain(pattern: &Pattern, piece: usize) -> Domain {
    let p = &pattern.pieces[piece];
    let node = |n: PatternNode| u64::from(n.id.0) * 2 + u64::from(n.image);
    Domain {
        lines: p.lines.iter().map(|l| DomainLine { curve: l.curve, from: node(l.from), to: node(l.to) }).collect(),
        outline: p.outline.clone(),
        cutouts: p.cutouts.clone(),
        inside: pattern.embedded_paths(piece).into_iter().flat_map(|i| p.inside[i].lines.clone()).collect(),
    }
}

/// The seam in terms of the hanging pieces; `None` when one of them is parked.
fn spec(pattern: &Pattern, seam: usize, hanging: &[usize]) -> Option<SeamSpec> {
    let seam = &pattern.seams[seam];
    let side = |runs: &[PatternRun]| {
        let run = |r: &PatternRun| {
            let piece = hanging.iter().position(|p| *p == r.piece)?;
            Some(EdgeRun { piece, line: r.line, from: r.from, to: r.to })
        };
        runs.iter().map(run).collect::<Option<Vec<_>>>()
    };
    Some(SeamSpec { a: side(&seam.a)?, b: side(&seam.b)?, open: 0.0, notches: seam.notches.clone() })
}
