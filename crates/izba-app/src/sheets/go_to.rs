//! The sheet on which the number of a line to go to is typed.

use crate::model::{GoToSheet, Model};
use crate::parts::effect::{Effect, say};
use crate::parts::input::edit_input;
use crate::parts::sheet::{Sheet, TYPING, draw_line};
use crate::rooms::lines::update::show_row;
use izba_model::text::thousands;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use tui_input::Input;

impl Sheet for GoToSheet {
    const CLOSED_BY: &'static [&'static str] = TYPING;

    fn draw(&self, model: &Model, area: Rect, buf: &mut Buffer) {
        let keys = format!("1 to {}, Enter goes there", thousands(model.shown.snapshot.rows));
        draw_line(model, (area, 60), ("Go to line", &keys), None, ("", &self.0), buf);
    }

    fn on_key(mut self, model: &mut Model, key: &str) -> Vec<Effect> {
        if key != "Enter" {
            edit_input(&mut self.0, key);
            return self.stay(model);
        }
        let typed: String = self.0.value().chars().filter(char::is_ascii_digit).collect();
        let Ok(number) = typed.parse::<u64>() else {
            say(model, "type the number of a line, such as 9000000");
            return Vec::new();
        };
        show_row(model, number.clamp(1, model.shown.snapshot.rows.max(1)) - 1)
    }

    fn input(&mut self) -> Option<&mut Input> {
        Some(&mut self.0)
    }
}
