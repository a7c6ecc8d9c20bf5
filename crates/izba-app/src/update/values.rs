//! Keys of room Values: a series, others beside it, the stretch of time.

use super::Effect;
use crate::keymap::Action;
use crate::model::{Model, Room};

/// The time that is shown is halved at most so often.
const ZOOM: u32 = 12;

pub(super) fn act(model: &mut Model, action: Action) -> Vec<Effect> {
    let series = model.live.values.clone().unwrap_or_default();
    let last = series.series.len().saturating_sub(1);
    let state = &mut model.values;
    state.row = state.row.min(last);
    match action {
        Action::Up => state.row = state.row.saturating_sub(1),
        Action::Down => state.row = (state.row + 1).min(last),
        Action::PageUp => state.row = state.row.saturating_sub(10),
        Action::PageDown => state.row = (state.row + 10).min(last),
        Action::First => state.row = 0,
        Action::Last => state.row = last,
        Action::Closer if state.zoom < ZOOM => (state.zoom, state.back) = (state.zoom + 1, state.back * 2),
        Action::Wider => (state.zoom, state.back) = (state.zoom.saturating_sub(1), state.back / 2),
        Action::EarlierStretch => state.back = (state.back + 1).min((1 << state.zoom) - 1),
        Action::LaterStretch => state.back = state.back.saturating_sub(1),
        Action::Beside => {
            if let Some(one) = series.series.get(state.row) {
                let key = (one.who.clone(), one.name.clone());
                if !state.beside.remove(&key) {
                    state.beside.insert(key);
                }
            }
        }
        Action::Deeper => {
            if let Some(one) = series.series.get(state.row) {
                model.room = Room::Lines;
                super::lines::go_to_row(model, one.row);
                return super::lines::ask_rows(model);
            }
        }
        Action::Back => {
            model.room = Room::Now;
            super::now::sort_list(model, false);
        }
        _ => {}
    }
    Vec::new()
}
