//! The words of the product as types: level, place, frame, cause, report, entry. Every other folder
//! leans on these.

mod entry;
mod level;
mod place;

pub(crate) use entry::mark_own;
pub use entry::{Caret, Cause, Entry, Report};
pub use level::Level;
pub use place::{Column, ColumnUnit, Place, StackFrame};

/// Milliseconds since the Unix epoch; the one form of time inside core.
#[derive(
    Debug,
    Clone,
    Copy,
    PartialEq,
    Eq,
    PartialOrd,
    Ord,
    Hash,
    Default,
    serde::Serialize,
    serde::Deserialize,
)]
pub struct Millis(pub i64);

impl Millis {
    /// Milliseconds from `earlier` to `self`, never below nought.
    pub fn since(self, earlier: Millis) -> u64 {
        u64::try_from(self.0.saturating_sub(earlier.0)).unwrap_or(0)
    }

    /// The moment as RFC 3339 text in UTC with milliseconds, `None` when outside the calendar.
    pub fn to_rfc3339(self) -> Option<String> {
        let stamp = jiff::Timestamp::from_millisecond(self.0).ok()?;
        Some(format!("{stamp:.3}"))
    }
}
