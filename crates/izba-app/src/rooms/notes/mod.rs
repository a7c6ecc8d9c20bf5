//! Room Notes: what the user wrote about errors.

mod sheet;
pub mod update;
pub mod view;

use super::RoomKind;
use super::kind::PLAIN;
use crate::keymap::Action;
use crate::model::Room;

/// The room for this: what the user wrote about errors.
pub static ROOM: RoomKind = RoomKind {
    room: Room::Notes,
    name: "Notes",
    action: Action::RoomNotes,
    about: "What you wrote about errors; it is offered when one like them appears.",
    open: update::open,
    silent: &[Action::Across],
    act: |model, action| match action {
        Action::Filter => {
            model.notes.typing = true;
            Vec::new()
        }
        _ => update::act(model, action),
    },
    own: &[Action::Filter, Action::Edit, Action::Mute, Action::Undo],
    back_clears_phrase: |_| false,
    input: |model| model.notes.typing.then_some(&mut model.notes.search),
    on_typing: |model, key| model.notes.typing.then(|| update::on_search_key(model, key)),
    on_wheel: |model, action, _, _| update::act(model, action),
    copies: |model| model.notes().get(model.notes.row).map(|k| k.note.body.clone()),
    draw: view::draw,
    tells_phrase: false,
    hints: |_| {
        super::hints(&[
            (Action::Deeper, "write in it"),
            (Action::Edit, "edit the file"),
            (Action::Mute, "take it away"),
            (Action::Filter, "look for words"),
            (Action::RoomNow, ""),
        ])
    },
    ..PLAIN
};
