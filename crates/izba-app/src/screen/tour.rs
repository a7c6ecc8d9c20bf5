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
    let words = if area.height == 1 { short(&words, usize::from(text.width)) } else { &words };
    put_wrapped(buf, text, &[(words.to_owned(), theme.ink(Ink::Chalk))]);
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

/// What is to be done, where there is one row for it: of more sentences than fit the last.
fn short(words: &str, room: usize) -> &str {
    if izba_model::text::width_cells(words) <= room {
        return words;
    }
    words.trim_end_matches('.').rfind(". ").map_or(words, |at| &words[at + 2..])
}

#[cfg(test)]
mod tests {
    use super::short;

    #[test]
    fn in_one_row_stands_what_is_to_be_done() {
        let words = "54 mistakes so far, one row for each. ↓ chooses one.";
        assert_eq!(short(words, 80), words);
        assert_eq!(short(words, 40), "↓ chooses one.");
        assert_eq!(short("All of it in one sentence.", 5), "All of it in one sentence.");
    }
}
