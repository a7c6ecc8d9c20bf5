//! What lies over a room: help, the palette of commands, an answer for the program, a question
//! before leaving.

use crate::keymap::{BINDINGS, Scope, palette_matches};
use crate::model::{Model, Overlay};
use crate::parts::pen::{put, safe, sheet};
use crate::rooms;
use crate::theme::{Ground, Ink};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};

/// Draws the overlay, if there is one.
pub fn draw(model: &Model, area: Rect, buf: &mut Buffer) {
    match &model.overlay {
        Some(Overlay::Help(scroll)) => help(model, *scroll, area, buf),
        Some(Overlay::Words(scroll)) => words(model, *scroll, area, buf),
        Some(Overlay::Palette(input, chosen)) => palette(model, input.value(), *chosen, area, buf),
        Some(Overlay::Reply(input)) => {
            let inner = sheet(model, area, 78, 5, "Reply", "Enter sends it, Esc leaves it", buf);
            let theme = model.theme;
            let asks = model
                .live
                .snapshot
                .sources
                .iter()
                .find_map(|s| s.unfinished.as_ref())
                .map(|t| t.as_str().trim().to_owned())
                .unwrap_or_default();
            put(buf, inner.x, inner.y, inner.width, &[(&asks, theme.ink(Ink::Smoke))]);
            put(
                buf,
                inner.x,
                inner.y + 1,
                inner.width,
                &[(&safe(input.value()), theme.ink(Ink::Chalk)), ("▏", theme.ink(Ink::Ice))],
            );
        }
        Some(Overlay::GoTo(input)) => {
            let words = format!(
                "1 to {}, Enter goes there",
                izba_model::text::thousands(model.shown.snapshot.rows)
            );
            let inner = sheet(model, area, 60, 4, "Go to line", &words, buf);
            let theme = model.theme;
            put(
                buf,
                inner.x,
                inner.y,
                inner.width,
                &[(&safe(input.value()), theme.ink(Ink::Chalk)), ("▏", theme.ink(Ink::Ice))],
            );
        }
        Some(Overlay::Sources(state)) => crate::sheets::sheets::sources(model, state, area, buf),
        Some(Overlay::Teach(state)) => crate::sheets::sheets::teach(model, state, area, buf),
        Some(Overlay::AskQuit) => {
            let inner = sheet(model, area, 66, 5, "Leave?", "", buf);
            let theme = model.theme;
            put(
                buf,
                inner.x,
                inner.y,
                inner.width,
                &[(
                    "A program that Izba started still runs; leaving ends it.",
                    theme.ink(Ink::Chalk),
                )],
            );
            let key = theme.ink(Ink::Ice).add_modifier(Modifier::BOLD);
            put(
                buf,
                inner.x,
                inner.y + 1,
                inner.width,
                &[
                    ("q", key),
                    (" leave   ", theme.ink(Ink::Smoke)),
                    ("Esc", key),
                    (" stay", theme.ink(Ink::Smoke)),
                ],
            );
        }
        Some(Overlay::Tell(telling, plain, scroll)) => {
            crate::sheets::tell::draw(model, telling, *plain, *scroll, area, buf)
        }
        Some(Overlay::Note(state)) => crate::rooms::notes::view::write(model, state, area, buf),
        Some(Overlay::Pack(state)) => crate::sheets::tell::pack(model, state, area, buf),
        Some(Overlay::Draw(state)) => crate::sheets::sheets::draw(model, *state, area, buf),
        Some(Overlay::Prints(chosen)) => crate::sheets::prints::draw(model, *chosen, area, buf),
        Some(Overlay::Paths(chosen)) => crate::sheets::paths::draw(model, *chosen, area, buf),
        Some(Overlay::Corner(scroll)) => crate::sheets::corner::draw(model, *scroll, area, buf),
        Some(Overlay::Break(state)) => {
            crate::rooms::pause::view::break_sheet(model, state, area, buf)
        }
        Some(Overlay::Watch(input)) => {
            let inner = sheet(model, area, 78, 5, "Watch", "Enter watches it, Esc leaves it", buf);
            let theme = model.theme;
            put(
                buf,
                inner.x,
                inner.y,
                inner.width,
                &[(
                    "An expression as your program writes it; it is worked out at each stop.",
                    theme.ink(Ink::Smoke),
                )],
            );
            put(
                buf,
                inner.x,
                inner.y + 1,
                inner.width,
                &[(&safe(input.value()), theme.ink(Ink::Chalk)), ("▏", theme.ink(Ink::Ice))],
            );
        }
        Some(Overlay::SetValue(_, name, input)) => {
            let inner =
                sheet(model, area, 78, 5, "Another value", "Enter sets it, Esc leaves it", buf);
            let theme = model.theme;
            put(
                buf,
                inner.x,
                inner.y,
                inner.width,
                &[(
                    &format!("{} shall be, as your program writes it:", safe(name)),
                    theme.ink(Ink::Smoke),
                )],
            );
            put(
                buf,
                inner.x,
                inner.y + 1,
                inner.width,
                &[(&safe(input.value()), theme.ink(Ink::Chalk)), ("▏", theme.ink(Ink::Ice))],
            );
        }
        Some(Overlay::Compare(..) | Overlay::NameFilter(_)) | None => {}
    }
}

fn help(model: &Model, scroll: usize, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let kind = rooms::of(model.room);
    let (room, scope, about) = (kind.name, Scope::In(model.room), kind.about);
    let bindings: Vec<_> = BINDINGS
        .iter()
        .filter(|b| {
            b.scope == scope
                || b.scope == Scope::Everywhere
                || (model.demo && b.scope == Scope::Demo)
        })
        .collect();
    let height = bindings.len() as u16 + 7;
    let inner = sheet(model, area, 104, height, &format!("Keys in room {room}"), "Esc closes", buf);
    let mut rows: Vec<Vec<(String, Style)>> =
        vec![vec![(about.to_owned(), theme.ink(Ink::Chalk))], Vec::new()];
    for binding in &bindings {
        let keys = binding.keys.join(" ");
        rows.push(vec![
            (format!("{keys:>10}  "), theme.ink(Ink::Ice).add_modifier(Modifier::BOLD)),
            (binding.help.to_owned(), theme.ink(Ink::Chalk)),
        ]);
    }
    rows.push(Vec::new());
    rows.push(
        [
            ("◆", Ink::Ember),
            (" error  ", Ink::Smoke),
            ("◇", Ink::Straw),
            (" warning  ", Ink::Smoke),
            ("✦", Ink::Ember),
            (" fatal  ", Ink::Smoke),
            ("▴", Ink::Heather),
            (" a save  ", Ink::Smoke),
            ("┊", Ink::Smoke),
            (" goes on; steps outside your files", Ink::Smoke),
        ]
        .map(|(t, i)| (t.to_owned(), theme.ink(i)))
        .to_vec(),
    );
    let room = usize::from(inner.height);
    let scroll = scroll.min(rows.len().saturating_sub(room));
    for (at, row) in rows.iter().skip(scroll).take(room).enumerate() {
        let pieces: Vec<(&str, Style)> = row.iter().map(|(t, s)| (t.as_str(), *s)).collect();
        put(buf, inner.x, inner.y + at as u16, inner.width, &pieces);
    }
    if rows.len() > scroll + room {
        crate::parts::pen::put_right(
            buf,
            inner.right(),
            inner.bottom().saturating_sub(1),
            inner.width,
            &[(" more ↓ ", theme.ink(Ink::Smoke))],
        );
    }
}

/// The width in which meanings are set.
const WORDS_WIDTH: u16 = 84;

/// The words of the chosen error that the glossary knows, each with its meaning below it.
fn word_rows(model: &Model) -> Vec<(Ink, String)> {
    let Some(group) = model.selected() else { return Vec::new() };
    let mut text = crate::rooms::now::why::whole(model, group);
    if let Some(line) = &group.entry.line_text {
        text.push_str(line);
    }
    let mut rows = Vec::new();
    for (word, meaning) in izba_cause::explain::glossary(&text) {
        rows.push((Ink::Chalk, word.to_owned()));
        rows.extend(
            izba_model::text::wrap(meaning, usize::from(WORDS_WIDTH - 8))
                .into_iter()
                .map(|l| (Ink::Smoke, format!("  {l}"))),
        );
    }
    rows
}

/// How many rows the words of the chosen error take.
pub fn words_rows(model: &Model) -> usize {
    word_rows(model).len()
}

fn words(model: &Model, scroll: usize, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let rows = word_rows(model);
    let inner = sheet(
        model,
        area,
        WORDS_WIDTH,
        (rows.len() as u16 + 4).clamp(5, 34),
        "What the words mean",
        "Esc closes",
        buf,
    );
    if rows.is_empty() {
        let words = if model.selected().is_some() {
            "No word of this error is in the list of words."
        } else {
            "Choose an error first."
        };
        put(buf, inner.x, inner.y, inner.width, &[(words, theme.ink(Ink::Smoke))]);
    }
    let room = usize::from(inner.height);
    let scroll = scroll.min(rows.len().saturating_sub(room));
    for (at, (ink, row)) in rows.iter().skip(scroll).take(room).enumerate() {
        put(buf, inner.x, inner.y + at as u16, inner.width, &[(row, theme.ink(*ink))]);
    }
    if rows.len() > scroll + room {
        crate::parts::pen::put_right(
            buf,
            inner.right(),
            inner.bottom().saturating_sub(1),
            inner.width,
            &[(" more ↓ ", theme.ink(Ink::Smoke))],
        );
    }
}

fn palette(model: &Model, typed: &str, chosen: usize, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let inner = sheet(model, area, 84, 16, "Commands", "type a word, Enter does it", buf);
    put(
        buf,
        inner.x,
        inner.y,
        inner.width,
        &[(&safe(typed), theme.ink(Ink::Chalk)), ("▏", theme.ink(Ink::Ice))],
    );
    let matches = palette_matches(typed, model.demo);
    let room = usize::from(inner.height.saturating_sub(1));
    let first = (chosen + 1).saturating_sub(room);
    if matches.is_empty() {
        put(
            buf,
            inner.x,
            inner.y + 1,
            inner.width,
            &[("no command fits; try another word", theme.ink(Ink::Smoke))],
        );
    }
    for (at, binding) in matches.iter().enumerate().skip(first).take(room) {
        let y = inner.y + 1 + (at - first) as u16;
        if at == chosen {
            buf.set_style(Rect::new(inner.x, y, inner.width, 1), theme.ground(Ground::Bench));
        }
        let mark = if at == chosen { "› " } else { "  " };
        put(
            buf,
            inner.x,
            y,
            inner.width,
            &[
                (mark, theme.ink(Ink::Ice)),
                (&format!("{:<18}", binding.label), theme.ink(Ink::Chalk)),
                (&format!("{:>9}  ", binding.keys[0]), theme.ink(Ink::Ice)),
                (binding.help, theme.ink(Ink::Smoke)),
            ],
        );
    }
}
