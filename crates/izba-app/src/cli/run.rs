//! `izba run -- CMD…`: start a program and watch it, on the screen or without one.

use super::aloud::{Aloud, Watching};
use super::shared::{Outcome, Shared, Started};
use crate::command_error::CommandError;
use izba_sources::{Command, CommandSpec, Store};
use izba_watch::Setup;
use izba_watch::kinds::Origin;
use std::ffi::OsString;

#[derive(clap::Args, Debug)]
#[command(
    after_help = "Examples:\n  izba run main.py\n  izba run -- node server.js --port 8000\n  izba run \
        --pipes -- ./game\n  izba run --on-save -- python3 main.py\n  izba run --seconds 20 --as jsonl \
        main.py             without a screen\n  izba run --adapter \
        'python3 -m debugpy.adapter' main.py\n  izba run --adapter 127.0.0.1:4711 -- ./game \
        --debug-port 4711"
)]
pub struct Args {
    /// Start it again when one of your files is saved
    #[arg(long)]
    on_save: bool,
    /// Plain pipes instead of a terminal of its own for the program
    #[arg(long)]
    pipes: bool,
    /// A debug adapter, so that the program can be paused: a command that starts it, or the address
    /// at which the program itself listens
    #[arg(long, value_name = "CMD|ADDR")]
    adapter: Option<String>,
    /// What the adapter is told beyond that, as JSON, in its own words
    #[arg(long, value_name = "JSON", requires = "adapter")]
    launch: Option<String>,
    #[command(flatten)]
    aloud: Aloud,
    #[command(flatten)]
    program: Started,
}

pub fn run(shared: &Shared, args: Args) -> Outcome {
    match args.adapter {
        Some(_) if args.aloud.is_asked() => Err(CommandError::wrong_use(
            "--seconds and --as do not go with --adapter",
            "leave them out; each stop is told as it comes",
        )),
        Some(adapter) => super::debugged::start(
            shared,
            &adapter,
            args.launch.as_deref(),
            args.program.words,
            args.pipes,
            args.on_save,
        ),
        None => start(shared, None, args.program.words, args.pipes, args.on_save, args.aloud),
    }
}

/// Runs `words` in this folder and watches them, under a name or the command itself; the exit code
/// is theirs.
pub fn start(
    shared: &Shared,
    name: Option<&str>,
    words: Vec<OsString>,
    pipes: bool,
    on_save: bool,
    aloud: Aloud,
) -> Outcome {
    let folder = std::env::current_dir()
        .map_err(|e| CommandError::input(format!("the folder we are in cannot be read: {e}")))?;
    let watching = aloud.or_screen();
    let command = Command::new(CommandSpec {
        words,
        folder,
        environment: Vec::new(),
        pipes,
        inherit_input: matches!(watching, Watching::Aloud(_)),
    })?;
    let line = command.line();
    let session = Store::new_session(shared.store.clone())?;
    let sources: Vec<(String, Origin)> =
        vec![(name.map_or(line, str::to_owned), Box::new(command))];
    let setup = Setup { again_on_save: on_save, ..shared.setup(session, sources) };
    watching.watch(setup)
}
