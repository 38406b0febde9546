//! Names that stay apart in a file, and the materials of a delivery with theirs.

use crate::{ExportMesh, Material};
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
