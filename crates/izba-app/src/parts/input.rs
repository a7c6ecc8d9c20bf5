//! Typing into whatever takes text.

use tui_input::{Input, InputRequest};

pub(crate) fn edit_input(input: &mut Input, key: &str) {
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
