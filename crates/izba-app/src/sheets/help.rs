//! The sheet of help: the keys of the room, and what its signs mean.

use crate::keymap::{BINDINGS, Scope};
use crate::model::{HelpSheet, Model};
use crate::parts::effect::Effect;
use crate::parts::pen::{more_below, put, sheet};
use crate::parts::sheet::{Sheet, scrolled};
use crate::rooms;
use crate::theme::Ink;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};

impl Sheet for HelpSheet {
    const CLOSED_BY: &'static [&'static str] = &["Esc", "?", "q", "Enter"];
    const WHEEL: bool = true;

    fn draw(&self, model: &Model, area: Rect, buf: &mut Buffer) {
        help(model, self.0, area, buf);
    }

    fn on_key(self, model: &mut Model, key: &str) -> Vec<Effect> {
        HelpSheet(scrolled(key, self.0, BINDINGS.len(), 10)).stay(model)
    }
}

fn help(model: &Model, scroll: usize, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let kind = rooms::of(model.room);
    let (room, scope, about) = (kind.name, Scope::In(model.room), kind.about);
    let bindings: Vec<_> = BINDINGS
        .iter()
        .filter(|b| {
            b.scope == scope
                || b.scope == Scope::Everywhere
                || (model.demo && b.scope == Scope::Demo)
        })
        .collect();
    let height = bindings.len() as u16 + 7;
    let inner = sheet(model, area, 104, height, &format!("Keys in room {room}"), "Esc closes", buf);
    let mut rows: Vec<Vec<(String, Style)>> =
        vec![vec![(about.to_owned(), theme.ink(Ink::Chalk))], Vec::new()];
    for binding in &bindings {
        let keys = binding.keys.join(" ");
        rows.push(vec![
            (format!("{keys:>10}  "), theme.ink(Ink::Ice).add_modifier(Modifier::BOLD)),
            (binding.help.to_owned(), theme.ink(Ink::Chalk)),
        ]);
    }
    rows.push(Vec::new());
    rows.push(
        [
            ("◆", Ink::Ember),
            (" error  ", Ink::Smoke),
            ("◇", Ink::Straw),
            (" warning  ", Ink::Smoke),
            ("✦", Ink::Ember),
            (" fatal  ", Ink::Smoke),
            ("▴", Ink::Heather),
            (" a save  ", Ink::Smoke),
            ("┊", Ink::Smoke),
            (" goes on; steps outside your files", Ink::Smoke),
        ]
        .map(|(t, i)| (t.to_owned(), theme.ink(i)))
        .to_vec(),
    );
    let room = usize::from(inner.height);
    let scroll = scroll.min(rows.len().saturating_sub(room));
    for (at, row) in rows.iter().skip(scroll).take(room).enumerate() {
        let pieces: Vec<(&str, Style)> = row.iter().map(|(t, s)| (t.as_str(), *s)).collect();
        put(buf, inner.x, inner.y + at as u16, inner.width, &pieces);
    }
    if rows.len() > scroll + room {
        more_below(model, inner, buf);
    }
}
