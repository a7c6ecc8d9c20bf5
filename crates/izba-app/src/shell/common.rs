//! What a screen and lines share: the state at the start, keys, the editor, what is told on leaving.

use crate::editor;
use crate::keymap::key_name;
use crate::model::Model;
use crate::settings::Settings;
use crate::theme::Theme;
use crate::turn::{Msg, update};
use crossterm::event::{Event, KeyEventKind, MouseButton, MouseEventKind};
use izba_watch::{Past, Setup, Watch};
use std::fs::File;
use std::io;
use std::path::{Path, PathBuf};
use std::process::Stdio;
use std::sync::Arc;
use std::sync::atomic::AtomicBool;
use std::time::Duration;

/// Longest wait for a key before answers of the engine are looked at.
pub(super) const WAIT: Duration = Duration::from_millis(16);

/// Events taken in a row before the screen is drawn.
pub(super) const BATCH: usize = 64;

/// Earlier runs that are offered where nothing is watched.
const EARLIER: usize = 5;

/// Where the screen is open.
pub(super) struct Place {
    pub demo: bool,
    /// Whether there is more to be watched later.
    pub rest: bool,
    pub session: PathBuf,
    /// Set when somebody asks Izba to step aside.
    pub aside: Arc<AtomicBool>,
    pub settings: Settings,
    /// What is wrong in the file of settings.
    pub wrong: Vec<String>,
}

impl Place {
    /// For a run of an earlier session, opened from here.
    pub fn of_past(&self) -> Place {
        Place {
            demo: false,
            rest: false,
            session: self.session.clone(),
            aside: self.aside.clone(),
            settings: self.settings.clone(),
            wrong: Vec::new(),
        }
    }
}

/// How somebody went away from what was open.
pub(super) enum Left {
    /// For good, with what is told on leaving.
    Izba(Vec<String>),
    /// From an earlier run, back to what is watched.
    ThisRun,
}

/// Opens a run of an earlier session, until somebody goes back from it or leaves; a sentence where it
/// cannot be opened.
pub(super) fn in_past(
    past: Past,
    root: &Path,
    place: &Place,
    run: impl FnOnce(&Watch, &Place) -> io::Result<Left>,
) -> io::Result<Result<Left, String>> {
    let (root, session) = (root.to_owned(), place.session.clone());
    let setup = Setup { past: Some(past), ..Setup::new(root, session, Vec::new()) };
    let earlier = match Watch::start(setup) {
        Ok(earlier) => earlier,
        Err(error) => return Ok(Err(error.sentence())),
    };
    let left = run(&earlier, &place.of_past());
    earlier.end();
    left.map(Ok)
}

/// The state at the start: colours by settings and terminal, what could be watched where nothing is.
pub(super) fn new_model(watch: &Watch, root: &Path, place: &Place, size: (u16, u16)) -> Model {
    let terminal = Theme::from_environment(|name| std::env::var(name).ok());
    let offset = jiff::Zoned::now().offset().seconds();
    let mut model = Model::new(watch.published(), size, terminal, offset);
    model.settings = place.settings.clone();
    model.theme = model.settings.theme(terminal);
    (model.demo, model.tour) = (place.demo, place.demo.then_some(crate::model::Tour::BEGIN));
    model.rest = place.rest;
    if model.shown.snapshot.sources.is_empty() {
        // Nothing is watched yet: what could be is offered.
        model.offers = izba_watch::wanted::offers(root)
            .iter()
            .map(izba_watch::kinds::Wanted::phrase)
            .collect();
        model.earlier = place.session.parent().map_or_else(Vec::new, |store| {
            izba_watch::earlier_runs(store, root, EARLIER)
                .into_iter()
                .map(|run| crate::model::Earlier {
                    source: run.card.source,
                    run: run.card.number,
                    started: izba_model::Millis(run.card.started),
                    ended: run.progress.ended.unwrap_or_else(|| "its end was not seen".into()),
                    lines: run.progress.lines,
                })
                .collect()
        });
        model.overlay = Some(crate::model::Sources::default().into());
    }
    if let Some(wrong) = place.wrong.first() {
        let _ = update(&mut model, Msg::Say(wrong.clone()));
    }
    model
}

/// What is told on leaving: what is left to fix, and where it is found again.
pub(super) fn summary(model: &Model) -> Vec<String> {
    if model.shown.snapshot.rows == 0 {
        return Vec::new();
    }
    let mut said = vec![format!("◎ {}", crate::rooms::now::headline::text(model))];
    let (open, quiet) = model.tally();
    let mut counts = Vec::new();
    if open > 1 {
        counts.push(format!(
            "{} left",
            izba_model::text::counted(open as u64, "mistake", "mistakes")
        ));
    }
    if quiet > 0 {
        counts.push(format!("{quiet} gone quiet"));
    }
    counts.push("izba runs lists the runs, all of it is kept".into());
    said.push(format!("  {}.", counts.join("; ")));
    said.extend(model.live.telling.iter().map(|telling| format!("  {}.", telling.sentence())));
    said
}

/// What an event of the terminal means; `None` for those that mean nothing.
pub(super) fn keys_of(event: &Event) -> Option<Msg> {
    match event {
        Event::Key(key) if key.kind != KeyEventKind::Release => key_name(key).map(Msg::Key),
        Event::Paste(text) => Some(Msg::Paste(text.clone())),
        Event::Resize(w, h) => Some(Msg::Resized(*w, *h)),
        Event::Mouse(mouse) => match mouse.kind {
            MouseEventKind::Down(MouseButton::Left) => Some(Msg::Click(mouse.column, mouse.row)),
            MouseEventKind::Drag(MouseButton::Left) => {
                Some(Msg::Drag(mouse.column, mouse.row, false))
            }
            MouseEventKind::Up(MouseButton::Left) => Some(Msg::Drag(mouse.column, mouse.row, true)),
            MouseEventKind::ScrollUp => Some(Msg::Wheel(mouse.column, mouse.row, -1)),
            MouseEventKind::ScrollDown => Some(Msg::Wheel(mouse.column, mouse.row, 1)),
            _ => None,
        },
        _ => None,
    }
}

/// What would be started to edit a file at a line and column, both from 1.
///
/// # Errors
///
/// A sentence for the user where no editor can be chosen.
pub(super) fn wanted_editor(
    settings: &Settings,
    file: &Path,
    line: u32,
    column: u32,
) -> Result<editor::EditorCommand, String> {
    // What the settings say comes before what the environment says.
    let get = |name: &str| match (name, settings.editor()) {
        ("VISUAL", Some(set)) => Some(set.to_owned()),
        _ => std::env::var(name).ok(),
    };
    editor::command_for(get, editor::is_on_path, file, line, column)
}

/// Opens the editor and comes back; what to tell the user, if anything.
pub(super) fn edit(settings: &Settings, file: &Path, line: u32, column: u32) -> Option<String> {
    if !file.is_file() {
        return Some(format!("{} is not there any more", file.display()));
    }
    let wanted = match wanted_editor(settings, file, line, column) {
        Ok(wanted) => wanted,
        Err(sentence) => return Some(sentence),
    };
    let mut command = std::process::Command::new(&wanted.words[0]);
    command.args(&wanted.words[1..]);
    let name = wanted.words[0].to_string_lossy().into_owned();
    let failed = |e: io::Error| {
        format!("the editor {name} could not be started: {}", izba_sources::plain_io(&e))
    };
    if wanted.windowed {
        command.stdin(Stdio::null()).stdout(Stdio::null()).stderr(Stdio::null());
        return Some(match command.spawn() {
            Ok(mut child) => {
                // Somebody has to hear of its end, or it stays as a dead process.
                let _ = std::thread::Builder::new()
                    .name("editor".into())
                    .spawn(move || drop(child.wait()));
                format!("opened in {name} at line {line}")
            }
            Err(e) => failed(e),
        });
    }
    if let Ok(terminal) = File::open("/dev/tty") {
        // Our own input may be a pipe; the editor reads the keyboard.
        command.stdin(Stdio::from(terminal));
    }
    match command.status() {
        Ok(status) if status.success() && wanted.at_line => None,
        Ok(status) if status.success() => {
            Some(format!("{name} is not known to Izba, so it was not told the line: it is {line}"))
        }
        Ok(status) => Some(format!(
            "the editor {name} ended with {}",
            status.code().map_or("a signal".into(), |c| format!("exit code {c}"))
        )),
        Err(e) => Some(failed(e)),
    }
}
