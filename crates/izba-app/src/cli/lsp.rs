//! `izba lsp`: a language server over standard input and output, for editors.

use super::shared::{Outcome, Shared};
use crate::command_error::{CommandError, exit};
use izba_lsp::{Options, Served};
use izba_sources::{Command, CommandSpec, Store};
use izba_watch::kinds::Origin;
use izba_watch::{Setup, Watch};
use std::ffi::OsString;
use std::time::Duration;

#[derive(clap::Args, Debug)]
#[command(
    after_help = "Examples:\n  izba lsp                    what your editor starts; docs/EDITORS.md tells how\n  izba \
        lsp -- node server.js   the same, and the program is started and watched\n\nWhile izba watches the program \
        elsewhere, its errors are told in the editor too."
)]
pub struct Args {
    /// A program to start and watch while the editor is open
    #[arg(trailing_var_arg = true, allow_hyphen_values = true, value_name = "CMD")]
    words: Vec<OsString>,
}

/// What the editor's messages still on their way get in the end.
const END: Duration = Duration::from_millis(200);

pub fn run(shared: &Shared, args: Args) -> Outcome {
    let watch = if args.words.is_empty() { None } else { Some(watch(shared, args.words)?) };
    let (connection, threads) = lsp_server::Connection::stdio();
    let options = Options { store: shared.store.clone(), folder: Some(shared.root()) };
    let served = izba_lsp::serve(&connection, options);
    if let Some(watch) = watch {
        watch.end();
    }
    let served = served.map_err(|sentence| {
        CommandError::wrong_use(sentence, "izba lsp is started by an editor: docs/EDITORS.md")
    })?;
    drop(connection);
    if served == Served::Asked {
        // The last answers are written; an editor that is gone is not waited for.
        let done = std::thread::spawn(move || threads.join());
        let begun = std::time::Instant::now();
        while !done.is_finished() && begun.elapsed() < END {
            std::thread::sleep(Duration::from_millis(5));
        }
        return Ok(exit::WELL);
    }
    Ok(exit::FOUND)
}

/// Starts a program and watches it; whoever looks on is told.
fn watch(shared: &Shared, words: Vec<OsString>) -> Result<Watch, CommandError> {
    let command = Command::new(CommandSpec {
        words,
        folder: shared.root(),
        environment: Vec::new(),
        pipes: false,
        inherit_input: false,
    })?;
    let session = Store::new_session(shared.store.clone())?;
    let name = command.line();
    let sources: Vec<(String, Origin)> = vec![(name, Box::new(command))];
    let setup = Setup { again_on_save: true, ..shared.setup(session, sources) };
    Ok(Watch::start(setup)?)
}
