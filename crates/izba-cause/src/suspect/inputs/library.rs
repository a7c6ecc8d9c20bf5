//! What the functions of the language and its lists were given.

use super::says::{HANDED_CROSSWISE, MADE_HERE, NO_RETURN_AT_END, TOO_SMALL};
use crate::suspect::check::{Seen, Strength};
use crate::suspect::need::{kind_of, plain};
use crate::suspect::query::Query;
use crate::suspect::value::{Eval, Vals, What};
use izba_model::Family;
use izba_model::code::{At, FileFacts, Kind};
use izba_model::dialect::HandsOut;
use izba_model::pattern::Pattern;
use izba_model::say;

/// A function of the language is handed its arguments in another order: what it wants is there, at
/// another place.
pub(super) fn handed_crosswise<'a>(
    query: &Query<'a>,
    eval: &mut Eval<'a, '_>,
    file: &'a FileFacts,
    seen: &mut Seen,
) {
    let fact = |key: &str| query.entry.facts.get(key).map(String::as_str);
    let (Some(callee), Some(want), Some(have)) =
        (fact("callee"), fact("want").and_then(plain), fact("have").and_then(plain))
    else {
        return;
    };
    let last = callee.rsplit(['.', ':']).next().unwrap_or(callee);
    let calls = query.on_line().filter(|n| n.is(Kind::Call) && n.last_name() == Some(last));
    for call in calls.collect::<Vec<_>>() {
        let kinds: Vec<Vec<&str>> = call
            .arguments()
            .map(|a| eval.of(file, a).list.iter().filter_map(kind_of).collect())
            .collect();
        let only =
            |kinds: &Vec<&str>, kind: &str| !kinds.is_empty() && kinds.iter().all(|k| *k == kind);
        let got = kinds.iter().position(|k| only(k, have));
        let wanted = kinds.iter().position(|k| only(k, want));
        if let (Some(got), Some(wanted)) = (got, wanted)
            && got < wanted
        {
            let reason =
                say!(HANDED_CROSSWISE, function = last, number = got + 1, other = wanted + 1);
            seen.suspect(&file.path, call.line(), Strength::Plain, reason);
        }
    }
}

static LENGTH: Pattern =
    Pattern::new(r"(?i)(?:for length|out of bounds for length|length is) (?<n>\d+)");

/// A list was made for so many entries, by a number that is written somewhere.
pub(super) fn too_small<'a>(
    query: &Query<'a>,
    eval: &mut Eval<'a, '_>,
    file: &'a FileFacts,
    seen: &mut Seen,
) {
    let told = LENGTH.captures(&query.said).and_then(|c| c.name("n")?.as_str().parse::<f64>().ok());
    let Some(length) = told.filter(|_| query.family() == Family::OutOfRange) else { return };
    let lists: Vec<&str> = query
        .on_line()
        .filter(|n| n.is(Kind::Index))
        .filter_map(|n| n.child(0)?.last_name())
        .collect();
    for list in lists {
        let made: Vec<At<'a>> = file
            .tree
            .named(list)
            .filter_map(At::assigned_value)
            .filter(|v| v.is(Kind::New) && (v.is_called("[]") || v.is_called("Array")))
            .collect();
        for made in made {
            let Some(size) =
                made.whole().skip(1).find(|n| !matches!(n.kind(), Kind::Type | Kind::Other))
            else {
                continue;
            };
            let sizes = eval.of(file, size);
            let [one] = sizes.list.as_slice() else { continue };
            let here = one.line == query.line && one.file.path == file.path;
            if one.number() == Some(length) && !sizes.lost && !here {
                let reason = say!(TOO_SMALL, name = list, count = length.to_string());
                let suspect = seen.suspect(&one.file.path, one.line, Strength::Strong, reason);
                suspect.saw(&file.path, made.line(), say!(MADE_HERE, name = list));
            }
        }
    }
}

/// A script that is brought in gives nothing back, so that those who bring it in get yes.
pub(super) fn gives_nothing_back(query: &Query<'_>, vals: &Vals<'_>, seen: &mut Seen) -> bool {
    if !query.said.contains("boolean value") {
        return false;
    }
    let home = vals.list.iter().find_map(|v| match v.what {
        What::Module(home) if home.language.hands_out == Some(HandsOut::Globals) => Some(home),
        _ => None,
    });
    let Some(home) = home else { return false };
    // Where a last line is empty, it would stand there.
    let last = home.line_count().max(1);
    let reason = say!(NO_RETURN_AT_END, file = home.name());
    seen.suspect(&home.path, last, Strength::Plain, reason).to(last + 1);
    true
}
