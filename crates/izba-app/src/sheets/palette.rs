//! The sheet of all commands: a word is typed, and those that fit are listed.

use crate::keymap::palette_matches;
use crate::model::{Model, PaletteSheet};
use crate::parts::effect::Effect;
use crate::parts::input::edit_input;
use crate::parts::pen::{put, safe, sheet};
use crate::parts::sheet::{Sheet, TYPING};
use crate::theme::{Ground, Ink};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use tui_input::Input;

impl Sheet for PaletteSheet {
    const CLOSED_BY: &'static [&'static str] = TYPING;

    fn draw(&self, model: &Model, area: Rect, buf: &mut Buffer) {
        palette(model, self.input.value(), self.chosen, area, buf);
    }

    fn on_key(mut self, model: &mut Model, key: &str) -> Vec<Effect> {
        let fitting = palette_matches(self.input.value(), model.demo);
        match key {
            "Enter" => match fitting.get(self.chosen) {
                Some(binding) => return vec![Effect::Act(binding.action)],
                None => return Vec::new(),
            },
            "↑" => self.chosen = self.chosen.saturating_sub(1),
            "↓" => self.chosen = (self.chosen + 1).min(fitting.len().saturating_sub(1)),
            _ => {
                edit_input(&mut self.input, key);
                self.chosen = 0;
            }
        }
        self.stay(model)
    }

    fn input(&mut self) -> Option<&mut Input> {
        Some(&mut self.input)
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
