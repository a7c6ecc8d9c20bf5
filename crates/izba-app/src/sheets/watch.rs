//! The sheet on which an expression to be watched is typed.

use crate::model::{Model, WatchSheet};
use crate::parts::effect::Effect;
use crate::parts::input::edit_input;
use crate::parts::sheet::{Sheet, TYPING, draw_line};
use izba_watch::{Order, PauseOrder};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use tui_input::Input;

impl Sheet for WatchSheet {
    const CLOSED_BY: &'static [&'static str] = TYPING;

    fn draw(&self, model: &Model, area: Rect, buf: &mut Buffer) {
        let asks = "An expression as your program writes it; it is worked out at each stop.";
        let keys = ("Watch", "Enter watches it, Esc leaves it");
        draw_line(model, (area, 78), keys, Some(asks), ("", &self.0), buf);
    }

    fn on_key(mut self, model: &mut Model, key: &str) -> Vec<Effect> {
        if key != "Enter" {
            edit_input(&mut self.0, key);
            return self.stay(model);
        }
        let typed = self.0.value().trim();
        let order = PauseOrder::Watch(typed.to_owned());
        (!typed.is_empty()).then_some(Effect::Order(Order::Pause(order))).into_iter().collect()
    }

    fn input(&mut self) -> Option<&mut Input> {
        Some(&mut self.0)
    }
}
