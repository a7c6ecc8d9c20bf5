//! constant: what was made to stay as it is gets another value.

use super::check::{Check, Seen, Strength};
use super::query::Query;
use izba_model::code::{At, Kind};
use izba_model::pattern::Pattern;
use izba_model::{say, sayings};

sayings! {
    "constant", Any, "../../words/suspects/constant.toml";
    MADE_TO_STAY = "made-to-stay",
    CHANGED_HERE = "changed-here",
}

/// How runtimes and compilers say it.
static CHANGED: Pattern = Pattern::new(concat!(
    r"(?i)assignment to constant variable|invalid assignment to const|assign to '?\w+'? because ",
    r"it is a constant|cannot assign a value to (?:static )?final variable|a readonly field cannot ",
    r"be assigned|cannot assign twice to immutable variable"
));

/// The check for this: what was made to stay as it is gets another value.
pub static CHECK: Check = Check {
    id: "constant",
    kinds: KINDS,
    applies: |query| query.file.is_some() && CHANGED.is_match(&query.said),
    look,
};

/// The words that make something stay as it is.
const STAYS: &[&str] = &["const", "final", "readonly"];

fn look(query: &Query<'_>, seen: &mut Seen) {
    let (Some(file), Some(path)) = (query.file, query.path()) else { return };
    let changed = query.on_line().filter_map(|n| match n.kind() {
        Kind::Assign => n.child(0),
        Kind::Un => n.children().next(),
        _ => None,
    });
    for name in changed.flat_map(At::whole).filter_map(At::text) {
        let made = file.tree.named(name).find(|n| {
            n.line() != query.line && n.defines().is_some() && stays(file.line(n.line()))
        });
        let Some(made) = made else { continue };
        let says = say!(MADE_TO_STAY, name);
        let suspect = seen.suspect(path, made.line(), Strength::Plain, says);
        suspect.saw(path, query.line, say!(CHANGED_HERE, name));
        return;
    }
}

/// Whether a line begins with a word that makes something stay.
fn stays(line: Option<&str>) -> bool {
    line.is_some_and(|l| l.split_whitespace().take(4).any(|word| STAYS.contains(&word)))
}
