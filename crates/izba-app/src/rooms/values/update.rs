//! Keys of room Values: a series, others beside it, the stretch of time.

use crate::keymap::Action;
use crate::model::{Model, PrintsSheet, Room};
use crate::parts::effect::{Effect, say};
use izba_core::Wish;
use izba_core::values::{pin_key, printed_by};
use izba_watch::Order;

/// The time that is shown is halved at most so often.
const ZOOM: u32 = 12;
/// The moment that is read off moves by one of so many parts of the stretch.
const READ_STEPS: i64 = 60;

/// Opens the room; the engine thread looks for values from then on, and for what differs before the
/// chosen error.
pub(crate) fn open(model: &mut Model) -> Vec<Effect> {
    model.room = Room::Values;
    ask(model, true)
}

/// Asks for what differs before the chosen error, where that is another one than before.
pub(crate) fn ask(model: &mut Model, anyway: bool) -> Vec<Effect> {
    let group = model.selected().map(|g| g.id);
    if !anyway && group == model.values.asked {
        return Vec::new();
    }
    (model.values.asked, model.values.differing) = (group, 0);
    vec![Effect::Order(Order::Values(group))]
}

pub(crate) fn act(model: &mut Model, action: Action) -> Vec<Effect> {
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
        Action::Closer if state.zoom < ZOOM => {
            (state.zoom, state.back) = (state.zoom + 1, state.back * 2)
        }
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
        Action::Pin => {
            if let Some(one) = series.series.get(state.row) {
                let key = pin_key(&one.who, &one.name);
                let on = !model.live.known.contains(&key);
                let said = if on {
                    format!("{} is pinned to room Now; u takes it back", one.name)
                } else {
                    format!("{} is pinned no longer", one.name)
                };
                return vec![Effect::Order(Order::Wish(vec![Wish::Known(key, on)], said))];
            }
        }
        Action::ReadEarlier | Action::ReadLater => {
            if let Some(one) = series.series.get(state.row) {
                let (from, to) = super::chart::stretch(model, &[one]);
                let step = ((to - from) / READ_STEPS).max(1);
                let read = model.values.read.unwrap_or(to + step);
                let read = if action == Action::ReadEarlier { read - step } else { read + step };
                model.values.read = Some(read.clamp(from, to));
            }
        }
        Action::Differing => {
            let Some(differing) = &series.differing else {
                say(model, "no error is chosen, or it was not looked into yet");
                return Vec::new();
            };
            let found = differing.before.as_ref().map_or(&[][..], |b| b.found.as_slice());
            let next = found
                .get(state.differing % found.len().max(1))
                .and_then(|f| differing.series.get(f.series));
            let row = next.and_then(|n| {
                series
                    .series
                    .iter()
                    .position(|s| (s.source, &s.who, &s.name) == (n.source, &n.who, &n.name))
            });
            match row {
                Some(row) => (state.row, state.differing) = (row, state.differing + 1),
                None => say(model, "no value stands out before this error so far"),
            }
        }
        Action::Prints => model.overlay = Some(PrintsSheet(0).into()),
        Action::Edit => {
            let Some(one) = series.series.get(state.row) else { return Vec::new() };
            let Some(print) = printed_by(&model.live.code.prints, &one.line) else {
                say(model, format!("no print in your files was found that tells {}", one.name));
                return Vec::new();
            };
            return vec![Effect::Edit {
                file: print.file.to_string(),
                line: print.line,
                column: 1,
            }];
        }
        Action::Back if state.read.is_some() => state.read = None,
        Action::Deeper => {
            if let Some(one) = series.series.get(state.row) {
                model.room = Room::Lines;
                return crate::rooms::lines::update::show_row(model, one.row);
            }
        }
        Action::Back => {
            model.room = Room::Now;
            crate::parts::list::sort_list(model, false);
        }
        _ => {}
    }
    Vec::new()
}
