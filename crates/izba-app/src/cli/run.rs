//! `izba run -- CMD…`: start a program and watch it, on the screen or without one.

use super::shared::{Outcome, Shared, has_screen, print};
use crate::command_error::CommandError;
use izba_core::{Engine, answer};
use izba_sources::{Command, CommandSpec, Event, SpoolReader, SpoolWriter, Store};
use izba_watch::readers;
use izba_watch::{Keeping, Setup, feed_record};
use std::ffi::OsString;
use std::io::Write;
use std::sync::{Arc, Mutex};

#[derive(clap::Args, Debug)]
#[command(
    after_help = "Examples:\n  izba run main.py\n  izba run -- node server.js --port 8000\n  izba run \
        --pipes -- ./game\n  izba run --on-save -- python3 main.py\n  izba run --adapter \
        'python3 -m debugpy.adapter' main.py\n  izba run --adapter 127.0.0.1:4711 -- ./game \
        --debug-port 4711"
)]
pub struct Args {
    /// Start it again when one of your files is saved
    #[arg(long)]
    on_save: bool,
    /// Plain pipes instead of a terminal of its own for the program
    #[arg(long)]
    pipes: bool,
    /// A debug adapter, so that the program can be paused: a command that starts it, or the address
    /// at which the program itself listens
    #[arg(long, value_name = "CMD|ADDR")]
    adapter: Option<String>,
    /// What the adapter is told beyond that, as JSON, in its own words
    #[arg(long, value_name = "JSON", requires = "adapter")]
    launch: Option<String>,
    /// The program and its arguments; a script alone finds its interpreter
    #[arg(
        required = true,
        trailing_var_arg = true,
        allow_hyphen_values = true,
        value_name = "CMD"
    )]
    words: Vec<OsString>,
}

pub fn run(shared: &Shared, args: Args) -> Outcome {
    match args.adapter {
        Some(adapter) => super::debugged::start(
            shared,
            &adapter,
            args.launch.as_deref(),
            args.words,
            args.pipes,
            args.on_save,
        ),
        None => start(shared, None, args.words, args.pipes, args.on_save),
    }
}

/// Runs `words` in this folder and watches them, under a name or the command itself; the exit code
/// is theirs.
pub fn start(
    shared: &Shared,
    name: Option<&str>,
    words: Vec<OsString>,
    pipes: bool,
    on_save: bool,
) -> Outcome {
    let folder = std::env::current_dir()
        .map_err(|e| CommandError::input(format!("the folder we are in cannot be read: {e}")))?;
    let screen = has_screen();
    let command = Command::new(CommandSpec {
        words,
        folder,
        environment: Vec::new(),
        pipes,
        inherit_input: !screen,
    })?;
    let store = Store::open(shared.store.clone())?;
    let session = store.session()?;
    if screen {
        let setup = Setup::new(
            shared.root(),
            session,
            vec![(name.map_or_else(|| command.line(), str::to_owned), Box::new(command))],
        );
        return crate::shell::open(Setup { again_on_save: on_save, ..setup });
    }
    without_screen(shared, &name.map_or_else(|| command.line(), str::to_owned), &command, &session)
}

/// Passes on what the program prints, then prints what `read --as text` would.
fn without_screen(
    shared: &Shared,
    name: &str,
    command: &Command,
    session: &std::path::Path,
) -> Outcome {
    let project = Arc::new(izba_sources::scan(&shared.root()));
    let path = session.join("source-1.seg");
    let writer = Arc::new(Mutex::new(SpoolWriter::create(&path)?));
    let mut reader = SpoolReader::open(&path)?;
    let mut engine = Engine::new(project.clone());
    engine.set_zone(jiff::tz::TimeZone::system());
    let source = engine.add_source(name);
    let taught =
        readers::read_file(&shared.root().join(readers::FILE)).map_err(CommandError::input)?;
    engine.set_taught(source, readers::of_source(&taught, name));
    let store = session.parent().unwrap_or(session);
    let (mut keeping, said) = Keeping::open(store, &shared.root());
    let heard = keeping.hear(&mut engine);
    for sentence in said.iter().chain(&heard) {
        let _ = writeln!(std::io::stderr(), "izba: {sentence}");
    }
    let (runs, groups) = keeping.history(name, &project);
    engine.recall(source, runs, groups);
    let spool = writer.clone();
    let (ring, bell) = std::sync::mpsc::sync_channel(1);
    // The signal is passed on to the program, whose end then ends us.
    let asked = Arc::new(std::sync::atomic::AtomicBool::new(false));
    for signal in
        [signal_hook::consts::SIGINT, signal_hook::consts::SIGTERM, signal_hook::consts::SIGHUP]
    {
        let _ = signal_hook::flag::register(signal, asked.clone());
    }
    let running = command.start(
        writer,
        Arc::new(move || {
            let _ = ring.try_send(());
        }),
    )?;
    let mut ended = false;
    loop {
        while let Some(record) = reader.next_record()? {
            if let Event::Bytes(stream) = record.event {
                let target: &mut dyn Write = if stream == izba_model::Stream::Out {
                    &mut std::io::stdout()
                } else {
                    &mut std::io::stderr()
                };
                let _ = target.write_all(&record.bytes).and_then(|()| target.flush());
            }
            feed_record(&mut engine, source, &record, &project);
            match record.event {
                Event::Start => keeping.begin(
                    &mut engine,
                    0,
                    &record,
                    reader.segment_of(record.offset),
                    name,
                    &project,
                ),
                Event::End { well } => {
                    keeping.end(&engine, 0, &String::from_utf8_lossy(&record.bytes), well)
                }
                _ => {}
            }
        }
        let unsynced = spool.try_lock().ok().and_then(|mut s| s.unsynced());
        for sentence in keeping.look(&mut engine, unsynced.into_iter()) {
            let _ = writeln!(std::io::stderr(), "izba: {sentence}");
        }
        if ended {
            break;
        }
        ended = running.has_ended();
        if !ended {
            let _ = bell.recv_timeout(std::time::Duration::from_millis(50));
        }
        if asked.swap(false, std::sync::atomic::Ordering::AcqRel) {
            running.stop();
        }
    }
    keeping.close(&mut engine);
    for sentence in keeping.troubles() {
        let _ = writeln!(std::io::stderr(), "izba: {sentence}");
    }
    if let Some(lost) = spool.try_lock().ok().map(|s| s.lost()).filter(|lost| *lost > 0) {
        let _ = writeln!(
            std::io::stderr(),
            "izba: the disk was full: {} that the program printed could not be kept",
            izba_model::text::counted(lost, "byte", "bytes")
        );
    }
    let how = match engine.snapshot().sources.into_iter().next().map(|s| s.mark) {
        Some(izba_core::RunMark::Ended { how, .. }) => how,
        _ => "ended".into(),
    };
    print(&format!(
        "\n◎ {} {how}.\n{}",
        command.line(),
        answer::text(&engine, &answer::Choice::default())
    ));
    Ok(u8::try_from(running.code()).unwrap_or(1))
}
