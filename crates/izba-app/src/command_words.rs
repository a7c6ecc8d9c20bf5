//! Finding a command by what people call it: whole words and their beginnings, never scattered
//! letters, so that nobody does what they did not name.

use crate::keymap::{Action, Binding, Scope, bindings};
use crate::model::Room;

/// Other words for a command, where its own are not what people type.
const ALSO: &[(Action, &str)] = &[
    (Action::Again, "restart rerun start begin"),
    (Action::Stop, "end kill"),
    (Action::Edit, "open editor change"),
    (Action::Find, "search look"),
    (Action::Filter, "search only narrow hide show"),
    (Action::Peek, "show hidden all"),
    (Action::Mute, "hide ignore silence mute delete remove"),
    (Action::Fixed, "done solved gone"),
    (Action::Split, "divide"),
    (Action::Join, "merge together same"),
    (Action::Undo, "revert restore"),
    (Action::Compare, "difference diff"),
    (Action::GoTo, "line number jump"),
    (Action::Reply, "input answer type"),
    (Action::Hold, "freeze pause wait"),
    (Action::Across, "log output"),
    (Action::RoomNow, "errors home start"),
    (Action::RoomLines, "log output console"),
    (Action::RoomRuns, "history earlier"),
    (Action::RoomValues, "numbers graph plot chart"),
    (Action::RoomChecks, "problems lint"),
    (Action::RoomPause, "debug step variables"),
    (Action::RoomNotes, "memory"),
    (Action::Note, "remember comment save keep"),
    (Action::Tell, "share export ask send report save"),
    (Action::Picture, "picture image screenshot page browser"),
    (Action::Draw, "picture image export print svg pdf"),
    (Action::Breakpoint, "debug"),
    (Action::Corner, "reduce shrink smaller"),
    (Action::Words, "glossary explain dictionary"),
    (Action::Sources, "add file follow watch log settings"),
    (Action::Class, "others pupils students who stuck"),
    (Action::Teach, "format layout pattern"),
    (Action::SelectText, "mouse"),
    (Action::Copy, "clipboard"),
    (Action::Wrap, "wrap long end"),
    (Action::NextError, "find jump"),
    (Action::Why, "explain meaning reason cause"),
    (Action::FoldErrors, "hide collapse first"),
    (Action::OpenHere, "explain expand unfold entry"),
    (Action::StretchFrom, "time begin zoom range"),
    (Action::StretchTo, "time end zoom range"),
    (Action::Palette, "all"),
    (Action::Help, "help shortcuts how"),
    (Action::Settings, "options theme colours preferences configure"),
    (Action::Quit, "quit exit close"),
    (Action::MakeEdit, "fix for me repair cure solve mend"),
];

/// How well a command is named by what was typed: the lower the better.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
enum Named {
    Label,
    BeginsLabel,
    WordOfLabel,
    OtherWord,
    Help,
}

/// Whether each word that was typed begins a word of `text`, each another one, in any order.
fn begins_words(typed: &str, text: &str) -> bool {
    let mut left: Vec<&str> = words(text).collect();
    words(typed).all(|word| {
        let at = left.iter().position(|other| begins(other, word));
        at.map(|at| left.swap_remove(at)).is_some()
    })
}

fn words(text: &str) -> impl Iterator<Item = &str> {
    text.split(|c: char| !c.is_alphanumeric() && c != '\'').filter(|w| !w.is_empty())
}

fn begins(word: &str, with: &str) -> bool {
    let mut letters = word.chars().flat_map(char::to_lowercase);
    with.chars().flat_map(char::to_lowercase).all(|c| letters.next() == Some(c))
}

fn named(binding: &Binding, typed: &str) -> Option<Named> {
    let also = ALSO.iter().find(|(action, _)| *action == binding.action).map_or("", |a| a.1);
    let label = binding.label;
    if label.eq_ignore_ascii_case(typed) {
        Some(Named::Label)
    } else if begins(label, typed) {
        Some(Named::BeginsLabel)
    } else if begins_words(typed, label) {
        Some(Named::WordOfLabel)
    } else if begins_words(typed, &format!("{label} {also}")) {
        Some(Named::OtherWord)
    } else if begins_words(typed, binding.help) && words(typed).any(|w| w.chars().count() > 2) {
        Some(Named::Help)
    } else {
        None
    }
}

/// Whether a command leaves the program: only its very name may choose it.
fn leaves(action: Action) -> bool {
    matches!(action, Action::Quit | Action::Interrupt)
}

/// Whether a command can be used in a room.
pub fn is_of(binding: &Binding, room: Room) -> bool {
    match binding.scope {
        Scope::In(one) => one == room,
        Scope::Everywhere | Scope::Demo => true,
    }
}

/// The commands that what was typed in the palette names, those of this room first, then the best
/// named first.
pub fn palette_matches(typed: &str, room: Room, demo: bool) -> Vec<&'static Binding> {
    let here = bindings().iter().filter(|b| demo || b.scope != Scope::Demo);
    let typed = typed.trim();
    let mut fitting: Vec<_> = here
        .filter_map(|b| {
            let how = if typed.is_empty() { Named::Label } else { named(b, typed)? };
            // What only its explanation mentions must not end the program.
            let said = typed.is_empty() || how < Named::Help || !leaves(b.action);
            let elsewhere = !is_of(b, room);
            let general = b.scope != Scope::In(room);
            let close = !typed.is_empty() && how <= Named::WordOfLabel;
            let long = if close { b.label.len() } else { 0 };
            said.then_some((
                (how == Named::Help, elsewhere, how, leaves(b.action), general, long),
                b,
            ))
        })
        .collect();
    fitting.sort_by_key(|(key, _)| *key);
    fitting.into_iter().map(|(_, b)| b).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn first(typed: &str, room: Room) -> Option<&'static str> {
        palette_matches(typed, room, false).first().map(|b| b.label)
    }

    #[test]
    fn a_command_is_found_by_what_people_call_it() {
        let now = [
            ("quit", "leave"),
            ("exit", "leave"),
            ("search", "filter"),
            ("copy", "copy"),
            ("save", "write a note"),
            ("export", "tell others"),
            ("help", "keys"),
            ("restart", "run again"),
            ("run", "run again"),
            ("ignore", "set aside"),
            ("set a", "set aside"),
            ("aside set", "set aside"),
            ("undo", "undo"),
            ("debug", "room Pause"),
        ];
        for (typed, label) in now {
            assert_eq!(first(typed, Room::Now), Some(label), "{typed}");
        }
        // What fits this room comes first.
        assert_eq!(first("search", Room::Lines), Some("find"));
        assert_eq!(first("out", Room::Pause), Some("out"));
    }

    #[test]
    fn scattered_letters_name_nothing() {
        for typed in ["svae", "rna", "lvs", "xqz", "tl ot rs"] {
            assert_eq!(first(typed, Room::Now), None, "{typed}");
        }
    }

    #[test]
    fn every_other_word_belongs_to_a_command() {
        for (action, _) in ALSO {
            assert!(bindings().iter().any(|b| b.action == *action), "{action:?}");
            assert_eq!(ALSO.iter().filter(|a| a.0 == *action).count(), 1, "{action:?}");
        }
    }

    proptest! {
        /// Nothing that is typed leaves the program unless a word of leaving is begun.
        #[test]
        fn nobody_leaves_unasked(typed in "[a-z ]{1,9}") {
            if let Some(best) = palette_matches(&typed, Room::Now, true).first() {
                let asked = typed.trim().is_empty()
                    || words(&typed).any(|w| {
                        ["leave", "quit", "exit", "close", "stop", "or"].iter().any(|l| begins(l, w))
                    });
                prop_assert!(!leaves(best.action) || asked, "{typed}: {}", best.label);
            }
        }
    }
}
