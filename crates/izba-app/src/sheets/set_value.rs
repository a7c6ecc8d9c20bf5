//! The sheet on which another value is typed, while the program stands still.

use crate::model::{Model, SetValueSheet};
use crate::parts::effect::Effect;
use crate::parts::input::edit_input;
use crate::parts::sheet::{Sheet, TYPING, draw_line};
use izba_watch::{Order, PauseOrder};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use tui_input::Input;

impl Sheet for SetValueSheet {
    const CLOSED_BY: &'static [&'static str] = TYPING;

    fn draw(&self, model: &Model, area: Rect, buf: &mut Buffer) {
        let asks = format!("{} shall be, as your program writes it:", self.name);
        let keys = ("Another value", "Enter sets it, Esc leaves it");
        draw_line(model, (area, 78), keys, Some(&asks), ("", &self.input), buf);
    }

    fn on_key(mut self, model: &mut Model, key: &str) -> Vec<Effect> {
        if key != "Enter" {
            edit_input(&mut self.input, key);
            return self.stay(model);
        }
        let typed = self.input.value().trim().to_owned();
        let want = izba_dap::Want::Set(self.owner, self.name, typed);
        vec![Effect::Order(Order::Pause(PauseOrder::Want(want)))]
    }

    fn input(&mut self) -> Option<&mut Input> {
        Some(&mut self.input)
    }
}
