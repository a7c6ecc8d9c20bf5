//! What the user can do and by which keys: one table, from which help, footer and palette are made.

mod action;
mod table;

pub use action::Action;
pub use table::BINDINGS;

use crate::model::Room;
use crossterm::event::{KeyCode, KeyEvent, KeyModifiers};
use std::sync::OnceLock;

/// Where an action has a meaning.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Scope {
    /// In every room.
    Everywhere,
    /// In one room.
    In(Room),
    /// In the demo.
    Demo,
}

/// One action with its keys and words.
#[derive(Debug, Clone, Copy)]
pub struct Binding {
    /// The action.
    pub action: Action,
    /// Its keys; the first is the one shown.
    pub keys: &'static [&'static str],
    /// A word or two for the footer and the palette.
    pub label: &'static str,
    /// A sentence for help.
    pub help: &'static str,
    /// Where it has a meaning.
    pub scope: Scope,
}

static CHANGED: OnceLock<Vec<Binding>> = OnceLock::new();

/// Every action with the keys that it has for this user.
pub fn bindings() -> &'static [Binding] {
    CHANGED.get().map_or(BINDINGS, Vec::as_slice)
}

/// Gives commands, by their labels, other keys; once, before anything is shown.
///
/// # Errors
///
/// A sentence, where there is no such command, or where two would share a key in one room; all keys
/// stay as they are then.
pub fn change(keys: &[(&str, &str)]) -> Result<(), String> {
    may_change(keys)?;
    if !keys.is_empty() {
        let _ = CHANGED.set(changed(keys));
    }
    Ok(())
}

fn changed(keys: &[(&str, &str)]) -> Vec<Binding> {
    let other = |binding: &Binding| {
        let key = keys.iter().find(|(label, _)| *label == binding.label).map(|(_, key)| *key);
        let keys = key.map(|key| -> &'static [&'static str] {
            // As long as the program runs, as the table itself.
            Box::leak(vec![&*Box::leak(key.to_owned().into_boxed_str())].into_boxed_slice())
        });
        Binding { keys: keys.unwrap_or(binding.keys), ..*binding }
    };
    BINDINGS.iter().map(other).collect()
}

fn may_change(keys: &[(&str, &str)]) -> Result<(), String> {
    if let Some((label, _)) = keys.iter().find(|(l, _)| BINDINGS.iter().all(|b| b.label != *l)) {
        return Err(format!(
            "the keys stay as they are: there is no command “{label}”; : lists them by these names"
        ));
    }
    let all = changed(keys);
    let meet = |a: Scope, b: Scope| !matches!((a, b), (Scope::In(a), Scope::In(b)) if a != b);
    for (label, key) in keys {
        let of = all.iter().filter(|b| b.label == *label);
        for binding in of {
            let other = all.iter().find(|b| {
                b.action != binding.action && b.keys.contains(key) && meet(b.scope, binding.scope)
            });
            if let Some(other) = other {
                return Err(format!(
                    "the keys stay as they are: {key} already means “{}”, so “{label}” can't have it",
                    other.label
                ));
            }
        }
    }
    Ok(())
}

/// The binding of an action.
pub fn binding(action: Action) -> &'static Binding {
    bindings().iter().find(|b| b.action == action).unwrap_or(&bindings()[0])
}

/// The action of a key in a room.
pub fn action_of(key: &str, room: Room, demo: bool) -> Option<Action> {
    let fits = |scope: Scope| match scope {
        Scope::Everywhere => true,
        Scope::In(one) => room == one,
        Scope::Demo => demo,
    };
    bindings().iter().find(|b| fits(b.scope) && b.keys.contains(&key)).map(|b| b.action)
}

/// The name of a key as the table writes it; `None` for keys that nothing uses.
pub fn key_name(key: &KeyEvent) -> Option<String> {
    let control = key.modifiers.contains(KeyModifiers::CONTROL);
    Some(match key.code {
        KeyCode::Up => "↑".into(),
        KeyCode::Down => "↓".into(),
        KeyCode::Left => "←".into(),
        KeyCode::Right => "→".into(),
        KeyCode::PageUp => "PgUp".into(),
        KeyCode::PageDown => "PgDn".into(),
        KeyCode::Home => "Home".into(),
        KeyCode::End => "End".into(),
        KeyCode::Enter => "Enter".into(),
        KeyCode::Esc => "Esc".into(),
        KeyCode::Tab => "Tab".into(),
        KeyCode::BackTab => "Shift+Tab".into(),
        KeyCode::Backspace => "Backspace".into(),
        KeyCode::Delete => "Delete".into(),
        KeyCode::Char(' ') if !control => "Space".into(),
        KeyCode::Char(c) if control => format!("Ctrl+{}", c.to_ascii_uppercase()),
        KeyCode::Char(c) => c.to_string(),
        _ => return None,
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Keys that stand for several actions, each with the one thing that it means in all rooms.
    const ONE_MEANING: &[(&str, &str)] = &[
        ("←", "one back along what is shown"),
        ("→", "one on along what is shown"),
        ("Tab", "the next part of the room"),
        ("n", "the next that matters"),
        ("o", "the same shown otherwise"),
        ("h", "keep it in sight"),
        ("z", "the whole of it"),
        ("+", "a shorter stretch of time"),
        ("-", "a longer stretch of time"),
    ];

    #[test]
    fn a_key_means_one_thing_in_all_rooms() {
        for key in BINDINGS.iter().flat_map(|b| b.keys) {
            let actions = BINDINGS.iter().filter(|b| b.keys.contains(key)).count();
            let shared = ONE_MEANING.iter().any(|(shared, _)| shared == key);
            assert_eq!(actions > 1, shared, "{key} stands for {actions} actions");
        }
    }

    #[test]
    fn a_key_that_something_else_has_is_refused_and_a_free_one_is_taken() {
        assert_eq!(may_change(&[("draw", "U"), ("fixed", "%")]), Ok(()));
        let taken = may_change(&[("draw", "a")]).expect_err("a runs again, everywhere");
        assert!(taken.contains("a already means “run again”"), "{taken}");
        // Two rooms never meet.
        assert_eq!(may_change(&[("one tick", "i")]), Ok(()));
        assert!(may_change(&[("sail", "U")]).is_err_and(|e| e.contains("no command “sail”")));
    }

    #[test]
    fn no_key_means_two_things_in_one_room_and_every_action_is_reached() {
        for scope in crate::rooms::ROOMS.map(|kind| Scope::In(kind.room)) {
            let mut seen = std::collections::HashSet::new();
            let here = BINDINGS
                .iter()
                .filter(|b| b.scope == scope || matches!(b.scope, Scope::Everywhere | Scope::Demo));
            for key in here.flat_map(|b| b.keys) {
                assert!(seen.insert(key), "{key} means two things");
            }
        }
        assert!(BINDINGS.iter().all(|b| !b.keys.is_empty() && b.help.chars().count() <= 90));
    }
}
