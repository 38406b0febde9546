//! `ourlet fit`: changes the pattern until the garment has the wanted ease.

use crate::drape::{hung_on, with_threads, worn};
use crate::files::write;
use crate::options::FitOptions;
use crate::output::{note, say};
use crate::wanted::{girth, length};
use costume::Costume;
use std::process::ExitCode;
use workroom::{EaseAsked, EaseOutcome, FreeValue, WantedEase, fit_to_ease};

pub fn run(options: &FitOptions) -> Result<ExitCode, String> {
    let costume = worn(&options.file, options.preset.as_deref(), options.fineness.as_deref(), false)?;
    let wanted = options.ease.iter().map(|text| {
        let (measure, ease) = girth(text)?;
        Ok(WantedEase { measure, ease: length(ease)? })
    });
    let free = options.change.iter().map(|text| change(&costume, text));
    let asked = EaseAsked { wanted: wanted.collect::<Result<_, String>>()?, free: free.collect::<Result<_, String>>()? };
    let figure = workroom::figure(&costume.body).map_err(|e| e.to_string())?;
    let told = |eases: &[f64]| {
        let each = asked.wanted.iter().zip(eases).map(|(w, e)| format!("{} {:+.1} cm", w.measure, e / 10.0));
        each.collect::<Vec<_>>().join(", ")
    };
    let mut hang = hung_on(figure.into());
    let outcome = with_threads(options.threads, || {
        fit_to_ease(&costume, &asked, &[], &mut hang, &mut || true, &mut |tried, _| {
            note!("ourlet: ease {}", told(&tried.eases));
            true
        })
    })?
    .map_err(|e| e.to_string())?
    .ok_or("it was told to end")?;
    show(&outcome, told);
    if let Some(path) = &options.report {
        write(path, serde_json::to_string_pretty(&outcome).map_err(|e| e.to_string())?.as_bytes())?;
    }
    if let Some(path) = &options.out {
        let changed = workroom::apply(&costume, &outcome.edit).map_err(|e| e.to_string())?;
        write(path, costume::write(&changed).map_err(|e| e.to_string())?.as_bytes())?;
    }
    Ok(if outcome.reached { ExitCode::SUCCESS } else { ExitCode::from(1) })
}

fn show(outcome: &EaseOutcome, told: impl Fn(&[f64]) -> String) {
    say!("before  {}", told(&outcome.tries[0].eases));
    say!("after   {}   ({} drapes)", told(&outcome.tries[outcome.best].eases), outcome.tries.len());
    for value in &outcome.values {
        say!("{}: {:+.2} cm", value.name, value.by / 10.0);
    }
    for p in &outcome.pieces {
        let cm = |size: [f64; 2]| format!("{:.2} x {:.2}", size[0] / 10.0, size[1] / 10.0);
        say!("{}: {} cm was {} cm", p.name, cm(p.after), cm(p.before));
    }
    if !outcome.reached {
        say!("the wanted ease was not reached");
    }
}

/// `tee:ease`, `width:Front panel+Back panel`, `height:Skirt`.
fn change(costume: &Costume, text: &str) -> Result<FreeValue, String> {
    let (what, which) = text.split_once(':').ok_or_else(|| format!("`{text}`: write BLOCK:VALUE, width:PIECE or height:PIECE"))?;
    if what == "width" || what == "height" {
        let piece = |name: &str| {
            let found = costume.pieces.iter().find(|p| p.name == name);
            found.map(|p| costume.owner(p.id)).ok_or_else(|| format!("`{text}`: there is no piece `{name}`"))
        };
        let mut pieces: Vec<costume::PieceId> = which.split('+').map(piece).collect::<Result<_, _>>()?;
        pieces.sort_unstable();
        pieces.dedup();
        return Ok(FreeValue::Size { pieces, up: what == "height" });
    }
    let block = costume.blocks.iter().find(|b| b.recipe == what);
    let block = block.ok_or_else(|| format!("`{text}`: the costume has no block `{what}`"))?;
    Ok(FreeValue::Block { block: block.id, value: which.to_owned() })
}
