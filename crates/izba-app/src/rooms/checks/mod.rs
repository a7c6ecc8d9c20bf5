//! Room Checks: what is found wrong without running.

pub mod ring;
pub mod update;
pub mod view;

use super::RoomKind;
use super::kind::PLAIN;
use crate::keymap::Action;
use crate::model::Room;

/// The room for this: what is found wrong without running.
pub static ROOM: RoomKind = RoomKind {
    room: Room::Checks,
    name: "Checks",
    action: Action::RoomChecks,
    about: "What is found wrong in the code and data without running them, after each save.",
    open: |model| {
        model.room = Room::Checks;
        Vec::new()
    },
    silent: &[Action::Across],
    act: update::act,
    own: &[Action::Mute, Action::Edit],
    back_clears_phrase: |_| false,
    on_wheel: |model, action, _, _| update::act(model, action),
    drawing: |model| {
        let ring = model.chosen_remark().is_some_and(|(_, r)| !r.ring.is_empty());
        if ring { "ring" } else { "ladder" }
    },
    copies: |model| {
        let (_, remark) = model.chosen_remark()?;
        Some(format!("{}:{}  {}", remark.file, remark.line, remark.text()))
    },
    draw: view::draw,
    hints: |_| {
        super::hints(&[
            (Action::Deeper, "edit the line"),
            (Action::Mute, "I know"),
            (Action::Undo, ""),
            (Action::RoomNow, ""),
        ])
    },
    ..PLAIN
};
