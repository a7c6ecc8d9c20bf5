//! An entry opened in place in room Lines: what its mistake means and where to look, below its line.

use crate::model::Model;
use crate::parts::pen::{put, safe};
use crate::theme::Ink;
use izba_model::claim::LIKELY;
use izba_model::text::{thousands, wrap};
use izba_watch::LineRow;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;

/// Rows that are told at most.
const MOST: usize = 8;
/// A text is no wider than can be read.
const WIDTH: usize = 100;

/// What is told below a line, row by row; nothing below those that are not opened.
pub(super) fn words(model: &Model, row: &LineRow, width: usize) -> Vec<(Ink, String)> {
    if model.lines.opened != Some(row.row) {
        return Vec::new();
    }
    let Some(group) = row.group.and_then(|(id, _)| model.group(id)) else { return Vec::new() };
    let width = width.min(WIDTH);
    let told = model.told(group);
    let mut rows = Vec::new();
    let mut add = |ink: Ink, text: &str| {
        rows.extend(wrap(&safe(text), width).into_iter().map(|line| (ink, line)));
    };
    add(Ink::Chalk, &told.headline.to_string());
    if model.holds(group) {
        told.plain.iter().take(2).for_each(|plain| add(Ink::Smoke, &plain.to_string()));
        if let Some(first) = model.suspects(group).into_iter().find(|s| !s.is_reported()) {
            let sure = if first.confidence >= LIKELY { "likely" } else { "possible" };
            let place = format!("{}:{}", first.file, first.line);
            add(Ink::Ice, &format!("look first at {place} ({sure}): {}", first.reason()));
        }
    }
    let count = match group.count {
        0 | 1 => String::new(),
        n => format!("{} times in this run; ", thousands(n)),
    };
    rows.truncate(MOST - 1);
    rows.push((Ink::Smoke, format!("{count}Enter opens it in Now, Z closes it here")));
    rows
}

/// Draws them.
pub(super) fn draw(model: &Model, words: &[(Ink, String)], area: Rect, buf: &mut Buffer) {
    for (at, (ink, text)) in words.iter().take(usize::from(area.height)).enumerate() {
        let theme = model.theme;
        let pieces = [("│ ", theme.ink(Ink::Ash)), (text.as_str(), theme.ink(*ink))];
        put(buf, area.x, area.y + at as u16, area.width, &pieces);
    }
}
