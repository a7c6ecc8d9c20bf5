//! styles: classes that scripts give to elements, and that no style knows, one slip from one that
//! waits for them.

use super::check::{Check, Look, Remark, remark};
use crate::suspect::{By, names, pages};
use izba_model::code::{At, FileFacts, Kind, NameEdit, Style, name_edit};
use izba_model::{say, sayings};
use std::collections::HashSet;

sayings! {
    "styles", Any, "../../words/checks/styles.toml";
    NO_CLASS = "no-class",
    STYLE_HERE = "style-here",
}

/// The check for this: classes that are given and that no style knows.
pub static CHECK: Check =
    Check { id: "styles", kinds: KINDS, title: "Classes and their styles", look };

/// What a list of classes is asked to do with one.
const OF_LISTS: &[&str] = &["add", "remove", "toggle", "contains", "replace"];

fn look(look: &Look<'_>) -> Vec<Remark> {
    let files = look.index.files().iter();
    let styles: Vec<(&FileFacts, &Style)> =
        files.flat_map(|f| f.styles.iter().map(|s| (f.as_ref(), s))).collect();
    if styles.is_empty() {
        return Vec::new();
    }
    let known: HashSet<&str> = styles.iter().map(|(_, s)| &*s.class).collect();
    let of_elements: HashSet<&str> =
        pages(look.index).flat_map(|p| names(p, By::Class)).map(|(name, _)| name).collect();
    let used = |name: &str| of_elements.contains(name) || is_written(look, name);
    let mut found = Vec::new();
    for file in look.index.code() {
        for (name, line) in file.tree.all().flat_map(given) {
            if known.contains(name) || of_elements.contains(name) || name.len() < 3 {
                continue;
            }
            let near = |class: &str| name_edit(name, class).filter(|e| *e <= NameEdit::Letter);
            let waits =
                |(_, s): &&(&FileFacts, &Style)| near(&s.class).is_some() && !used(&s.class);
            let mut waiting = styles.iter().filter(waits);
            let Some((sheet, style)) = waiting.next() else { continue };
            if waiting.any(|(_, s)| s.class != style.class) {
                continue;
            }
            let Some(edit) = near(&style.class) else { continue };
            let other = &*style.class;
            let says = say!(NO_CLASS, name, other, edit = edit.says(name, other));
            found.push(remark(file, line, 0.9, says).saw(
                &sheet.path,
                style.line,
                say!(STYLE_HERE),
            ));
        }
    }
    found
}

/// Whether a script writes a word as a text, by itself or among others.
fn is_written(look: &Look<'_>, name: &str) -> bool {
    let part = |c: char| c.is_alphanumeric() || matches!(c, '_' | '-');
    let texts = look.index.code().flat_map(|f| f.tree.all().filter(|n| n.is(Kind::Str)));
    texts.filter_map(At::text).any(|t| t.split(|c| !part(c)).any(|word| word == name))
}

/// The classes that a call, an assignment or an attribute gives to an element, with their line.
fn given(node: At<'_>) -> Vec<(&str, u32)> {
    let text = match node.kind() {
        Kind::Call if node.last_name().is_some_and(|n| OF_LISTS.contains(&n)) => {
            let list = node.child(0).and_then(|c| c.child(0)).and_then(At::last_name);
            node.arguments().next().filter(|_| list == Some("classList"))
        }
        Kind::Pair if node.is_called("className") => node.children().last(),
        Kind::Field if node.is_called("className") => node.assigned_value(),
        _ => None,
    };
    let words = text.filter(|t| t.is(Kind::Str)).and_then(At::text).unwrap_or("");
    // What is put together of parts is no class as it stands there.
    let whole = |c: char| c.is_alphanumeric() || matches!(c, '_' | '-' | ' ');
    let words = if words.chars().all(whole) { words } else { "" };
    words.split_whitespace().map(|word| (word, node.line())).collect()
}
