//! The sheet of a request for help: what was taken out of it first, then the text as it would
//! leave.

use crate::model::{Model, PackSheet};
use crate::parts::pen::{put, put_right, safe, sheet};
use crate::theme::{Ground, Ink};
use izba_model::text::counted;
use izba_model::text::wrap;
use izba_watch::request::Telling;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};

/// The width of the sheet.
const WIDTH: u16 = 122;

fn lines(model: &Model, telling: &Telling, plain: bool, width: usize) -> Vec<(String, Style)> {
    let theme = model.theme;
    let told = if plain { &telling.plain } else { &telling.markdown };
    let mut rows: Vec<(String, Style)> = Vec::new();
    if told.taken.is_empty() {
        rows.push((
            "Nothing had to be taken out of it. Read it before it leaves all the same.".into(),
            theme.ink(Ink::Smoke),
        ));
    } else {
        rows.push(("Taken out of it, so that it does not leave:".into(), theme.ink(Ink::Heather)));
        for taken in &told.taken {
            let row = format!(
                "  {:<22} {}   {}",
                taken.what,
                safe(&taken.was),
                counted(taken.count.into(), "time", "times")
            );
            rows.push((row, theme.ink(Ink::Heather)));
        }
    }
    rows.push((String::new(), Style::new()));
    for line in told.text.lines() {
        let ink = if line.starts_with('#') {
            theme.ink(Ink::Chalk).add_modifier(Modifier::BOLD)
        } else {
            theme.ink(Ink::Slate)
        };
        let wrapped = wrap(&safe(line), width);
        if wrapped.is_empty() || line.starts_with(' ') {
            rows.push((safe(line), ink));
        } else {
            rows.extend(wrapped.into_iter().map(|l| (l, ink)));
        }
    }
    rows
}

/// How many rows it takes.
pub fn rows(model: &Model, telling: &Telling, plain: bool) -> usize {
    lines(model, telling, plain, usize::from(WIDTH - 4)).len()
}

/// Draws the sheet.
pub fn draw(
    model: &Model,
    telling: &Telling,
    plain: bool,
    scroll: usize,
    area: Rect,
    buf: &mut Buffer,
) {
    let theme = model.theme;
    let all = lines(
        model,
        telling,
        plain,
        usize::from(WIDTH.min(area.width.saturating_sub(2)).saturating_sub(4)),
    );
    let form = if plain { "plain text" } else { "Markdown" };
    let inner = sheet(
        model,
        area,
        WIDTH,
        area.height.saturating_sub(4),
        "Tell others",
        &format!("as {form}; Esc closes"),
        buf,
    );
    let room = usize::from(inner.height.saturating_sub(2));
    let scroll = scroll.min(all.len().saturating_sub(room));
    for (at, (text, style)) in all.iter().skip(scroll).take(room).enumerate() {
        put(buf, inner.x, inner.y + at as u16, inner.width, &[(text, *style)]);
    }
    let (key, smoke) = (theme.ink(Ink::Ice).add_modifier(Modifier::BOLD), theme.ink(Ink::Smoke));
    let y = inner.bottom().saturating_sub(1);
    buf.set_style(Rect::new(inner.x, y, inner.width, 1), theme.ground(Ground::Plank));
    let other = if plain { " as Markdown   " } else { " as plain text   " };
    let keys: &[(&str, Style)] = &[
        ("c", key),
        (" copy   ", smoke),
        ("s", key),
        (" copy the sentence alone   ", smoke),
        ("w", key),
        (" keep in a file   ", smoke),
        ("z", key),
        (" with log and scripts   ", smoke),
        ("p", key),
        (other, smoke),
    ];
    put(buf, inner.x, y, inner.width, keys);
    let left = all.len().saturating_sub(scroll + room);
    if left > 0 {
        put_right(buf, inner.right(), y, 14, &[(&format!(" {left} more ↓"), smoke)]);
    }
}

/// Draws the sheet on which it is chosen what is packed.
pub fn pack(model: &Model, state: &PackSheet, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let (chalk, smoke, ice) = (theme.ink(Ink::Chalk), theme.ink(Ink::Smoke), theme.ink(Ink::Ice));
    let inner = sheet(
        model,
        area,
        100,
        area.height.saturating_sub(6),
        "Pack for somebody else",
        "Esc closes",
        buf,
    );
    let room = usize::from(inner.height.saturating_sub(4)).max(1);
    let key = ice.add_modifier(Modifier::BOLD);
    if let Some(packed) = &state.packed {
        let mut rows = vec![
            (safe(&packed.path), ice),
            (counted(packed.files.len() as u64, "file is in it", "files are in it"), smoke),
            (String::new(), smoke),
        ];
        if packed.taken.is_empty() {
            rows.push((
                "Nothing had to be taken out. Look into it before it leaves all the same.".into(),
                smoke,
            ));
        } else {
            rows.push(("Taken out, so that it does not leave:".into(), theme.ink(Ink::Heather)));
            rows.extend(packed.taken.iter().map(|t| {
                (
                    format!(
                        "  {:<22} {}   {}",
                        t.what,
                        safe(&t.was),
                        counted(t.count.into(), "time", "times")
                    ),
                    theme.ink(Ink::Heather),
                )
            }));
        }
        let left = rows.len().saturating_sub(room);
        for (at, (text, style)) in rows.iter().take(room).enumerate() {
            put(buf, inner.x, inner.y + 1 + at as u16, inner.width, &[(text, *style)]);
        }
        if left > 0 {
            put_right(
                buf,
                inner.right(),
                inner.bottom().saturating_sub(1),
                14,
                &[(&format!(" {left} more"), smoke)],
            );
        }
        return;
    }
    put(
        buf,
        inner.x,
        inner.y,
        inner.width,
        &[("The request, the log of the run, and these of your files:", smoke)],
    );
    let first = (state.row + 1).saturating_sub(room);
    for (at, file) in state.files.iter().enumerate().skip(first).take(room) {
        let y = inner.y + 1 + (at - first) as u16;
        if at == state.row {
            buf.set_style(
                Rect::new(inner.x, y, inner.width, 1).intersection(buf.area),
                theme.ground(Ground::Bench),
            );
        }
        let (mark, ink) = if state.chosen.contains(&at) {
            ("goes along  ", ice)
        } else {
            ("            ", smoke)
        };
        put(
            buf,
            inner.x,
            y,
            inner.width,
            &[(mark, ink), (&safe(file), if state.chosen.contains(&at) { chalk } else { smoke })],
        );
    }
    let y = inner.bottom().saturating_sub(1);
    let keys: &[(&str, Style)] = &[
        ("Space", key),
        (" take along or leave   ", smoke),
        ("Enter", key),
        (" pack   ", smoke),
        ("Esc", key),
        (" back to the request", smoke),
    ];
    put(buf, inner.x, y, inner.width, keys);
    let left = state.files.len().saturating_sub(first + room);
    if left > 0 {
        put_right(buf, inner.right(), y, 12, &[(&format!(" {left} more ↓"), smoke)]);
    }
}
