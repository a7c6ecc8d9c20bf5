//! Room Pause: the program, stopped.

pub mod breakpoint;
pub mod rows;
pub mod update;
pub mod view;

use super::RoomKind;
use super::kind::PLAIN;
use crate::keymap::Action;
use crate::model::Room;

/// The room for this: the program, stopped.
pub static ROOM: RoomKind = RoomKind {
    room: Room::Pause,
    name: "Pause",
    action: Action::RoomPause,
    about: "The program, stopped: what has which value there, and how to go on from line to line.",
    open: update::open,
    silent: &[Action::Across],
    act: |model, action| match action {
        Action::Filter => {
            update::filter(model);
            Vec::new()
        }
        Action::Edit => update::edit(model),
        _ => update::act(model, action),
    },
    own: &[Action::Filter, Action::Edit, Action::Mute],
    back_clears_phrase: |_| false,
    input: |model| model.pause.typing.then_some(&mut model.pause.filter),
    on_typing: |model, key| model.pause.typing.then(|| update::on_filter_key(model, key)),
    is_lively: true,
    on_news: |model, _| update::after_news(model),
    on_wheel: |model, action, _, _| update::act(model, action),
    drawing: super::now::path_or_ladder,
    copies: update::copied,
    draw: view::draw,
    tells_phrase: false,
    hints: |model| {
        let stopped = [
            (Action::GoOn, ""),
            (Action::Over, ""),
            (Action::Into, ""),
            (Action::Out, ""),
            (Action::OneTick, ""),
            (Action::Deeper, "open"),
            (Action::Breakpoint, ""),
            (Action::AsTable, ""),
            (Action::NextPane, ""),
            (Action::RoomNow, ""),
        ];
        let running = [
            (Action::PauseNow, ""),
            (Action::StopsAt, ""),
            (Action::Deeper, "change it"),
            (Action::Mute, "take it off"),
            (Action::RoomNow, ""),
        ];
        let stop = model.live.pause.state.stop.is_some();
        super::hints(if stop { &stopped } else { &running })
    },
    ..PLAIN
};
