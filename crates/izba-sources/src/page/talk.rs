//! What all parts of watching a page share: how long they wait, and what they say when they can't.

use crate::SourceError;
use std::time::Duration;

/// How often an end that was asked for is noticed.
pub(super) const LOOK: Duration = Duration::from_millis(100);
/// How long driver and browser may take to be there.
pub(super) const PATIENCE: Duration = Duration::from_secs(30);

/// Runs before the page's own scripts: tells what goes wrong in it, as JSON through a channel, and
/// bounds what it prints.
pub(super) const PRELOAD: &str = include_str!("preload.js");

/// What the browser or its driver lacks.
pub(super) fn missing(what: &'static str) -> SourceError {
    SourceError::System { doing: "open the page", cause: std::io::Error::other(what) }
}

/// What the browser, or the way to it, refuses.
pub(super) fn broken(cause: impl std::fmt::Display) -> SourceError {
    SourceError::System {
        doing: "talk to the browser",
        cause: std::io::Error::other(cause.to_string()),
    }
}
