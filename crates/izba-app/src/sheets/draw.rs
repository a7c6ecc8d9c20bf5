//! The sheet of drawings: which, in which form, on which ground.

use crate::model::{DrawSheet, Model, Overlay, Room};
use crate::parts::effect::{Effect, say};
use crate::parts::pen::{put, sheet};
use crate::parts::sheet::Sheet;
use crate::rooms;
use crate::theme::{Ground, Ink};
use izba_draw::{Form, Look, Setting, write};
use izba_watch::drawing::{DRAWINGS, Known, Subject};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};

/// Opens the sheet on the drawing that fits the room.
pub(crate) fn open(model: &mut Model) {
    let id = (rooms::of(model.room).drawing)(model);
    let chosen = DRAWINGS.iter().position(|k| k.id == id).unwrap_or(0);
    model.overlay = Some(Overlay::Draw(DrawSheet { chosen, paper: false }));
}

impl Sheet for DrawSheet {
    const CLOSED_BY: &'static [&'static str] = &["Esc", "q", "D"];

    fn draw(&self, model: &Model, area: Rect, buf: &mut Buffer) {
        draw(model, self, area, buf);
    }

    fn on_key(mut self, model: &mut Model, key: &str) -> Vec<Effect> {
        let form = match key {
            "Enter" => Some(Form::Svg),
            "p" => Some(Form::Pdf),
            "c" => Some(Form::Csv),
            "j" => Some(Form::Jsonl),
            _ => None,
        };
        match key {
            "↑" | "k" => self.chosen = self.chosen.saturating_sub(1),
            "↓" => self.chosen = (self.chosen + 1).min(DRAWINGS.len() - 1),
            "o" => self.paper = !self.paper,
            _ => {}
        }
        if let Some(form) = form {
            let known = &DRAWINGS[self.chosen];
            match drawn(model, known, form, self.paper) {
                Ok(bytes) => {
                    let ending =
                        Form::ALL.iter().find(|(_, f)| *f == form).map_or("svg", |(e, _)| e);
                    return vec![Effect::KeepFile(bytes, known.id, ending)];
                }
                Err(sentence) => say(model, sentence),
            }
        }
        self.stay(model)
    }
}

fn draw(model: &Model, state: &DrawSheet, area: Rect, buf: &mut Buffer) {
    let theme = model.theme;
    let (chalk, smoke, ice) = (theme.ink(Ink::Chalk), theme.ink(Ink::Smoke), theme.ink(Ink::Ice));
    let inner = sheet(model, area, 92, DRAWINGS.len() as u16 + 8, "Draw", "Esc closes", buf);
    for (at, known) in DRAWINGS.iter().enumerate() {
        let y = inner.y + 1 + at as u16;
        if y >= inner.bottom() {
            return;
        }
        if at == state.chosen {
            buf.set_style(Rect::new(inner.x, y, inner.width, 1), theme.ground(Ground::Bench));
        }
        put(
            buf,
            inner.x,
            y,
            inner.width,
            &[(&format!("{:<9}", known.id), ice), (known.says, chalk)],
        );
    }
    let ground =
        if state.paper { "on white, to be printed" } else { "in the colours of the screen" };
    put(buf, inner.x, inner.bottom().saturating_sub(2), inner.width, &[(ground, smoke)]);
    let key = ice.add_modifier(Modifier::BOLD);
    let keys: &[(&str, Style)] = &[
        ("Enter", key),
        (" SVG   ", smoke),
        ("p", key),
        (" PDF   ", smoke),
        ("c", key),
        (" its numbers as CSV   ", smoke),
        ("j", key),
        (" as JSON lines   ", smoke),
        ("o", key),
        (if state.paper { " dark" } else { " light" }, smoke),
    ];
    put(buf, inner.x, inner.bottom().saturating_sub(1), inner.width, keys);
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
