//! Steps of V8, and those of other browsers.

use super::at_form::AtForm;
use izba_model::{Column, ColumnUnit, StackFrame};

pub(super) static FORM: AtForm = AtForm { id: "javascript", step };

pub(super) fn step(text: &str) -> Option<StackFrame> {
    let text = text.trim_end_matches('{').trim().trim_end_matches(',');
    // A folder may have brackets in its name, and so may a function.
    let closed = text.strip_suffix(')').and_then(|t| {
        let cuts = || t.match_indices(" (").map(|(at, sign)| (&t[..at], &t[at + sign.len()..]));
        let whole = |(_, place): &(&str, &str)| place.starts_with(['/', '\\', '.']);
        cuts().find(whole).or_else(|| cuts().last())
    });
    let (function, place) = match closed {
        Some((function, place)) => (Some(function), place),
        None => (None, text.strip_prefix("async ").unwrap_or(text)),
    };
    let function = function.map(|f| f.strip_prefix("async ").unwrap_or(f).to_owned());
    if matches!(place, "<anonymous>" | "native")
        || (place.starts_with("index ") && function.is_some())
    {
        return Some(StackFrame { function, ..StackFrame::default() });
    }
    let (file, line, column) = split_place(place)?;
    Some(StackFrame {
        file: Some(file.to_owned()),
        line: Some(line),
        column: column.map(|number| Column { number, unit: ColumnUnit::Utf16 }),
        function,
        own: None,
    })
}

/// A step as browsers other than V8's write it: `function@address:line:column`.
pub(super) fn at_sign(text: &str) -> Option<StackFrame> {
    let (function, place) = text.trim().split_once('@')?;
    // Letters of an address of mail have no line behind them.
    if function.contains(' ')
        || !(place.contains("://") || place.starts_with('/') || place.contains(".js:"))
    {
        return None;
    }
    let (file, line, column) = split_place(place)?;
    let function = Some(function.trim_end_matches(['/', '<']).to_owned()).filter(|f| !f.is_empty());
    Some(StackFrame {
        file: Some(file.to_owned()),
        line: Some(line),
        column: Some(Column { number: column?, unit: ColumnUnit::Utf16 }),
        function,
        own: None,
    })
}

/// A step behind an arrow: `❯ rope src/bell.js:6:20`.
pub(super) fn arrow(text: &str) -> Option<StackFrame> {
    let step = text.trim().strip_prefix("❯ ")?;
    let (function, place) = step.rsplit_once(' ').map_or((None, step), |(f, p)| (Some(f), p));
    let (file, line, column) = split_place(place)?;
    Some(StackFrame {
        file: Some(file.to_owned()),
        line: Some(line),
        column: Some(Column { number: column?, unit: ColumnUnit::Utf16 }),
        function: function.map(str::to_owned),
        own: None,
    })
}

/// `file:line:column`, where the file may hold spaces and colons.
pub(super) fn split_place(place: &str) -> Option<(&str, u32, Option<u32>)> {
    let (head, last) = place.rsplit_once(':')?;
    let last: u32 = last.parse().ok()?;
    if let Some((file, line)) = head.rsplit_once(':')
        && let Ok(line) = line.parse()
        && !file.is_empty()
    {
        return Some((file, line, Some(last)));
    }
    (!head.is_empty() && !head.contains(' ')).then_some((head, last, None))
}
