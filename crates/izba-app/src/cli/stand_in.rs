//! `izba stand-in …`: the demo's own programs, which ship inside this one. Hidden from help; `izba demo` starts them.

use super::{Outcome, print};
use crate::command_error::CommandError;
use izba_standins::{engine, rude};
use std::io::Write;
use std::path::PathBuf;

#[derive(clap::Args, Debug)]
#[command(after_help = "Example:\n  izba stand-in engine --seconds 5 demo/night-ferry")]
pub struct Args {
    #[command(subcommand)]
    which: Which,
}

#[derive(clap::Subcommand, Debug)]
enum Which {
    /// Run a scene whose scripts are Lua
    Engine {
        /// The project's folder
        #[arg(default_value = ".")]
        folder: PathBuf,
        /// The scene in it
        #[arg(long, default_value = "scene.json")]
        scene: String,
        /// Ticks a second
        #[arg(long, default_value_t = 30)]
        rate: u32,
        /// End after so many seconds
        #[arg(long)]
        seconds: Option<f64>,
    },
    /// Take the terminal and panic, for tests of giving it back
    Panic,
    /// Write lines and errors at a rate, for tests
    Rude {
        /// Ordinary lines a second
        #[arg(long, default_value_t = 5000)]
        lines: u32,
        /// Errors a second
        #[arg(long, default_value_t = 60)]
        errors: u32,
        /// Seconds to go on
        #[arg(long, default_value_t = 10.0)]
        seconds: f64,
    },
}

pub fn run(args: Args) -> Outcome {
    match args.which {
        Which::Engine { folder, scene, rate, seconds } => {
            let code = engine::run(&engine::Settings { folder, scene, rate, seconds }).map_err(CommandError::input)?;
            Ok(u8::try_from(code).unwrap_or(1))
        }
        Which::Panic => crate::shell::panic_on_screen(),
        Which::Rude { lines, errors, seconds } => {
            let begun = std::time::Instant::now();
            // A reader that went away is a quiet end.
            let Ok(busy) = rude::write(rude::Rude { lines, errors, seconds }, std::io::stdout().lock()) else { return Ok(0) };
            print(&format!("wrote for {:.3} s of {:.3} s\n", busy.as_secs_f64(), begun.elapsed().as_secs_f64()));
            let _ = std::io::stderr().flush();
            Ok(0)
        }
    }
}
