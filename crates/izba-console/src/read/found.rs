//! Patterns that mostly do not fit: whether they do is asked first, which allocates nothing.

use regex::{Captures, Regex};

/// Looks for a pattern's parts in a text that mostly does not hold it.
pub(crate) trait Found {
    /// The parts of the first match.
    fn found<'t>(&self, text: &'t str) -> Option<Captures<'t>>;
}

impl Found for Regex {
    fn found<'t>(&self, text: &'t str) -> Option<Captures<'t>> {
        if self.is_match(text) { self.captures(text) } else { None }
    }
}
