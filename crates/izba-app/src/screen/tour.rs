//! The guided tour: a strip above the keys.

use crate::keymap::{Action, binding};
use crate::model::Model;
use crate::parts::pen::put;
use crate::parts::pen::put_wrapped;
use crate::theme::{Ground, Ink};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};

/// Draws the step that the tour is at.
pub fn draw(model: &Model, area: Rect, buf: &mut Buffer) {
    let Some(tour) = model.tour.filter(|_| area.height > 0) else { return };
    let theme = model.theme;
    buf.set_style(area, theme.ground(Ground::Bench));
    let (number, name, words) = tour.words(model);
    let head = format!(" ◎ {number} of 5  {name}  ");
    let used = put(
        buf,
        area.x,
        area.y,
        area.width,
        &[(&head, theme.ink(Ink::Heather).add_modifier(Modifier::BOLD))],
    );
    let words_of_leaving = if area.width >= 100 { "leaves the tour" } else { "leaves" };
    let leave = format!("{} {words_of_leaving} ", binding(Action::Tour).keys[0]);
    let right = izba_model::text::width_cells(&leave) as u16;
    let text =
        Rect::new(area.x + used, area.y, area.width.saturating_sub(used + right + 2), area.height);
    put_wrapped(buf, text, &[(words, theme.ink(Ink::Chalk))]);
    let x = area.right().saturating_sub(right);
    put(
        buf,
        x,
        area.y,
        right,
        &[
            (&leave[..1], theme.ink(Ink::Ice).add_modifier(Modifier::BOLD)),
            (&leave[1..], theme.ink(Ink::Smoke)),
            ("", Style::new()),
        ],
    );
}
