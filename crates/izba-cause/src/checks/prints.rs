//! prints: lines that were put in to see something, and forgotten.

use super::check::{Check, Look, Remark, remark};
use izba_model::code::{At, Kind};
use izba_model::{say, sayings};

sayings! {
    "prints", Print, "../../words/checks/prints.toml";
    FORGOTTEN = "forgotten",
}

/// The check for this: lines that were put in to see something, and forgotten.
pub static CHECK: Check =
    Check { id: "prints", kinds: KINDS, title: "Forgotten prints, it seems", look };

/// Words that only those write who are looking for something.
const LOOKING: &[&str] = &[
    "here", "test", "debug", "xxx", "aaa", "asdf", "hello", "foo", "bar", "got here", "!!!", "???",
    "todo",
];

fn look(look: &Look<'_>) -> Vec<Remark> {
    let mut found = Vec::new();
    for file in look.index.code() {
        for call in file.tree.all().filter(|n| n.is(Kind::Call)) {
            if !is_print(Some(call)) {
                continue;
            }
            let texts: Vec<String> = call
                .arguments()
                .filter(|a| a.is(Kind::Str))
                .filter_map(|a| a.text())
                .map(|t| t.trim().to_lowercase())
                .collect();
            let bare = texts.iter().any(|t| {
                LOOKING.contains(&t.trim_end_matches(['!', '.', ':', ' ', '1', '2', '3']))
                    && !t.is_empty()
            });
            // `print("oil", self.oil)`: a name, and what it holds.
            let labelled = call.arguments().count() == 2
                && texts.len() == 1
                && call.arguments().nth(1).and_then(At::last_name).is_some_and(|n| {
                    texts[0].trim_end_matches([':', '=', ' ']) == n.to_lowercase()
                });
            // Several below one another are a table for people; so is what a script prints that is
            // only for that.
            let table = is_print(beside(call, false)) || is_print(beside(call, true));
            if bare || labelled && !table {
                found.push(remark(file, call.line(), 0.7, say!(FORGOTTEN)));
            }
        }
    }
    found
}

/// Whether a node is a call that prints.
fn is_print(node: Option<At<'_>>) -> bool {
    let whole = node.filter(|n| n.is(Kind::Call)).and_then(|n| n.child(0)).map(name);
    whole.is_some_and(|whole| {
        matches!(
            whole.as_str(),
            "print"
                | "console.log"
                | "console.debug"
                | "System.out.println"
                | "Console.WriteLine"
                | "println"
        )
    })
}

/// The step above or below a call, where it is a call too.
fn beside(call: At<'_>, below: bool) -> Option<At<'_>> {
    let step = call.step();
    let all: Vec<At<'_>> = step.parent()?.children().collect();
    let at = all.iter().position(|s| *s == step)?;
    let next = if below { all.get(at + 1) } else { at.checked_sub(1).and_then(|k| all.get(k)) }?;
    if next.is(Kind::Call) { Some(*next) } else { next.child(0) }
}

fn name(node: At<'_>) -> String {
    match node.kind() {
        Kind::Field => {
            format!("{}.{}", node.child(0).map(name).unwrap_or_default(), node.text().unwrap_or(""))
        }
        _ => node.text().unwrap_or("").to_owned(),
    }
}
