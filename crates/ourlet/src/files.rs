//! Files of the command line: read with their limits, written whole or not at all.

use body::{Pose, poses};
use costume::Costume;
use std::collections::BTreeMap;
use std::path::{Path, PathBuf};
use workroom::{FileKind, PictureFiles, Prints};

/// Largest costume file that is opened at all.
const FILE_LIMIT: u64 = costume::limits::FILE_BYTES as u64;

/// Opens a costume file with its limits.
pub fn read(path: &Path) -> Result<Costume, String> {
    let failed = |e: std::io::Error| format!("{}: {e}", path.display());
    let size = std::fs::metadata(path).map_err(failed)?.len();
    if size > FILE_LIMIT {
        return Err(format!("{}: {size} bytes is more than a costume may have ({FILE_LIMIT})", path.display()));
    }
    let bytes = std::fs::read(path).map_err(failed)?;
    let text = String::from_utf8(bytes).map_err(|_| format!("{}: is not a text file", path.display()))?;
    costume::read(&text).map_err(|e| format!("{}: {e}", path.display()))
}

/// The prints of a costume, with pictures from files, which are told apart by their content.
pub fn prints(costume: &Costume, pictures: &[PathBuf]) -> Result<Prints, String> {
    let mut files = PictureFiles::new();
    for path in pictures {
        let failed = |e: std::io::Error| format!("{}: {e}", path.display());
        if std::fs::metadata(path).map_err(failed)?.len() > formats::scan_limits::FILE_BYTES as u64 {
            return Err(format!("{}: is larger than {} MB", path.display(), formats::scan_limits::FILE_BYTES >> 20));
        }
        let bytes = std::fs::read(path).map_err(failed)?;
        files.insert(server::hash_of(&[&bytes]), bytes);
    }
    Prints::of(costume, &files).map_err(|e| format!("{e} (--picture FILE)"))
}

/// The format that a file's ending names.
pub fn kind_of(path: &Path) -> Result<FileKind, String> {
    match path.extension().and_then(|e| e.to_str()) {
        Some("obj") => Ok(FileKind::Obj),
        Some("glb") => Ok(FileKind::Glb),
        Some("ply") => Ok(FileKind::Ply),
        Some("stl") => Ok(FileKind::Stl),
        Some("usda") => Ok(FileKind::Usda),
        Some("usdz") => Ok(FileKind::Usdz),
        _ => Err(format!("{}: the ending must be .obj, .glb, .ply, .stl, .usda or .usdz", path.display())),
    }
}

/// A pose that ships, by its key, or a pose file: `{"bones": {"forearm-left": [90, 0, 0]}}`, degrees.
pub fn read_pose(text: &str) -> Result<Pose, String> {
    if let Some(named) = poses().into_iter().find(|p| p.key == text) {
        return Ok(named.pose);
    }
    let path = Path::new(text);
    if path.extension().is_none_or(|e| e != "json") {
        let keys: Vec<&str> = poses().iter().map(|p| p.key).collect();
        return Err(format!("there is no pose `{text}`; name a file (.json) or one of {}", keys.join(", ")));
    }
    let failed = |e: &dyn std::fmt::Display| format!("{text}: {e}");
    let size = std::fs::metadata(path).map_err(|e| failed(&e))?.len();
    if size > 1 << 20 {
        return Err(format!("{text}: {size} bytes is more than a pose may have"));
    }
    #[derive(serde::Deserialize)]
    #[serde(deny_unknown_fields)]
    struct PoseFile {
        #[serde(default, rename = "name")]
        _name: String,
        bones: BTreeMap<String, [f64; 3]>,
    }
    let file: PoseFile = serde_json::from_slice(&std::fs::read(path).map_err(|e| failed(&e))?).map_err(|e| failed(&e))?;
    Ok(Pose { bones: file.bones })
}

/// Writes a body; the ending decides the format.
pub fn write_mesh(path: &Path, body: formats::ExportMesh) -> Result<(), String> {
    let bytes = match kind_of(path)? {
        FileKind::Glb => formats::glb(&[body]),
        FileKind::Obj => formats::obj(&[body], None).into_bytes(),
        FileKind::Ply => formats::ply(&[body], "Ourlet body, metres, y up"),
        FileKind::Stl => formats::stl(&[body], "Ourlet body"),
        FileKind::Usda => formats::usda_still(&[body], 1.0, false).into_bytes(),
        FileKind::Usdz => formats::archive(&[("body.usda", formats::usda_still(&[body], 1.0, false).as_bytes())]),
    };
    write(path, &bytes)
}

/// Writes beside the target and renames, so that a full disk never leaves half a file.
pub fn write(path: &Path, bytes: &[u8]) -> Result<(), String> {
    let failed = |e: std::io::Error| format!("{}: {e}", path.display());
    let partial = path.with_extension("partial");
    std::fs::write(&partial, bytes).map_err(failed)?;
    std::fs::rename(&partial, path).map_err(failed)
}
