//! The sheet of help: the keys of the room, and what its signs mean.

use crate::keymap::{Action, Binding, Scope, bindings};
use crate::model::{HelpSheet, Model, Room};
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
        // Its groups have a title and a line before it.
        HelpSheet(scrolled(key, self.0, bindings().len() + 12, 10)).stay(model)
    }
}

/// What a beginner needs, in the order in which it is needed.
const FIRST: &[Action] =
    &[Action::Down, Action::Deeper, Action::Edit, Action::Again, Action::Undo, Action::Quit];

const ROOMS: &[Action] = &[
    Action::RoomNow,
    Action::RoomLines,
    Action::RoomRuns,
    Action::RoomValues,
    Action::RoomChecks,
    Action::RoomPause,
    Action::RoomNotes,
];

/// What one knows or wants, kept for the next time.
const DECIDED: &[Action] = &[
    Action::Mute,
    Action::MuteFiltered,
    Action::Fixed,
    Action::KeepFilter,
    Action::FromHere,
    Action::Note,
];

/// The keys of a room by groups, each with its title; each key stands once.
fn groups(room: Room, demo: bool) -> Vec<(String, Vec<&'static Binding>)> {
    let here = |b: &&Binding| match b.scope {
        Scope::Everywhere => true,
        Scope::In(one) => one == room,
        Scope::Demo => demo,
    };
    let of = |actions: &[Action]| -> Vec<&'static Binding> {
        actions.iter().filter_map(|a| bindings().iter().find(|b| b.action == *a)).collect()
    };
    let mut found = vec![
        ("To begin with".to_owned(), of(FIRST)),
        (format!("In room {}", rooms::of(room).name), Vec::new()),
        ("What you decide".to_owned(), of(DECIDED)),
        ("The rooms".to_owned(), of(ROOMS)),
        ("All else".to_owned(), Vec::new()),
    ];
    for binding in bindings().iter().filter(here) {
        if found.iter().any(|(_, of)| of.iter().any(|b| b.action == binding.action)) {
            continue;
        }
        let group = if binding.scope == Scope::Everywhere { 4 } else { 1 };
        found[group].1.push(binding);
    }
    found.retain(|(_, of)| !of.is_empty());
    found
}

fn help(model: &Model, scroll: usize, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let kind = rooms::of(model.room);
    let (room, about) = (kind.name, kind.about);
    let mut rows: Vec<Vec<(String, Style)>> = vec![vec![(about.to_owned(), theme.ink(Ink::Chalk))]];
    for (title, bindings) in groups(model.room, model.demo) {
        rows.push(Vec::new());
        rows.push(vec![(title, theme.ink(Ink::Smoke))]);
        for binding in bindings {
            let keys = binding.keys.join(" ");
            rows.push(vec![
                (format!("{keys:>10}  "), theme.ink(Ink::Ice).add_modifier(Modifier::BOLD)),
                (binding.help.to_owned(), theme.ink(Ink::Chalk)),
            ]);
        }
    }
    let height = rows.len() as u16 + 4;
    let inner = sheet(model, area, 104, height, &format!("Keys in room {room}"), "Esc closes", buf);
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

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn each_key_of_a_room_stands_once_and_the_first_ones_first() {
        for kind in rooms::ROOMS {
            let groups = groups(kind.room, true);
            assert_eq!(groups[0].0, "To begin with");
            let mut told: Vec<Action> =
                groups.iter().flat_map(|(_, of)| of.iter().map(|b| b.action)).collect();
            let count = told.len();
            told.sort_by_key(|a| format!("{a:?}"));
            told.dedup();
            assert_eq!(told.len(), count, "{}", kind.name);
            let here = |b: &&Binding| match b.scope {
                Scope::In(room) => room == kind.room,
                _ => true,
            };
            let missing: Vec<_> =
                bindings().iter().filter(here).filter(|b| !told.contains(&b.action)).collect();
            assert!(missing.is_empty(), "{}: {missing:?}", kind.name);
        }
    }
}
