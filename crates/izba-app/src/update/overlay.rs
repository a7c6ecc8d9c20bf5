//! Keys while something lies over the room, and typing into its input.

use super::{Effect, act, say};
use crate::keymap::{Action, BINDINGS};
use crate::model::{Model, Overlay, Room};
use crate::watch::Order;
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
    let typing_find = model.room == Room::Lines && model.overlay.is_none();
    let input = match &mut model.overlay {
        Some(Overlay::Palette(input, _) | Overlay::Reply(input)) => Some(input),
        _ => model.lines.find.as_mut().filter(|f| f.typing && typing_find).map(|f| &mut f.input),
    };
    if let Some(input) = input {
        input.handle(InputRequest::InsertChar(c));
    }
}

pub(super) fn on_overlay_key(model: &mut Model, key: &str) -> Vec<Effect> {
    let Some(overlay) = model.overlay.take() else { return Vec::new() };
    match overlay {
        Overlay::Help(scroll) => match key {
            "Esc" | "?" | "q" | "Enter" => {}
            "Ctrl+C" => return act(model, Action::Interrupt),
            "↑" | "k" => model.overlay = Some(Overlay::Help(scroll.saturating_sub(1))),
            "↓" | "j" => model.overlay = Some(Overlay::Help((scroll + 1).min(BINDINGS.len()))),
            _ => model.overlay = Some(Overlay::Help(scroll)),
        },
        Overlay::AskQuit => match key {
            "q" | "y" | "Enter" | "Ctrl+C" => return vec![Effect::Quit],
            "Esc" | "n" => {}
            _ => model.overlay = Some(Overlay::AskQuit),
        },
        Overlay::Reply(mut input) => match key {
            "Esc" | "Ctrl+C" => {}
            "Enter" => {
                let text = format!("{}\n", input.value());
                say(model, "sent to the program");
                return vec![Effect::Order(Order::Type(text))];
            }
            _ => {
                edit_input(&mut input, key);
                model.overlay = Some(Overlay::Reply(input));
            }
        },
        Overlay::Palette(mut input, chosen) => match key {
            "Esc" | "Ctrl+C" => {}
            "Enter" => {
                if let Some(binding) = crate::keymap::palette_matches(input.value(), model.demo).get(chosen) {
                    return act(model, binding.action);
                }
            }
            "↑" => model.overlay = Some(Overlay::Palette(input, chosen.saturating_sub(1))),
            "↓" => {
                let last = crate::keymap::palette_matches(input.value(), model.demo).len().saturating_sub(1);
                model.overlay = Some(Overlay::Palette(input, (chosen + 1).min(last)));
            }
            _ => {
                edit_input(&mut input, key);
                model.overlay = Some(Overlay::Palette(input, 0));
            }
        },
    }
    Vec::new()
}
