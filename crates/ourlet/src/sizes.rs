//! `ourlet sizes`: one costume on many bodies.

use crate::drape::{hung_on, with_threads, worn};
use crate::figure::bring;
use crate::files::write;
use crate::options::SizesOptions;
use crate::output::{note, say};
use body::Body;
use costume::{BodyChoice, Costume, Refusal};
use std::path::Path;
use std::process::ExitCode;
use std::sync::Arc;
use workroom::{Assembly, ContactBody, SizeRow, size_row};

/// Someone who wears it: a size, or a figure from a file.
pub enum Wearer {
    Size(BodyChoice),
    Figure(String, Arc<Body>),
}

/// The size with a key.
fn size(key: &str) -> Result<BodyChoice, String> {
    let choice = BodyChoice::size(key);
    workroom::body_measures(&choice).ok_or_else(|| format!("there is no size `{key}`; `ourlet body --list` names them"))?;
    Ok(choice)
}

/// A costume in the sizes of these keys, with their names.
pub fn in_sizes(costume: &Costume, keys: &[String]) -> Result<Vec<(String, Costume)>, String> {
    let choices = keys.iter().map(|key| size(key)).collect::<Result<Vec<_>, _>>()?;
    workroom::in_sizes(costume, &choices).map_err(|e| e.to_string())
}

impl Wearer {
    /// The key of a size, or the file of a figure.
    pub fn of(text: &str, stance: &crate::options::StanceOptions) -> Result<Self, String> {
        if text.contains('.') {
            let figure = bring(Path::new(text), stance)?.figure;
            return Ok(Self::Figure(text.to_owned(), Arc::new(figure)));
        }
        size(text).map(Self::Size)
    }

    /// The body in the costume's document: a figure from a file stands in for a size.
    pub fn choice(&self, costume: &Costume) -> BodyChoice {
        match self {
            Self::Size(choice) => choice.clone(),
            Self::Figure(..) => BodyChoice::size(&costume.body.preset),
        }
    }

    pub fn name(&self) -> &str {
        match self {
            Self::Size(choice) => &choice.preset,
            Self::Figure(file, _) => file,
        }
    }

    /// The body as it stands in its usual pose.
    pub fn form(&self) -> Result<ContactBody, String> {
        let choice = self.choice(&Costume::new("body"));
        let figure = match self {
            Self::Size(_) => Arc::new(workroom::figure(&choice).map_err(|e| e.to_string())?),
            Self::Figure(_, figure) => figure.clone(),
        };
        ContactBody::new(figure, &choice, Default::default()).map_err(|e| e.to_string())
    }

    /// Hangs a costume on it.
    pub fn hang(&self, costume: &Costume) -> Result<Assembly, Refusal> {
        match self {
            Self::Size(_) => hung_on(workroom::figure(&costume.body)?.into())(costume),
            Self::Figure(_, figure) => {
                let plain = Costume { body: BodyChoice::size(&costume.body.preset), ..costume.clone() };
                hung_on(figure.clone())(&plain)
            }
        }
    }
}

pub fn run(options: &SizesOptions) -> Result<ExitCode, String> {
    let mut costume = worn(&options.file, None, options.judging.fineness.as_deref(), false)?;
    crate::wanted::want(&mut costume, &options.judging.wanted)?;
    let wearers: Vec<Wearer> = options.bodies.iter().map(|b| Wearer::of(b, &options.judging.stance)).collect::<Result<_, _>>()?;
    if let Some(folder) = &options.pictures {
        std::fs::create_dir_all(folder).map_err(|e| format!("{}: {e}", folder.display()))?;
    }
    let mut rows: Vec<SizeRow> = Vec::new();
    for (k, wearer) in wearers.iter().enumerate() {
        let choice = wearer.choice(&costume);
        let made = with_threads(options.judging.threads, || {
            size_row(&costume, &choice, &mut |c| wearer.hang(c), &mut || true)
                .map(|(row, trial)| (row, options.pictures.as_ref().and_then(|_| trial.map(|t| t.picture(420, 600, 25.0)))))
        })?;
        let Some((mut row, picture)) = made else { continue };
        if let (Wearer::Figure(file, _), Some(report)) = (wearer, &mut row.report) {
            report.body.clone_from(file);
        }
        if let (Some(folder), Some(png)) = (&options.pictures, picture) {
            let stem: String = wearer.name().chars().map(|c| if c.is_ascii_alphanumeric() { c } else { '-' }).collect();
            write(&folder.join(format!("{:02}-{stem}.png", k + 1)), &png)?;
        }
        note!("ourlet: {}: {}", wearer.name(), if row.passed.is_empty() { "fits".to_owned() } else { row.passed.join("; ") });
        rows.push(row);
    }
    show(&wearers, &rows);
    if let Some(path) = &options.judging.report {
        write(path, serde_json::to_string_pretty(&rows).map_err(|e| e.to_string())?.as_bytes())?;
    }
    Ok(if rows.iter().all(|r| r.passed.is_empty()) { ExitCode::SUCCESS } else { ExitCode::from(1) })
}

/// Girths that the table has, if any body has them.
const GIRTHS: [&str; 5] = ["neck", "bust", "waist", "hip", "upper-arm"];

fn show(wearers: &[Wearer], rows: &[SizeRow]) {
    let ease = |row: &SizeRow, key: &str| row.report.as_ref()?.girths.iter().find(|g| g.measure == key && g.closed).map(|g| g.ease);
    let shown: Vec<&str> = GIRTHS.into_iter().filter(|key| rows.iter().any(|r| ease(r, key).is_some())).collect();
    let heads: Vec<String> = shown.iter().map(|k| format!("{k:>10}")).collect();
    say!("{:<14}{} {:>10} {:>9}  limits passed   (ease in cm)", "body", heads.join(""), "crossings", "p99");
    let worst = rows.iter().map(SizeRow::badness).fold(0.0, f64::max);
    for (wearer, row) in wearers.iter().zip(rows) {
        let eases: Vec<String> =
            shown.iter().map(|k| ease(row, k).map_or_else(|| format!("{:>10}", "-"), |mm| format!("{:>10.1}", mm / 10.0))).collect();
        let (crossings, strain) = row.report.as_ref().map_or((0, 0.0), |r| (r.places.len(), 100.0 * r.strain.p99));
        let mark = if rows.len() > 1 && row.badness() == worst { " *" } else { "" };
        say!("{:<14}{} {crossings:>10} {strain:>7.1} %  {}{mark}", wearer.name(), eases.join(""), row.passed.len());
    }
}
