//! `izba` alone: what is piped in; else what `izba.toml` names, or a choice of what could be
//! watched here.

use super::aloud::{Aloud, Watching};
use super::logs;
use super::say::{has_screen, print};
use super::shared::{Outcome, Shared};
use crate::command_error::{CommandError, exit};
use izba_core::{Engine, answer};
use izba_model::SafeText;
use izba_sources::Store;
use izba_watch::Setup;
use izba_watch::collector::Tell;
use izba_watch::kinds::{Input, RUN, Wanted};
use izba_watch::readers;
use izba_watch::trust::{self, Asked, Settings};
use izba_watch::wanted::{self, FILE};
use std::io::{BufRead, IsTerminal, Read};
use std::os::fd::AsFd;
use std::path::Path;
use std::sync::Arc;

pub fn run(shared: &Shared, aloud: Aloud) -> Outcome {
    let stdin = std::io::stdin();
    if stdin.is_terminal() || aloud.is_asked() {
        return project(shared, aloud);
    }
    if has_screen() {
        // Keys come from the controlling terminal; the pipe is the program's alone.
        let input = stdin
            .as_fd()
            .try_clone_to_owned()
            .map_err(|e| CommandError::input(format!("standard input cannot be read: {e}")))?;
        let session = Store::new_session(shared.store.clone())?;
        return super::on_screen::on_screen(
            shared.setup(session, vec![("standard input".into(), Box::new(Input(input.into())))]),
        );
    }
    let project = Arc::new(izba_files::scan(&shared.root()));
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

fn project(shared: &Shared, aloud: Aloud) -> Outcome {
    let root = shared.root();
    let store = Store::look(shared.store.clone())?;
    let settings = trust::look(&root, store.folder())?;
    if settings.is_none() && matches!(aloud.or_screen(), Watching::Aloud(_)) {
        return Err(CommandError::wrong_use("nothing to watch yet", offers(&root)));
    }
    let watching = aloud.endless("what izba.toml names")?;
    let (mut named, mut tell) = (Vec::new(), shared.tell.clone());
    if let Some(settings) = settings {
        match allowed(settings, &shared.trust) {
            // What is typed comes before what stands in the file.
            Some((sources, told)) => (named, tell) = (sources, tell.or(told)),
            None => {
                print(&format!(
                    "Nothing was started. {FILE} stays as it is; what you name yourself is watched \
                     without it: izba run …\n"
                ));
                return Ok(exit::WELL);
            }
        }
    }
    let session = Store::new_session(shared.store.clone())?;
    let setup = Setup { wanted: named, tell, ..Setup::new(root, session, Vec::new()) };
    watching.watch(setup)
}

/// The sources that may be opened and who may be told, after what was not allowed yet is asked on the terminal; `None`
/// when the user wants none of it. `trust` is what the command line allows.
fn allowed(mut settings: Settings, trust: &[String]) -> Option<(Vec<Wanted>, Option<Tell>)> {
    if let Some(asked) = settings.asked() {
        let (plain, named) = answers(&settings, asked, trust);
        if !plain {
            return None;
        }
        if let Err(e) = settings.allow(named) {
            print(&format!("It is asked again the next time: {}\n", SafeText::new(&e.to_string())));
        }
    }
    let tell = settings.tell();
    let (sources, left_out) = settings.sources();
    if let Some(sentence) = left_out {
        print(&format!("{sentence}\n"));
    }
    Some((sources, tell))
}

/// Whether what needs no name is allowed, and the names that are.
fn answers(settings: &Settings, asked: Asked, trust: &[String]) -> (bool, Vec<String>) {
    let mut plain = !trust.is_empty() || asked.plain.is_empty();
    if !plain {
        let list: String =
            asked.plain.iter().map(|act| format!("  {}\n", shown(&act.does))).collect();
        plain = yes(&format!(
            "{FILE} in {} wants Izba to\n\n{list}\nNothing of it was done yet. This is asked once \
             for each folder, and again when the file changes.\nShall Izba do it? (y/n) ",
            SafeText::new(&settings.folder().to_string_lossy())
        ));
    }
    let mut allowed = Vec::new();
    for act in asked.named.into_iter().filter(|_| plain) {
        let Some(name) = act.name else { continue };
        let said = match trust.is_empty() {
            true => yes(&format!("It also wants to {}. Allow that? (y/n) ", shown(&act.does))),
            false => trust.contains(&name),
        };
        if said {
            allowed.push(name);
        }
    }
    (plain, allowed)
}

/// Characters of one act that are shown.
const SHOWN: usize = 600;

/// An act as it is shown; of a long one it is said how much more there is.
fn shown(does: &str) -> String {
    let more = does.chars().count().saturating_sub(SHOWN);
    let safe = SafeText::new(&does.chars().take(SHOWN).collect::<String>()).to_string();
    if more == 0 { safe } else { format!("{safe}… ({more} more characters: see {FILE})") }
}

/// Asks on the terminal; anything but yes is no.
fn yes(question: &str) -> bool {
    print(question);
    let mut answer = String::new();
    let read = std::io::stdin().lock().take(100).read_line(&mut answer);
    read.is_ok() && matches!(answer.trim().to_lowercase().as_str(), "y" | "yes")
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
