//! The sheet of drawings: which, in which form, on which ground.

use crate::keymap::Action;
use crate::model::{DrawSheet, Model, Overlay, Room};
use crate::parts::effect::{Effect, say};
use crate::rooms;
use izba_draw::{Form, Look, Setting, write};
use izba_watch::drawing::{DRAWINGS, Known, Subject};

/// Opens the sheet on the drawing that fits the room.
pub(crate) fn open(model: &mut Model) {
    let id = (rooms::of(model.room).drawing)(model);
    let chosen = DRAWINGS.iter().position(|k| k.id == id).unwrap_or(0);
    model.overlay = Some(Overlay::Draw(DrawSheet { chosen, paper: false }));
}

/// A key on the sheet.
pub(crate) fn on_key(model: &mut Model, mut sheet: DrawSheet, key: &str) -> Vec<Effect> {
    let form = match key {
        "Esc" | "q" | "D" => return Vec::new(),
        "Ctrl+C" => return vec![Effect::Act(Action::Interrupt)],
        "s" | "Enter" => Some(Form::Svg),
        "p" => Some(Form::Pdf),
        "c" => Some(Form::Csv),
        "j" => Some(Form::Jsonl),
        _ => None,
    };
    match key {
        "↑" | "k" => sheet.chosen = sheet.chosen.saturating_sub(1),
        "↓" => sheet.chosen = (sheet.chosen + 1).min(DRAWINGS.len() - 1),
        "l" => sheet.paper = !sheet.paper,
        _ => {}
    }
    if let Some(form) = form {
        let known = &DRAWINGS[sheet.chosen];
        match drawn(model, known, form, sheet.paper) {
            Ok(bytes) => {
                let ending = Form::ALL.iter().find(|(_, f)| *f == form).map_or("svg", |(e, _)| e);
                return vec![Effect::KeepFile(bytes, known.id, ending)];
            }
            Err(sentence) => say(model, sentence),
        }
    }
    model.overlay = Some(Overlay::Draw(sheet));
    Vec::new()
}

fn drawn(model: &Model, known: &Known, form: Form, paper: bool) -> Result<Vec<u8>, String> {
    let live = &model.live;
    let names = match known.id {
        "values" => value_names(model),
        "ladder" if model.room == Room::Checks => model
            .remarks()
            .into_iter()
            .find(|r| model.remark.as_ref().is_none_or(|key| *key == r.key()))
            .map(|r| r.file.to_string())
            .into_iter()
            .collect(),
        _ => Vec::new(),
    };
    let setting = Setting {
        project: live.snapshot.project.name().to_owned(),
        now: live.snapshot.now,
        utc_offset: model.utc_offset,
        by_lines: false,
    };
    let subject = Subject {
        snapshot: &live.snapshot,
        code: &live.code,
        values: live.values.as_deref(),
        group: model.selected(),
        source: model.runs.source,
        names: &names,
        setting,
    };
    let drawing = known.draw(&subject)?;
    write(&drawing, form, if paper { Look::Paper } else { Look::Dusk }).map_err(|e| e.to_string())
}

/// The chosen value and those that are drawn beside it.
fn value_names(model: &Model) -> Vec<String> {
    let all = model.live.values.as_ref().map_or(&[][..], |v| v.series.as_slice());
    let chosen = all.get(model.values.row.min(all.len().saturating_sub(1)));
    let beside =
        all.iter().filter(|s| model.values.beside.contains(&(s.who.clone(), s.name.clone())));
    let mut names: Vec<String> =
        chosen.into_iter().chain(beside).map(|s| format!("{} {}", s.who, s.name)).collect();
    names.dedup();
    names
}
