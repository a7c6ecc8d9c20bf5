//! The sheet of all commands: a word is typed, and those that fit are listed.

use crate::command_words::{is_of, palette_matches};
use crate::keymap::Scope;
use crate::model::{Model, PaletteSheet};
use crate::parts::effect::{Effect, say};
use crate::parts::input::edit_input;
use crate::parts::pen::{put, safe, sheet};
use crate::parts::sheet::{Sheet, TYPING};
use crate::rooms::of as kind_of;
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
        let fitting = palette_matches(self.input.value(), model.room, model.demo);
        match key {
            "Enter" => match fitting.get(self.chosen) {
                Some(binding) => match binding.scope {
                    // What only another room does is said, not done blindly.
                    Scope::In(room) if room != model.room => {
                        let kind = kind_of(room);
                        let key = crate::keymap::binding(kind.action).keys[0];
                        let words = format!(
                            "{} is a command of room {}; {key} goes there",
                            binding.label, kind.name
                        );
                        say(model, words);
                        return Vec::new();
                    }
                    _ => return vec![Effect::Act(binding.action)],
                },
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
    let matches = palette_matches(typed, model.room, model.demo);
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
        let (name, room) = match binding.scope {
            Scope::In(room) if !is_of(binding, model.room) => {
                (Ink::Smoke, format!("in {}: ", kind_of(room).name))
            }
            _ => (Ink::Chalk, String::new()),
        };
        put(
            buf,
            inner.x,
            y,
            inner.width,
            &[
                (mark, theme.ink(Ink::Ice)),
                (&format!("{:<18}", binding.label), theme.ink(name)),
                (&format!("{:>9}  ", binding.keys[0]), theme.ink(Ink::Ice)),
                (&room, theme.ink(Ink::Heather)),
                (binding.help, theme.ink(Ink::Smoke)),
            ],
        );
    }
}
