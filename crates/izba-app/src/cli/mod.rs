//! The command line: one file for each command, and the one place where errors become sentences and
//! exit codes.

mod aloud;
mod check;
mod copies;
mod corner;
mod debugged;
#[cfg(feature = "demo")]
mod demo;
mod draw;
mod follow;
mod form;
mod help;
mod kept;
mod listen;
mod logs;
#[cfg(feature = "lsp")]
mod lsp;
mod manual;
mod notes;
mod on_screen;
mod open;
mod page;
mod paths;
mod read;
mod readers;
mod run;
mod runs;
mod say;
mod shared;
#[cfg(feature = "demo")]
mod stand_in;
mod store;
mod trial;
mod trust;

use crate::command_error::CommandError;
use clap::{CommandFactory, Parser, Subcommand};
use izba_watch::collector::Tell;
use shared::Shared;
use std::path::PathBuf;
use std::process::ExitCode;

/// Watches every console of your project and leads from an error to its line.
#[derive(Parser, Debug)]
#[command(
    name = "izba",
    version,
    about,
    disable_help_subcommand = true,
    after_help = "Examples:\n  izba run main.py\n  izba run -- npm start\n  make 2>&1 | izba\n  izba \
        demo\n  izba                 what izba.toml names, or what could be watched here\n  izba --seconds 20    the same without a screen\n\n\
        More: izba help begin, keys, filter, files, exit-codes"
)]
struct Cli {
    #[command(subcommand)]
    command: Option<Commands>,
    #[command(flatten)]
    aloud: aloud::Aloud,
    /// Where Izba keeps what it watched (default: the XDG state folder)
    #[arg(long, global = true, value_name = "DIR")]
    store: Option<PathBuf>,
    /// The project's folder (default: found from here upwards)
    #[arg(long, global = true, value_name = "DIR")]
    project: Option<PathBuf>,
    /// Write lines, one after the other, instead of drawing a screen (for screen readers)
    #[arg(long, global = true)]
    linear: bool,
    /// Do what izba.toml names without asking; what reaches beyond the folder, each by its name
    #[arg(long, global = true, value_name = "NAME", num_args = 0..=1, require_equals = true,
        default_missing_value = "")]
    trust: Vec<String>,
    /// Tell a collector what becomes of each mistake of yours, as OpenTelemetry logs (OTLP over HTTP)
    #[arg(long, global = true, value_name = "ADDR")]
    tell: Option<String>,
    /// The name to be told under; without it nobody sees who you are
    #[arg(long, global = true, value_name = "NAME", requires = "tell")]
    tell_as: Option<String>,
}

#[derive(Subcommand, Debug)]
enum Commands {
    /// Start a program and watch it
    Run(run::Args),
    /// Watch files that grow
    Follow(follow::Args),
    /// Open a web page in a browser and watch its console
    Page(page::Args),
    /// Watch what other programs send as syslog
    Listen(listen::Args),
    /// Read a log without a screen
    Read(read::Args),
    /// Tell who calls from where, by the paths that a program printed on purpose
    Paths(paths::Args),
    /// Tell how lines are read, check reader files, try them on a log
    Readers(readers::Args),
    /// Tell what is wrong in the code and data, without running them
    Check(check::Args),
    /// Run a copy with parts left out, until only what an error needs is left
    Corner(corner::Args),
    /// Try the exact edits that would mend an error, in a copy
    Try(trial::Args),
    /// Tell an editor what is wrong, over the Language Server Protocol
    #[cfg(feature = "lsp")]
    Lsp(lsp::Args),
    /// List the runs that are kept of this project
    Runs(runs::Args),
    /// Tell what is new, back and gone between two runs
    Compare(runs::CompareArgs),
    /// What was written about errors: find, read, add, share
    Notes(notes::Args),
    /// Draw a run, its values, an error's path or the code, as SVG or PDF
    Draw(draw::Args),
    /// Lay out the demo project Night Ferry, run it and watch it
    #[cfg(feature = "demo")]
    Demo(demo::Args),
    /// Tell where Izba keeps what it watched, how much it is, and delete it
    Store(store::Args),
    /// List the folders whose izba.toml you allowed, and take that back
    Trust(trust::Args),
    /// Print the help of a command, or a page: begin, keys, filter, files, exit-codes
    Help(help::Args),
    /// Print what a shell needs to complete the commands of Izba
    Completions(manual::CompletionsArgs),
    /// Print the manual page
    Manual(manual::ManualArgs),
    /// The demo's own programs
    #[cfg(feature = "demo")]
    #[command(hide = true)]
    StandIn(stand_in::Args),
}

impl Commands {
    /// Whether it watches something that goes on.
    fn watches(&self) -> bool {
        match self {
            Commands::Run(_) | Commands::Follow(_) | Commands::Page(_) | Commands::Listen(_) => {
                true
            }
            #[cfg(feature = "lsp")]
            Commands::Lsp(_) => true,
            #[cfg(feature = "demo")]
            Commands::Demo(_) => true,
            _ => false,
        }
    }
}

/// Reads the command line, does what it says, and turns errors into a sentence and an exit code.
pub fn main() -> ExitCode {
    let cli = match Cli::try_parse() {
        Ok(cli) => cli,
        Err(error) => return explained(&error),
    };
    if cli.aloud.is_asked() && cli.command.is_some() {
        let wrong = CommandError::wrong_use(
            "--seconds and --as before the command do nothing",
            "put them behind it: izba run --seconds 20 main.py",
        );
        say::say_error(&wrong);
        return ExitCode::from(wrong.code);
    }
    if cli.linear {
        crate::shell::go_linear();
    }
    let tell = cli.tell.map(|to| Tell::new(&to, cli.tell_as)).transpose();
    let tell = match tell {
        Ok(tell) => tell,
        Err(why) => {
            let wrong = CommandError::wrong_use(why, "name it so: --tell 127.0.0.1:4318");
            say::say_error(&wrong);
            return ExitCode::from(wrong.code);
        }
    };
    if tell.is_some() && cli.command.as_ref().is_some_and(|command| !command.watches()) {
        let wrong = CommandError::wrong_use(
            "this command watches nothing, so there is nothing to tell",
            "name --tell where something is watched: izba --tell 127.0.0.1:4318 run main.py",
        );
        say::say_error(&wrong);
        return ExitCode::from(wrong.code);
    }
    let shared = Shared { store: cli.store, project: cli.project, trust: cli.trust, tell };
    let outcome = match cli.command {
        Some(Commands::Run(args)) => run::run(&shared, args),
        Some(Commands::Paths(args)) => paths::run(&shared, &args),
        Some(Commands::Corner(args)) => corner::run(&shared, args),
        Some(Commands::Try(args)) => trial::run(&shared, &args),
        Some(Commands::Follow(args)) => follow::run(&shared, args),
        Some(Commands::Page(args)) => page::run(&shared, args),
        Some(Commands::Listen(args)) => listen::run(&shared, &args),
        Some(Commands::Read(args)) => read::run(&shared, &args),
        Some(Commands::Readers(args)) => readers::run(&shared, &args),
        Some(Commands::Check(args)) => check::run(&shared, &args),
        #[cfg(feature = "lsp")]
        Some(Commands::Lsp(args)) => lsp::run(&shared, args),
        Some(Commands::Runs(args)) => runs::run(&shared, &args),
        Some(Commands::Compare(args)) => runs::run_compare(&shared, &args),
        Some(Commands::Notes(args)) => notes::run(&shared, args),
        Some(Commands::Draw(args)) => draw::run(&shared, &args),
        #[cfg(feature = "demo")]
        Some(Commands::Demo(args)) => demo::run(&shared, args),
        Some(Commands::Store(args)) => store::run(&shared, args),
        Some(Commands::Trust(args)) => trust::run(&shared, &args),
        Some(Commands::Help(args)) => help::run(&args, Cli::command()),
        Some(Commands::Completions(args)) => manual::completions(&args, Cli::command()),
        Some(Commands::Manual(args)) => manual::manual(&args, Cli::command()),
        #[cfg(feature = "demo")]
        Some(Commands::StandIn(args)) => stand_in::run(args),
        None => open::run(&shared, cli.aloud),
    };
    izba_sources::put_away();
    match outcome {
        Ok(code) => ExitCode::from(code),
        Err(error) => {
            say::say_error(&error);
            ExitCode::from(error.code)
        }
    }
}

/// Prints help or version, or what is wrong with the command line: that repeats what was typed.
fn explained(error: &clap::Error) -> ExitCode {
    let text = error.render().to_string();
    if !error.use_stderr() {
        say::print(&text);
        return ExitCode::SUCCESS;
    }
    say::say_lines(&text);
    ExitCode::from(u8::try_from(error.exit_code()).unwrap_or(crate::command_error::exit::USE))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_command_has_an_example_and_fits_a_terminal() {
        fn look(command: &mut clap::Command, way: &str) {
            let help = command.render_long_help().to_string();
            assert!(help.contains("Example"), "{way} has no example");
            let long = help.lines().find(|l| l.chars().count() > 100);
            assert_eq!(long, None, "{way}");
            for inner in command.get_subcommands_mut().filter(|c| !c.is_hide_set()) {
                let way = format!("{way} {}", inner.get_name());
                look(inner, &way);
            }
        }
        let mut command = Cli::command();
        command.build();
        look(&mut command, "izba");
    }

    #[test]
    fn a_command_has_its_help_and_a_slip_is_told() {
        let of = |words: &[&str]| {
            let words: Vec<String> = words.iter().map(|w| (*w).to_owned()).collect();
            help::page(&words, Cli::command())
        };
        let read = of(&["read"]).expect("a command");
        assert!(read.contains("izba read") && read.contains("Examples:"), "{read}");
        assert!(of(&["notes", "add"]).expect("a command").contains("izba notes add"));
        let wrong = of(&["keyz"]).expect_err("no such page");
        assert_eq!(wrong.hint.as_deref(), Some("did you mean izba help keys?"));
        assert_eq!(of(&["moon"]).expect_err("no such page").code, crate::command_error::exit::USE);
    }
}
