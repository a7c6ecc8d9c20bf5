//! The mouse: a click chooses, the wheel scrolls.

use crate::keymap::Action;
use crate::model::{Model, Overlay};
use crate::parts::effect::Effect;
use crate::rooms;
use crate::sheets::overlay_keys::on_overlay_key;

pub(crate) fn on_click(model: &mut Model, column: u16, row: u16) -> Vec<Effect> {
    // What is being written is not lost by a click.
    if matches!(model.overlay, Some(crate::model::Overlay::Note(_)))
        || model.overlay.take().is_some()
    {
        return Vec::new();
    }
    if row == 0 {
        let room = crate::screen::room_at(model, column).map(|room| rooms::of(room).action);
        return room.map(Effect::Act).into_iter().collect();
    }
    (rooms::of(model.room).on_click)(model, column, row)
}

pub(crate) fn on_wheel(model: &mut Model, column: u16, row: u16, by: i32) -> Vec<Effect> {
    let action = if by > 0 { Action::Down } else { Action::Up };
    if let Some(Overlay::Help(_) | Overlay::Words(_)) = model.overlay {
        return on_overlay_key(model, if by > 0 { "↓" } else { "↑" });
    }
    if model.overlay.is_some() {
        return Vec::new();
    }
    (rooms::of(model.room).on_wheel)(model, action, column, row)
}
