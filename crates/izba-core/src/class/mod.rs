//! What one Izba tells a collector of its mistakes, and what one who hears many makes of it.
//!
//! Told is what became of each mistake ([`News`]), as records of OpenTelemetry's logs with the names
//! of its semantic conventions (`exception.*`, `code.*`); what those have no name for is called
//! `izba.*`. Heard by another Izba, the records of many senders become a [`Class`]: which mistakes
//! were met by whom, and who got rid of them.

mod heard;
mod news;
mod record;

pub use heard::{Class, Met, Sender};
pub use news::{News, Newsroom};
pub use record::{Teller, record, resource};

use serde::{Deserialize, Serialize};

/// The scope under which Izba tells (OpenTelemetry's instrumentation scope).
pub const SCOPE: &str = "izba";

/// What became of a mistake.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Change {
    /// It was met for the first time in this session.
    Met,
    /// It was met again since it was told last.
    Again,
    /// It is very likely gone after something was changed.
    Gone,
    /// It was gone, and is here again.
    Back,
}

impl Change {
    /// The word under which it is told.
    pub fn word(self) -> &'static str {
        match self {
            Change::Met => "met",
            Change::Again => "again",
            Change::Gone => "gone",
            Change::Back => "back",
        }
    }
}
