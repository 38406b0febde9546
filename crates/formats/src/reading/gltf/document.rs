//! The typed document. The library's own check leaves out the targets of motions and takes the index of positions for
//! granted, so both are looked at here before it runs.

use crate::reading::{ReadFault, damaged};
use gltf::json::Root;
use gltf::json::validation::Checked;
use gltf::{Document, Gltf, Semantic};

/// The document and the binary chunk of a GLB.
pub(super) fn parse(bytes: &[u8]) -> Result<(Document, Option<Vec<u8>>), ReadFault> {
    if bytes.starts_with(b"glTF") && bytes.get(8..12).is_none_or(|b| u32::from_le_bytes([b[0], b[1], b[2], b[3]]) < 12) {
        return Err(damaged("it is shorter than its own head"));
    }
    let Gltf { document, blob } = Gltf::from_slice_without_validation(bytes).map_err(damaged)?;
    let json = document.into_json();
    positions(&json)?;
    motions(&json)?;
    Ok((Document::from_json(json).map_err(damaged)?, blob))
}

/// Refuses primitives without positions of the right kind, before anything reads them.
fn positions(json: &Root) -> Result<(), ReadFault> {
    let positions = Checked::Valid(Semantic::Positions);
    let primitives = json.meshes.iter().flat_map(|m| &m.primitives);
    let beyond = |at: usize| at >= json.accessors.len();
    if primitives.into_iter().any(|p| p.attributes.get(&positions).is_some_and(|at| beyond(at.value()))) {
        return Err(damaged("positions in an accessor that is not there"));
    }
    Ok(())
}

/// Refuses animations whose channels name samplers or nodes that are not there.
fn motions(json: &Root) -> Result<(), ReadFault> {
    for animation in &json.animations {
        for channel in &animation.channels {
            if matches!(channel.target.path, Checked::Invalid) {
                return Err(damaged("a motion of a kind that there is not"));
            }
            if channel.target.node.value() >= json.nodes.len() || channel.sampler.value() >= animation.samplers.len() {
                return Err(damaged("a motion of a node or with values that are not there"));
            }
        }
        for sampler in &animation.samplers {
            if matches!(sampler.interpolation, Checked::Invalid) {
                return Err(damaged("a motion with values of a kind that there is not"));
            }
            if [sampler.input, sampler.output].iter().any(|at| at.value() >= json.accessors.len()) {
                return Err(damaged("a motion in an accessor that is not there"));
            }
        }
    }
    Ok(())
}
