//! `izba readers`: tells how lines are read, checks reader files, and tries them on a log.

use super::say::print;
use super::shared::{Outcome, Shared};
use crate::command_error::{CommandError, exit};
use izba_console::Splitter;
use izba_core::Engine;
use izba_model::text::decode;
use izba_model::text::{counted, thousands};
use izba_model::{SafeText, Stream};
use izba_watch::readers::{self, FILE};
use std::fmt::Write;
use std::path::PathBuf;
use std::sync::Arc;

/// Examples shown for each reader.
const EXAMPLES: usize = 3;

#[derive(clap::Args, Debug)]
#[command(
    after_help = "Examples:\n  izba readers                              check the project's readers\n  \
        izba readers gauge.toml --try gauge.log   what these readers would read in a log\n  \
        izba readers --try game.log               which layouts Izba finds in it by itself"
)]
pub struct Args {
    /// Reader files; without one, izba-readers.toml of the project
    files: Vec<PathBuf>,
    /// A log to try them on
    #[arg(long = "try", value_name = "LOG")]
    log: Option<PathBuf>,
}

pub fn run(shared: &Shared, args: &Args) -> Outcome {
    let files =
        if args.files.is_empty() { vec![shared.root().join(FILE)] } else { args.files.clone() };
    let (mut taught, mut out) = (Vec::new(), String::new());
    for file in &files {
        if !file.exists() && !args.files.is_empty() {
            return Err(CommandError::input(format!("{} is not there", file.display())));
        }
        taught.extend(readers::read_file(file).map_err(CommandError::input)?);
    }
    let Some(log) = &args.log else {
        let words = counted(
            taught.len() as u64,
            "reader, and it can be used",
            "readers, and all can be used",
        );
        let _ = writeln!(
            out,
            "{}",
            if taught.is_empty() {
                format!("No readers: there is no {FILE} here, or nothing in it.")
            } else {
                words
            }
        );
        for layout in &taught {
            let _ = write!(out, "\n{}", readers::written(layout).map_err(CommandError::input)?);
        }
        print(&out);
        return Ok(exit::WELL);
    };
    let failed = |e: std::io::Error| {
        CommandError::input(format!(
            "cannot read {}: {}",
            log.display(),
            izba_sources::plain_io(&e)
        ))
    };
    let mut engine = Engine::new(Arc::default());
    let source = engine.add_source("log");
    engine.start_run(source, None, Arc::default());
    engine.set_taught(source, taught);
    izba_watch::side_by_side::feed_all(
        &mut engine,
        source,
        &mut std::fs::File::open(log).map_err(failed)?,
    )
    .map_err(failed)?;
    engine.finish();
    let layouts = engine.layouts(source);
    let mut seen = vec![(0u64, Vec::<String>::new()); layouts.all().len()];
    let (mut lines, mut other) = (0u64, 0u64);
    let bytes = std::fs::read(log).map_err(failed)?;
    let mut splitter = Splitter::default();
    let mut each = |_: u64, line: izba_console::RawLine<'_>| {
        let text = decode(&line.bytes);
        lines += 1;
        match layouts.all().iter().position(|l| l.parts(&text).is_some()) {
            Some(at) => {
                seen[at].0 += 1;
                if seen[at].1.len() < EXAMPLES {
                    seen[at].1.push(SafeText::new(&text).to_string());
                }
            }
            None => other += 1,
        }
    };
    splitter.feed(Stream::Out, None, 0, &bytes, &mut each);
    splitter.finish(None, &mut each);
    for (layout, (count, examples)) in layouts.all().iter().zip(&seen) {
        let _ = writeln!(
            out,
            "{}# reads {} of {}",
            readers::written(layout).map_err(CommandError::input)?,
            thousands(*count),
            counted(lines, "line", "lines")
        );
        for example in examples {
            let _ = writeln!(out, "#   {}", izba_model::text::fit(example, 160));
        }
        out.push('\n');
    }
    let _ = writeln!(
        out,
        "# {} in none of these layouts; steps of traces are such lines.",
        counted(other, "line is", "lines are")
    );
    print(&out);
    Ok(exit::WELL)
}
