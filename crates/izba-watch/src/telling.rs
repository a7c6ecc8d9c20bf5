//! A request for help for a group: what the console said and said before, what was looked into, how
//! it was started.

/// Edits that are told at most.
pub(crate) const EDITS: usize = 4;
/// Lines of the console before the error, and of the error itself at most.
pub(crate) const BEFORE: u64 = 15;
pub(crate) const BACK: u64 = 600;
pub(crate) const TOLD: u64 = 200;

/// Lines of the log that are packed at most, and bytes; the newest.
pub(crate) const LOG_LINES: u64 = 200_000;
pub(crate) const LOG_BYTES: usize = 8 << 20;
/// Lines that are read in one go.
pub(crate) const STEP: u64 = 4_000;

/// The newest lines that fit.
pub(crate) fn newest(log: &str) -> &str {
    let from = log.len().saturating_sub(LOG_BYTES);
    let from = log.as_bytes()[from..]
        .iter()
        .position(|b| *b == b'\n')
        .filter(|_| from > 0)
        .map_or(0, |at| from + at + 1);
    &log[from..]
}
