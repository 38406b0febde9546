//! Names that stay apart in a file, and the materials of a delivery with theirs.

use crate::{ExportMesh, Material, Texture};
use std::collections::HashSet;

/// Gives every name once; a second one of the same letters gets a number.
#[derive(Default)]
pub(crate) struct Names(HashSet<String>);

impl Names {
    /// Letters, digits, `-` and `_` only, as names in OBJ end at white space; unique among all that were given.
    pub fn word(&mut self, name: &str) -> String {
        let word: String = name.chars().map(|c| if c.is_alphanumeric() || c == '-' || c == '_' { c } else { '_' }).collect();
        self.unique(if word.is_empty() { "unnamed".into() } else { word }, '_')
    }

    /// The name as it is, or with a number when it was given before.
    pub fn plain(&mut self, name: &str) -> String {
        self.unique(name.to_owned(), ' ')
    }

    /// The name, or the name with a number after `sign` where another has it already.
    fn unique(&mut self, name: String, sign: char) -> String {
        let numbered = (2usize..).map(|k| format!("{name}{sign}{k}"));
        let free = std::iter::once(name.clone()).chain(numbered).find(|n| !self.0.contains(n)).unwrap_or(name);
        self.0.insert(free.clone());
        free
    }
}

/// The different materials of some meshes in the order in which they come.
pub(crate) fn materials(meshes: &[ExportMesh]) -> Vec<&Material> {
    let mut found: Vec<&Material> = Vec::new();
    for material in meshes.iter().flat_map(|m| &m.groups).map(|g| &g.material) {
        if !found.contains(&material) {
            found.push(material);
        }
    }
    found
}

/// The file of a picture, beside what refers to it.
pub(crate) fn texture_file(of: &Texture) -> String {
    let plain: String = of.name.chars().map(|c| if c.is_ascii_alphanumeric() { c } else { '-' }).collect();
    format!("{plain}.png")
}

/// The different pictures of some meshes with the names of their files.
fn prints(meshes: &[ExportMesh]) -> Vec<(String, &Texture)> {
    let mut found: Vec<(String, &Texture)> = Vec::new();
    for print in materials(meshes).into_iter().filter_map(|m| m.print.as_deref()) {
        let name = texture_file(print);
        if found.iter().all(|(known, _)| *known != name) {
            found.push((name, print));
        }
    }
    found
}

/// The pictures that the materials of these meshes refer to, by the names of their files.
pub fn textures(meshes: &[ExportMesh]) -> Vec<(String, Vec<u8>)> {
    prints(meshes).into_iter().map(|(name, print)| (name, print.picture.png())).collect()
}

/// The names of those files alone.
pub fn texture_names(meshes: &[ExportMesh]) -> Vec<String> {
    prints(meshes).into_iter().map(|(name, _)| name).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_that_become_the_same_word_stay_apart() {
        let mut names = Names::default();
        let given = ["Linen!", "Linen?", "Linen__2", "", "", "tow\u{e9}"].map(|n| names.word(n));
        assert_eq!(given, ["Linen_", "Linen__2", "Linen__2_2", "unnamed", "unnamed_2", "tow\u{e9}"]);
        let mut names = Names::default();
        assert_eq!(["linen", "linen", "Linen"].map(|n| names.plain(n)), ["linen", "linen 2", "Linen"]);
    }
}
