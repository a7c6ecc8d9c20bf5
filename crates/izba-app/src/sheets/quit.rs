//! The sheet that asks before leaving while a program runs.

use crate::model::{Model, QuitSheet};
use crate::parts::effect::Effect;
use crate::parts::pen::{put, sheet};
use crate::parts::sheet::Sheet;
use crate::theme::Ink;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::Modifier;

impl Sheet for QuitSheet {
    const CLOSED_BY: &'static [&'static str] = &["Esc", "n"];
    const INTERRUPTS: bool = false;

    fn draw(&self, model: &Model, area: Rect, buf: &mut Buffer) {
        let inner = sheet(model, area, 66, 5, "Leave?", "", buf);
        let theme = model.theme;
        put(
            buf,
            inner.x,
            inner.y,
            inner.width,
            &[("A program that Izba started still runs; leaving ends it.", theme.ink(Ink::Chalk))],
        );
        let key = theme.ink(Ink::Ice).add_modifier(Modifier::BOLD);
        put(
            buf,
            inner.x,
            inner.y + 1,
            inner.width,
            &[
                ("q", key),
                (" leave   ", theme.ink(Ink::Smoke)),
                ("Esc", key),
                (" stay", theme.ink(Ink::Smoke)),
            ],
        );
    }

    fn on_key(self, model: &mut Model, key: &str) -> Vec<Effect> {
        match key {
            "q" | "y" | "Enter" | "Ctrl+C" => vec![Effect::Quit],
            _ => self.stay(model),
        }
    }
}
