//! Rows of room Lines: read again from the spools when they are asked for, and searched.

use crate::LineRow;
use izba_console::read::LINE_CAP;
use izba_core::{GroupId, LineRef};
use izba_model::{Level, SafeText};

pub(crate) fn row_of(
    row: u64,
    at: LineRef,
    line: &izba_console::RawLine<'_>,
    text: &str,
    group: Option<(GroupId, bool)>,
    level: Option<Level>,
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
    }
}
