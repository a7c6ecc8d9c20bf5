//! Room Lines: everything as it arrived, each line tied to its entry and group.

use crate::model::{FindOutcome, LINES_TOP as TOP, Model, lines_page};
use crate::parts::pen::{clock, put, put_right, safe, title};
use crate::parts::said::sign;
use crate::theme::{Ground, Ink};
use izba_model::Stream;
use izba_model::text::{counted, thousands, width_cells};
use izba_watch::LineRow;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};

/// Draws the room into `area`; what finds no room there is left out.
pub fn draw(model: &Model, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let snapshot = &model.shown.snapshot;
    let side = if area.width >= 100 { 2 } else { 1 };
    let inner = Rect::new(
        area.x + side,
        area.y + 2,
        area.width.saturating_sub(2 * side),
        area.height.saturating_sub(4),
    );
    let place = if model.lines.follow && !model.held {
        format!("{}, with what arrives", counted(snapshot.rows, "line", "lines"))
    } else {
        format!(
            "line {} of {}",
            thousands((model.lines.cursor + 1).min(snapshot.rows)),
            thousands(snapshot.rows)
        )
    };
    let arrived = model.live.snapshot.rows.saturating_sub(snapshot.rows);
    let waiting = if arrived > 0 {
        format!("   {} more since it was held", thousands(arrived))
    } else {
        String::new()
    };
    let overlooked = match snapshot.count_overlooked() {
        0 => String::new(),
        n => format!("   ? {} not understood", thousands(n)),
    };
    title(buf, theme, inner, "Lines", true, &format!("{place}{overlooked}{waiting}"));
    if snapshot.rows == 0 && snapshot.sources.iter().all(|s| s.unfinished.is_none()) {
        put(
            buf,
            inner.x,
            area.y + TOP + 1,
            inner.width,
            &[(
                "Everything that is printed will stand here, as it arrives.",
                theme.ink(Ink::Smoke),
            )],
        );
        return;
    }
    let several = snapshot.sources.len() > 1;
    let page = lines_page(model);
    if model.line_filter().is_some() {
        let top = model.lines.rows.partition_point(|r| r.row < model.lines.top);
        for (at, row) in model.lines.rows.iter().skip(top).take(page as usize).enumerate() {
            let line_area = Rect::new(inner.x, area.y + TOP + at as u16, inner.width, 1);
            if row.row == model.lines.cursor {
                buf.set_style(line_area, theme.ground(Ground::Bench));
            }
            draw_row(model, row, line_area, several, buf);
        }
        if model.lines.rows.is_empty() && model.filter.settled {
            put(
                buf,
                inner.x,
                area.y + TOP + 1,
                inner.width,
                &[("No line so far passes the filter.", theme.ink(Ink::Smoke))],
            );
        }
        find_line(model, Rect::new(inner.x, area.bottom().saturating_sub(2), inner.width, 1), buf);
        return;
    }
    for at in 0..page {
        let row = model.lines.top + at;
        let y = area.y + TOP + at as u16;
        if row >= snapshot.rows || y + 2 > area.bottom() {
            break;
        }
        let chosen = row == model.lines.cursor;
        let line_area = Rect::new(inner.x, y, inner.width, 1);
        if chosen {
            buf.set_style(line_area, theme.ground(Ground::Bench));
            if theme.signs_chosen_rows() {
                put(buf, area.x, y, 1, &[("›", Style::new())]);
            }
        }
        if let Ok(found) = model.lines.rows.binary_search_by_key(&row, |r| r.row) {
            draw_row(model, &model.lines.rows[found], line_area, several, buf);
        }
    }
    // What stands unfinished is the newest of all: a question, perhaps.
    let end = snapshot.rows.saturating_sub(model.lines.top);
    let unfinished = snapshot
        .sources
        .iter()
        .find_map(|s| s.unfinished.as_ref())
        .filter(|_| end < page && !model.held);
    if let Some(text) = unfinished {
        let indent = if area.width >= 100 { 16 } else { 16.min(area.width / 4) };
        let room = inner.width.saturating_sub(indent);
        put(
            buf,
            inner.x + indent,
            area.y + TOP + end as u16,
            room,
            &[(text.as_str(), theme.ink(Ink::Chalk)), ("▏", theme.ink(Ink::Ice))],
        );
    }
    find_line(model, Rect::new(inner.x, area.bottom().saturating_sub(2), inner.width, 1), buf);
}

fn draw_row(model: &Model, row: &LineRow, area: Rect, several: bool, buf: &mut Buffer) {
    let theme = model.theme;
    let time = row.time.map(|t| clock(t, model.utc_offset)).unwrap_or_default();
    let short_time = if area.width >= 100 { time.as_str() } else { time.get(..8).unwrap_or("") };
    let mut x = area.x;
    x += put(buf, x, area.y, 13, &[(short_time, theme.ink(Ink::Smoke))]) + 1;
    if several {
        let name = model
            .shown
            .snapshot
            .sources
            .get(row.line.source.0)
            .map(|s| safe(&s.name))
            .unwrap_or_default();
        put(buf, x, area.y, 12, &[(&name, theme.ink(Ink::Smoke))]);
        x += 13;
    }
    let (mark, ink, words) = match (row.group, row.level) {
        (Some((_, true)), Some(level)) => {
            (sign(level).0, sign(level).1, theme.ink(Ink::Chalk).add_modifier(Modifier::BOLD))
        }
        (Some(_), Some(level)) => ("┊", sign(level).1, theme.ink(Ink::Chalk)),
        _ if row.overlooked => ("?", Ink::Straw, theme.ink(Ink::Chalk)),
        _ if row.stream == Stream::Err => ("·", Ink::Smoke, theme.ink(Ink::Chalk)),
        _ => (" ", Ink::Smoke, theme.ink(Ink::Slate)),
    };
    put(buf, x, area.y, 2, &[(mark, theme.ink(ink))]);
    x += 2;
    let cut = row
        .cut_from
        .map(|len| format!(" cut; {} bytes in all", thousands(len)))
        .unwrap_or_default();
    let end = if cut.is_empty() {
        area.right()
    } else {
        put_right(buf, area.right(), area.y, area.width / 2, &[(&cut, theme.ink(Ink::Straw))])
    };
    let text = row.text.as_str();
    let left = model.lines.left;
    if left > 0 && !text.is_empty() {
        put(buf, x - 1, area.y, 1, &[("‹", theme.ink(Ink::Smoke))]);
    }
    let shown = &text[byte_at(text, left)..];
    put(buf, x, area.y, end.saturating_sub(x), &[(shown, words)]);
    mark_found(model, row, x, area.y, end, buf);
}

/// The byte of a text at which so many cells are passed.
fn byte_at(text: &str, cells: usize) -> usize {
    let mut passed = 0;
    for (at, c) in text.char_indices() {
        if passed >= cells {
            return at;
        }
        passed += width_cells(c.encode_utf8(&mut [0; 4]));
    }
    text.len()
}

/// The column of a byte of a line whose text begins at `x`; `None` where it lies further left than
/// what is shown.
fn column_of(model: &Model, text: &str, byte: usize, x: u16) -> Option<u16> {
    let cells = width_cells(&text[..byte]).checked_sub(model.lines.left)?;
    Some(x.saturating_add(cells.min(10_000) as u16))
}

/// Underlines what was looked for.
fn mark_found(model: &Model, row: &LineRow, x: u16, y: u16, end: u16, buf: &mut Buffer) {
    if let Some(phrase) = model.line_filter() {
        let text = row.text.as_str();
        for (at, to) in phrase.marks(text) {
            let Some(from) = column_of(model, text, at, x) else { continue };
            let width = width_cells(&text[at..to]) as u16;
            if from + width <= end {
                buf.set_style(
                    Rect::new(from, y, width, 1),
                    model.theme.ink(Ink::Ice).add_modifier(Modifier::UNDERLINED),
                );
            }
        }
    }
    let Some(find) = model.lines.find.as_ref() else { return };
    let text = row.text.as_str().to_lowercase();
    for word in find.input.value().split_whitespace().map(str::to_lowercase) {
        for (at, found) in text.match_indices(&word).take(20) {
            let Some(from) = column_of(model, &text, at, x) else { continue };
            let width = width_cells(found) as u16;
            if from + width <= end {
                buf.set_style(
                    Rect::new(from, y, width, 1),
                    model.theme.ink(Ink::Ice).add_modifier(Modifier::UNDERLINED),
                );
            }
        }
    }
}

fn find_line(model: &Model, area: Rect, buf: &mut Buffer) {
    let Some(find) = &model.lines.find else { return };
    let theme = model.theme;
    buf.set_style(area, theme.ground(Ground::Plank));
    buf.set_string(area.x, area.y, " ".repeat(usize::from(area.width)), Style::new());
    let outcome = match find.outcome {
        FindOutcome::Idle => "   Enter looks for it".to_owned(),
        FindOutcome::Searching(n) => format!("   looked through {}", counted(n, "line", "lines")),
        FindOutcome::Found(row) => {
            format!("   line {}   ↓ next   ↑ the one before   Esc ends", thousands(row + 1))
        }
        FindOutcome::Nowhere => "   it stands in no further line that way".to_owned(),
    };
    put(
        buf,
        area.x,
        area.y,
        area.width,
        &[
            ("Find words  ", theme.ink(Ink::Ice)),
            (&safe(find.input.value()), theme.ink(Ink::Chalk)),
            ("▏", theme.ink(Ink::Ice)),
            (&outcome, theme.ink(Ink::Smoke)),
        ],
    );
}

#[cfg(test)]
mod tests {
    use super::byte_at;

    #[test]
    fn a_line_is_shifted_by_cells_and_never_within_a_sign() {
        assert_eq!(byte_at("ebb and flood", 4), 4);
        assert_eq!(byte_at("tide", 9), 4);
        // Two cells wide, three bytes long.
        assert_eq!(byte_at("潮の", 2), 3);
        assert_eq!(byte_at("潮の", 1), 3);
        assert_eq!(byte_at("", 3), 0);
    }
}
