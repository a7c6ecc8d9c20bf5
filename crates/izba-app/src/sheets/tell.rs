//! The sheet of a request for help: what was taken out of it first, then the text as it would
//! leave.

use crate::model::{Model, TellSheet};
use crate::parts::effect::Effect;
use crate::parts::pen::{put, put_right, safe, sheet};
use crate::parts::sheet::{Sheet, scrolled};
use crate::theme::{Ground, Ink};
use izba_model::text::counted;
use izba_model::text::wrap;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};
use std::sync::Arc;

/// The width of the sheet.
const WIDTH: u16 = 122;

fn lines(model: &Model, of: &TellSheet, width: usize) -> Vec<(String, Style)> {
    let theme = model.theme;
    let told = if of.plain { &of.telling.plain } else { &of.telling.markdown };
    let mut rows: Vec<(String, Style)> = Vec::new();
    let taken = of.telling.taken(of.plain);
    if taken.is_empty() {
        rows.push((
            "Nothing had to be taken out of it. Read it before it leaves all the same.".into(),
            theme.ink(Ink::Smoke),
        ));
    } else {
        let keys = match of.chosen.and_then(|at| taken.get(at)) {
            None => "Tab chooses what to put back",
            Some(one) if of.telling.put_back.contains(&one.was) => "Space takes it out again",
            Some(_) => "Space puts it back",
        };
        let heading = format!("Taken out of it, so that it does not leave; {keys}:");
        rows.push((heading, theme.ink(Ink::Heather)));
        for (at, taken) in taken.iter().enumerate() {
            let back = of.telling.put_back.contains(&taken.was);
            let row = format!(
                "{} {:<22} {}   {}{}",
                if of.chosen == Some(at) { "▸" } else { " " },
                taken.what,
                safe(&taken.was),
                counted(taken.count.into(), "time", "times"),
                if back { ", put back" } else { "" }
            );
            let ink = theme.ink(if back { Ink::Straw } else { Ink::Heather });
            let chosen = ink.patch(theme.ground(Ground::Bench));
            rows.push((row, if of.chosen == Some(at) { chosen } else { ink }));
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
fn rows(model: &Model, of: &TellSheet) -> usize {
    lines(model, of, usize::from(WIDTH - 4)).len()
}

/// The next of what was taken out, or the one before it; behind the last there is none.
fn next(of: &TellSheet, back: bool) -> Option<usize> {
    let count = of.telling.taken(of.plain).len();
    match (of.chosen, back) {
        (None, false) => (count > 0).then_some(0),
        (None, true) => count.checked_sub(1),
        (Some(at), false) => Some(at + 1).filter(|next| *next < count),
        (Some(at), true) => at.checked_sub(1),
    }
}

impl Sheet for TellSheet {
    const CLOSED_BY: &'static [&'static str] = &["Esc", "q", "t"];

    fn draw(&self, model: &Model, area: Rect, buf: &mut Buffer) {
        draw(model, self, area, buf);
    }

    fn on_key(mut self, model: &mut Model, key: &str) -> Vec<Effect> {
        let shown = if self.plain { &self.telling.plain } else { &self.telling.markdown };
        let effect = match key {
            "y" | "Enter" => Some(Effect::Copy(shown.text.clone())),
            "w" => {
                let ending = if self.plain { "txt" } else { "md" };
                Some(Effect::KeepText(shown.text.clone(), ending))
            }
            "z" => {
                crate::sheets::pack::open(model, self.telling);
                return Vec::new();
            }
            _ => None,
        };
        if key == "p" {
            (self.plain, self.scroll, self.chosen) = (!self.plain, 0, None);
        }
        if matches!(key, "Tab" | "Shift+Tab") {
            (self.chosen, self.scroll) = (next(&self, key == "Shift+Tab"), 0);
        }
        let chosen = self.chosen.and_then(|at| self.telling.taken(self.plain).get(at)).cloned();
        match (key, chosen) {
            ("Space", Some(taken)) => self.telling = Arc::new(self.telling.turned(&taken.was)),
            ("Space", None) => self.scroll = scrolled("PgDn", self.scroll, rows(model, &self), 20),
            _ => self.scroll = scrolled(key, self.scroll, rows(model, &self), 20),
        }
        self.stay(model);
        effect.into_iter().collect()
    }
}

fn draw(model: &Model, of: &TellSheet, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let width = usize::from(WIDTH.min(area.width.saturating_sub(2)).saturating_sub(4));
    let (all, plain) = (lines(model, of, width), of.plain);
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
    // What is chosen stays in sight.
    let scroll = of.chosen.map_or(of.scroll, |at| (at + 2).saturating_sub(room));
    let scroll = scroll.min(all.len().saturating_sub(room));
    for (at, (text, style)) in all.iter().skip(scroll).take(room).enumerate() {
        put(buf, inner.x, inner.y + at as u16, inner.width, &[(text, *style)]);
    }
    let (key, smoke) = (theme.ink(Ink::Ice).add_modifier(Modifier::BOLD), theme.ink(Ink::Smoke));
    let y = inner.bottom().saturating_sub(1);
    buf.set_style(Rect::new(inner.x, y, inner.width, 1), theme.ground(Ground::Plank));
    let other = if plain { " as Markdown   " } else { " as plain text   " };
    let keys: &[(&str, Style)] = &[
        ("y", key),
        (" copy   ", smoke),
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
