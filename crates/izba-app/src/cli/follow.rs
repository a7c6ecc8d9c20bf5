//! `izba follow FILE…`, and `izba` alone: with a pipe it watches that, without one it says what can be watched here.

use super::{Outcome, Shared, has_screen, print, read};
use crate::command_error::CommandError;
use crate::watch::{Origin, Setup, file_name};
use izba_core::{Engine, answer};
use izba_sources::{SourceError, Store};
use std::io::IsTerminal;
use std::os::fd::AsFd;
use std::path::PathBuf;
use std::sync::Arc;

#[derive(clap::Args, Debug)]
#[command(after_help = "Examples:\n  izba follow game.log\n  izba follow server.log client.log")]
pub struct Args {
    /// Files that grow; one that is not there yet is waited for
    #[arg(required = true)]
    files: Vec<PathBuf>,
}

pub fn run(shared: &Shared, args: Args) -> Outcome {
    if let Some(path) = args.files.iter().find(|f| f.is_dir()) {
        return Err(SourceError::IsFolder { path: path.clone() }.into());
    }
    if !has_screen() {
        return Err(CommandError::wrong_use("follow needs a terminal to draw on", "without one, use: izba read FILE…"));
    }
    let session = Store::open(shared.store.clone())?.session()?;
    let sources = args.files.into_iter().map(|f| (file_name(&f), Origin::File(f))).collect();
    crate::shell::open(Setup::new(shared.root(), session, sources))
}

/// `izba` without a command.
pub fn open(shared: &Shared) -> Outcome {
    let stdin = std::io::stdin();
    if stdin.is_terminal() {
        return Err(CommandError::wrong_use(
            "nothing to watch yet",
            "start a program with it: izba run main.py · or pipe one in: make 2>&1 | izba · or try: izba demo",
        ));
    }
    if has_screen() {
        // Keys come from the controlling terminal; the pipe is the program's alone.
        let input = stdin.as_fd().try_clone_to_owned().map_err(|e| CommandError::input(format!("standard input cannot be read: {e}")))?;
        let session = Store::open(shared.store.clone())?.session()?;
        return crate::shell::open(Setup::new(shared.root(), session, vec![("standard input".into(), Origin::Input(input.into()))]));
    }
    let project = Arc::new(izba_sources::scan(&shared.root()));
    let mut engine = Engine::new(project.clone());
    let source = engine.add_source("standard input");
    engine.start_run(source, None, project);
    let failed = |e: std::io::Error| CommandError::input(format!("standard input cannot be read: {}", izba_sources::plain_io(&e)));
    read::feed_all(&mut engine, source, &mut stdin.lock()).map_err(failed)?;
    engine.finish();
    print(&answer::text(&engine));
    Ok(read::verdict(&engine))
}
