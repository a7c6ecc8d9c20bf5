//! Room Runs: groups over the runs of their source.

pub mod update;
pub mod view;

use super::RoomKind;
use super::kind::PLAIN;
use crate::keymap::Action;
use crate::model::Room;

/// The room for this: groups over the runs of their source.
pub static ROOM: RoomKind = RoomKind {
    room: Room::Runs,
    name: "Runs",
    action: Action::RoomRuns,
    about: "Each mistake over the runs of its source: what is new, still there, quiet or back.",
    open: |model| {
        update::open(model);
        Vec::new()
    },
    act: update::act,
    sort: |model, _| update::sort_runs(model),
    on_click: |model, column, row| {
        update::click(model, column, row);
        Vec::new()
    },
    on_wheel: |model, action, _, _| update::act(model, action),
    drawing: |_| "runs",
    copies: super::now::sentence_of_chosen,
    draw: view::draw,
    hints: |model| {
        let mut keys = vec![(Action::Earlier, "earlier"), (Action::Later, "later")];
        keys.extend([(Action::Deeper, "open the run"), (Action::Compare, "")]);
        if model.live.can_run_again {
            keys.push((Action::Again, ""));
        }
        keys.extend([(Action::Filter, ""), (Action::RoomNow, "")]);
        super::hints(&keys)
    },
    ..PLAIN
};
