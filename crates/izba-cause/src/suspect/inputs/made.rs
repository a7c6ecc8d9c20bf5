//! What was made of a value on its way, and what was never put in.

use super::says::{HEAD_LINE, LOOKED_UP, LOOP_DOES_NOTHING, NOT_CONVERTED, NOTHING_PUT_IN};
use super::wording::owner_word;
use crate::suspect::check::{Seen, Strength};
use crate::suspect::need::Need;
use crate::suspect::query::Query;
use crate::suspect::value::{Eval, Missed, Val, What};
use izba_model::claim::Saying;
use izba_model::code::{At, Kind};
use izba_model::say;

/// Whether the name that was looked for is written where it was looked for.
pub(super) fn is_fixed(missed: &Missed<'_>) -> bool {
    let (file, site) = missed.site;
    missed.key.file.path == file.path
        && missed.key.line == site.line()
        && !matches!(site.kind(), Kind::Index | Kind::Call)
}

/// Whether what was written is well, and what was made of it is not: it stands among what is
/// offered, or everything that was made so is the same.
pub(super) fn made_wrongly(missed: &Missed<'_>, odd: &[Val<'_>], fitting: usize) -> bool {
    let Some(written) = missed.key.written.as_deref() else { return false };
    let word = missed.key.word().unwrap_or_default();
    if word == written {
        // Cut at a sign that stands nowhere in it, while a part of it is what is there.
        return missed.key.by.is_some_and(|(_, call)| {
            matches!(call.last_name(), Some("split" | "Split"))
                && missed.offered.iter().filter_map(Val::word).any(|o| {
                    written.strip_prefix(o.as_str()).is_some_and(|rest| {
                        rest.starts_with(|c: char| !c.is_alphanumeric() && c != '_')
                    })
                })
        });
    }
    let offered = missed.offered.iter().any(|v| v.word().as_deref() == Some(written));
    let keys: Vec<&Val<'_>> =
        odd.iter().filter_map(|v| v.missed.as_ref().map(|m| &m.key)).collect();
    let all_empty =
        fitting == 0 && keys.len() > 1 && keys.iter().all(|k| k.word().as_deref() == Some(""));
    let cut = missed.key.by.is_some_and(|(_, call)| {
        matches!(call.last_name(), Some("split" | "Split"))
            && call.arguments().next().is_some_and(|s| s.is(Kind::Str) && s.is_called(""))
    });
    offered || all_empty || cut && fitting == 0
}

/// A list or table that nothing is put into: the loop that should have done it, or where it is made.
pub(super) fn never_filled<'a>(
    query: &Query<'a>,
    eval: &mut Eval<'a, '_>,
    missed: &Missed<'a>,
    seen: &mut Seen,
) -> bool {
    let What::Table(table) = missed.owner.what else { return false };
    // What only stands in for what may not be there is empty on purpose.
    let instead = table.parent().is_some_and(|p| p.is(Kind::Bin));
    if instead
        || table.children().next().is_some()
        || !eval.puts(missed.owner.file, table).0.is_empty()
    {
        return false;
    }
    let file = missed.owner.file;
    let name = owner_word(missed);
    let empty = |n: &At<'_>| {
        n.is(Kind::ForIn) && n.part(Kind::Block).is_some_and(|b| b.children().next().is_none())
    };
    let mut loops =
        query.scope.iter().flat_map(|f| f.tree.all().filter(empty).map(move |n| (*f, n)));
    let (home, at, to, reason) = match loops.next() {
        Some((home, at)) => (home, at.line(), at.line() + 1, say!(LOOP_DOES_NOTHING, name)),
        None => (file, table.line(), table.line(), say!(NOTHING_PUT_IN, name)),
    };
    let suspect = seen.suspect(&home.path, at, Strength::Plain, reason);
    suspect.to(to).saw(&missed.site.0.path, missed.site.1.line(), say!(LOOKED_UP));
    true
}

/// A number that is counted with elsewhere is put to a text: the conversion is missing here.
pub(super) fn to_be_converted(
    query: &Query<'_>,
    need: &Need,
    odd: &[Val<'_>],
    seen: &mut Seen,
) -> bool {
    let joins = query.said.contains("concatenate") && *need == Need::NotKind("number".into());
    let Some(path) = query.path().filter(|_| joins && !odd.is_empty()) else { return false };
    let converts = query.on_line().any(|n| {
        n.is(Kind::Call) && matches!(n.last_name(), Some("str" | "tostring" | "String" | "format"))
    });
    if converts {
        seen.suspect(path, query.line, Strength::Plain, say!(NOT_CONVERTED));
    }
    converts
}

/// The first line of a table that names its columns is read like the others: the loop begins one
/// too early.
pub(super) fn head_line(query: &Query<'_>, val: &Val<'_>, seen: &mut Seen) -> bool {
    let plain = |text: &str| !text.is_empty() && text.parse::<f64>().is_err();
    let (Some(word), 1) = (val.word(), val.line) else { return false };
    let data = !val.file.language.is_code();
    let signs = [',', ';', '|', '\t'];
    let head: Vec<&str> =
        val.file.line(1).unwrap_or_default().split(signs).map(str::trim).collect();
    let next: Vec<&str> =
        val.file.line(2).unwrap_or_default().split(signs).map(str::trim).collect();
    let is_head = data
        && head.len() > 1
        && head.iter().all(|h| plain(h))
        && next.iter().any(|n| n.parse::<f64>().is_ok())
        && head.contains(&word.as_str());
    let Some(file) = query.file.filter(|_| is_head) else { return false };
    let mut around = query.on_line().next().into_iter().flat_map(At::ancestors);
    let around = around.find(|n| matches!(n.kind(), Kind::For | Kind::ForIn | Kind::While));
    let Some(around) = around else { return false };
    let suspect =
        seen.suspect(&file.path, around.line(), Strength::Plain, say!(HEAD_LINE, name = word));
    suspect.saw(&val.file.path, 1, Saying::quote(val.file.line(1).unwrap_or_default().trim()));
    true
}
