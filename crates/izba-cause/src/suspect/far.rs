//! far: the error was told by another program that this one asked; who it was is found by the
//! address that was asked for.

use super::check::{Check, Seen, Strength};
use super::query::Query;
use crate::seen::IT_IS_ASKED_HERE;
use izba_model::Family;
use izba_model::claim::Saying;
use izba_model::code::{At, FileFacts, Kind};
use izba_model::{say, sayings};

sayings! {
    "far", Any, "../../words/suspects/far.toml";
    ASKED = "asked",
    ANSWERS = "answers",
    INDEX_AS_IT_CAME = "index-as-it-came",
}

/// The check for this: the error was told by another program that this one asked.
pub static CHECK: Check = Check {
    id: "far",
    kinds: KINDS,
    applies: |query| query.file.is_some_and(|f| super::raises::raises(f, query.line)),
    look,
};

/// How deep calls are followed on the other side.
const DEEP: u32 = 3;

fn look(query: &Query<'_>, seen: &mut Seen) {
    let Some((path, function)) = query.path().zip(query.steps.first().and_then(|s| s.function))
    else {
        return;
    };
    for text in function.whole().filter(|n| n.is(Kind::Str)) {
        let Some(address) = text.text().filter(|t| t.starts_with('/') || t.contains("://")) else {
            continue;
        };
        let (way, asked) = address.split_once('?').unwrap_or((address, ""));
        let Some(last) = way.rsplit('/').find(|p| p.len() > 1) else { continue };
        let named: Vec<&str> = asked
            .split('&')
            .filter_map(|q| q.split('=').next())
            .filter(|q| !q.is_empty())
            .collect();
        // In another program: what is called like the end of the way, and takes what the address
        // names.
        let takes = |f: &At<'_>| named.iter().all(|n| f.params().any(|p| p.is_called(n)));
        let others = query
            .index
            .files()
            .iter()
            .map(AsRef::as_ref)
            .filter(|f: &&FileFacts| !query.scope.iter().any(|own| own.path == f.path));
        let found: Vec<(&FileFacts, At<'_>)> = others
            .flat_map(|f| f.tree.named(last).filter(|n| n.is(Kind::Func)).map(move |n| (f, n)))
            .filter(|(_, f)| takes(f))
            .collect();
        let [(file, answers)] = found[..] else { continue };
        if let Some((line, what)) = fails(file, answers, &named, query.family(), DEEP) {
            let reason = say!(ASKED, file = file.name(), address, what);
            let suspect = seen.suspect(&file.path, line, Strength::Strong, reason);
            suspect.saw(path, text.line(), say!(IT_IS_ASKED_HERE)).saw(
                &file.path,
                answers.line(),
                say!(ANSWERS, name = last),
            );
        }
    }
}

/// Where a function, or one that it hands on to, does with what it was given what the sentence is
/// about.
fn fails(
    file: &FileFacts,
    function: At<'_>,
    given: &[&str],
    family: Family,
    deep: u32,
) -> Option<(u32, Saying)> {
    let reads = |n: At<'_>| {
        n.whole()
            .filter(|w| w.is(Kind::Name))
            .filter_map(At::text)
            .find(|t| given.contains(t))
            .map(str::to_owned)
    };
    if family == Family::OutOfRange {
        let index = function
            .whole()
            .filter(|n| n.is(Kind::Index))
            .find_map(|n| Some((n.line(), reads(n.child(1)?)?)));
        if let Some((line, name)) = index {
            return Some((line, say!(INDEX_AS_IT_CAME, name)));
        }
    }
    for call in function.whole().filter(|n| n.is(Kind::Call) && deep > 0) {
        let Some(next) = call
            .last_name()
            .and_then(|name| file.tree.named(name).find(|n| n.is(Kind::Func) && *n != function))
        else {
            continue;
        };
        let handed: Vec<bool> = call.arguments().map(|a| reads(a).is_some()).collect();
        let further: Vec<&str> = next
            .params()
            .zip(handed)
            .filter(|(_, handed)| *handed)
            .filter_map(|(p, _)| p.text())
            .collect();
        if let Some(found) = fails(file, next, &further, family, deep - 1) {
            return Some(found);
        }
    }
    None
}
