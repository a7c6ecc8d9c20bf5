//! bounds: an index that the list does not reach: a number past its end, a loop that runs one step
//! too far.

use super::check::{Check, Seen, Strength};
use super::query::Query;
use izba_model::Family;
use izba_model::claim::{Evidence, Verdict};
use izba_model::code::{At, FileFacts, How, Kind, Role};
use izba_model::{say, sayings};

sayings! {
    "bounds", Range, "../../words/suspects/bounds.toml";
    ALL_WITHIN = "all-within",
    LOOP_TOO_FAR = "loop-too-far",
    PAST_THE_END = "past-the-end",
    LIST_OF = "list-of",
    WORKED_OUT = "worked-out",
    WORKED_OUT_HERE = "worked-out-here",
    PAST_THE_WRAP = "past-the-wrap",
    AT_ITS_LENGTH = "at-its-length",
    LOOP_FROM_ZERO = "loop-from-zero",
    LOOP_FROM_LENGTH = "loop-from-length",
    LOOP_TO_LENGTH = "loop-to-length",
    ONE_COUNTED_ON = "one-counted-on",
}

/// The check for this: an index that the list does not reach: a number past its end, a loop that
/// runs one step too far.
pub static CHECK: Check = Check {
    id: "bounds",
    kinds: KINDS,
    applies: |query| matches!(query.family(), Family::ValueNotThere | Family::OutOfRange),
    look,
};

fn look(query: &Query<'_>, seen: &mut Seen) {
    let any = bounds(query, seen)
        | past_the_end(query, seen)
        | at_the_length(query, seen)
        | past_the_wrap(query, seen)
        | worked_out(query, seen);
    if !any && let Some(path) = query.path().filter(|_| query.family() == Family::OutOfRange) {
        let evidence =
            vec![Evidence { file: path.clone(), line: query.line, saw: say!(ALL_WITHIN) }];
        seen.reason(Verdict::RuledOut, say!(LOOP_TOO_FAR), evidence);
    }
}

/// A number on the way to the index that the list, as far as it is written out, does not reach.
fn past_the_end(query: &Query<'_>, seen: &mut Seen) -> bool {
    let lists: Vec<(&FileFacts, At<'_>)> = query
        .slice
        .iter()
        .filter_map(|m| Some((m.file, m.node?)))
        .filter(|(_, n)| {
            n.is(Kind::Table)
                && n.children().next().is_some()
                && n.children().all(|c| !c.is(Kind::Pair))
        })
        .filter(|(_, n)| n.parent().is_some_and(|p| p.is(Kind::Values)))
        .collect();
    let [(home, list)] = lists.as_slice() else { return false };
    let length = list.children().count() as i64;
    let from = home.language.first_index;
    let keys: Vec<&str> = query
        .slice
        .iter()
        .filter_map(|m| m.node)
        .filter(|n| n.is(Kind::Index))
        .filter_map(|n| n.child(1))
        .filter_map(At::last_name)
        .collect();
    let outside = |text: &str| text.parse::<i64>().is_ok_and(|n| n < from || n >= from + length);
    let mut any = false;
    let mut tell = |file: &FileFacts, line: u32, number: &str| {
        let suspect = seen.suspect(
            &file.path,
            line,
            Strength::Plain,
            say!(PAST_THE_END, name = number, length = length, from),
        );
        suspect.saw(&home.path, list.line(), say!(LIST_OF, length = length));
        any = true;
    };
    for key in &keys {
        for file in query.scope.iter() {
            for datum in file.data.iter().filter(|d| {
                d.role == Role::Value && d.path.rsplit('/').next() == Some(key) && outside(&d.text)
            }) {
                if query.data_tie(file, datum.record, "") >= 0.5 {
                    tell(file, datum.line, &datum.text);
                }
            }
            for value in
                file.tree.named(key).filter_map(At::assigned_value).filter(|v| v.is(Kind::Num))
            {
                if let Some(number) = value.text().filter(|t| outside(t) && *t != "0") {
                    tell(file, value.line(), number);
                }
            }
        }
    }
    any
}

/// An index that is worked out and kept within nothing, into a list that is written out: the list
/// may be too short for it.
fn worked_out(query: &Query<'_>, seen: &mut Seen) -> bool {
    let mut any = false;
    for sliced in query.slice.iter().filter(|m| m.weight > 0.2) {
        let Some(node) = sliced.node.filter(|n| n.is(Kind::Index)) else { continue };
        let (Some(list), Some(key)) = (node.child(0).and_then(At::last_name), node.child(1)) else {
            continue;
        };
        let bound = |n: At<'_>| {
            n.is(Kind::Un) && n.is_called("#")
                || n.is(Kind::Bin) && n.is_called("%")
                || matches!(
                    n.last_name(),
                    Some("min" | "clamp" | "length" | "len" | "size" | "Length" | "Count")
                )
        };
        if !matches!(key.kind(), Kind::Bin | Kind::Call) || key.whole().any(bound) {
            continue;
        }
        let made: Vec<At<'_>> = sliced
            .file
            .tree
            .named(list)
            .filter_map(At::assigned_value)
            .filter(|v| v.is(Kind::Table))
            .collect();
        let [table] = made.as_slice() else { continue };
        let length = table.children().count();
        if length == 0 || table.children().any(|c| c.is(Kind::Pair)) {
            continue;
        }
        let reason = say!(WORKED_OUT, name = list, length = length, line = node.line());
        let file = &sliced.file.path;
        seen.suspect(file, table.line(), Strength::Fair, reason).saw(
            file,
            node.line(),
            say!(WORKED_OUT_HERE),
        );
        any = true;
    }
    any
}

/// An index that is kept small by the length and then counted on: `list[n % list.length + 1]`, where
/// lists begin at 0.
fn past_the_wrap(query: &Query<'_>, seen: &mut Seen) -> bool {
    let mut any = false;
    for sliced in query.slice.iter().filter(|m| m.weight > 0.2) {
        let Some(node) = sliced.node.filter(|_| sliced.file.language.first_index == 0) else {
            continue;
        };
        for index in node.whole().filter(|n| n.is(Kind::Index)) {
            let list = index.child(0).and_then(At::last_name);
            let (Some(list), Some(key)) = (list, index.child(1)) else { continue };
            let wrapped = |n: At<'_>| {
                n.is(Kind::Bin)
                    && n.is_called("%")
                    && n.child(1).is_some_and(|by| by.whole().any(|w| w.is_called(list)))
            };
            let counted = key.is(Kind::Bin)
                && key.is_called("+")
                && key.child(0).is_some_and(wrapped)
                && key.child(1).is_some_and(|n| n.is(Kind::Num) && !n.is_called("0"));
            if counted {
                let says = say!(PAST_THE_WRAP, name = list);
                seen.suspect(&sliced.file.path, index.line(), Strength::Plain, says);
                any = true;
            }
        }
    }
    any
}

/// An entry read at the length of its own list: one past the last, where lists begin at 0.
fn at_the_length(query: &Query<'_>, seen: &mut Seen) -> bool {
    let mut any = false;
    let zero = |m: &&super::slice_node::SliceNode<'_>| m.file.language.first_index == 0;
    for sliced in query.slice.iter().filter(|m| m.weight > 0.2).filter(zero) {
        let Some(node) = sliced
            .node
            .filter(|n| n.is(Kind::Index) && !n.parent().is_some_and(|p| p.is(Kind::Targets)))
        else {
            continue;
        };
        let (Some(list), Some(key)) = (node.child(0).and_then(At::last_name), node.child(1)) else {
            continue;
        };
        let length = match key.kind() {
            Kind::Field if matches!(key.text(), Some("length" | "Length" | "Count" | "size")) => {
                key.child(0)
            }
            Kind::Call if matches!(key.last_name(), Some("len" | "size" | "Count")) => {
                key.arguments().next().or_else(|| key.child(0).and_then(|c| c.child(0)))
            }
            _ => None,
        };
        if length.and_then(At::last_name) == Some(list) {
            let reason = say!(AT_ITS_LENGTH, name = list);
            seen.suspect(&sliced.file.path, node.line(), Strength::Plain, reason);
            any = true;
        }
    }
    any
}

/// Loops that run one step too far.
fn bounds(query: &Query<'_>, seen: &mut Seen) -> bool {
    let mut any = false;
    let length = |n: At<'_>| {
        n.whole().any(|c| {
            matches!(c.last_name(), Some("length" | "size" | "len" | "Length" | "Count"))
                || c.is(Kind::Un) && c.is_called("#")
        })
    };
    for sliced in &query.slice {
        let Some(node) = sliced.node.filter(|n| n.defines() == Some(How::Loop)) else { continue };
        let Some(counting) = node.parent().and_then(At::parent).filter(|p| p.is(Kind::For)) else {
            continue;
        };
        let (start, limit) = (counting.child(1), counting.child(2));
        let from_one = sliced.file.language.first_index == 1;
        let begins_past = !from_one && start.is_some_and(|s| length(s) && !s.is(Kind::Bin));
        let ends_past = !from_one
            && limit.is_some_and(|l| {
                matches!(l.text(), Some("<="))
                    && l.child(1).is_some_and(|r| length(r) && !r.is(Kind::Bin))
            });
        let begins_at_zero = from_one && start.is_some_and(|s| s.is(Kind::Num) && s.is_called("0"));
        if begins_past || ends_past || begins_at_zero {
            let what = if begins_at_zero {
                say!(LOOP_FROM_ZERO)
            } else if begins_past {
                say!(LOOP_FROM_LENGTH)
            } else {
                say!(LOOP_TO_LENGTH)
            };
            seen.suspect(&sliced.file.path, counting.line(), Strength::Plain, what);
            any = true;
        }
    }
    // An index that was shifted before it got here.
    for sliced in query.slice.iter().filter(|m| m.weight > 0.3) {
        let Some(node) =
            sliced.node.filter(|n| n.is(Kind::Bin) && matches!(n.text(), Some("+" | "-")))
        else {
            continue;
        };
        let one = node.child(1).is_some_and(|c| c.is(Kind::Num) && matches!(c.text(), Some("1")));
        let on_report = sliced.line() == query.line && Some(sliced.path()) == query.path();
        if one && !on_report && query.family() == Family::OutOfRange {
            seen.suspect(&sliced.file.path, node.line(), Strength::Fair, say!(ONE_COUNTED_ON));
            any = true;
        }
    }
    any
}
