//! `ourlet block`: a costume of one block, drafted from the measures of a size.

use crate::output::say;
use costume::{BodyChoice, Costume, Edit, Point, RECIPES};
use std::collections::BTreeMap;
use std::path::Path;
use std::process::ExitCode;

/// Drafts a block and writes the costume, or lists the recipes.
pub fn run(key: &str, preset: &str, values: &[String], out: Option<&Path>) -> Result<ExitCode, String> {
    if key == "list" {
        for recipe in RECIPES {
            say!("{:<16} {}", recipe.key, recipe.help);
            for v in recipe.values {
                let usual = v.share.map_or_else(
                    || v.usual.to_string(),
                    |(measure, share, more)| {
                        let more = if more == 0.0 { String::new() } else { format!("{more} and ") };
                        format!("{more}{share} of the {}", measure.replace('-', " "))
                    },
                );
                say!("    {:<12} {} ({} to {} {}, usually {usual})", v.key, v.name, v.range[0], v.range[1], v.unit);
            }
        }
        return Ok(ExitCode::SUCCESS);
    }
    let mut chosen = BTreeMap::new();
    for text in values {
        let (name, number) = text.split_once('=').ok_or_else(|| format!("{text}: write a value as name=number"))?;
        let number: f64 = number.trim_end_matches("mm").parse().map_err(|_| format!("{text}: {number} is no number"))?;
        chosen.insert(name.to_owned(), number);
    }
    let name = costume::recipe(key).map_or_else(|| key.to_owned(), |r| r.name.to_owned());
    let mut costume = Costume::new(&name);
    costume = workroom::apply(&costume, &Edit::ChooseBody { body: BodyChoice::size(preset) }).map_err(|e| e.to_string())?;
    let edit = Edit::AddBlock { recipe: key.to_owned(), values: chosen, measures: BTreeMap::new(), at: Point::new(0.0, 0.0) };
    let made = workroom::apply(&costume, &edit).map_err(|e| e.to_string())?;
    let written = costume::write(&made).map_err(|e| e.to_string())?;
    match out {
        Some(path) => crate::files::write(path, written.as_bytes())?,
        None => say!("{written}"),
    }
    Ok(ExitCode::SUCCESS)
}
