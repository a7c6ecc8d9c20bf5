//! `izba` alone: what is piped in; else what `izba.toml` names, or a choice of what could be
//! watched here.

use super::logs;
use super::shared::{Outcome, Shared, has_screen, print};
use crate::command_error::CommandError;
use izba_core::{Engine, answer};
use izba_sources::Store;
use izba_watch::Setup;
use izba_watch::kinds::{Input, RUN};
use izba_watch::readers;
use izba_watch::wanted::{self, FILE};
use std::io::IsTerminal;
use std::os::fd::AsFd;
use std::path::Path;
use std::sync::Arc;

pub fn run(shared: &Shared) -> Outcome {
    let stdin = std::io::stdin();
    if stdin.is_terminal() {
        return project(shared);
    }
    if has_screen() {
        // Keys come from the controlling terminal; the pipe is the program's alone.
        let input = stdin
            .as_fd()
            .try_clone_to_owned()
            .map_err(|e| CommandError::input(format!("standard input cannot be read: {e}")))?;
        let session = Store::open(shared.store.clone())?.session()?;
        return crate::shell::open(Setup::new(
            shared.root(),
            session,
            vec![("standard input".into(), Box::new(Input(input.into())))],
        ));
    }
    let project = Arc::new(izba_sources::scan(&shared.root()));
    let mut engine = Engine::new(project.clone());
    engine.set_zone(jiff::tz::TimeZone::system());
    logs::follow_wishes(shared, &mut engine)?;
    let source = engine.add_source("standard input");
    let taught =
        readers::read_file(&shared.root().join(readers::FILE)).map_err(CommandError::input)?;
    engine.set_taught(source, readers::of_source(&taught, "standard input", None));
    engine.start_run(source, None, project);
    let failed = |e: std::io::Error| {
        CommandError::input(format!(
            "standard input cannot be read: {}",
            izba_sources::plain_io(&e)
        ))
    };
    izba_watch::side_by_side::feed_all(&mut engine, source, &mut std::io::stdin())
        .map_err(failed)?;
    engine.finish();
    let choice = answer::Choice::default();
    print(&answer::text(&engine, &choice));
    Ok(logs::verdict(&engine, &choice))
}

fn project(shared: &Shared) -> Outcome {
    let root = shared.root();
    let named = wanted::read_file(&root)?;
    if !has_screen() {
        return Err(match named.is_empty() {
            true => CommandError::wrong_use("nothing to watch yet", offers(&root)),
            false => CommandError::wrong_use(
                "izba needs a terminal to draw on",
                "without one, use: izba run CMD… or izba read FILE…",
            ),
        });
    }
    let session = Store::open(shared.store.clone())?.session()?;
    crate::shell::open(Setup { wanted: named, ..Setup::new(root, session, Vec::new()) })
}

/// What could be watched here, as a sentence.
fn offers(root: &Path) -> String {
    let mut offers: Vec<String> = wanted::offers(root)
        .into_iter()
        .map(|w| match w.kind {
            kind if kind == RUN => format!("izba run -- {}", w.what),
            _ => format!("izba {}", w.phrase()),
        })
        .collect();
    if offers.is_empty() {
        return "start a program with it: izba run main.py · or pipe one in: make 2>&1 | izba · or \
            try: izba demo".into();
    }
    offers.truncate(4);
    format!(
        "here you could: {} · or name several in {FILE} · or try: izba demo",
        offers.join(" · ")
    )
}
