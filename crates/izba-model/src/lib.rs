//! The words of the product as values: levels, places, reports and entries, families of errors,
//! claims, the project with its files, and its code as a tree that all languages share.
//!
//! Everything else leans on this crate, and it leans on none of ours. Nothing here opens a file,
//! asks the clock, starts a thread or knows a terminal.

mod bundle;
pub mod claim;
pub mod code;
pub mod dialect;
mod entry;
pub mod excerpt;
pub mod family;
mod level;
pub mod literal;
pub mod mask;
mod millis;
pub mod moment;
pub mod pattern;
mod place;
pub mod project;
mod said_place;
pub mod sentence;
mod source_map;
pub mod spoken;
mod stream;
pub mod text;
mod witness;

pub use bundle::Bundle;
pub use claim::{Evidence, LIKELY, Reason, Suspect, Verdict};
pub use dialect::Language;
pub use entry::{Caret, Cause, Entry, ReaderId, Related, Report, mark_own, trace_id};
pub use excerpt::{Excerpt, ExcerptRow};
pub use family::{Facts, Family};
pub use level::Level;
pub use millis::Millis;
pub use place::{Column, ColumnUnit, Place, StackFrame};
pub use project::{Project, ProjectFile};
pub use sentence::{Sentence, Tone};
pub use stream::Stream;
pub use text::SafeText;
