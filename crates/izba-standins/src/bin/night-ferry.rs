//! The stand-ins as a program of their own, for tests.

use clap::Parser;
use izba_standins::cli::{StandIn, run};

#[derive(Parser)]
struct Cli {
    #[command(subcommand)]
    which: Which,
}

#[derive(clap::Subcommand)]
enum Which {
    /// Print the page of faults
    Faults,
    #[command(flatten)]
    StandIn(StandIn),
}

#[expect(clippy::print_stderr, clippy::print_stdout, reason = "a program that talks to its tests")]
fn main() -> std::process::ExitCode {
    let which = match Cli::parse().which {
        Which::StandIn(which) => which,
        Which::Faults => {
            print!("{}", izba_standins::world::page());
            return std::process::ExitCode::SUCCESS;
        }
    };
    match run(which) {
        Ok(code) => std::process::ExitCode::from(u8::try_from(code).unwrap_or(1)),
        Err(sentence) => {
            eprintln!("{sentence}");
            std::process::ExitCode::FAILURE
        }
    }
}
