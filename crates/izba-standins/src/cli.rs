//! The command line of the stand-ins: the same words in Izba's own program and in the one for tests.

use crate::engine::{self, Form};
use crate::rude;
use std::io::Write;
use std::path::PathBuf;

/// A program of the demo world.
#[derive(clap::Subcommand, Debug)]
pub enum StandIn {
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
        /// End after so many seconds of game time
        #[arg(long)]
        seconds: Option<f64>,
        /// A file in the folder that says what the player does
        #[arg(long)]
        play: Option<String>,
        /// Begin the random numbers with this one
        #[arg(long, default_value_t = 1)]
        seed: u64,
        /// Print lines, reports or JSON
        #[arg(long, default_value = "lines", value_parser = ["lines", "report", "json"])]
        form: String,
        /// Don't wait between ticks
        #[arg(long)]
        hurried: bool,
    },
    /// Write lines and errors at a rate
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

/// Runs a stand-in to its end; returns its exit code.
///
/// # Errors
///
/// A sentence when it cannot begin.
pub fn run(which: StandIn) -> Result<i32, String> {
    match which {
        StandIn::Engine { folder, scene, rate, seconds, play, seed, form, hurried } => {
            let form = Form::named(&form).ok_or_else(|| format!("there is no form “{form}”: lines, report or json"))?;
            engine::run(&engine::Settings { folder, scene, rate, seconds, play, seed, form, hurried })
        }
        StandIn::Rude { lines, errors, seconds } => {
            let begun = std::time::Instant::now();
            // A reader that went away is a quiet end.
            let Ok(busy) = rude::write(rude::Rude { lines, errors, seconds }, std::io::stdout().lock()) else { return Ok(0) };
            let said = format!("wrote for {:.3} s of {:.3} s\n", busy.as_secs_f64(), begun.elapsed().as_secs_f64());
            let _ = std::io::stdout().lock().write_all(said.as_bytes());
            Ok(0)
        }
    }
}
