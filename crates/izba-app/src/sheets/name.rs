//! The sheet on which a filter is kept under a name.

use crate::model::{Model, NameSheet};
use crate::parts::effect::Effect;
use crate::parts::input::edit_input;
use crate::parts::sheet::{Sheet, TYPING, draw_line};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use tui_input::Input;

impl Sheet for NameSheet {
    const CLOSED_BY: &'static [&'static str] = TYPING;

    fn draw(&self, model: &Model, area: Rect, buf: &mut Buffer) {
        let text = model.filter.phrase.as_ref().map_or("", |p| p.text());
        let keys = ("Keep the filter", "Enter keeps it, Esc leaves it");
        draw_line(model, (area, 70), keys, Some(text), ("under the name  ", &self.0), buf);
    }

    fn on_key(mut self, model: &mut Model, key: &str) -> Vec<Effect> {
        if key != "Enter" {
            edit_input(&mut self.0, key);
            return self.stay(model);
        }
        crate::rooms::phrase::keep(model, self.0.value().trim())
    }

    fn input(&mut self) -> Option<&mut Input> {
        Some(&mut self.0)
    }
}
