//! `izba run -- CMD…`: start a program and watch it, on the screen or without one.

use super::{Outcome, Shared, has_screen, print};
use crate::command_error::CommandError;
use crate::watch::{Origin, Setup, feed_record};
use izba_core::{Engine, answer};
use izba_sources::{Command, CommandSpec, Event, SpoolReader, SpoolWriter, Store};
use std::ffi::OsString;
use std::io::Write;
use std::sync::{Arc, Mutex};

#[derive(clap::Args, Debug)]
#[command(after_help = "Examples:\n  izba run main.py\n  izba run -- node server.js --port 8000\n  izba run --pipes -- ./game")]
pub struct Args {
    /// Plain pipes instead of a terminal of its own for the program
    #[arg(long)]
    pipes: bool,
    /// The program and its arguments; a script alone finds its interpreter
    #[arg(required = true, trailing_var_arg = true, allow_hyphen_values = true, value_name = "CMD")]
    words: Vec<OsString>,
}

pub fn run(shared: &Shared, args: Args) -> Outcome {
    start(shared, args.words, args.pipes)
}

/// Runs `words` in this folder and watches them; the exit code is theirs.
pub fn start(shared: &Shared, words: Vec<OsString>, pipes: bool) -> Outcome {
    let folder = std::env::current_dir().map_err(|e| CommandError::input(format!("the folder we are in cannot be read: {e}")))?;
    let screen = has_screen();
    let command = Command::new(CommandSpec { words, folder, pipes, inherit_input: !screen })?;
    let store = Store::open(shared.store.clone())?;
    let session = store.session()?;
    if screen {
        let setup = Setup::new(shared.root(), session, vec![(command.line(), Origin::Command(command))]);
        return crate::shell::open(setup);
    }
    without_screen(shared, &command, &session)
}

/// Passes on what the program prints, then prints what `read --as text` would.
fn without_screen(shared: &Shared, command: &Command, session: &std::path::Path) -> Outcome {
    let project = Arc::new(izba_sources::scan(&shared.root()));
    let path = session.join("source-1.seg");
    let writer = Arc::new(Mutex::new(SpoolWriter::create(&path)?));
    let mut reader = SpoolReader::open(&path)?;
    let mut engine = Engine::new(project.clone());
    let source = engine.add_source(command.line());
    let (ring, bell) = std::sync::mpsc::sync_channel(1);
    // The signal is passed on to the program, whose end then ends us.
    let asked = Arc::new(std::sync::atomic::AtomicBool::new(false));
    for signal in [signal_hook::consts::SIGINT, signal_hook::consts::SIGTERM, signal_hook::consts::SIGHUP] {
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
                let target: &mut dyn Write = if stream == izba_core::Stream::Out { &mut std::io::stdout() } else { &mut std::io::stderr() };
                let _ = target.write_all(&record.bytes).and_then(|()| target.flush());
            }
            feed_record(&mut engine, source, &record, &project);
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
    engine.finish();
    let how = match engine.snapshot().sources.into_iter().next().map(|s| s.mark) {
        Some(izba_core::RunMark::Ended { how, .. }) => how,
        _ => "ended".into(),
    };
    print(&format!("\n◎ {} {how}.\n{}", command.line(), answer::text(&engine)));
    Ok(u8::try_from(running.code()).unwrap_or(1))
}
