//! Room Values: what is printed under a name, over time.

pub mod chart;
pub mod update;
pub mod view;

use super::RoomKind;
use super::kind::PLAIN;
use crate::keymap::Action;
use crate::model::Room;

/// The room for this: what is printed under a name, over time.
pub static ROOM: RoomKind = RoomKind {
    room: Room::Values,
    name: "Values",
    action: Action::RoomValues,
    about: "What the program prints under a name, over time; errors of the chosen group \
        are marked.",
    open: update::open,
    silent: &[Action::Across],
    act: update::act,
    own: &[Action::Edit],
    is_lively: true,
    on_news: |model, _| update::ask(model, false),
    on_wheel: |model, action, _, _| update::act(model, action),
    drawing: |_| "values",
    copies: |model| {
        let all = model.live.values.as_ref()?;
        let series = all.series.get(model.values.row)?;
        Some(format!("{} {} = {}", series.who, series.name, series.last))
    },
    draw: view::draw,
    tells_phrase: false,
    hints: |_| {
        super::hints(&[
            (Action::Differing, ""),
            (Action::Pin, ""),
            (Action::Beside, ""),
            (Action::ReadEarlier, ""),
            (Action::Closer, ""),
            (Action::EarlierStretch, ""),
            (Action::Prints, ""),
            (Action::Deeper, "its line"),
            (Action::RoomNow, ""),
        ])
    },
    ..PLAIN
};
