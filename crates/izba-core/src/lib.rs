//! What Izba offers as a library: bytes of consoles in, groups of errors with their places and
//! explanations out.
//!
//! The way through: [`Engine::feed`] → lines and reports (`izba_console`) → entries placed in the
//! project (`izba_model`) → groups ([`group`]) with an explanation (`izba_cause`) →
//! [`Engine::snapshot`] for a screen, [`answer`] for a script. Nothing here opens a file, asks the
//! clock, starts a thread or knows a terminal.

pub mod answer;
pub mod class;
mod digest;
pub mod engine;
pub mod filter;
pub mod group;
pub mod help;
pub mod notes;
mod overlooked;
pub mod phrase;
pub mod sarif;
pub mod state;
pub mod timeline;
pub mod values;

pub use digest::Digest;
pub use engine::{Engine, LineRef, Rows, RunMark, Snapshot, SourceId, SourceView, Window};
pub use group::{
    GroupBy, GroupId, GroupView, Identity, Picture, Recalled, RunSpan, Verdict, Wish, suspect_key,
};
pub use overlooked::overlooked_words;
pub use phrase::Phrase;
pub use state::State;
