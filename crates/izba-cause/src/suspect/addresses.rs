//! addresses: what a page or a program asks a server for, against what the project's own server
//! answers to.

use super::check::{Check, Seen, Strength};
use super::query::Query;
use izba_model::Family;
use izba_model::code::{At, FileFacts, Kind, NameEdit, name_edit};
use izba_model::pattern::Pattern;
use izba_model::{say, sayings};

sayings! {
    "addresses", Any, "../../words/suspects/addresses.toml";
    NEARLY = "nearly",
    ANSWERS_HERE = "answers-here",
    NOBODY_LISTENS = "nobody-listens",
}

/// The check for this: an address that is asked for, and nearly one that the project knows.
pub static CHECK: Check = Check {
    id: "addresses",
    kinds: KINDS,
    applies: |query| {
        matches!(query.family(), Family::FileNotThere | Family::NotReached | Family::Other)
    },
    look,
};

/// An address of a server in a sentence: its host with the port, and its path.
static ADDRESS: Pattern = Pattern::new(
    r#"(?:^|[\s"'(])(?:(?:https?|wss?)://(?P<host>[\w.-]+(?::\d+)?))?(?P<path>/[\w./-]*)"#,
);
/// How it is said that nobody listens.
static NOBODY: Pattern = Pattern::new(r"CONNECTION_REFUSED|ECONNREFUSED|[Cc]onnection refused");

fn look(query: &Query<'_>, seen: &mut Seen) {
    let Some(found) = ADDRESS.found(&query.said) else { return };
    let path = &found["path"];
    if let Some(host) = found.name("host").filter(|_| NOBODY.is_match(&query.said)) {
        nobody_listens(query, host.as_str(), seen);
        return;
    }
    if path.len() < 2 || is_file(query, path) {
        return;
    }
    let own = || query.index.code();
    let asked: Vec<(&FileFacts, At<'_>)> = own().flat_map(|f| texts(f, path)).collect();
    for (file, site) in &asked {
        let near = own().filter(|f| f.path != file.path).find_map(|f| nearly(f, path));
        let Some((other_file, other, name, edit)) = near else { continue };
        let says = say!(NEARLY, path, other = name, edit = edit.says(path, name));
        let strength = Strength::Plain.of_slip(edit);
        let suspect = seen.suspect(&file.path, site.line(), strength, says);
        suspect.saw(&other_file.path, other.line(), say!(ANSWERS_HERE));
    }
}

/// Whether a path leads to a file of the project: those are looked for elsewhere.
fn is_file(query: &Query<'_>, path: &str) -> bool {
    let last = path.rsplit('/').next().unwrap_or(path);
    last.contains('.') || query.index.on_disk.iter().any(|p| p.as_ref() == &path[1..])
}

/// The texts of a file that are this path, or end an address with it.
fn texts<'a>(file: &'a FileFacts, path: &str) -> Vec<(&'a FileFacts, At<'a>)> {
    let is = |n: &At<'a>| n.is(Kind::Str) && n.text().is_some_and(|t| t.ends_with(path));
    file.tree.all().filter(is).map(|n| (file, n)).collect()
}

/// A text of a file that is one slip away from a path.
fn nearly<'a>(
    file: &'a FileFacts,
    path: &str,
) -> Option<(&'a FileFacts, At<'a>, &'a str, NameEdit)> {
    let parts: Vec<&str> = path.split('/').collect();
    file.tree.all().filter(|n| n.is(Kind::Str)).find_map(|node| {
        let text = node.text().filter(|t| t.starts_with('/'))?;
        let others: Vec<&str> = text.split('/').collect();
        let mut unlike = parts.iter().zip(&others).filter(|(a, b)| a != b);
        let (one, other) = unlike.next().filter(|_| parts.len() == others.len())?;
        let edit = name_edit(one, other).filter(|e| *e < NameEdit::Word)?;
        unlike.next().is_none().then_some((file, node, text, edit))
    })
}

/// The text that holds an address at which nobody listens.
fn nobody_listens(query: &Query<'_>, host: &str, seen: &mut Seen) {
    for file in query.index.code() {
        let holds = |n: &At<'_>| n.is(Kind::Str) && n.text().is_some_and(|t| t.contains(host));
        for node in file.tree.all().filter(holds) {
            let says = say!(NOBODY_LISTENS, host);
            seen.suspect(&file.path, node.line(), Strength::Strong, says);
        }
    }
}
