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
    Check { id: "prints", kinds: KINDS, title: "Look like forgotten prints", look };

/// Words that only those write who are looking for something.
const LOOKING: &[&str] = &[
    "here", "test", "debug", "xxx", "aaa", "asdf", "hello", "ok", "foo", "bar", "got here", "!!!",
    "???", "todo",
];

fn look(look: &Look<'_>) -> Vec<Remark> {
    let mut found = Vec::new();
    for file in look.index.code() {
        for call in file.tree.all().filter(|n| n.is(Kind::Call)) {
            let whole = call.child(0).map(name).unwrap_or_default();
            if !matches!(
                whole.as_str(),
                "print"
                    | "console.log"
                    | "console.debug"
                    | "System.out.println"
                    | "Console.WriteLine"
                    | "println"
            ) {
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
            if bare || labelled {
                found.push(remark(file, call.line(), 0.7, say!(FORGOTTEN)));
            }
        }
    }
    found
}

fn name(node: At<'_>) -> String {
    match node.kind() {
        Kind::Field => {
            format!("{}.{}", node.child(0).map(name).unwrap_or_default(), node.text().unwrap_or(""))
        }
        _ => node.text().unwrap_or("").to_owned(),
    }
}
