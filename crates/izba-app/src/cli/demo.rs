//! `izba demo`: lays the demo project out in a folder, runs its five sources and opens the screen
//! with a guided tour. Each source can be started alone; its faults can be listed, fixed and put
//! back.

use super::aloud::Aloud;
use super::run;
use super::say::{has_screen, print};
use super::shared::{Outcome, Shared};
use crate::command_error::{CommandError, exit};
use izba_sources::{Command, CommandSpec, SourceError, Store};
use izba_standins::world::{self, Fault, faults};
use izba_watch::debugged::Debugged;
use izba_watch::kinds::{Address, File, Origin};
use izba_watch::{Later, Setup};
use std::ffi::OsString;
use std::net::SocketAddr;
use std::path::{Path, PathBuf};

#[derive(clap::Args, Debug)]
#[command(
    after_help = "Examples:\n  izba demo                        all five sources, with a guided tour\n  \
        izba demo engine                 the game alone\n  izba demo --list                 \
        the mistakes that are planted in it\n  izba demo --fix lantern-level    fix one of \
        them\n  izba demo --reset                plant them all again"
)]
pub struct Args {
    /// Start one source alone
    #[arg(value_enum, value_name = "SOURCE")]
    source: Option<Source>,
    /// The folder for the demo project; fixed scripts in it stay fixed
    #[arg(long, default_value = "night-ferry", value_name = "DIR")]
    dir: PathBuf,
    /// End the game after so many seconds
    #[arg(long, value_name = "N")]
    seconds: Option<f64>,
    /// Tell the planted faults: what they are, where, and how to fix them
    #[arg(long, conflicts_with_all = ["fix", "reset", "source"])]
    list: bool,
    /// Apply the cure of one fault
    #[arg(long, value_name = "ID", conflicts_with_all = ["reset", "source"])]
    fix: Option<String>,
    /// Put all files of the demo back as they were; what you added stays
    #[arg(long, conflicts_with = "source")]
    reset: bool,
}

/// A source of the demo.
#[derive(clap::ValueEnum, Debug, Clone, Copy, PartialEq, Eq)]
enum Source {
    /// The game, in Lua on a small engine
    Engine,
    /// The loader of its add-on pack: data files and a bit of Java
    Addon,
    /// The timetable on the web, in JavaScript
    Page,
    /// The phone whose app sells tickets, in Kotlin with an XML form
    Phone,
    /// The build of the ticket tool, in C#
    Build,
}

const ALL: [Source; 5] =
    [Source::Engine, Source::Addon, Source::Page, Source::Phone, Source::Build];

impl Source {
    fn name(self) -> &'static str {
        match self {
            Source::Engine => "marsh engine",
            Source::Addon => "add-on loader",
            Source::Page => "timetable page",
            Source::Phone => "ticket phone",
            Source::Build => "ticket build",
        }
    }
}

/// Addresses of the demo on this machine.
#[derive(Clone, Copy)]
struct Addresses {
    /// Where the phone serves its log.
    log: SocketAddr,
    /// Where its app answers the page.
    tickets: SocketAddr,
    /// Where the engine's debug adapter listens.
    adapter: SocketAddr,
}

const LOADER_LOG: &str = "addon/logs/loader.log";

pub fn run(shared: &Shared, args: Args) -> Outcome {
    let dir = &args.dir;
    if args.list {
        print(&list(dir));
        return Ok(exit::WELL);
    }
    if args.reset {
        world::reset(dir).map_err(|e| cannot_lay_out(dir, &e))?;
        print(&format!("All {} faults stand in {} as at first.\n", faults().len(), dir.display()));
        return Ok(exit::WELL);
    }
    let fault = args.fix.as_deref().map(known).transpose()?;
    world::lay_out(dir).map_err(|e| cannot_lay_out(dir, &e))?;
    if let Some(fault) = fault {
        return fix(dir, fault);
    }
    std::env::set_current_dir(dir)
        .map_err(|e| CommandError::input(format!("cannot go to {}: {e}", dir.display())))?;
    let shared = Shared { project: Some(PathBuf::from(".")), ..shared.clone() };
    let addresses =
        Addresses { log: free_address()?, tickets: free_address()?, adapter: free_address()? };
    let words = |source: Source| words_of(source, addresses, args.seconds);
    if !has_screen() {
        let source = args.source.unwrap_or(Source::Engine);
        let words = match source {
            // Without a screen the phone prints its log as tools do that follow a device, and the
            // loader tells its own instead of writing it.
            Source::Phone => stand_in(&["phone"], args.seconds)?,
            Source::Addon => stand_in(&["addon"], args.seconds)?,
            source => words(source)?,
        };
        return run::start(&shared, Some(source.name()), words, false, false, Aloud::default());
    }
    let session = Store::new_session(shared.store.clone())?;
    let mut setup = Setup { demo: true, ..shared.setup(session, Vec::new()) };
    let wanted = args.source.map_or(ALL.to_vec(), |one| vec![one]);
    for (at, source) in wanted.into_iter().enumerate() {
        let command = Command::new(CommandSpec {
            words: words(source)?,
            folder: PathBuf::from("."),
            environment: Vec::new(),
            pipes: false,
            inherit_input: false,
        })?;
        let (origin, helper): (Origin, _) = match source {
            Source::Addon => {
                // What an earlier demo left is not news.
                let _ = std::fs::remove_file(LOADER_LOG);
                (Box::new(File(PathBuf::from(LOADER_LOG))), Some(command))
            }
            Source::Phone => (Box::new(Address(addresses.log)), Some(command)),
            Source::Engine => (Box::new(Debugged::at(command, addresses.adapter)), None),
            Source::Page | Source::Build => (Box::new(command), None),
        };
        let name = source.name().to_owned();
        // The evening begins with the game alone; the others come when the tour has shown how it
        // goes.
        if at == 0 {
            setup.helpers.extend(helper);
            setup.sources.push((name, origin));
        } else {
            setup.later.push(Later { name, origin, helper });
        }
    }
    super::on_screen::on_screen(setup)
}

fn cannot_lay_out(dir: &Path, error: &std::io::Error) -> CommandError {
    let why = izba_sources::plain_io(error);
    CommandError::input(format!("cannot lay the demo project out in {}: {why}", dir.display()))
        .hint("name another folder with --dir")
}

fn free_address() -> Result<SocketAddr, CommandError> {
    izba_standins::free_address().map_err(|cause| {
        SourceError::System { doing: "find a free port on this machine", cause }.into()
    })
}

fn stand_in(words: &[&str], seconds: Option<f64>) -> Result<Vec<OsString>, CommandError> {
    let program = std::env::current_exe()
        .map_err(|e| CommandError::input(format!("cannot find the program itself: {e}")))?;
    let mut all = vec![program.into_os_string(), "stand-in".into()];
    all.extend(words.iter().map(OsString::from));
    if let Some(seconds) = seconds {
        all.extend(["--seconds".into(), seconds.to_string().into()]);
    }
    Ok(all)
}

fn words_of(
    source: Source,
    addresses: Addresses,
    seconds: Option<f64>,
) -> Result<Vec<OsString>, CommandError> {
    let (log, tickets, adapter) =
        (addresses.log.to_string(), addresses.tickets.to_string(), addresses.adapter.to_string());
    match source {
        Source::Engine => {
            stand_in(&["engine", "--play", "play/evening.json", "--adapter", &adapter], seconds)
        }
        Source::Addon => stand_in(&["addon", "--log", LOADER_LOG], seconds),
        Source::Page => stand_in(&["page", "--tickets", &tickets], seconds),
        Source::Phone => stand_in(&["phone", "--listen", &log, "--service", &tickets], seconds),
        Source::Build => stand_in(&["build"], None),
    }
}

fn list(dir: &Path) -> String {
    let mut text = String::new();
    let mut source = "";
    for fault in faults() {
        if fault.source != source {
            source = &fault.source;
            text += &format!("\n{source}\n");
        }
        // Where the project is laid out, the line as it is now.
        let line = fault.guilty.line(dir).map_or_else(String::new, |line| format!(":{line}"));
        text += &format!(
            "  {:<20} {}{line}\n{:23}{}\n",
            fault.id, fault.guilty.file, "", fault.teaches
        );
    }
    text += "\nFix one: izba demo --fix ID · all about them: FAULTS.md in the demo project\n";
    text
}

/// The fault of this id.
fn known(id: &str) -> Result<&'static Fault, CommandError> {
    faults().iter().find(|f| f.id == id).ok_or_else(|| {
        CommandError::wrong_use(
            format!("there is no fault “{id}” in the demo"),
            "izba demo --list tells them all",
        )
    })
}

fn fix(dir: &Path, fault: &Fault) -> Outcome {
    world::apply(dir, &fault.cure).map_err(CommandError::input)?;
    print(&format!(
        "Fixed {}: {}.\nIt shows with the next run of the {}.\n",
        fault.id, fault.mend, fault.source
    ));
    Ok(exit::WELL)
}
