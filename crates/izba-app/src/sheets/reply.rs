//! The sheet on which an answer for the program is typed.

use crate::model::{Model, ReplySheet};
use crate::parts::effect::{Effect, say};
use crate::parts::input::edit_input;
use crate::parts::sheet::{Sheet, TYPING, draw_line};
use izba_watch::Order;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use tui_input::Input;

impl Sheet for ReplySheet {
    const CLOSED_BY: &'static [&'static str] = TYPING;

    fn draw(&self, model: &Model, area: Rect, buf: &mut Buffer) {
        let sources = &model.live.snapshot.sources;
        let asks = sources.iter().find_map(|s| s.unfinished.as_ref());
        let asks = asks.map(|t| t.as_str().trim()).unwrap_or_default();
        let keys = ("Reply", "Enter sends it, Esc leaves it");
        draw_line(model, (area, 78), keys, Some(asks), ("", &self.0), buf);
    }

    fn on_key(mut self, model: &mut Model, key: &str) -> Vec<Effect> {
        if key != "Enter" {
            edit_input(&mut self.0, key);
            return self.stay(model);
        }
        say(model, "sent to the program");
        vec![Effect::Order(Order::Type(format!("{}\n", self.0.value())))]
    }

    fn input(&mut self) -> Option<&mut Input> {
        Some(&mut self.0)
    }
}
