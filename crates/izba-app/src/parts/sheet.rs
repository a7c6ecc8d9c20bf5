//! What a sheet is: something that lies over a room until it is closed.

use crate::model::{Model, Overlay};
use crate::parts::effect::Effect;
use crate::parts::pen::{put, safe, sheet};
use crate::theme::Ink;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use tui_input::{Input, InputRequest};

/// One kind of sheet, with its state.
pub trait Sheet: Into<Overlay> {
    /// Keys that close it and do nothing else.
    const CLOSED_BY: &'static [&'static str] = &["Esc", "q", "Enter"];
    /// Whether `Ctrl+C` interrupts the program, as it does without a sheet.
    const INTERRUPTS: bool = true;
    /// Whether the wheel scrolls it.
    const WHEEL: bool = false;
    /// Whether a click beside it closes it.
    const CLICK_CLOSES: bool = true;

    /// Draws it.
    fn draw(&self, model: &Model, area: Rect, buf: &mut Buffer);

    /// A key that does not close it. It has left the model by then; what stays puts itself back.
    fn on_key(self, model: &mut Model, key: &str) -> Vec<Effect>;

    /// Where it takes text.
    fn input(&mut self) -> Option<&mut Input> {
        None
    }

    /// A sign that was typed or pasted.
    fn typed(&mut self, sign: char) {
        if let Some(input) = self.input() {
            input.handle(InputRequest::InsertChar(sign));
        }
    }

    /// Goes on lying there.
    fn stay(self, model: &mut Model) -> Vec<Effect> {
        model.overlay = Some(self.into());
        Vec::new()
    }
}

/// What closes a sheet that takes one line of text.
pub const TYPING: &[&str] = &["Esc", "Ctrl+C"];

/// Where a list or text of so many rows stands after a key that scrolls; as before, if it is none.
pub fn scrolled(key: &str, at: usize, last: usize, page: usize) -> usize {
    match key {
        "↑" | "k" => at.saturating_sub(1),
        "↓" | "j" => (at + 1).min(last),
        "PgUp" => at.saturating_sub(page),
        "PgDn" => (at + page).min(last),
        "Home" => 0,
        "End" => last,
        _ => at,
    }
}

/// Draws a sheet that takes one line of text: what is asked, and what is typed so far.
pub fn draw_line(
    model: &Model,
    (area, width): (Rect, u16),
    (name, keys): (&str, &str),
    asks: Option<&str>,
    (before, input): (&str, &Input),
    buf: &mut Buffer,
) {
    let theme = model.theme;
    let inner = sheet(model, area, width, 4 + asks.is_some() as u16, name, keys, buf);
    let mut y = inner.y;
    if let Some(asks) = asks {
        put(buf, inner.x, y, inner.width, &[(&safe(asks), theme.ink(Ink::Smoke))]);
        y += 1;
    }
    let typed = [
        (before, theme.ink(Ink::Smoke)),
        (&*safe(input.value()), theme.ink(Ink::Chalk)),
        ("▏", theme.ink(Ink::Ice)),
    ];
    put(buf, inner.x, y, inner.width, &typed);
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        /// Whatever is pressed, it stands at a row that is there; and what it does not know moves
        /// nothing.
        #[test]
        fn no_key_scrolls_past_an_end(
            key in prop::sample::select(
                ["↑", "k", "↓", "j", "PgUp", "PgDn", "Home", "End", "x"].to_vec(),
            ),
            last in 0usize..40,
            at in 0usize..40,
            page in 1usize..30,
        ) {
            let at = at.min(last);
            let then = scrolled(key, at, last, page);
            prop_assert!(then <= last);
            if key == "x" {
                prop_assert_eq!(then, at);
            }
            let back = match key {
                "↓" => scrolled("↑", then, last, page),
                "PgDn" => scrolled("PgUp", then, last, page),
                _ => at,
            };
            prop_assert!(back <= at, "the way back is no shorter");
        }
    }
}
