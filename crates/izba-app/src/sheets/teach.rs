//! The sheet of teaching: how a line is divided into its parts, and what that would read.

use crate::model::{Model, Teach};
use crate::parts::effect::{Effect, say};
use crate::parts::pen::{put, safe, sheet};
use crate::parts::sheet::Sheet;
use crate::teach::part_word;
use crate::theme::Ink;
use izba_console::read::layout::Part;
use izba_model::text::{counted, thousands};
use izba_watch::Order;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};
use std::sync::Arc;

/// Opens the sheet that tells how the chosen line is read.
pub(crate) fn open(model: &mut Model) {
    let cursor = model.lines.cursor;
    let Some(row) = model.lines.rows.iter().find(|r| r.row == cursor) else {
        return say(model, "that line is still being fetched; try once more");
    };
    let at = row.line.source.0;
    let Some(source) = model.shown.snapshot.sources.get(at) else { return };
    let text = row.text.as_str();
    let layouts = model.shown.sources.get(at).map(|s| s.layouts.as_slice()).unwrap_or_default();
    let known = layouts.iter().find(|l| l.parts(text).is_some());
    let others = model
        .lines
        .rows
        .iter()
        .filter(|r| r.line.source == row.line.source)
        .map(|r| r.text.as_str().to_owned())
        .collect();
    if text.trim().is_empty() {
        return say(model, "this line is empty");
    }
    let teach = Teach::new((at, source.name.clone()), text, known.map(Arc::as_ref), others);
    model.overlay = Some(teach.into());
}

impl Sheet for Teach {
    const CLOSED_BY: &'static [&'static str] = &["Esc", "Ctrl+C", "q"];

    fn draw(&self, model: &Model, area: Rect, buf: &mut Buffer) {
        teach(model, self, area, buf);
    }

    fn on_key(mut self, model: &mut Model, key: &str) -> Vec<Effect> {
        match key {
            "→" => self.step(false),
            "←" => self.step(true),
            "↓" => self.turn(false),
            "↑" => self.turn(true),
            "m" => self.set(Some(Part::Message)),
            "s" => self.set(Some(Part::Script)),
            "n" => self.set(Some(Part::Line)),
            "o" => self.set(Some(Part::Object)),
            "l" => self.set(Some(Part::Level)),
            "t" => self.set(Some(Part::Time)),
            "x" => self.set(None),
            "g" => self.next_level(),
            "Enter" => match self.layout() {
                Ok(layout) => {
                    return vec![Effect::Order(Order::Teach(self.source.0, Arc::new(layout)))];
                }
                Err(sentence) => say(model, sentence),
            },
            _ => {}
        }
        self.stay(model)
    }
}

fn teach(model: &Model, state: &Teach, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let inner = sheet(model, area, 130, 22, "How this line is read", &state.from, buf);
    let smoke = theme.ink(Ink::Smoke);
    // The line with each part in its own row of words below; it scrolls with the chosen piece.
    let cells: Vec<usize> =
        state.pieces.iter().map(|(text, _)| izba_model::text::width_cells(text)).collect();
    let before: usize = cells[..state.at].iter().sum();
    let shift = (before + cells.get(state.at).copied().unwrap_or(0) + 12)
        .saturating_sub(usize::from(inner.width));
    let mut column = 0usize;
    let (mut named_to, mut last) = (0usize, None);
    for (at, (text, part)) in state.pieces.iter().enumerate() {
        let (from, to) = (column, column + cells[at]);
        column = to;
        if from < shift || from - shift >= usize::from(inner.width) {
            last = *part;
            continue;
        }
        let x = inner.x + (from - shift) as u16;
        let mut style = match part {
            Some(Part::Message) => theme.ink(Ink::Chalk).add_modifier(Modifier::BOLD),
            Some(Part::Level) => theme.ink(Ink::Ember),
            Some(Part::Other) | None => smoke,
            Some(_) => theme.ink(Ink::Ice),
        };
        if at == state.at {
            style = style.add_modifier(Modifier::REVERSED);
        }
        put(buf, x, inner.y + 1, inner.right().saturating_sub(x), &[(text, style)]);
        let first_of_it = part.is_some() && *part != last;
        if (at == state.at || first_of_it) && !text.trim().is_empty() {
            let word = part_word(*part);
            let ink = if at == state.at {
                theme.ink(Ink::Ice).add_modifier(Modifier::BOLD)
            } else {
                smoke
            };
            let row = if at == state.at { 3 } else { 2 };
            if at == state.at || from >= named_to {
                put(buf, x, inner.y + row, inner.right().saturating_sub(x), &[(word, ink)]);
                if at != state.at {
                    named_to = from + word.len() + 1;
                }
            }
        }
        last = *part;
    }
    let mut y = inner.y + 5;
    let mut line = |pieces: &[(&str, Style)], buf: &mut Buffer| {
        if y + 2 < inner.bottom() {
            put(buf, inner.x, y, inner.width, pieces);
        }
        y += 1;
    };
    line(
        &[
            ("Lines like it are   ", smoke),
            (state.level.word(), theme.ink(Ink::Chalk)),
            ("     g changes that", smoke),
        ],
        buf,
    );
    line(
        &[
            ("Kept as             ", smoke),
            (&safe(&state.template().to_string()), theme.ink(Ink::Chalk)),
        ],
        buf,
    );
    match state.layout() {
        Ok(layout) => {
            let read = state.read_by(&layout);
            let words = format!(
                "Of the {} around it this would read {}:",
                counted(state.others.len() as u64, "line", "lines"),
                thousands(read.len() as u64)
            );
            line(&[(&words, smoke)], buf);
            for text in read.iter().take(5) {
                line(&[("  ", smoke), (&safe(text), theme.ink(Ink::Chalk))], buf);
            }
        }
        Err(sentence) => line(
            &[("Not yet: ", theme.ink(Ink::Straw)), (&safe(&sentence), theme.ink(Ink::Straw))],
            buf,
        ),
    }
    let key = theme.ink(Ink::Ice).add_modifier(Modifier::BOLD);
    let rows: [&[(&str, &str)]; 2] = [
        &[
            ("← →", "choose a word"),
            ("↑ ↓", "change what it is"),
            ("Enter", "keep it"),
            ("Esc", "leave it"),
        ],
        &[
            ("m", "message"),
            ("s", "script"),
            ("n", "line"),
            ("o", "object"),
            ("l", "level"),
            ("t", "time"),
            ("x", "stays"),
        ],
    ];
    for (up, keys) in rows.iter().rev().enumerate() {
        let pieces: Vec<(&str, Style)> = keys
            .iter()
            .flat_map(|(k, w)| [(*k, key), (" ", smoke), (*w, smoke), ("   ", smoke)])
            .collect();
        put(buf, inner.x, inner.bottom().saturating_sub(1 + up as u16), inner.width, &pieces);
    }
}
