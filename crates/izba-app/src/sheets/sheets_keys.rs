//! Keys of the sheets of sources and of teaching.

use crate::model::{Model, Overlay, Sources, Teach};
use crate::parts::effect::{Effect, say};
use crate::parts::input::edit_input;
use izba_console::read::layout::Part;
use izba_core::LineRef;
use izba_watch::Order;
use std::sync::Arc;
use tui_input::Input;

/// Opens the sheet of sources.
pub(crate) fn open_sources(model: &mut Model) {
    model.overlay = Some(Overlay::Sources(Sources::default()));
}

/// A key on the sheet of sources.
pub(crate) fn on_sources_key(model: &mut Model, mut sheet: Sources, key: &str) -> Vec<Effect> {
    if let Some(input) = &mut sheet.adding {
        match key {
            "Esc" | "Ctrl+C" => sheet.adding = None,
            "Enter" if !input.value().trim().is_empty() => {
                let typed = input.value().trim().to_owned();
                sheet.adding = None;
                model.overlay = Some(Overlay::Sources(sheet));
                return vec![Effect::Order(Order::Add(typed))];
            }
            _ => edit_input(input, key),
        }
        model.overlay = Some(Overlay::Sources(sheet));
        return Vec::new();
    }
    let sources = model.live.snapshot.sources.len();
    let rows = if sources == 0 { model.offers.len() + 1 } else { sources };
    sheet.chosen = sheet.chosen.min(rows.saturating_sub(1));
    let chosen = sheet.chosen;
    let mut effects = Vec::new();
    match key {
        "Esc" | "c" => return Vec::new(),
        "q" | "Ctrl+C" => return vec![Effect::Act(crate::keymap::Action::Quit)],
        "↑" | "k" => sheet.chosen = chosen.saturating_sub(1),
        "↓" | "j" => sheet.chosen = (chosen + 1).min(rows.saturating_sub(1)),
        "+" => sheet.adding = Some(Input::default()),
        "Enter" if sources == 0 => match model.offers.get(chosen) {
            // What was chosen is watched, and the sheet has done its work.
            Some(offer) => return vec![Effect::Order(Order::Add(offer.clone()))],
            None => sheet.adding = Some(Input::default()),
        },
        "Enter" => {
            let last = model.live.snapshot.sources[chosen].lines;
            if last > 0 {
                return vec![Effect::Order(Order::RowOf(LineRef {
                    source: izba_core::SourceId(chosen),
                    line: last - 1,
                }))];
            }
            say(model, "it has said nothing yet");
        }
        "Space" if sources > 0 => effects.push(Effect::Order(Order::HoldSource(chosen))),
        "Delete" | "d" if sources > 0 => effects.push(Effect::Order(Order::TakeAway(chosen))),
        "w" if sources > 0 => effects.push(Effect::Order(Order::Keep)),
        _ => {}
    }
    model.overlay = Some(Overlay::Sources(sheet));
    effects
}

/// Opens the sheet that tells how the chosen line is read.
pub(crate) fn open_teach(model: &mut Model) {
    let cursor = model.lines.cursor;
    let Some(row) = model.lines.rows.iter().find(|r| r.row == cursor) else {
        return say(model, "that line is still being fetched; try once more");
    };
    let at = row.line.source.0;
    let Some(source) = model.shown.snapshot.sources.get(at) else { return };
    let text = row.text.as_str();
    let layouts = model.shown.sources.get(at).map(|s| s.layouts.as_slice()).unwrap_or_default();
    let known = layouts.iter().find(|l| l.parts(text).is_some());
    let others = model
        .lines
        .rows
        .iter()
        .filter(|r| r.line.source == row.line.source)
        .map(|r| r.text.as_str().to_owned())
        .collect();
    if text.trim().is_empty() {
        return say(model, "this line is empty");
    }
    let teach = Teach::new((at, source.name.clone()), text, known.map(Arc::as_ref), others);
    model.overlay = Some(Overlay::Teach(teach));
}

/// A key on the sheet that tells how a line is read.
pub(crate) fn on_teach_key(model: &mut Model, mut teach: Teach, key: &str) -> Vec<Effect> {
    match key {
        "Esc" | "Ctrl+C" | "q" => return Vec::new(),
        "→" => teach.step(false),
        "←" => teach.step(true),
        "↓" => teach.turn(false),
        "↑" => teach.turn(true),
        "m" => teach.set(Some(Part::Message)),
        "s" => teach.set(Some(Part::Script)),
        "n" => teach.set(Some(Part::Line)),
        "o" => teach.set(Some(Part::Object)),
        "l" => teach.set(Some(Part::Level)),
        "t" => teach.set(Some(Part::Time)),
        "x" => teach.set(None),
        "g" => teach.next_level(),
        "Enter" => match teach.layout() {
            Ok(layout) => {
                return vec![Effect::Order(Order::Teach(teach.source.0, Arc::new(layout)))];
            }
            Err(sentence) => say(model, sentence),
        },
        _ => {}
    }
    model.overlay = Some(Overlay::Teach(teach));
    Vec::new()
}
