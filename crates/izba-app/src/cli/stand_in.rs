//! `izba stand-in …`: the demo's own programs, which ship inside this one. Hidden from help; `izba
//! demo` starts them.

use super::shared::Outcome;
use crate::command_error::CommandError;
use izba_standins::cli::{self, StandIn};

#[derive(clap::Args, Debug)]
#[command(after_help = "Example:\n  izba stand-in engine --seconds 5 demo/night-ferry")]
pub struct Args {
    #[command(subcommand)]
    which: Which,
}

#[derive(clap::Subcommand, Debug)]
enum Which {
    /// Take the terminal and panic, for tests of giving it back
    Panic,
    #[command(flatten)]
    StandIn(StandIn),
}

pub fn run(args: Args) -> Outcome {
    match args.which {
        Which::Panic => crate::shell::panic_on_screen(),
        Which::StandIn(which) => {
            let code = cli::run(which).map_err(CommandError::input)?;
            Ok(u8::try_from(code).unwrap_or(1))
        }
    }
}
