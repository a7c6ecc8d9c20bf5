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
    OTHER_METHOD = "other-method",
    ANSWERS_NEARLY = "answers-nearly",
    ASKED_HERE = "asked-here",
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
    let answers_to = methods_of(&asked);
    for (file, site) in &asked {
        if let Some((at, method)) = method_of_call(*site)
            && !answers_to.is_empty()
            && !answers_to.iter().any(|(_, _, m)| *m == method)
        {
            let mut methods: Vec<&str> = answers_to.iter().map(|(_, _, m)| m.as_str()).collect();
            methods.dedup();
            let says = say!(OTHER_METHOD, method, path, methods);
            let suspect = seen.suspect(&file.path, at.line(), Strength::Plain, says);
            for (home, route, _) in &answers_to {
                suspect.saw(&home.path, route.line(), say!(ANSWERS_HERE));
            }
        }
        let near = own().filter(|f| f.path != file.path).find_map(|f| nearly(f, path));
        let Some((other_file, other, name, edit)) = near else { continue };
        // The side whose word stands nowhere else has the slip.
        let (asked_for, answered) = (elsewhere(query, path, name), elsewhere(query, name, path));
        if asked_for > answered {
            let says = say!(ANSWERS_NEARLY, name, other = path, edit = edit.says(name, path));
            let strength = Strength::Plain.of_slip(edit);
            let suspect = seen.suspect(&other_file.path, other.line(), strength, says);
            suspect.saw(&file.path, site.line(), say!(ASKED_HERE));
            continue;
        }
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
    // What is asked with, and what is put in as it runs, is none of the path.
    let address = |text: &'a str| text.split(['?', '#', '$']).next().unwrap_or(text);
    let is = |n: &At<'a>| n.is(Kind::Str) && n.text().is_some_and(|t| address(t).ends_with(path));
    file.tree.all().filter(is).map(|n| (file, n)).collect()
}

/// How often the part of a path that another one writes otherwise stands in the project as a word.
fn elsewhere(query: &Query<'_>, path: &str, other: &str) -> usize {
    let mut unlike = path.split('/').zip(other.split('/')).filter(|(a, b)| a != b);
    unlike.next().map_or(0, |(word, _)| query.index.count(word))
}

/// The methods of HTTP (RFC 9110) that programs write routes for.
const METHODS: [&str; 5] = ["GET", "POST", "PUT", "PATCH", "DELETE"];

fn method(word: &str) -> Option<String> {
    let upper = word.to_ascii_uppercase();
    METHODS.contains(&upper.as_str()).then_some(upper)
}

/// The method with which a call asks for an address, and where it says so; `None` where no call of
/// the usual kinds asks.
fn method_of_call(site: At<'_>) -> Option<(At<'_>, String)> {
    let call = site.ancestors().find(|n| n.is(Kind::Call))?;
    let named = call.arguments().filter(|a| a.is(Kind::Table)).flat_map(At::children);
    let mut named = named.filter(|p| p.is(Kind::Pair) && p.is_called("method"));
    if let Some(pair) = named.next() {
        let value = pair.children().last().filter(|v| v.is(Kind::Str));
        return Some((pair, method(value?.text()?)?));
    }
    if call.last_name() == Some("fetch") {
        return Some((call, "GET".to_owned()));
    }
    // One's own function that is told the method beside the address.
    beside(call)
}

/// The method that is handed over in a call, beside an address.
fn beside(call: At<'_>) -> Option<(At<'_>, String)> {
    let texts = call.arguments().filter(|a| a.is(Kind::Str));
    let mut methods = texts.filter_map(|a| {
        let text = a.text()?;
        Some((a, method(text).filter(|m| m == text)?))
    });
    methods.next().filter(|_| methods.next().is_none())
}

/// What a server answers to at an address, as far as its code says: `app.post('/tide', …)`, or the
/// method compared beside the address. Nothing where one of them does not say it.
fn methods_of<'a>(asked: &[(&'a FileFacts, At<'a>)]) -> Vec<(&'a FileFacts, At<'a>, String)> {
    let mut found = Vec::new();
    for (file, site) in asked {
        let Some(parent) = site.parent() else { continue };
        if parent.is(Kind::Call) {
            // A client asks in the same way, and hands no function over.
            let serves = parent.arguments().any(|a| matches!(a.kind(), Kind::Func | Kind::Name));
            let named = parent.last_name().and_then(method);
            match named.or_else(|| beside(parent).map(|(_, method)| method)) {
                Some(method) if serves => found.push((*file, *site, method)),
                None if serves => return Vec::new(),
                _ => {}
            }
        } else if parent.is(Kind::Bin) {
            let mut all = parent;
            while let Some(up) = all.parent().filter(|p| p.is(Kind::Bin)) {
                all = up;
            }
            let mut beside = all.whole().filter(|n| n.is(Kind::Str));
            match beside.find_map(|n| method(n.text()?)) {
                Some(method) => found.push((*file, *site, method)),
                None => return Vec::new(),
            }
        }
    }
    found
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
