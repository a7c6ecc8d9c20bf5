//! events: names of events that are listened for and that nothing fires, one slip from one that a
//! browser or the project fires.

use super::check::{Check, Look, Remark, remark};
use izba_model::claim::Saying;
use izba_model::code::{At, FileFacts, Kind, NameEdit, name_edit};
use izba_model::{say, sayings};
use std::collections::BTreeMap;

sayings! {
    "events", Any, "../../words/checks/events.toml";
    NOBODY_FIRES = "nobody-fires",
    BROWSERS = "browsers",
    THIS_PROJECT = "this-project",
    FIRED_HERE = "fired-here",
}

/// The check for this: events that are listened for and that nothing fires.
pub static CHECK: Check = Check { id: "events", kinds: KINDS, title: "Events", look };

/// Calls that listen for what a browser fires.
const LISTENS: &[&str] = &["addEventListener", "removeEventListener"];
/// Calls that listen for what a project fires, in the usual words.
const HEARS: &[&str] = &["on", "once", "off", "addListener"];
/// Calls and objects that fire what they name first.
const FIRES: &[&str] = &["emit", "trigger", "dispatch", "fire", "Event", "CustomEvent"];

fn look(look: &Look<'_>) -> Vec<Remark> {
    let mut fired: BTreeMap<&str, (&FileFacts, u32)> = BTreeMap::new();
    for file in look.index.code() {
        for (name, line) in file.tree.all().filter_map(|n| named(n, FIRES)) {
            fired.entry(name).or_insert((file, line));
        }
    }
    let mut found = Vec::new();
    for file in look.index.code() {
        let events = || file.language.names_of_events();
        if events().next().is_none() {
            continue;
        }
        let is_known = |name: &str| fired.contains_key(name) || events().any(|e| e == name);
        let near =
            |name: &str, other: &str| name_edit(name, other).filter(|e| *e <= NameEdit::Letter);
        for node in file.tree.all() {
            let of_browser = named(node, LISTENS);
            let Some((name, line)) = of_browser.or_else(|| named(node, HEARS)) else { continue };
            // What is named in another line too is no slip of the pen.
            let again = || look.symbols.count(name) > 1;
            if name.len() < 4 || is_known(name) || again() {
                continue;
            }
            let own = fired.iter().find_map(|(other, at)| Some((*other, near(name, other)?, *at)));
            if let Some((other, edit, (home, at))) = own {
                let says = nobody(name, other, say!(THIS_PROJECT), edit);
                found.push(remark(file, line, 0.9, says).saw(&home.path, at, say!(FIRED_HERE)));
            } else if of_browser.is_some()
                && let Some((other, edit)) = events().find_map(|e| Some((e, near(name, e)?)))
            {
                found.push(remark(file, line, 0.9, nobody(name, other, say!(BROWSERS), edit)));
            }
        }
    }
    found
}

fn nobody(name: &str, other: &str, who: Saying, edit: NameEdit) -> Saying {
    say!(NOBODY_FIRES, name, other, who, edit = edit.says(name, other))
}

/// The event that one of these calls names first, with its line.
fn named<'a>(node: At<'a>, calls: &[&str]) -> Option<(&'a str, u32)> {
    let name = match node.kind() {
        Kind::Call => node.last_name(),
        Kind::New => node.text(),
        _ => None,
    };
    let first = node.arguments().next().filter(|a| a.is(Kind::Str))?;
    name.filter(|n| calls.contains(n)).and(first.text()).map(|text| (text, first.line()))
}
