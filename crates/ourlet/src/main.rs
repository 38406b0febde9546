//! The command line: drape and check costumes without a server, and serve the application.

mod bench;
mod block;
mod body;
mod check;
mod deliver;
mod drape;
mod edit;
mod figure;
mod files;
mod fit;
mod lay;
mod measures;
mod options;
mod output;
mod pattern;
mod rehearse;
mod serve;
mod sizes;
mod wanted;
mod worker;

use crate::output::note;
use clap::Parser;
use options::{Command, Options};
use std::process::ExitCode;

#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

fn main() -> ExitCode {
    let outcome = match Options::parse().command {
        Command::Drape(options) => drape::run(&options),
        Command::Rehearse(options) => rehearse::run(&options),
        Command::Check(options) => check::run(&options),
        Command::Sizes(options) => sizes::run(&options),
        Command::Fit(options) => fit::run(&options),
        Command::Block { recipe, preset, values, out } => block::run(&recipe, &preset, &values, out.as_deref()),
        Command::Pattern { file, out, dpi, tilt } => pattern::run(&file, &out, dpi, tilt),
        Command::Deliver(options) => deliver::run(&options),
        Command::Lay(options) => lay::run(&options),
        Command::Print { file, out, paper, sizes } => pattern::print(&file, &out, &paper, &sizes),
        Command::Read { file, out } => pattern::read(&file, &out),
        Command::Edit { file, edits, out } => edit::run(&file, &edits, &out),
        Command::Body(options) => body::run(&options),
        Command::Serve(options) => serve::run(options),
        Command::Worker(options) => worker::run(options),
        Command::Bench(options) => bench::run(&options),
    };
    outcome.unwrap_or_else(|message| {
        note!("ourlet: {message}");
        ExitCode::from(2)
    })
}
