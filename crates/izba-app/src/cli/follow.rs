//! `izba follow FILE…`: watches files that grow.

use super::{Outcome, Shared, has_screen};
use crate::command_error::CommandError;
use crate::watch::{Origin, Setup, file_name};
use izba_sources::{SourceError, Store};
use std::path::PathBuf;

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
