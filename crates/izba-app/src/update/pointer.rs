//! The mouse: a click chooses, the wheel scrolls.

use super::effect::Effect;
use super::lines::{act_in_lines, ask_rows, go_to_row};
use super::list::select;
use super::now::act_in_now;
use super::overlay::on_overlay_key;
use crate::keymap::Action;
use crate::model::{Layout, Model, Overlay, Question, Room};

pub(super) fn on_click(model: &mut Model, column: u16, row: u16) -> Vec<Effect> {
    // What is being written is not lost by a click.
    if matches!(model.overlay, Some(crate::model::Overlay::Note(_)))
        || model.overlay.take().is_some()
    {
        return Vec::new();
    }
    if row == 0 {
        return match crate::view::room_at(model, column) {
            Some(Room::Now) => vec![Effect::Act(Action::RoomNow)],
            Some(Room::Lines) => vec![Effect::Act(Action::RoomLines)],
            Some(Room::Runs) => vec![Effect::Act(Action::RoomRuns)],
            Some(Room::Checks) => vec![Effect::Act(Action::RoomChecks)],
            Some(Room::Pause) => vec![Effect::Act(Action::RoomPause)],
            Some(Room::Values) => vec![Effect::Act(Action::RoomValues)],
            Some(Room::Notes) => vec![Effect::Act(Action::RoomNotes)],
            None => Vec::new(),
        };
    }
    if model.room == Room::Runs {
        super::runs::click(model, column, row);
        return Vec::new();
    }
    if model.room == Room::Lines {
        let top = crate::model::LINES_TOP;
        if row >= top && u64::from(row - top) < crate::model::lines_page(model) {
            let chosen = (model.lines.top + u64::from(row - top))
                .min(model.shown.snapshot.rows.saturating_sub(1));
            go_to_row(model, chosen);
            return ask_rows(model);
        }
        return Vec::new();
    }
    if matches!(model.room, Room::Pause | Room::Values) {
        return Vec::new();
    }
    let layout = Layout::of(model);
    let Some(question) = layout.question_at(column, row) else { return Vec::new() };
    model.focus = question;
    match question {
        Question::What => {
            if let Some(id) = crate::view::group_at(model, layout.what, row) {
                select(model, id);
            }
        }
        Question::Where => {
            if let Some(step) = crate::view::step_at(model, layout.where_, row) {
                model.step = step;
            }
        }
        _ => {}
    }
    Vec::new()
}

pub(super) fn on_wheel(model: &mut Model, column: u16, row: u16, by: i32) -> Vec<Effect> {
    let action = if by > 0 { Action::Down } else { Action::Up };
    if let Some(Overlay::Help(_) | Overlay::Words(_)) = model.overlay {
        return on_overlay_key(model, if by > 0 { "↓" } else { "↑" });
    }
    if model.overlay.is_some() {
        return Vec::new();
    }
    let mut effects = Vec::new();
    if model.room == Room::Runs {
        return super::runs::act(model, action);
    }
    if model.room == Room::Checks {
        return super::checks::act(model, action);
    }
    if model.room == Room::Pause {
        return super::pause::act(model, action);
    }
    if model.room == Room::Values {
        return super::values::act(model, action);
    }
    if model.room == Room::Lines {
        for _ in 0..3 {
            effects = act_in_lines(model, action);
        }
        return effects;
    }
    if let Some(question) = Layout::of(model).question_at(column, row) {
        let before = std::mem::replace(&mut model.focus, question);
        effects = act_in_now(model, action);
        if question != Question::What {
            model.focus = before;
        }
    }
    effects
}
