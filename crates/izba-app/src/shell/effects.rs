//! What is asked for beside drawing, done: files, clipboard, settings, the engine thread.

use crate::settings;
use crate::turn::{Effect, Msg};
use crossterm::clipboard::CopyToClipboard;
use crossterm::execute;
use izba_watch::{Order, Watch, fixing};
use std::io::{self, stdout};
use std::path::Path;
use std::process::{Command, Stdio};

/// What is worked on: the watch, the project's folder, the folder of the session.
pub(super) struct Desk<'a> {
    pub watch: &'a Watch,
    pub root: &'a Path,
    pub session: &'a Path,
}

/// What came of an effect.
pub(super) enum Done {
    /// It is done, with what to tell the user, if anything.
    Said(Option<String>),
    /// Something came of it that changes the state.
    Happened(Msg),
    /// It needs the screen, or is about leaving.
    Left(Effect),
}

impl Desk<'_> {
    /// Does what needs no screen.
    ///
    /// # Errors
    ///
    /// When the terminal cannot be written to.
    pub(super) fn carry_out(&self, effect: Effect) -> io::Result<Done> {
        let said = match effect {
            Effect::Order(order) => {
                self.watch.order(order);
                None
            }
            Effect::MakeEdit(fix, text) => match fixing::make(self.root, &fix, &text) {
                Ok(made) => return Ok(Done::Happened(Msg::Made(Box::new(made)))),
                Err(why) => Some(why),
            },
            Effect::TakeBack(made) => match fixing::take_back(self.root, &made) {
                Ok(()) => return Ok(Done::Happened(Msg::TakenBack)),
                Err(why) => Some(why),
            },
            Effect::Mend(fault) => Some(crate::planted::mend(self.root, fault)),
            Effect::Copy(text) => Some(copy(&text)?),
            Effect::Keep(known, value) => {
                if known.name == "run-again" {
                    self.watch.order(Order::RunOnSave(value == "save"));
                }
                let file = settings::file();
                Some(match file.map(|file| (settings::keep(&file, known, &value), file)) {
                    Some((Ok(()), file)) => format!("kept in {}", file.display()),
                    Some((Err(why), _)) => why,
                    None => "there is no folder for settings, so it holds for now only".into(),
                })
            }
            Effect::KeepFile(bytes, stem, ending) => Some(self.keep(&bytes, stem, ending)),
            Effect::KeepText(text, ending) => Some(self.keep(text.as_bytes(), "help", ending)),
            Effect::Show(path, when) => {
                let opened = if show(&path) { ", and is opened" } else { "" };
                Some(format!("the page at {when} is in {}{opened}", path.display()))
            }
            // Done by `update` itself before it hands effects out.
            Effect::Act(_) => None,
            other => return Ok(Done::Left(other)),
        };
        Ok(Done::Said(said))
    }

    fn keep(&self, bytes: &[u8], stem: &str, ending: &str) -> String {
        let kept = izba_watch::request::to_file(bytes, self.session, stem, ending);
        kept.map_or_else(|why| why, |path| format!("kept in {path}"))
    }
}

fn copy(text: &str) -> io::Result<String> {
    // The terminal is asked too: it may be on another machine than the clipboard of this one.
    execute!(stdout(), CopyToClipboard::to_clipboard_from(text))?;
    let by = izba_watch::request::to_clipboard(text).map_or_else(
        || "by the terminal, if it lets programs do that".to_owned(),
        |p| format!("by the terminal and {p}"),
    );
    let line = text.lines().find(|l| !l.trim().is_empty()).unwrap_or_default();
    let line = crate::parts::pen::safe(line.trim());
    Ok(format!("copied {by}: {}", izba_model::text::fit(&line, 60)))
}

/// Opens a file with the program that the desktop has for it; `false` where there is none.
fn show(path: &Path) -> bool {
    let shown = ["WAYLAND_DISPLAY", "DISPLAY"];
    if !shown.iter().any(|name| std::env::var_os(name).is_some_and(|v| !v.is_empty())) {
        return false;
    }
    let mut command = Command::new("xdg-open");
    command.arg(path).stdin(Stdio::null()).stdout(Stdio::null()).stderr(Stdio::null());
    let Ok(mut child) = command.spawn() else { return false };
    // It ends once the picture is handed on; nobody waits for that.
    let ended = move || drop(child.wait());
    let _ = std::thread::Builder::new().name("show".into()).spawn(ended);
    true
}
