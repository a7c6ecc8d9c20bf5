//! `izba follow FILE…`: watches files that grow.

use super::say::has_screen;
use super::shared::{Outcome, Shared};
use crate::command_error::CommandError;
use izba_sources::Store;
use izba_watch::kinds::file_name;
use izba_watch::kinds::{File, Origin};
use std::path::PathBuf;

#[derive(clap::Args, Debug)]
#[command(
    after_help = "Examples:\n  izba follow game.log\n  izba follow server.log client.log\n  izba follow \
        logs            the newest file of a folder, whichever that is\n  izba follow \
        'logs/*.log'    all files that fit, also those that come later"
)]
pub struct Args {
    /// Files that grow (one that is not there yet is waited for), folders, or patterns in quotes
    #[arg(required = true)]
    files: Vec<PathBuf>,
}

pub fn run(shared: &Shared, args: Args) -> Outcome {
    if !has_screen() {
        return Err(CommandError::wrong_use(
            "follow needs a terminal to draw on",
            "without one, use: izba read FILE…",
        ));
    }
    let session = Store::new_session(shared.store.clone())?;
    let sources =
        args.files.into_iter().map(|f| (file_name(&f), Box::new(File(f)) as Origin)).collect();
    super::on_screen::on_screen(shared.setup(session, sources))
}
