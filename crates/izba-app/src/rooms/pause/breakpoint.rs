//! The sheet on which a breakpoint is set or changed.

use crate::model::{BreakSheet, Model};
use crate::parts::effect::{Effect, say};
use crate::parts::input::edit_input;
use crate::parts::pen::{put, safe, sheet};
use crate::parts::sheet::{Sheet, TYPING};
use crate::theme::{Ground, Ink};
use izba_cause::pause::Breakpoint;
use izba_core::Wish;
use izba_model::Excerpt;
use izba_model::text::width_cells;
use izba_watch::Order;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use tui_input::Input;

impl Sheet for BreakSheet {
    const CLOSED_BY: &'static [&'static str] = TYPING;

    fn draw(&self, model: &Model, area: Rect, buf: &mut Buffer) {
        draw(model, self, area, buf);
    }

    fn on_key(mut self, model: &mut Model, key: &str) -> Vec<Effect> {
        let total = model
            .live
            .today
            .file(&self.file)
            .and_then(|f| f.text.as_deref())
            .map_or(1, |t| t.lines().count().max(1)) as u32;
        match key {
            "Tab" => self.field = (self.field + 1) % 4,
            "Shift+Tab" => self.field = (self.field + 3) % 4,
            "↑" | "↓" if self.field == 0 => {
                self.line = if key == "↑" {
                    self.line.saturating_sub(1).max(1)
                } else {
                    (self.line + 1).min(total)
                }
            }
            "↑" => self.field -= 1,
            "↓" => self.field = (self.field + 1).min(3),
            "Delete" if self.field == 0 && self.key.is_some() => {
                let key = self.key.take().unwrap_or_default();
                return vec![Effect::Order(Order::Wish(
                    vec![Wish::Breakpoint(key, None)],
                    "the breakpoint is off; u sets it again".into(),
                ))];
            }
            "Enter" => {
                let Some(mut breakpoint) = Breakpoint::at(&model.live.today, &self.file, self.line)
                else {
                    say(model, format!("{} has no line {}", self.file, self.line));
                    return self.stay(model);
                };
                let typed =
                    |input: &Input| Some(input.value().trim().to_owned()).filter(|t| !t.is_empty());
                (breakpoint.condition, breakpoint.log) = (typed(&self.condition), typed(&self.log));
                if let Some(hits) = typed(&self.hits) {
                    let Ok(hits) = hits.parse::<u32>() else {
                        say(model, format!("“{hits}” is no number of times"));
                        return self.stay(model);
                    };
                    breakpoint.hits = Some(hits);
                }
                let terms = breakpoint.terms();
                let terms = if terms.is_empty() { String::new() } else { format!(", {terms}") };
                let cannot = model.live.pause.source.is_none();
                let tail =
                    if cannot { "; nothing here runs under a debug adapter yet" } else { "" };
                let said = format!("breakpoint at {}:{}{terms}{tail}", self.file, self.line);
                let mut wishes: Vec<Wish> =
                    self.key.iter().map(|key| Wish::Breakpoint(key.clone(), None)).collect();
                wishes.push(Wish::Breakpoint(breakpoint.key(), Some(breakpoint)));
                return vec![Effect::Order(Order::Wish(wishes, said))];
            }
            _ => {
                if let Some(input) = BreakSheet::input(&mut self) {
                    edit_input(input, key);
                }
            }
        }
        self.stay(model)
    }

    fn input(&mut self) -> Option<&mut Input> {
        BreakSheet::input(self)
    }
}

fn draw(model: &Model, state: &BreakSheet, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let inner = sheet(model, area, 92, 17, "Breakpoint", "Enter sets it, Esc leaves it", buf);
    let (chalk, smoke) = (theme.ink(Ink::Chalk), theme.ink(Ink::Smoke));
    put(buf, inner.x, inner.y, inner.width, &[(&safe(&state.file), theme.ink(Ink::Ice))]);
    if let Some(excerpt) = Excerpt::around(&model.live.today, &state.file, state.line, 2, 2, None) {
        for (at, row) in excerpt.rows.iter().enumerate() {
            let y = inner.y + 1 + at as u16;
            if y >= inner.bottom() {
                return;
            }
            if row.at_fault {
                buf.set_style(Rect::new(inner.x, y, inner.width, 1), theme.ground(Ground::Bench));
            }
            let code = theme.ink(if row.at_fault { Ink::Chalk } else { Ink::Slate });
            put(
                buf,
                inner.x,
                y,
                inner.width,
                &[(&format!("{:>5}  ", row.number), smoke), (row.text.as_str(), code)],
            );
        }
    }
    let line = state.line.to_string();
    let fields = [
        ("Stop at line", line.as_str(), "↑↓ moves it"),
        ("only when", state.condition.value(), "always; or a condition, as your program writes it"),
        ("after so many times", state.hits.value(), "from the first time on"),
        (
            "or write instead",
            state.log.value(),
            "a text for the log, with {names}; the program goes on",
        ),
    ];
    for (at, (label, value, otherwise)) in fields.iter().enumerate() {
        let y = inner.y + 7 + at as u16;
        if y >= inner.bottom() {
            return;
        }
        let here = at == state.field;
        let mark = if here { "› " } else { "  " };
        let mut pieces = vec![(mark, theme.ink(Ink::Ice)), (label, smoke)];
        let pad = " ".repeat(21usize.saturating_sub(width_cells(label)));
        let value = safe(value);
        pieces.push((&pad, smoke));
        pieces.push((&value, chalk));
        if here && at > 0 {
            pieces.push(("▏", theme.ink(Ink::Ice)));
        }
        let beside = if value.is_empty() { format!(" {otherwise}") } else { String::new() };
        let beside = if at == 0 { format!("   {otherwise}") } else { beside };
        pieces.push((&beside, theme.ink(Ink::Smoke)));
        put(buf, inner.x, y, inner.width, &pieces);
    }
    let mut keys = vec![("Tab", theme.ink(Ink::Ice)), (" next field", smoke)];
    if state.key.is_some() {
        keys.extend([("   Delete", theme.ink(Ink::Ice)), (" on the line takes it off", smoke)]);
    }
    put(buf, inner.x, inner.y + 12, inner.width, &keys);
}
