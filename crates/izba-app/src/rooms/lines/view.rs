//! Room Lines: everything as it arrived, each line tied to its entry and group.

use super::layout::{
    ROOMY, below, byte_at, indent, is_sieved, number_of, pieces, placed, side, time_of,
};
use super::opened;
use crate::model::{FindOutcome, LINES_TOP as TOP, Model, lines_page};
use crate::parts::pen::{put, put_right, safe, title};
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
    let side = side(area.width);
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
    let folded = if model.lines.folded { "   of each error its first line" } else { "" };
    title(buf, theme, inner, "Lines", true, &format!("{place}{folded}{overlooked}{waiting}"));
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
    let page = lines_page(model);
    let placed = placed(model);
    for one in &placed {
        let line_area = Rect::new(inner.x, area.y + TOP + one.y, inner.width, one.height);
        if line_area.bottom() + 1 > area.bottom() {
            break;
        }
        if one.number == model.lines.cursor {
            buf.set_style(line_area, theme.ground(Ground::Bench));
            if theme.signs_chosen_rows() {
                put(buf, area.x, line_area.y, 1, &[("›", Style::new())]);
            }
        }
        if let Some(row) = one.row {
            let below = below(model, row);
            let own = one.height.saturating_sub(below.len() as u16).max(1);
            draw_row(model, row, Rect { height: own, ..line_area }, buf);
            let beside = indent(model, row).min(line_area.width);
            let (x, width) = (line_area.x + beside, line_area.width - beside);
            let area = Rect::new(x, line_area.y + own, width, one.height - own);
            opened::draw(model, &below, area, buf);
        }
    }
    find_line(model, Rect::new(inner.x, area.bottom().saturating_sub(2), inner.width, 1), buf);
    if is_sieved(model) {
        if model.lines.rows.is_empty() && model.filter.settled {
            let nothing = "No line so far passes the filter.";
            put(buf, inner.x, area.y + TOP + 1, inner.width, &[(nothing, theme.ink(Ink::Smoke))]);
        }
        return;
    }
    // What stands unfinished is the newest of all: a question, perhaps.
    let end = placed.last().map_or(0, |last| u64::from(last.y + last.height));
    let shown = placed.last().is_none_or(|last| last.number + 1 == snapshot.rows);
    let unfinished = snapshot
        .sources
        .iter()
        .find_map(|s| s.unfinished.as_ref())
        .filter(|_| shown && end < page && !model.held);
    if let Some(text) = unfinished {
        let indent = if area.width >= ROOMY { 16 } else { 16.min(area.width / 4) };
        let room = inner.width.saturating_sub(indent);
        put(
            buf,
            inner.x + indent,
            area.y + TOP + end as u16,
            room,
            &[(text.as_str(), theme.ink(Ink::Chalk)), ("▏", theme.ink(Ink::Ice))],
        );
    }
}

fn draw_row(model: &Model, row: &LineRow, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let mut x = area.x;
    let number = number_of(model, row);
    x += put(buf, x, area.y, 13, &[(&number, theme.ink(Ink::Smoke))]);
    let time = time_of(model, row);
    x += put(buf, x, area.y, 13, &[(&time, theme.ink(Ink::Smoke))]) + 1;
    let sources = &model.shown.snapshot.sources;
    if sources.len() > 1 {
        let name = sources.get(row.line.source.0).map(|s| safe(&s.name)).unwrap_or_default();
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
    let mut notes = Vec::new();
    if let Some(len) = row.cut_from {
        notes.push((format!(" cut; {} bytes in all", thousands(len)), theme.ink(Ink::Straw)));
    }
    // The first run needs no mark: what is above it is nothing.
    if let Some(run) = row.starts.filter(|run| *run > 1) {
        notes.push((format!(" run {run} begins here"), theme.ink(Ink::Smoke)));
    }
    let notes: Vec<(&str, Style)> = notes.iter().map(|(text, ink)| (text.as_str(), *ink)).collect();
    let text = row.text.as_str();
    if model.lines.wrapped {
        let room = usize::from(area.right().saturating_sub(x));
        let (mut y, mut last) = (area.y, 0);
        for piece in pieces(text, room).take(usize::from(area.height)) {
            last = put(buf, x, y, room as u16, &[(piece, words)]);
            mark_found(model, piece, (x, y, 0), area.right(), buf);
            y += 1;
        }
        // What is noted finds its place where the line ends, if there is any.
        let width: usize = notes.iter().map(|(text, _)| width_cells(text)).sum();
        if usize::from(last) + width < room {
            put_right(buf, area.right(), y.saturating_sub(1), room as u16 - last, &notes);
        }
        return;
    }
    let end = match notes.is_empty() {
        true => area.right(),
        false => put_right(buf, area.right(), area.y, area.width / 2, &notes),
    };
    let left = model.lines.left;
    if left > 0 && !text.is_empty() {
        put(buf, x - 1, area.y, 1, &[("‹", theme.ink(Ink::Smoke))]);
    }
    let shown = &text[byte_at(text, left)..];
    put(buf, x, area.y, end.saturating_sub(x), &[(shown, words)]);
    mark_found(model, text, (x, area.y, left), end, buf);
}

/// Underlines what was looked for in a text that begins at a column and row, and of which so many
/// cells lie further left than what is shown.
fn mark_found(
    model: &Model,
    text: &str,
    (x, y, left): (u16, u16, usize),
    end: u16,
    buf: &mut Buffer,
) {
    let mut mark = |text: &str, at: usize, to: usize| {
        let Some(cells) = width_cells(&text[..at]).checked_sub(left) else { return };
        let from = x.saturating_add(cells.min(10_000) as u16);
        let width = width_cells(&text[at..to]) as u16;
        if from + width <= end {
            let ink = model.theme.ink(Ink::Ice).add_modifier(Modifier::UNDERLINED);
            buf.set_style(Rect::new(from, y, width, 1), ink);
        }
    };
    for (at, to) in model.line_filter().map(|p| p.marks(text)).unwrap_or_default() {
        mark(text, at, to);
    }
    let Some(find) = model.lines.find.as_ref() else { return };
    let text = text.to_lowercase();
    for word in find.input.value().split_whitespace().map(str::to_lowercase) {
        for (at, found) in text.match_indices(&word).take(20) {
            mark(&text, at, at + found.len());
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
