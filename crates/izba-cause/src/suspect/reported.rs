//! reported: the line that the console names. It is the guilty one more often than any other single
//! line, and where nothing odd is seen elsewhere it stays first.

use super::check::{Check, Seen, Strength};
use super::query::Query;
use super::raises::{conditions, raises};
use izba_model::Family;
use izba_model::claim::Kind as SaidKind;
use izba_model::claim::{Evidence, Saying, Verdict};
use izba_model::code::{At, FileFacts, Kind};
use izba_model::{say, sayings};

sayings! {
    "reported", Reported, "../../words/suspects/reported.toml";
    ONE_OF = "one-of",
    NAMED = "named",
    COUNTS_ON = "counts-on",
    RAISES = "raises",
    ON_PURPOSE = "on-purpose",
    RAISED_IF = "raised-if",
    STEP = "step",
    THROUGH_HERE = "through-here",
}

/// Whether this tells nothing of a line but that the error came there or by there.
pub(crate) fn is_bare(kind: &SaidKind) -> bool {
    *kind == NAMED || *kind == STEP
}

/// The check for this: the line that the console names.
pub static CHECK: Check = Check {
    id: "reported",
    kinds: KINDS,
    applies: |query| {
        query.entry.place.as_ref().is_some_and(|p| p.line.is_some())
            || !query.entry.may_be.is_empty()
    },
    look,
};

fn look(query: &Query<'_>, seen: &mut Seen) {
    let Some(place) = &query.entry.place else {
        for place in &query.entry.may_be {
            let name = place.file.rsplit('/').next().unwrap_or(&place.file);
            let reason = say!(ONE_OF, name, count = query.entry.may_be.len());
            seen.suspect(&place.file, place.line.unwrap_or(1), Strength::Weak, reason);
        }
        return;
    };
    let mut strength = Strength::Weak;
    let mut reason = say!(NAMED);
    let nodes: Vec<_> = query.on_line().collect();
    // An index that is counted on by hand is what usually goes too far.
    let shifted = nodes.iter().filter(|n| reads_entry(**n)).filter_map(|n| n.child(1)).any(|key| {
        key.is(Kind::Bin)
            && matches!(key.text(), Some("+" | "-"))
            && key.child(1).is_some_and(|n| n.is(Kind::Num))
            || key.whole().any(|k| {
                matches!(k.kind(), Kind::Call | Kind::Field)
                    && matches!(k.last_name(), Some("len" | "length" | "size" | "Length" | "Count"))
            })
    });
    if shifted && (query.family() == Family::OutOfRange || query.family() == Family::ValueNotThere)
    {
        strength = Strength::Strong;
        reason = say!(COUNTS_ON);
    }
    let literal = |kind: Kind| nodes.iter().any(|n| n.is(kind));
    // A compiler that checks kinds shows where two of them meet.
    let compiled = query.entry.report.code.is_some() || query.entry.report.reader == "diagnostic";
    if query.family() == Family::WrongKind
        && compiled
        && query.file.is_some_and(|f| f.language.checked)
        && (literal(Kind::Str) || literal(Kind::Num))
    {
        strength = Strength::Fair;
    }
    let raises = !compiled
        && nodes.iter().any(|n| {
            n.is(Kind::Throw)
                || n.is(Kind::Call) && matches!(n.last_name(), Some("error" | "fail" | "panic"))
        });
    if raises {
        strength = Strength::Faint;
        reason = say!(RAISES);
        let evidence = vec![Evidence {
            file: place.file.clone(),
            line: query.line,
            saw: Saying::quote(query.entry.line_text.as_deref().unwrap_or_default().trim()),
        }];
        seen.reason(Verdict::Likely, say!(ON_PURPOSE), evidence);
    }
    seen.suspect(&place.file, query.line, strength, reason);
    let condition = query.file.and_then(|f| raised_if(query, f));
    if let Some(condition) = condition.filter(|c| c.line() != query.line) {
        seen.suspect(&place.file, condition.line(), Strength::Weak, say!(RAISED_IF));
    }
    // Steps that led there are weak suspects, so that there is always somewhere to look next.
    for step in query.steps.iter().skip(1).take(4) {
        seen.suspect(&step.file.path, step.line, Strength::Faint, say!(STEP));
    }
    for sliced in query.slice.iter().filter(|m| m.weight > 0.5).take(6) {
        let suspect =
            seen.suspect(&sliced.file.path, sliced.line(), Strength::Faint, say!(THROUGH_HERE));
        suspect.tied(sliced.weight);
    }
}

/// Whether an entry is read there; what is put behind the last one may go past the end.
fn reads_entry(node: At<'_>) -> bool {
    node.is(Kind::Index) && !node.parent().is_some_and(|p| p.is(Kind::Targets))
}

/// The condition under which the program itself raised the error. Some runtimes name the end of the
/// function instead of the line: the one whose words the sentence repeats is meant.
fn raised_if<'a>(query: &Query<'a>, file: &'a FileFacts) -> Option<At<'a>> {
    if let Some(found) = conditions(file, query.line).next().filter(|_| raises(file, query.line)) {
        return Some(found);
    }
    let function = query.steps.first()?.function?;
    let mut said = function.whole().filter(|n| {
        let mut texts =
            n.whole().filter(|t| t.is(Kind::Str)).filter_map(At::text).map(str::trim).peekable();
        n.is(Kind::Throw)
            && texts.peek().is_some()
            && texts.all(|t| t.len() > 3 && query.said.contains(t))
    });
    let throw = said.next().filter(|_| said.next().is_none())?;
    conditions(file, throw.line()).next()
}
