//! What happens, and what the shell shall do about it.

use crate::keymap::Action;
use crate::model::Model;
use crate::planted::Fault;
use crate::settings::Known;
use izba_model::claim::Fix;
use izba_watch::fixing::Made;
use izba_watch::{Answer, Order, Past, Published};
use std::path::PathBuf;
use std::sync::Arc;

/// What happened, from the keyboard, the mouse, the clock or the engine thread.
#[derive(Debug)]
pub enum Msg {
    /// A key, by its name in the table.
    Key(String),
    /// Text pasted in one go.
    Paste(String),
    /// A click at column and row.
    Click(u16, u16),
    /// The mouse is at column and row with its button down, or was let go there.
    Drag(u16, u16, bool),
    /// The wheel over column and row; down is positive.
    Wheel(u16, u16, i32),
    /// The terminal has a new size.
    Resized(u16, u16),
    /// A new snapshot.
    Published(Arc<Published>),
    /// An answer of the engine thread.
    Answer(Answer),
    /// Something to tell the user.
    Say(String),
    /// An exact edit was made.
    Made(Box<Made>),
    /// The edit that was made last was taken back.
    TakenBack,
}

/// What the shell shall do.
#[derive(Debug)]
pub enum Effect {
    /// Ask the engine thread.
    Order(Order),
    /// Open the editor at a place of the project as it is now.
    Edit {
        /// Path relative to the project.
        file: String,
        /// Line, from 1.
        line: u32,
        /// Column in characters, from 1.
        column: u32,
    },
    /// Make an exact edit in the file that was looked at as this text.
    MakeEdit(Box<Fix>, Arc<str>),
    /// Take an edit back.
    TakeBack(Box<Made>),
    /// Apply the cure of a fault of the demo.
    Mend(&'static Fault),
    /// Take or release the mouse.
    Mouse(bool),
    /// Keep a setting.
    Keep(&'static Known, String),
    /// Copy a text.
    Copy(String),
    /// Keep bytes in a file that begins with this word and has this ending.
    KeepFile(Vec<u8>, &'static str, &'static str),
    /// Keep a text in a file with this ending.
    KeepText(String, &'static str),
    /// Open a picture with the program that the user opens pictures with, and say when it was taken.
    Show(PathBuf, String),
    /// Leave.
    Quit,
    /// Look at a run of an earlier session.
    OpenPast(Box<Past>),
    /// Go back from it.
    LeavePast,
    /// Do what another key would do; no business of the shell's.
    Act(Action),
}

/// How long a notice stands, in milliseconds.
const NOTICE_MS: i64 = 5_000;

/// Tells the user one sentence, for a while.
pub(crate) fn say(model: &mut Model, sentence: impl Into<String>) {
    model.notice = Some((sentence.into(), model.live.snapshot.now.0 + NOTICE_MS));
}
