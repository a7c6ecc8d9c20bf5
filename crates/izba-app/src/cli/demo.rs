//! `izba demo`: lays the demo project out in a folder, runs its stand-in engine and opens the screen.

use super::{Outcome, Shared, run};
use crate::command_error::CommandError;
use izba_standins::world;
use std::path::PathBuf;

#[derive(clap::Args, Debug)]
#[command(after_help = "Examples:\n  izba demo\n  izba demo --dir ~/night-ferry")]
pub struct Args {
    /// The folder for the demo project; mended scripts in it stay mended
    #[arg(long, default_value = "night-ferry", value_name = "DIR")]
    dir: PathBuf,
    /// End the game after so many seconds
    #[arg(long, value_name = "N")]
    seconds: Option<f64>,
}

pub fn run(shared: &Shared, args: Args) -> Outcome {
    let dir = args.dir;
    world::lay_out(&dir).map_err(|e| {
        let why = izba_sources::plain_io(&e);
        CommandError::input(format!("cannot lay the demo project out in {}: {why}", dir.display())).hint("name another folder with --dir")
    })?;
    std::env::set_current_dir(&dir).map_err(|e| CommandError::input(format!("cannot go to {}: {e}", dir.display())))?;
    let program = std::env::current_exe().map_err(|e| CommandError::input(format!("cannot find the program itself: {e}")))?;
    let mut words = vec![program.into_os_string(), "stand-in".into(), "engine".into()];
    if let Some(seconds) = args.seconds {
        words.extend(["--seconds".into(), seconds.to_string().into()]);
    }
    let shared = Shared { project: Some(PathBuf::from(".")), ..shared.clone() };
    run::start_named(&shared, words, "marsh engine")
}
