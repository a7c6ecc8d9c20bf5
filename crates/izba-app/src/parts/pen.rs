//! Putting text into cells: made safe, fitted, with a style for each piece.

use crate::model::Model;
use crate::theme::{Ground, Ink, Theme};
use izba_model::text::{fit, width_cells};
use izba_model::{Millis, SafeText};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};

/// Bars of one cell, from none to a full one.
pub const BARS: [&str; 9] = [" ", "▁", "▂", "▃", "▄", "▅", "▆", "▇", "█"];

/// Puts pieces one after another from `x` on, at most `width` cells, with an ellipsis where
/// something is left out. Returns the cells used.
pub fn put(buf: &mut Buffer, x: u16, y: u16, width: u16, pieces: &[(&str, Style)]) -> u16 {
    let area = buf.area;
    if y < area.y || y >= area.bottom() || x >= area.right() {
        return 0;
    }
    let width = width.min(area.right() - x);
    let mut used = 0;
    for (text, style) in pieces {
        if used >= width {
            break;
        }
        let fitted = fit(text, usize::from(width - used));
        buf.set_stringn(x + used, y, &fitted, usize::from(width - used), *style);
        used += width_cells(&fitted) as u16;
    }
    used
}

/// Clears a stretch of the screen. The terminal may have become smaller than the state knows yet.
pub fn clear(buf: &mut Buffer, area: Rect, style: Style) {
    let area = area.intersection(buf.area);
    for y in area.top()..area.bottom() {
        buf.set_string(area.x, y, " ".repeat(usize::from(area.width)), Style::reset());
    }
    buf.set_style(area, style);
}

/// Says at the end of a scrolled text that it goes on below.
pub fn more_below(model: &Model, inner: Rect, buf: &mut Buffer) {
    let last = inner.bottom().saturating_sub(1);
    let more = [(" more ↓ ", model.theme.ink(Ink::Smoke))];
    put_right(buf, inner.right(), last, inner.width, &more);
}

/// Puts pieces so that they end before `right`. Returns the column where they begin.
pub fn put_right(
    buf: &mut Buffer,
    right: u16,
    y: u16,
    width: u16,
    pieces: &[(&str, Style)],
) -> u16 {
    let total: usize = pieces.iter().map(|(t, _)| width_cells(t)).sum();
    let take = (total as u16).min(width);
    let x = right.saturating_sub(take);
    put(buf, x, y, take, pieces);
    x
}

/// A thin rule with its question as title and a few words at its end.
pub fn title(buf: &mut Buffer, theme: Theme, area: Rect, name: &str, focused: bool, words: &str) {
    if area.height == 0 || area.width < 4 {
        return;
    }
    let style = if focused {
        theme.ink(Ink::Ice).add_modifier(Modifier::BOLD)
    } else {
        theme.ink(Ink::Smoke).add_modifier(Modifier::BOLD)
    };
    let used = put(buf, area.x, area.y, area.width, &[(name, style), (" ", style)]);
    let room = area.width.saturating_sub(used + 2);
    let words = fit(words, usize::from(room));
    let words_width = width_cells(&words) as u16;
    let gap = u16::from(words_width > 0);
    let rule = area.width.saturating_sub(used + words_width + gap);
    let line = "─".repeat(usize::from(rule));
    let ink = if focused { theme.ink(Ink::Ice) } else { theme.ink(Ink::Ash) };
    put(buf, area.x + used, area.y, rule, &[(&line, ink)]);
    put(buf, area.right() - words_width, area.y, words_width, &[(&words, theme.ink(Ink::Smoke))]);
}

/// A sheet over the room, with its title; returns the area inside.
pub(crate) fn sheet(
    model: &Model,
    area: Rect,
    width: u16,
    height: u16,
    name: &str,
    words: &str,
    buf: &mut Buffer,
) -> Rect {
    let width = width.min(area.width.saturating_sub(2));
    let height = height.min(area.height.saturating_sub(2));
    let sheet = Rect::new(
        area.x + (area.width - width) / 2,
        area.y + ((area.height - height) / 3).max(1),
        width,
        height,
    );
    for y in sheet.top()..sheet.bottom() {
        buf.set_string(sheet.x, y, " ".repeat(usize::from(width)), Style::reset());
    }
    buf.set_style(sheet, model.theme.ground(Ground::Plank));
    let inner = Rect::new(
        sheet.x + 2,
        sheet.y + 1,
        sheet.width.saturating_sub(4),
        sheet.height.saturating_sub(2),
    );
    title(buf, model.theme, Rect::new(inner.x, inner.y, inner.width, 1), name, true, words);
    Rect::new(inner.x, inner.y + 1, inner.width, inner.height.saturating_sub(1))
}

/// Text from outside without anything that a terminal would obey.
pub fn safe(text: &str) -> String {
    SafeText::new(text).as_str().to_owned()
}

/// A length of time as people say it.
pub fn lasting(ms: u64) -> String {
    let seconds = ms / 1000;
    match seconds {
        0..60 => format!("{seconds} s"),
        60..3600 => format!("{} min {} s", seconds / 60, seconds % 60),
        _ => format!("{} h {} min", seconds / 3600, seconds % 3600 / 60),
    }
}

/// How long ago, as people say it.
pub fn ago(then: Millis, now: Millis) -> String {
    match now.since(then) {
        0..2_000 => "just now".into(),
        ms @ 2_000..60_000 => format!("{} s ago", ms / 1000),
        ms @ 60_000..3_600_000 => format!("{} min ago", ms / 60_000),
        ms @ 3_600_000..172_800_000 => format!("{} h ago", ms / 3_600_000),
        ms => format!("{} days ago", ms / 86_400_000),
    }
}

/// The time of day, with milliseconds, at an offset from UTC.
pub fn clock(time: Millis, utc_offset: i32) -> String {
    let ms = (time.0 + i64::from(utc_offset) * 1000).rem_euclid(86_400_000);
    format!("{:02}:{:02}:{:02}.{:03}", ms / 3_600_000, ms / 60_000 % 60, ms / 1000 % 60, ms % 1000)
}

/// A sentence with its first letter large.
pub fn capital(sentence: &str) -> String {
    let mut chars = sentence.chars();
    chars.next().map_or_else(String::new, |c| c.to_uppercase().collect::<String>() + chars.as_str())
}

/// A rate as people say it.
pub fn rate(per_second: f64) -> Option<String> {
    if per_second >= 0.95 {
        Some(format!("{}/s", per_second.round() as u64))
    } else if per_second * 60.0 >= 0.95 {
        Some(format!("{}/min", (per_second * 60.0).round() as u64))
    } else {
        None
    }
}

/// Puts pieces into an area, broken at spaces.
pub fn put_wrapped(buf: &mut Buffer, area: Rect, pieces: &[(String, Style)]) {
    let words: Vec<(&str, Style)> = pieces
        .iter()
        .flat_map(|(text, style)| text.split_inclusive(' ').map(move |w| (w, *style)))
        .collect();
    let (mut x, mut y) = (area.x, area.y);
    for (at, (word, style)) in words.iter().enumerate() {
        // What follows without a space between, such as a comma, stays with its word.
        let glued = words[at..]
            .iter()
            .position(|(w, _)| w.ends_with(' '))
            .map_or(words.len(), |spaced| at + spaced + 1);
        let width: usize =
            words[at..glued].iter().map(|(w, _)| izba_model::text::width_cells(w.trim_end())).sum();
        let width = width as u16;
        let width = width.min(area.width);
        if x + width > area.right() && x > area.x {
            if y + 1 >= area.bottom() {
                let rest: String = words[at..].iter().map(|(w, _)| *w).collect();
                let room = area.right().saturating_sub(x);
                if room > 0 {
                    put(buf, x, y, room, &[(&rest, *style)]);
                } else {
                    put(buf, area.right() - 1, y, 1, &[("…", *style)]);
                }
                return;
            }
            (x, y) = (area.x, y + 1);
        }
        if x == area.x && y > area.y && word.trim().is_empty() {
            continue;
        }
        let room = area.right().saturating_sub(x);
        // At the very edge there is no room for the blank behind a word, and no need of it.
        let word = if izba_model::text::width_cells(word) > usize::from(room) {
            word.trim_end()
        } else {
            word
        };
        x += put(buf, x, y, room, &[(word, *style)]);
    }
}
