//! The sheet of words: what the words of the chosen error mean.

use crate::model::{Model, WordsSheet};
use crate::parts::effect::Effect;
use crate::parts::pen::{more_below, put, sheet};
use crate::parts::sheet::{Sheet, scrolled};
use crate::theme::Ink;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;

impl Sheet for WordsSheet {
    const CLOSED_BY: &'static [&'static str] = &["Esc", "d", "q", "Enter"];
    const WHEEL: bool = true;

    fn draw(&self, model: &Model, area: Rect, buf: &mut Buffer) {
        words(model, self.0, area, buf);
    }

    fn on_key(self, model: &mut Model, key: &str) -> Vec<Effect> {
        let rows = word_rows(model).len();
        WordsSheet(scrolled(key, self.0, rows, 10)).stay(model)
    }
}

/// The width in which meanings are set.
const WORDS_WIDTH: u16 = 84;

/// The words of the chosen error that the glossary knows, each with its meaning below it.
fn word_rows(model: &Model) -> Vec<(Ink, String)> {
    let Some(group) = model.selected() else { return Vec::new() };
    let mut text = crate::rooms::now::why::whole(model, group);
    if let Some(line) = &group.entry.line_text {
        text.push_str(line);
    }
    let mut rows = Vec::new();
    for (word, meaning) in izba_cause::explain::glossary(&text) {
        rows.push((Ink::Chalk, word.to_owned()));
        rows.extend(
            izba_model::text::wrap(meaning, usize::from(WORDS_WIDTH - 8))
                .into_iter()
                .map(|l| (Ink::Smoke, format!("  {l}"))),
        );
    }
    rows
}

fn words(model: &Model, scroll: usize, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let rows = word_rows(model);
    let inner = sheet(
        model,
        area,
        WORDS_WIDTH,
        (rows.len() as u16 + 4).clamp(5, 34),
        "What the words mean",
        "Esc closes",
        buf,
    );
    if rows.is_empty() {
        let words = if model.selected().is_some() {
            "No word of this error is in the list of words."
        } else {
            "Choose an error first."
        };
        put(buf, inner.x, inner.y, inner.width, &[(words, theme.ink(Ink::Smoke))]);
    }
    let room = usize::from(inner.height);
    let scroll = scroll.min(rows.len().saturating_sub(room));
    for (at, (ink, row)) in rows.iter().skip(scroll).take(room).enumerate() {
        put(buf, inner.x, inner.y + at as u16, inner.width, &[(row, theme.ink(*ink))]);
    }
    if rows.len() > scroll + room {
        more_below(model, inner, buf);
    }
}
