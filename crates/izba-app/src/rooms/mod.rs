//! The rooms: a folder each, with what it does (`update.rs`), how it looks (`view.rs`), and its
//! [`RoomKind`] in `mod.rs`. A new room is a folder here, its line in [`ROOMS`], and its name in
//! [`Room`].

pub mod checks;
mod kind;
pub mod lines;
pub mod notes;
pub mod now;
pub mod pause;
pub mod phrase;
pub mod runs;
pub mod values;

pub use kind::{News, RoomKind, hints};

use crate::model::{Model, Room};

/// All rooms, in the order of the bar.
pub static ROOMS: [&RoomKind; 7] = [
    &now::ROOM,
    &lines::ROOM,
    &runs::ROOM,
    &values::ROOM,
    &checks::ROOM,
    &pause::ROOM,
    &notes::ROOM,
];

/// What a room brings along: keys, help, drawing and updating.
pub fn of(room: Room) -> &'static RoomKind {
    ROOMS.iter().find(|kind| kind.room == room).unwrap_or(&ROOMS[0])
}

/// Whether going back takes the filter away first, where one holds.
pub(crate) fn back_ends_filter(model: &Model) -> bool {
    model.zoom.is_none() && (of(model.room).back_clears_phrase)(model)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::keymap::{BINDINGS, Scope, binding};

    #[test]
    fn every_room_has_a_key_a_name_and_keys_that_it_takes() {
        for (at, kind) in ROOMS.iter().enumerate() {
            assert_eq!(of(kind.room).name, kind.name, "one line for each room");
            assert!(!kind.name.is_empty() && kind.about.ends_with('.'));
            let key = binding(kind.action);
            assert!(key.action == kind.action && key.keys.contains(&(at + 1).to_string().as_str()));
            // What a room takes for itself has a key there.
            for action in kind.own {
                let here = [Scope::Everywhere, Scope::In(kind.room)];
                let bound = |b: &&crate::keymap::Binding| b.action == *action;
                let bound = BINDINGS.iter().find(bound).expect("an action has a key");
                assert!(here.contains(&bound.scope), "{}: {:?}", kind.name, action);
            }
        }
    }
}
