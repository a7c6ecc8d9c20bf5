//! Room Lines: everything as it arrived.

mod layout;
mod opened;
pub mod update;
pub mod view;

use super::kind::PLAIN;
use super::{News, RoomKind, phrase};
use crate::keymap::Action;
use crate::model::{Model, Room};
use crate::parts::effect::Effect;
use update::{act_in_lines, ask_rows, go_to_row, on_find_key, order_rows};

/// The room for this: everything as it arrived.
pub static ROOM: RoomKind = RoomKind {
    room: Room::Lines,
    name: "Lines",
    action: Action::RoomLines,
    about: "Everything as it arrived. Marked lines belong to an error or a warning.",
    open,
    act: act_in_lines,
    own: &[Action::Edit],
    input: |model| model.lines.find.as_mut().filter(|f| f.typing).map(|f| &mut f.input),
    on_typing: |model, key| {
        let typing = model.lines.find.as_ref().is_some_and(|f| f.typing);
        typing.then(|| on_find_key(model, key))
    },
    on_news: news,
    on_click: |model, _, row| {
        let Some(row) = layout::row_at(model, row) else { return Vec::new() };
        go_to_row(model, row);
        ask_rows(model)
    },
    on_wheel: |model, action, _, _| {
        (0..2).for_each(|_| drop(act_in_lines(model, action)));
        act_in_lines(model, action)
    },
    copies: |model| {
        let row = model.lines.rows.iter().find(|r| r.row == model.lines.cursor)?;
        Some(row.text.as_str().to_owned())
    },
    draw: view::draw,
    hints: |model| {
        let mut keys = vec![(Action::Deeper, "its mistake"), (Action::Filter, "")];
        if model.filter.phrase.is_some() {
            keys.push((Action::Peek, if model.peek { "hide again" } else { "" }));
        }
        keys.extend([(Action::NextError, ""), (Action::Find, "")]);
        keys.push((Action::Wrap, if model.lines.wrapped { "one row each" } else { "" }));
        let opened = model.lines.opened.is_some_and(|row| row == model.lines.cursor);
        keys.push((Action::OpenHere, if opened { "close it" } else { "" }));
        keys.push((Action::FoldErrors, if model.lines.folded { "unfold" } else { "" }));
        keys.extend([(Action::Copy, ""), (Action::Teach, "")]);
        keys.push((Action::Last, "newest"));
        keys.push((Action::Hold, if model.held { "go on" } else { "hold" }));
        keys.push((Action::RoomNow, ""));
        super::hints(&keys)
    },
    ..PLAIN
};

fn open(model: &mut Model) -> Vec<Effect> {
    model.room = Room::Lines;
    if let Some(phrase) = model.line_filter().cloned() {
        return phrase::set(model, Some(phrase));
    }
    if model.lines.folded {
        return update::ask_matching(model);
    }
    // What was not understood is shown first, where nothing else was told of this run.
    let overlooked = model.shown.snapshot.overlooked.filter(|_| model.tally().0 == 0);
    if let Some(row) = overlooked.filter(|_| model.lines.follow) {
        go_to_row(model, row);
    }
    // Rows that are still at hand may have been read before their groups were known.
    let effects = ask_rows(model);
    if effects.is_empty() { order_rows(model) } else { effects }
}

fn news(model: &mut Model, News { grew, regrouped }: News) -> Vec<Effect> {
    if model.lines.folded && grew && model.lines.follow && model.line_filter().is_none() {
        return update::ask_matching(model);
    }
    if update::is_sieved(model) || !(regrouped || grew && model.lines.follow) {
        return Vec::new();
    }
    let effects = ask_rows(model);
    if regrouped && effects.is_empty() { order_rows(model) } else { effects }
}
