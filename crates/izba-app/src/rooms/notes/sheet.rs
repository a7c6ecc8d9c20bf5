//! The sheet on which a note is written.

use super::update::note_of;
use crate::model::{Model, NoteSheet};
use crate::parts::effect::{Effect, say};
use crate::parts::pen::{put, safe, sheet};
use crate::parts::sheet::Sheet;
use crate::theme::{Ground, Ink};
use izba_model::text::fit;
use izba_watch::Order;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};
use ratatui::widgets::Widget;
use ratatui_textarea::{CursorMove, TextArea};

impl Sheet for Box<NoteSheet> {
    const CLOSED_BY: &'static [&'static str] = &[];
    const INTERRUPTS: bool = false;
    // What is being written is not lost by a click.
    const CLICK_CLOSES: bool = false;

    fn draw(&self, model: &Model, area: Rect, buf: &mut Buffer) {
        write(model, self, area, buf);
    }

    fn on_key(mut self, model: &mut Model, key: &str) -> Vec<Effect> {
        let area = &mut self.area;
        match key {
            "Esc" | "Ctrl+S" => {
                if self.area.lines().join("\n").trim_end() == self.before.trim_end() {
                    say(model, "nothing was written, so no note is kept");
                    return Vec::new();
                }
                return vec![Effect::Order(Order::KeepNote(
                    Box::new(note_of(&self)),
                    self.path.clone(),
                ))];
            }
            "Ctrl+X" => {
                say(model, "thrown away");
                return Vec::new();
            }
            "Enter" => area.insert_newline(),
            "Backspace" => drop(area.delete_char()),
            "Delete" => drop(area.delete_next_char()),
            "Ctrl+Z" => drop(area.undo()),
            "Ctrl+Y" => drop(area.redo()),
            "Tab" => to_next_part(area),
            "↑" => area.move_cursor(CursorMove::Up),
            "↓" => area.move_cursor(CursorMove::Down),
            "←" => area.move_cursor(CursorMove::Back),
            "→" => area.move_cursor(CursorMove::Forward),
            "Home" => area.move_cursor(CursorMove::Head),
            "End" => area.move_cursor(CursorMove::End),
            "PgUp" => (0..10).for_each(|_| area.move_cursor(CursorMove::Up)),
            "PgDn" => (0..10).for_each(|_| area.move_cursor(CursorMove::Down)),
            "Space" => area.insert_char(' '),
            _ => {
                if let (Some(c), 1) = (key.chars().next(), key.chars().count()) {
                    area.insert_char(c);
                }
            }
        }
        self.stay(model)
    }

    fn typed(&mut self, sign: char) {
        self.area.insert_char(sign);
    }
}

/// Below the next heading; from the last to the first.
fn to_next_part(area: &mut TextArea<'static>) {
    let row = area.cursor().0;
    let headings: Vec<usize> = area
        .lines()
        .iter()
        .enumerate()
        .filter(|(_, l)| l.starts_with("## "))
        .map(|(at, _)| at + 2)
        .collect();
    let next = headings.iter().find(|at| **at > row).or(headings.first()).copied().unwrap_or(0);
    area.move_cursor(CursorMove::Jump(u16::try_from(next).unwrap_or(u16::MAX), 0));
    area.move_cursor(CursorMove::End);
}

/// Draws the sheet on which a note is written.
fn write(model: &Model, state: &NoteSheet, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let name = fit(&safe(&state.head.title), 60).into_owned();
    let inner = sheet(model, area, 110, area.height.saturating_sub(4), "Note", &name, buf);
    let body = Rect::new(inner.x, inner.y + 1, inner.width, inner.height.saturating_sub(3));
    if body.height == 0 || body.width < 8 {
        return;
    }
    let mut text = state.area.clone();
    text.set_style(theme.ink(Ink::Chalk).patch(theme.ground(Ground::Plank)));
    text.set_cursor_line_style(Style::new());
    text.set_cursor_style(Style::new().add_modifier(Modifier::REVERSED));
    (&text).render(body.intersection(buf.area), buf);
    let (key, smoke) = (theme.ink(Ink::Ice).add_modifier(Modifier::BOLD), theme.ink(Ink::Smoke));
    let keys: &[(&str, Style)] = &[
        ("Esc", key),
        (" keep it   ", smoke),
        ("Tab", key),
        (" next part   ", smoke),
        ("Ctrl+Z", key),
        (" undo   ", smoke),
        ("Ctrl+X", key),
        (" throw away what you wrote", smoke),
    ];
    put(buf, inner.x, inner.bottom().saturating_sub(1), inner.width, keys);
}
