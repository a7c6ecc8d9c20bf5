//! Rows of room Lines: read again from the spools when they are asked for, and searched.

use izba_console::read::LINE_CAP;
use izba_core::{GroupId, LineRef};
use izba_model::{Level, Millis, SafeText, Stream};

/// One line as the screen shows it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct LineRow {
    /// Its row over all sources.
    pub row: u64,
    /// Where it belongs.
    pub line: LineRef,
    /// By which stream it came.
    pub stream: Stream,
    /// When it arrived, in milliseconds since 1970 (UTC).
    pub time: Option<Millis>,
    /// Its text, cut to what can be shown.
    pub text: SafeText,
    /// Its whole length in bytes, when it was cut.
    pub cut_from: Option<u64>,
    /// Its group, and whether it is the first line of its entry.
    pub group: Option<(GroupId, bool)>,
    /// Whether it looks as if it mattered and was not understood.
    pub overlooked: bool,
    /// The level of that group.
    pub level: Option<Level>,
    /// The number of the run whose first line it is.
    pub starts: Option<u32>,
}

pub(crate) fn row_of(
    row: u64,
    at: LineRef,
    line: &izba_console::RawLine<'_>,
    text: &str,
    group: Option<(GroupId, bool)>,
    level: Option<Level>,
    overlooked: bool,
) -> LineRow {
    let cut_from = (line.len > LINE_CAP as u64).then_some(line.len);
    LineRow {
        row,
        line: at,
        stream: line.stream,
        time: line.time,
        text: SafeText::new(text),
        cut_from,
        group,
        level,
        overlooked,
        starts: None,
    }
}
