//! The command line of the stand-ins: the same words in Izba's own program and in the one for
//! tests.

use crate::engine::{self, Form};
use crate::{build, loader, page, phone, rude};
use std::io::Write;
use std::net::SocketAddr;
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
        /// Be a debug adapter too, at this address, or over standard input and output: stdio
        #[arg(long, value_name = "ADDR")]
        adapter: Option<String>,
    },
    /// Compile the ticket tool
    Build {
        /// The project's folder
        #[arg(default_value = ".")]
        folder: PathBuf,
    },
    /// Load the add-on pack
    Addon {
        /// The project's folder
        #[arg(default_value = ".")]
        folder: PathBuf,
        /// The log file; without one the log goes to standard output
        #[arg(long)]
        log: Option<PathBuf>,
        /// Put the log aside when it is longer than so many bytes
        #[arg(long, default_value_t = 262_144)]
        rotate: u64,
        /// End after so many seconds
        #[arg(long)]
        seconds: Option<f64>,
        /// Don't wait
        #[arg(long)]
        hurried: bool,
    },
    /// Serve the timetable page, and visit it
    Page {
        /// The project's folder
        #[arg(default_value = ".")]
        folder: PathBuf,
        /// Where the page is served; port 0 takes a free one
        #[arg(long, default_value = "127.0.0.1:0")]
        listen: SocketAddr,
        /// Where the ticket app on the phone answers
        #[arg(long, default_value = "127.0.0.1:8517")]
        tickets: SocketAddr,
        /// One minified bundle instead of plain scripts
        #[arg(long)]
        bundled: bool,
        /// End after so many seconds
        #[arg(long)]
        seconds: Option<f64>,
        /// Don't wait
        #[arg(long)]
        hurried: bool,
    },
    /// Be the phone whose app sells tickets
    Phone {
        /// The project's folder
        #[arg(default_value = ".")]
        folder: PathBuf,
        /// Where the phone's log is served; without it, it is printed in columns
        #[arg(long)]
        listen: Option<SocketAddr>,
        /// Where the app answers the timetable page
        #[arg(long)]
        service: Option<SocketAddr>,
        /// End after so many seconds
        #[arg(long)]
        seconds: Option<f64>,
        /// Don't wait, and end once the log was fetched or printed
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
        /// Tell the moment of each line in it, and write every line that is due
        #[arg(long)]
        stamps: bool,
        /// A file to tell the moment of each error
        #[arg(long)]
        told: Option<PathBuf>,
    },
}

/// Runs a stand-in to its end; returns its exit code.
///
/// # Errors
///
/// A sentence when it cannot begin.
pub fn run(which: StandIn) -> Result<i32, String> {
    match which {
        StandIn::Engine { folder, scene, rate, seconds, play, seed, form, hurried, adapter } => {
            let form = Form::named(&form)
                .ok_or_else(|| format!("there is no form “{form}”: lines, report or json"))?;
            engine::run(&engine::Settings {
                folder,
                scene,
                rate,
                seconds,
                play,
                seed,
                form,
                hurried,
                adapter,
            })
        }
        StandIn::Build { folder } => build::run(&folder.join("tickets"), "tickets"),
        StandIn::Addon { folder, log, rotate, seconds, hurried } => {
            loader::run(&loader::Settings {
                folder: folder.join("addon"),
                shown: "addon".into(),
                log,
                rotate,
                seconds,
                hurried,
            })
        }
        StandIn::Page { folder, listen, tickets, bundled, seconds, hurried } => {
            page::run(&page::Settings {
                folder: folder.join("web"),
                listen,
                tickets,
                bundled,
                seconds,
                hurried,
            })
        }
        StandIn::Phone { folder, listen, service, seconds, hurried } => {
            phone::run(&phone::Settings {
                folder: folder.join("phone"),
                listen,
                service,
                seconds,
                hurried,
            })
        }
        StandIn::Rude { lines, errors, seconds, stamps, told } => {
            let begun = std::time::Instant::now();
            // A reader that went away is a quiet end.
            let Ok(busy) = rude::write(
                &rude::Rude { lines, errors, seconds, stamps, told },
                std::io::stdout().lock(),
            ) else {
                return Ok(0);
            };
            let said = format!(
                "wrote for {:.3} s of {:.3} s\n",
                busy.as_secs_f64(),
                begun.elapsed().as_secs_f64()
            );
            let _ = std::io::stdout().lock().write_all(said.as_bytes());
            Ok(0)
        }
    }
}
