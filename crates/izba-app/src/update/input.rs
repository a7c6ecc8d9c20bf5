//! Typing into whatever takes text.

use crate::model::{Model, Overlay, Room};
use tui_input::{Input, InputRequest};

pub(super) fn edit_input(input: &mut Input, key: &str) {
    let request = match key {
        "Backspace" => InputRequest::DeletePrevChar,
        "Delete" => InputRequest::DeleteNextChar,
        "←" => InputRequest::GoToPrevChar,
        "→" => InputRequest::GoToNextChar,
        "Home" => InputRequest::GoToStart,
        "End" => InputRequest::GoToEnd,
        "Space" => InputRequest::InsertChar(' '),
        _ => match key.chars().next() {
            Some(c) if key.chars().count() == 1 => InputRequest::InsertChar(c),
            _ => return,
        },
    };
    input.handle(request);
}

pub(super) fn type_char(model: &mut Model, c: char) {
    if let Some(Overlay::Note(sheet)) = &mut model.overlay {
        sheet.area.insert_char(c);
        return;
    }
    let typing_find = model.room == Room::Lines && model.overlay.is_none();
    let input = match &mut model.overlay {
        Some(
            Overlay::Palette(input, _)
            | Overlay::Reply(input)
            | Overlay::GoTo(input)
            | Overlay::NameFilter(input)
            | Overlay::Watch(input)
            | Overlay::SetValue(_, _, input),
        ) => Some(input),
        Some(Overlay::Break(sheet)) => sheet.input(),
        None if model.room == Room::Notes && model.notes.typing => Some(&mut model.notes.search),
        None if model.room == Room::Pause && model.pause.typing => Some(&mut model.pause.filter),
        Some(Overlay::Sources(sheet)) => sheet.adding.as_mut(),
        None if model.filter.typing => Some(&mut model.filter.input),
        _ => model.lines.find.as_mut().filter(|f| f.typing && typing_find).map(|f| &mut f.input),
    };
    if let Some(input) = input {
        input.handle(InputRequest::InsertChar(c));
    }
}
