//! `izba run --adapter …`: a program under a debug adapter, on the screen; or without one, where
//! each stop at an error that nobody catches is told with the values of its line, and the program
//! goes on.

use super::aloud;
use super::say::{has_screen, print};
use super::shared::{Outcome, Shared};
use crate::command_error::{CommandError, exit};
use crate::model::PauseState;
use crate::rooms::pause::rows::{self, Row};
use izba_watch::debugged::Debugged;
use izba_watch::{Answer, Order, PauseOrder, Setup, Stops, Watch};

use izba_dap::{Phase, Stop, Want};
use izba_sources::{Command, CommandSpec, Store};
use std::collections::BTreeMap;
use std::ffi::OsString;
use std::net::SocketAddr;
use std::time::Duration;

/// Runs `words` under a debug adapter, as a command line or an address.
pub fn start(
    shared: &Shared,
    adapter: &str,
    launch: Option<&str>,
    words: Vec<OsString>,
    pipes: bool,
    on_save: bool,
) -> Outcome {
    let folder = std::env::current_dir()
        .map_err(|e| CommandError::input(format!("the folder we are in cannot be read: {e}")))?;
    let text: Vec<String> = words.iter().map(|w| w.to_string_lossy().into_owned()).collect();
    let wrong = |why: String| {
        CommandError::wrong_use(
            format!("--launch is no JSON object: {why}"),
            "it looks like this: --launch '{\"justMyCode\": false}'",
        )
    };
    let launch: toml::Table = match launch {
        Some(json) => serde_json::from_str(json).map_err(|e| wrong(e.to_string()))?,
        None => toml::Table::new(),
    };
    let debugged = match adapter.parse::<SocketAddr>() {
        Ok(address) if launch.is_empty() => {
            let spec =
                CommandSpec { words, folder, environment: Vec::new(), pipes, inherit_input: false };
            Debugged::at(Command::new(spec)?, address)
        }
        _ => Debugged::by(adapter, &text, &folder, &BTreeMap::new(), &launch),
    };
    let session = Store::new_session(shared.store.clone())?;
    let name = text.join(" ");
    let setup = Setup {
        again_on_save: on_save,
        ..shared.setup(session, vec![(name.clone(), Box::new(debugged))])
    };
    if has_screen() { super::on_screen::on_screen(setup) } else { without_screen(setup) }
}

/// How long the values of a line are waited for.
const VALUES: Duration = Duration::from_secs(3);

/// Prints each stop at an error that nobody catches, lets it go on, and in the end what `read --as
/// text` prints.
fn without_screen(setup: Setup) -> Outcome {
    let watch = Watch::start(aloud::setup(setup))?;
    watch.published().troubles.iter().cloned().for_each(aloud::trouble);
    watch.order(Order::Pause(PauseOrder::Errors(Stops::Uncaught)));
    let mut told = 0;
    let begun = std::time::Instant::now();
    let mut since = std::time::Instant::now();
    loop {
        // Answers wake us; what they say stands in what is published.
        if let Some(Answer::Trouble(sentence)) = watch.answer(Duration::from_millis(40)) {
            aloud::trouble(sentence);
        }
        let published = watch.published();
        let state = &published.pause.state;
        // What was printed comes before what is said of it.
        if published.backlog == 0
            && let Some(stop) = &state.stop
        {
            if stop.number != told {
                (told, since) = (stop.number, std::time::Instant::now());
            }
            let whole = stop.line.iter().all(|(_, v)| v.is_some())
                && stop.scopes.first().is_none_or(|s| stop.children.contains_key(&s.reference));
            if whole || since.elapsed() > VALUES {
                print(&report(stop));
                watch.order(Order::Pause(PauseOrder::Want(Want::Go)));
                // The next look has to see that it goes on.
                while watch.published().pause.state.stop.as_ref().is_some_and(|s| s.number == told)
                    && since.elapsed() < 2 * VALUES
                {
                    let _ = watch.answer(Duration::from_millis(10));
                }
            }
        }
        if izba_watch::is_over(&published) && !published.snapshot.sources.is_empty() {
            break;
        }
        if let (Phase::Ended(_), false) = (&state.phase, published.running)
            && since.elapsed() > VALUES
        {
            break;
        }
    }
    let published = watch.published();
    // Without its adapter nothing of the program was seen.
    let lost =
        matches!(&published.pause.state.phase, Phase::Ended(how) if how.contains("the adapter"));
    let groups = published.snapshot.groups.clone();
    let failed = groups.iter().any(|g| g.level() >= izba_model::Level::Error);
    let (code, _) = aloud::end(watch, false, begun.elapsed());
    let otherwise = match (failed, lost) {
        (true, _) => exit::FOUND,
        (false, true) => exit::INPUT,
        (false, false) => exit::WELL,
    };
    Ok(u8::try_from(code).ok().filter(|c| *c != 0).unwrap_or(otherwise))
}

/// One stop as text: what, where, the values of the line, the way there.
fn report(stop: &Stop) -> String {
    let error = stop
        .error
        .as_ref()
        .map(|e| e.message.clone())
        .or_else(|| stop.text.clone())
        .unwrap_or_default();
    let place = stop
        .chosen()
        .map(|f| format!("{}:{}", f.own.as_deref().or(f.path.as_deref()).unwrap_or("?"), f.line))
        .unwrap_or_default();
    let mut said = format!("\n◎ stopped at {place}: {}\n", error.lines().next().unwrap_or(""));
    for row in rows::rows_of(stop, &PauseState::default()) {
        match row {
            Row::Heading(words) => said += &format!("  {words}\n"),
            Row::Value(v) if v.path.starts_with("line/") && v.depth == 0 => {
                let shown = match &v.value {
                    Some(Ok(value)) => value.shown.clone(),
                    Some(Err(why)) => format!("not told: {why}"),
                    None => "not told in time".into(),
                };
                let remark = v.remark.map_or(String::new(), |r| format!("   ← {r}"));
                said +=
                    &format!("    {:<24} {}{remark}\n", v.name, shown.lines().next().unwrap_or(""));
            }
            Row::Value(v) if v.path.starts_with("scope/") || v.path.starts_with("watch/") => break,
            Row::Value(_) => {}
        }
    }
    for frame in stop.frames.iter().filter(|f| f.own.is_some()) {
        said += &format!(
            "  from {}:{} in {}\n",
            frame.own.as_deref().unwrap_or(""),
            frame.line,
            frame.name
        );
    }
    said.split('\n')
        .map(|l| izba_model::SafeText::new(l).as_str().to_owned())
        .collect::<Vec<_>>()
        .join("\n")
}
