//! The one form of time.

/// Milliseconds since the Unix epoch.
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
