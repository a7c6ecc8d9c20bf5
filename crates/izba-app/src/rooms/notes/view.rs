//! Room Notes: a list of what was written, and the chosen note whole; and the sheet on which one is
//! written.

use crate::model::Model;
use crate::parts::pen::{put, put_right, safe, title};
use crate::theme::{Ground, Ink};
use izba_core::GroupView;
use izba_model::text::counted;
use izba_model::text::{fit, wrap};
use izba_store::KeptNote;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};

/// Rows of one note in the list.
const ROWS: u16 = 3;

/// Draws the room into `area`; what finds no room there is left out.
pub fn draw(model: &Model, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let side = if area.width >= 100 { 2 } else { 1 };
    let inner = Rect::new(
        side,
        2,
        area.width.saturating_sub(2 * side),
        area.height.saturating_sub(4 + crate::model::tour_rows(model)),
    );
    let notes = model.notes();
    let (smoke, ice) = (theme.ink(Ink::Smoke), theme.ink(Ink::Ice));
    let all = model.live.notes.len();
    let looked_for = model.notes.search.value();
    let told = match looked_for {
        "" => counted(all as u64, "note", "notes"),
        words => format!(
            "{} of {} with {}",
            notes.len(),
            counted(all as u64, "note", "notes"),
            safe(words)
        ),
    };
    let (list, whole) = if model.is_narrow() {
        let upper = (inner.height / 2).min((notes.len().min(20) as u16).max(1) * ROWS + 3);
        (
            Rect::new(inner.x, inner.y, inner.width, upper),
            Rect::new(inner.x, inner.y + upper, inner.width, inner.height - upper),
        )
    } else {
        let left = inner.width * 42 / 100;
        (
            Rect::new(inner.x, inner.y, left, inner.height),
            Rect::new(inner.x + left + 3, inner.y, inner.width - left - 3, inner.height),
        )
    };
    title(buf, theme, list, "Notes", true, &told);
    let mut top = list.y + 2;
    if model.notes.typing || !looked_for.is_empty() {
        put(
            buf,
            list.x,
            list.y + 1,
            list.width,
            &[
                ("look for ", smoke),
                (&safe(looked_for), theme.ink(Ink::Chalk)),
                (if model.notes.typing { "▏" } else { "" }, ice),
            ],
        );
        top += 1;
    }
    if notes.is_empty() {
        let words = match all {
            0 => {
                "No note was written yet. In room Now, w writes down what the chosen error \
                    meant and what fixed it; when an error like it appears, in this project or \
                    another one, the note is offered by itself. Notes are plain Markdown \
                    files; a folder izba-notes in the project is shared with all who work on \
                    it."
            }
            _ => "No note holds these words.",
        };
        for (at, line) in wrap(words, usize::from(inner.width.min(90))).into_iter().enumerate() {
            put(buf, list.x, top + at as u16, inner.width, &[(&line, smoke)]);
        }
        return;
    }
    let chosen = model.notes.row.min(notes.len() - 1);
    let room = usize::from(list.bottom().saturating_sub(top) / ROWS).max(1);
    let first = (chosen + 1).saturating_sub(room);
    for (at, kept) in notes.iter().enumerate().skip(first).take(room) {
        row(
            model,
            kept,
            at == chosen,
            Rect::new(list.x, top + (at - first) as u16 * ROWS, list.width, ROWS - 1),
            buf,
        );
    }
    draw_note(model, notes[chosen], whole, buf);
}

fn row(model: &Model, kept: &KeptNote, chosen: bool, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let head = &kept.note.head;
    if chosen {
        buf.set_style(area.intersection(buf.area), theme.ground(Ground::Bench));
    }
    let style = if chosen {
        theme.ink(Ink::Chalk).add_modifier(Modifier::BOLD)
    } else {
        theme.ink(Ink::Chalk)
    };
    put(buf, area.x, area.y, area.width.saturating_sub(12), &[(&safe(&head.title), style)]);
    put_right(buf, area.right(), area.y, 11, &[(&safe(&head.met), theme.ink(Ink::Smoke))]);
    let meant = safe(kept.note.meant());
    let meant =
        if meant.is_empty() { "nothing is written about what it meant".to_owned() } else { meant };
    let project = fit(&safe(&head.project), 18).into_owned();
    let right = put_right(
        buf,
        area.right(),
        area.y + 1,
        20,
        &[(&format!(" {project}"), theme.ink(Ink::Smoke))],
    );
    put(
        buf,
        area.x + 2,
        area.y + 1,
        right.saturating_sub(area.x + 2),
        &[(&meant, theme.ink(Ink::Slate))],
    );
}

fn draw_note(model: &Model, kept: &KeptNote, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let (chalk, smoke) = (theme.ink(Ink::Chalk), theme.ink(Ink::Smoke));
    let head = &kept.note.head;
    title(
        buf,
        theme,
        area,
        &fit(&safe(&head.title), usize::from(area.width).saturating_sub(14)),
        false,
        if kept.shared { "shared" } else { "yours" },
    );
    let mut rows: Vec<(String, Style)> = Vec::new();
    let width = usize::from(area.width);
    let mut fact = |name: &str, value: &str| {
        if !value.is_empty() {
            let lines = wrap(&safe(value), width.saturating_sub(10));
            rows.extend(
                lines
                    .into_iter()
                    .enumerate()
                    .map(|(at, l)| (format!("{:<9} {l}", if at == 0 { name } else { "" }), smoke)),
            );
        }
    };
    fact("It says", &head.message);
    fact("family", &head.family);
    fact("code", head.code.as_deref().unwrap_or(""));
    fact("script", head.file.as_deref().unwrap_or(""));
    fact("tags", &head.tags.join(", "));
    rows.push((String::new(), smoke));
    let mut fenced = false;
    for line in kept.note.body.lines() {
        let text = safe(line);
        if text.trim_start().starts_with("```") {
            fenced = !fenced;
            continue;
        }
        let ink = match text.chars().next() {
            Some('#') if !fenced => theme.ink(Ink::Ice).add_modifier(Modifier::BOLD),
            Some('+') if fenced => theme.ink(Ink::Moss),
            Some('-') if fenced => theme.ink(Ink::Ember),
            _ => chalk,
        };
        let bare = if fenced { text.as_str() } else { text.trim_start_matches('#').trim_start() };
        match wrap(bare, width) {
            lines if lines.is_empty() || fenced => rows.push((bare.to_owned(), ink)),
            lines => rows.extend(lines.into_iter().map(|l| (l, ink))),
        }
    }
    let room = usize::from(area.height.saturating_sub(3));
    let scroll = model.notes.scroll.min(rows.len().saturating_sub(room));
    for (at, (text, style)) in rows.iter().skip(scroll).take(room).enumerate() {
        put(buf, area.x, area.y + 2 + at as u16, area.width, &[(text, *style)]);
    }
    let path = fit(&safe(&kept.path.to_string_lossy()), width.saturating_sub(12)).into_owned();
    let y = area.bottom().saturating_sub(1);
    put(buf, area.x, y, area.width, &[(&path, smoke)]);
    let left = rows.len().saturating_sub(scroll + room);
    if left > 0 {
        put_right(buf, area.right(), y, 12, &[(&format!(" {left} more ↓"), smoke)]);
    }
}

/// What is offered for an error, as rows for Why: which note, why it fits, what it was.
pub fn offer(model: &Model, group: &GroupView) -> Option<(String, Option<String>)> {
    let offered = model.offered(group);
    let (kept, likely) = offered.first()?;
    let head = &kept.note.head;
    let here = head.project == model.live.snapshot.project.name();
    let place = if here { String::new() } else { format!(" in {}", safe(&head.project)) };
    let more = if offered.len() > 1 {
        format!(", and {} more", counted(offered.len() as u64 - 1, "note", "notes"))
    } else {
        String::new()
    };
    let meant = kept.note.meant();
    let met = format!(
        "You met this on {}{place}: {}{more}.  w opens the note",
        safe(&head.met),
        likely.why()
    );
    Some((met, (!meant.is_empty()).then(|| safe(meant))))
}
