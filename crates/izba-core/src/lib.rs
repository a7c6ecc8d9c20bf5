//! The computation of Izba: bytes of consoles in, groups of errors with their places and
//! explanations out.
//!
//! Nothing here opens a file, asks the clock, starts a thread or knows a terminal. The way through:
//! [`Engine::feed`] → lines ([`read`]) → entries ([`trace`]) → resolved against the [`Project`] →
//! groups ([`group`]) with an explanation ([`explain`]) → [`Engine::snapshot`] for a screen,
//! [`answer`] for a script.

pub mod answer;
mod bundle;
pub mod checks;
pub mod code;
pub mod corner;
mod digest;
pub mod engine;
pub mod excerpt;
pub mod explain;
pub mod filter;
pub mod group;
pub mod help;
mod learn;
pub mod model;
pub mod notes;
pub mod paths;
pub mod pause;
pub mod project;
pub mod read;
pub mod sarif;
mod setting;
pub mod silence;
mod source_map;
pub mod suspect;
pub mod text;
pub mod timeline;
pub mod trace;
pub mod values;

pub use digest::Digest;
pub use engine::{Engine, LineRef, RunMark, RunSpan, Snapshot, SourceId, SourceView, Window};
pub use excerpt::{Excerpt, ExcerptRow};
pub use explain::{Explanation, Part, Sentence, Tone};
pub use filter::Phrase;
pub use group::{GroupBy, GroupId, GroupView, Identity, Recalled, State, Wish};
pub use learn::KeptLine;
pub use model::{Cause, Column, ColumnUnit, Entry, Level, Millis, Place, Report, StackFrame};
pub use project::{Project, ProjectFile};
pub use read::{Checkpoint, RawLine, Splitter, Stream};
pub use setting::{Reading, Setting};
pub use text::SafeText;
