//! The mouse: a click chooses, the wheel scrolls.

use crate::keymap::Action;
use crate::model::{Layout, Model};
use crate::parts::effect::Effect;
use crate::{rooms, sheets};

pub(crate) fn on_click(model: &mut Model, column: u16, row: u16) -> Vec<Effect> {
    // What is being written is not lost by a click.
    if let Some(overlay) = &model.overlay {
        if sheets::closes_by_click(overlay) {
            model.overlay = None;
        }
        return Vec::new();
    }
    if row == 0 {
        let room = crate::screen::room_at(model, column).map(|room| rooms::of(room).action);
        return room.map(Effect::Act).into_iter().collect();
    }
    let footer = Layout::of(model).footer;
    if footer.contains((column, row).into()) {
        let action = crate::screen::action_at(model, footer, column);
        return action.map(Effect::Act).into_iter().collect();
    }
    (rooms::of(model.room).on_click)(model, column, row)
}

pub(crate) fn on_wheel(model: &mut Model, column: u16, row: u16, by: i32) -> Vec<Effect> {
    let action = if by > 0 { Action::Down } else { Action::Up };
    if let Some(overlay) = &model.overlay {
        let key = if by > 0 { "↓" } else { "↑" };
        return if sheets::scrolls(overlay) { sheets::on_key(model, key) } else { Vec::new() };
    }
    (rooms::of(model.room).on_wheel)(model, action, column, row)
}
