//! `izba read FILE… | -`: the engine over whole files, without a screen.

use super::{Outcome, Shared, print};
use crate::command_error::{CommandError, exit};
use izba_core::{Engine, Level, SourceId, Stream, answer};
use std::fs::File;
use std::io::{ErrorKind, Read};
use std::path::PathBuf;
use std::sync::Arc;

/// How the answer is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq, clap::ValueEnum)]
pub enum Form {
    /// Sentences for people
    Text,
    /// One JSON object for each group, most important first
    Jsonl,
}

#[derive(clap::Args, Debug)]
#[command(after_help = "Examples:\n  izba read console.log\n  izba read --project ~/ferry --as jsonl console.log\n  make 2>&1 | izba read -")]
pub struct Args {
    /// Log files; - is standard input
    #[arg(required = true)]
    files: Vec<PathBuf>,
    /// How to write the answer
    #[arg(long = "as", value_name = "FORM", default_value = "text")]
    form: Form,
}

pub fn run(shared: &Shared, args: &Args) -> Outcome {
    let project = Arc::new(izba_sources::scan(&shared.root()));
    let mut engine = Engine::new(project.clone());
    for file in &args.files {
        let name = if file.as_os_str() == "-" { "standard input".into() } else { file.to_string_lossy().into_owned() };
        let source = engine.add_source(name.clone());
        engine.start_run(source, None, project.clone());
        let failed = |e: std::io::Error| CommandError::input(format!("cannot read {name}: {}", izba_sources::plain_io(&e)));
        if file.is_dir() {
            return Err(CommandError::input(format!("{name} is a folder; name a log file in it")));
        }
        let mut input: Box<dyn Read> =
            if file.as_os_str() == "-" { Box::new(std::io::stdin().lock()) } else { Box::new(File::open(file).map_err(failed)?) };
        feed_all(&mut engine, source, &mut input).map_err(failed)?;
    }
    engine.finish();
    print(&match args.form {
        Form::Text => answer::text(&engine),
        Form::Jsonl => answer::jsonl(&engine),
    });
    Ok(verdict(&engine))
}

/// Feeds all of `input` to a source, which has no known times.
///
/// # Errors
///
/// When reading fails; what was read before is in the engine.
pub fn feed_all(engine: &mut Engine, source: SourceId, input: &mut dyn Read) -> std::io::Result<()> {
    let (mut buffer, mut offset) = (vec![0u8; 256 * 1024], 0);
    loop {
        match input.read(&mut buffer) {
            Ok(0) => return Ok(()),
            Ok(count) => {
                engine.feed(source, Stream::Out, None, offset, &buffer[..count]);
                offset += count as u64;
            }
            Err(e) if e.kind() == ErrorKind::Interrupted => {}
            Err(e) => return Err(e),
        }
    }
}

/// The exit code that tells whether an error was found.
pub fn verdict(engine: &Engine) -> u8 {
    if engine.groups().iter().any(|g| g.level() >= Level::Error) { exit::FOUND } else { exit::WELL }
}
