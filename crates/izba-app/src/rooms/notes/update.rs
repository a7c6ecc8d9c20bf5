//! Notes: the room, and the sheet on which one is written.

use crate::keymap::Action;
use crate::model::{Model, NoteSheet, Overlay, Room};
use crate::parts::effect::{Effect, say};
use crate::parts::input::edit_input;
use izba_core::notes::Note;
use izba_watch::Order;
use ratatui_textarea::{CursorMove, TextArea, WrapMode};
use std::path::PathBuf;

/// What the line of tags begins with.
const TAGS: &str = "Tags:";

/// Opens the room; the notes are read again, since they are files that anybody may change.
pub(crate) fn open(model: &mut Model) -> Vec<Effect> {
    model.room = Room::Notes;
    vec![Effect::Order(Order::ReadNotes)]
}

/// Asks for a note about the chosen error; in the room, the chosen note itself.
pub(crate) fn note(model: &mut Model) -> Vec<Effect> {
    if model.room == Room::Notes {
        let chosen = model.notes().get(model.notes.row).map(|k| (k.note.clone(), k.path.clone()));
        match chosen {
            Some((note, path)) => write(model, note, Some(path)),
            None => say(
                model,
                "there is no note here yet; in room Now w writes one about the chosen error",
            ),
        }
        return Vec::new();
    }
    match model.selected().map(|g| g.id) {
        Some(group) => vec![Effect::Order(Order::Note(group))],
        None => {
            say(model, "there is no error to write a note about");
            Vec::new()
        }
    }
}

/// Opens the sheet on a note.
pub(crate) fn write(model: &mut Model, note: Note, path: Option<PathBuf>) {
    let before = text_of(&note);
    let mut area = TextArea::new(before.lines().map(str::to_owned).collect());
    area.set_wrap_mode(WrapMode::Word);
    // To where writing begins: below the first heading, or the end of what is there.
    let first = before.lines().position(|l| l.starts_with("## ")).map_or(0, |at| at + 2);
    for _ in 0..first {
        area.move_cursor(CursorMove::Down);
    }
    area.move_cursor(CursorMove::End);
    model.overlay =
        Some(Overlay::Note(Box::new(NoteSheet { head: note.head, path, area, before })));
}

fn text_of(note: &Note) -> String {
    format!("{TAGS} {}\n\n{}\n", note.head.tags.join(", "), note.body.trim_end())
}

/// The note that stands on the sheet.
pub(super) fn note_of(sheet: &NoteSheet) -> Note {
    let lines = sheet.area.lines();
    let mut head = sheet.head.clone();
    let tagged = lines.first().and_then(|l| l.trim().strip_prefix(TAGS));
    if let Some(tags) = tagged {
        head.tags = tags
            .split([',', ' '])
            .map(str::trim)
            .filter(|t| !t.is_empty())
            .map(str::to_owned)
            .collect();
    }
    let body = lines
        .iter()
        .skip(usize::from(tagged.is_some()))
        .map(|l| l.trim_end())
        .collect::<Vec<_>>()
        .join("\n");
    Note { head, body: body.trim_matches('\n').to_owned() }
}

/// A key while something is looked for.
pub(crate) fn on_search_key(model: &mut Model, key: &str) -> Vec<Effect> {
    match key {
        "Enter" => model.notes.typing = false,
        "Esc" | "Ctrl+C" => {
            (model.notes.typing, model.notes.search) = (false, tui_input::Input::default())
        }
        "↑" | "↓" => {
            return vec![Effect::Act(if key == "↑" { Action::Up } else { Action::Down })];
        }
        _ => {
            edit_input(&mut model.notes.search, key);
            (model.notes.row, model.notes.scroll) = (0, 0);
        }
    }
    Vec::new()
}

/// What is done in the room.
pub(crate) fn act(model: &mut Model, action: Action) -> Vec<Effect> {
    let last = model.notes().len().saturating_sub(1);
    let state = &mut model.notes;
    state.row = state.row.min(last);
    let row = state.row;
    match action {
        Action::Up => state.row = row.saturating_sub(1),
        Action::Down => state.row = (row + 1).min(last),
        Action::First => state.row = 0,
        Action::Last => state.row = last,
        Action::PageUp => state.scroll = state.scroll.saturating_sub(10),
        Action::PageDown => state.scroll += 10,
        Action::Deeper => return note(model),
        Action::Edit => {
            let path = model.notes().get(row).map(|k| k.path.clone());
            if let Some(path) = path {
                // Read again when the room is opened or a note is kept; an editor may be another
                // window.
                return vec![
                    Effect::Edit { file: path.to_string_lossy().into_owned(), line: 1, column: 1 },
                    Effect::Order(Order::ReadNotes),
                ];
            }
        }
        Action::Mute => {
            let path = model.notes().get(row).map(|k| k.path.clone());
            match path {
                Some(path) => return vec![Effect::Order(Order::DropNote(path))],
                None => say(model, "there is no note here to take away"),
            }
        }
        Action::Undo => return vec![Effect::Order(Order::BringNoteBack)],
        Action::Back if !state.search.value().is_empty() => {
            state.search = tui_input::Input::default()
        }
        Action::Back => return vec![Effect::Act(Action::RoomNow)],
        _ => {}
    }
    if model.notes.row != row {
        model.notes.scroll = 0;
    }
    Vec::new()
}
