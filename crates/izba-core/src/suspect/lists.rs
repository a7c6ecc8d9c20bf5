//! lists: an entry of a list or table that is of another kind than its neighbours, is empty, or is missing; bounds of loops.

use super::{Ask, Check, Evidence, Seen, Verdict};
use crate::code::{At, Datum, FileFacts, How, Kind, Role};
use std::collections::BTreeMap;

/// The check.
pub static CHECK: Check =
    Check { id: "lists", applies: |ask| matches!(ask.family(), "value-not-there" | "out-of-range" | "wrong-kind" | "other"), look };

fn look(ask: &Ask<'_>, seen: &mut Seen) {
    let mut any = false;
    for file in &ask.scope {
        for table in file.tree.all().filter(|n| n.is(Kind::Table)) {
            any |= odd_entries(ask, file, table, seen);
        }
        any |= odd_data(ask, file, seen);
    }
    any |= literals(ask, seen);
    any |= bounds(ask, seen);
    any |= past_the_end(ask, seen);
    if !any && let Some(path) = ask.path().filter(|_| ask.family() == "out-of-range") {
        let evidence = vec![Evidence {
            file: path.clone(),
            line: ask.line,
            saw: "every loop on the way stops within its bounds, as far as they are written out".to_owned(),
        }];
        seen.reason(Verdict::RuledOut, "a loop runs one step too far", evidence);
    }
}

/// What kind of value a literal is: none, text, number, table, or something to compute.
fn sort(node: At<'_>) -> Option<&'static str> {
    Some(match node.kind() {
        Kind::Nil => "nothing",
        Kind::Str => "a text",
        Kind::Num => "a number",
        Kind::Bool => "yes or no",
        Kind::Table => "a table",
        Kind::Un if node.child(0).is_some_and(|c| c.is(Kind::Num)) => "a number",
        _ => return None,
    })
}

fn odd_entries(ask: &Ask<'_>, file: &FileFacts, table: At<'_>, seen: &mut Seen) -> bool {
    let mut any = false;
    let entries: Vec<At<'_>> = table.children().map(|c| if c.is(Kind::Pair) { c.children().last().unwrap_or(c) } else { c }).collect();
    let positional = table.children().all(|c| !c.is(Kind::Pair));
    let relevance = ask.relevance(file, table.line()).max(entries.iter().map(|e| ask.relevance(file, e.line())).fold(0.0, f32::max));
    // One that holds nothing among others that hold something.
    let empty: Vec<&At<'_>> = entries.iter().filter(|e| e.is(Kind::Nil)).collect();
    // Under a name of its own nothing is often meant, to begin with.
    let alike = entries.len() >= 3
        && entries
            .iter()
            .filter(|e| !e.is(Kind::Nil))
            .map(|e| sort(*e))
            .all(|s| s.is_some() && s == entries.iter().find(|e| !e.is(Kind::Nil)).and_then(|e| sort(*e)));
    let meant = if positional || alike { 0.5 } else { 0.3 };
    if entries.len() >= 2 && empty.len() == 1 && entries.len() > empty.len() {
        let hole = empty[0];
        seen.suspect(&file.path, hole.line(), meant + 0.36 * relevance, "this entry holds nothing, while its neighbours hold something");
        any |= relevance > 0.3;
    }
    // One of another kind than all the others.
    if positional && entries.len() >= 3 {
        let sorts: Vec<Option<&str>> = entries.iter().map(|e| sort(*e)).collect();
        for (at, odd) in sorts.iter().enumerate() {
            let others: Vec<_> = sorts.iter().enumerate().filter(|(n, _)| *n != at).map(|(_, s)| s).collect();
            if let (Some(odd), Some(Some(usual))) = (odd, others.first())
                && odd != usual
                && *odd != "nothing"
                && others.iter().all(|o| o.as_ref() == Some(usual))
            {
                let entry = entries[at];
                seen.suspect(&file.path, entry.line(), 0.4 + 0.4 * relevance, format!("this entry is {odd}, while all its neighbours are {usual}"));
                any |= relevance > 0.3;
            }
        }
    }
    // Numbered entries with a gap.
    let numbers: Vec<(i64, At<'_>)> =
        table.children().filter(|c| c.is(Kind::Pair)).filter_map(|c| Some((c.child(0)?.text()?.parse().ok()?, c))).collect();
    let gaps = numbers.windows(2).filter(|p| p[1].0 != p[0].0 + 1).count();
    // With several gaps it is no list, but a table with some numbers.
    if numbers.len() >= 2 && numbers.len() == table.children().count() && gaps <= 1 {
        for pair in numbers.windows(2) {
            if pair[1].0 == pair[0].0 + 2 {
                let line = pair[0].1.line();
                let suspect = seen.suspect(
                    &file.path,
                    line,
                    0.45 + 0.4 * relevance,
                    format!("entry {} is missing between {} and {}", pair[0].0 + 1, pair[0].0, pair[1].0),
                );
                suspect.to(pair[1].1.line());
                any |= relevance > 0.3;
            }
        }
        if ask.file.is_some_and(|f| f.language == crate::code::Language::Lua) && numbers[0].0 == 2 {
            seen.suspect(&file.path, numbers[0].1.line(), 0.45 + 0.4 * relevance, "the list has no entry 1: Lua counts from 1");
            any |= relevance > 0.3;
        }
    }
    any
}

/// Values of data that are of another kind than those of the same nature.
fn odd_data(ask: &Ask<'_>, file: &FileFacts, seen: &mut Seen) -> bool {
    let mut any = false;
    let mut natures: BTreeMap<&str, Vec<&Datum>> = BTreeMap::new();
    for datum in file.data.iter().filter(|d| d.role == Role::Value) {
        natures.entry(&datum.path).or_default().push(datum);
    }
    let number = |d: &&&Datum| d.text.parse::<f64>().is_ok();
    for group in natures.values().filter(|g| g.len() >= 2) {
        let (numbers, words): (Vec<&&Datum>, Vec<&&Datum>) = group.iter().partition(|d| number(d));
        let kind = ask.family() == "wrong-kind"
            || ask.said.contains("Format")
            || ask.said.contains("NaN")
            || ask.said.contains("parse")
            || ask.said.contains("invalid literal")
            || ask.said.contains("number");
        if let ([odd], true) = (words.as_slice(), !numbers.is_empty()) {
            let confidence = if kind { 0.8 } else { 0.4 + 0.3 * ask.relevance(file, odd.line) };
            seen.suspect(&file.path, odd.line, confidence, format!("{} stands where all others have a number", odd.text));
            any |= kind;
        }
        // A number that goes beyond all others, where something is out of range.
        let out = ask.family() == "out-of-range" || ask.family() == "value-not-there";
        if out && words.is_empty() && numbers.len() >= 2 {
            let mut sorted: Vec<(f64, &Datum)> = numbers.iter().map(|d| (d.text.parse().unwrap_or(0.0), **d)).collect();
            sorted.sort_by(|a, b| a.0.total_cmp(&b.0));
            let (last, before) = (sorted[sorted.len() - 1], sorted[sorted.len() - 2]);
            if last.0 == before.0 + 1.0 || last.0 > before.0 * 1.5 {
                let relevance = ask.relevance(file, last.1.line);
                // A number that no one on the way asks for by its name is no index.
                let key = last.1.path.rsplit('/').next().unwrap_or_default();
                let asked_for = ask.trail.iter().filter_map(|m| m.node).any(|n| n.last_name() == Some(key) || n.is(Kind::Str) && n.is_called(key));
                if !asked_for && ask.data_tie(file, last.1.record, "") < 0.75 {
                    continue;
                }
                seen.suspect(
                    &file.path,
                    last.1.line,
                    0.3 + 0.3 * relevance,
                    format!("{} is the highest of its kind, and may go past the end", last.1.text),
                );
            }
        }
    }
    any
}

/// The message says what kind of value it met: a literal of that kind on the way is where it came in.
fn literals(ask: &Ask<'_>, seen: &mut Seen) -> bool {
    let have = ask.entry.facts.get("have").map(String::as_str).unwrap_or("");
    let said = &ask.said;
    let kind = match have.rsplit('.').next().unwrap_or(have) {
        "table" | "list" | "dict" => Some(Kind::Table),
        "string" | "str" | "String" => Some(Kind::Str),
        "number" | "int" | "float" | "Integer" => Some(Kind::Num),
        "boolean" | "bool" => Some(Kind::Bool),
        "NoneType" => Some(Kind::Nil),
        _ if said.contains("not a function") || said.contains("Cannot create property") || said.contains("is not iterable") => None,
        _ => None,
    };
    let kinds: Vec<Kind> = match kind {
        // A compiler shows the very place where the two meet.
        Some(_) if ask.entry.report.code.is_some() || ask.entry.report.reader == "diagnostic" => return false,
        None if said.contains("unsupported operand") && said.contains("str") => vec![Kind::Str],
        // A compiler shows the very place where the two meet.
        Some(_) if ask.entry.report.code.is_some() || ask.entry.report.reader == "diagnostic" => return false,
        None if said.contains("unsupported operand") && said.contains("NoneType") => vec![Kind::Nil],
        None if said.contains("not a function") && ask.family() != "name-not-there" => vec![Kind::Str, Kind::Num, Kind::Table],
        Some(kind) => vec![kind],
        None => return false,
    };
    let mut any = false;
    for mark in &ask.trail {
        let Some(node) = mark.node.filter(|n| kinds.contains(&n.kind())) else { continue };
        let on_report = mark.line() == ask.line && Some(mark.path()) == ask.path();
        // Handed over or assigned as it stands.
        let direct = node
            .parent()
            .is_some_and(|p| matches!(p.kind(), Kind::Values | Kind::Call | Kind::New | Kind::Pair | Kind::Table | Kind::Return | Kind::Param));
        if !direct || on_report {
            continue;
        }
        let written = node.text().map_or("this".to_owned(), |t| format!("“{t}”"));
        // In quotes, the name of something that is there as a variable.
        let variable = node.is(Kind::Str)
            && node.text().is_some_and(|t| mark.file.tree.named(t).any(|n| n.makes().is_some() && n.is(Kind::Name) || n.is(Kind::Param)));
        let reason = if variable {
            format!("{written} stands in quotes here: it is the word, not the variable of that name")
        } else {
            format!("{written} is {} where something else is needed further on", sort(node).unwrap_or("a value"))
        };
        let usual = if variable {
            0.6
        } else if by_design(ask, node) {
            0.22
        } else {
            0.5
        };
        seen.suspect(&mark.file.path, node.line(), usual + 0.3 * mark.weight, reason);
        any |= usual >= 0.5;
    }
    any
}

/// A number on the way to the index that the list, as far as it is written out, does not reach.
fn past_the_end(ask: &Ask<'_>, seen: &mut Seen) -> bool {
    if !matches!(ask.family(), "out-of-range" | "value-not-there") {
        return false;
    }
    let lists: Vec<(&FileFacts, At<'_>)> = ask
        .trail
        .iter()
        .filter_map(|m| Some((m.file, m.node?)))
        .filter(|(_, n)| n.is(Kind::Table) && n.children().next().is_some() && n.children().all(|c| !c.is(Kind::Pair)))
        .filter(|(_, n)| n.parent().is_some_and(|p| p.is(Kind::Values)))
        .collect();
    let [(home, list)] = lists.as_slice() else { return false };
    let length = list.children().count() as i64;
    let from = i64::from(home.language == crate::code::Language::Lua);
    let keys: Vec<&str> =
        ask.trail.iter().filter_map(|m| m.node).filter(|n| n.is(Kind::Index)).filter_map(|n| n.child(1)).filter_map(At::last_name).collect();
    let outside = |text: &str| text.parse::<i64>().is_ok_and(|n| n < from || n >= from + length);
    let mut any = false;
    let mut tell = |file: &FileFacts, line: u32, number: &str| {
        let suspect = seen.suspect(&file.path, line, 0.88, format!("{number} is past the end: the list holds {length} entries, counted from {from}"));
        suspect.saw(&home.path, list.line(), format!("the list of {length}"));
        any = true;
    };
    for key in &keys {
        for file in ask.scope.iter() {
            for datum in file.data.iter().filter(|d| d.role == Role::Value && d.path.rsplit('/').next() == Some(key) && outside(&d.text)) {
                if ask.data_tie(file, datum.record, "") >= 0.5 {
                    tell(file, datum.line, &datum.text);
                }
            }
            for value in file.tree.named(key).filter_map(At::assigned_value).filter(|v| v.is(Kind::Num)) {
                if let Some(number) = value.text().filter(|t| outside(t) && *t != "0") {
                    tell(file, value.line(), number);
                }
            }
        }
    }
    any
}

/// Whether everything that is put where this literal is put is of its kind: then it is meant so.
fn by_design(ask: &Ask<'_>, literal: At<'_>) -> bool {
    let Some(parent) = literal.parent() else { return false };
    let name = match parent.kind() {
        Kind::Values => parent.parent().and_then(|a| a.part(Kind::Targets)).and_then(|t| t.child(0)).and_then(At::last_name),
        Kind::Pair => parent.text(),
        _ => None,
    };
    let Some(name) = name else { return false };
    let values = ask.words.stands(name).iter().filter_map(|s| s.node).filter_map(|n| match n.kind() {
        Kind::Pair => n.children().last(),
        _ => n.assigned_value(),
    });
    let others: Vec<At<'_>> = values.filter(|v| v.id() != literal.id()).collect();
    !others.is_empty() && others.iter().all(|v| v.kind() == literal.kind() || v.is(Kind::Un) && literal.is(Kind::Bool))
}

/// Loops that run one step too far.
fn bounds(ask: &Ask<'_>, seen: &mut Seen) -> bool {
    if !matches!(ask.family(), "out-of-range" | "value-not-there") {
        return false;
    }
    let mut any = false;
    let length = |n: At<'_>| {
        n.whole().any(|c| matches!(c.last_name(), Some("length" | "size" | "len" | "Length" | "Count")) || c.is(Kind::Un) && c.is_called("#"))
    };
    for mark in &ask.trail {
        let Some(node) = mark.node.filter(|n| n.makes() == Some(How::Loop)) else { continue };
        let Some(counting) = node.parent().and_then(At::parent).filter(|p| p.is(Kind::For)) else { continue };
        let (start, limit) = (counting.child(1), counting.child(2));
        let lua = mark.file.language == crate::code::Language::Lua;
        let begins_past = !lua && start.is_some_and(|s| length(s) && !s.is(Kind::Bin));
        let ends_past = !lua && limit.is_some_and(|l| matches!(l.text(), Some("<=")) && l.child(1).is_some_and(|r| length(r) && !r.is(Kind::Bin)));
        let begins_at_zero = lua && start.is_some_and(|s| s.is(Kind::Num) && s.is_called("0"));
        if begins_past || ends_past || begins_at_zero {
            let what = if begins_at_zero {
                "the loop begins at 0, where Lua's lists begin at 1"
            } else if begins_past {
                "the loop begins at the length itself, one past the last"
            } else {
                "the loop goes on to the length itself, one past the last"
            };
            seen.suspect(&mark.file.path, counting.line(), 0.86, what);
            any = true;
        }
    }
    // An index that was shifted before it got here.
    for mark in ask.trail.iter().filter(|m| m.weight > 0.3) {
        let Some(node) = mark.node.filter(|n| n.is(Kind::Bin) && matches!(n.text(), Some("+" | "-"))) else { continue };
        let one = node.child(1).is_some_and(|c| c.is(Kind::Num) && matches!(c.text(), Some("1")));
        let on_report = mark.line() == ask.line && Some(mark.path()) == ask.path();
        if one && !on_report && ask.family() == "out-of-range" {
            seen.suspect(&mark.file.path, node.line(), 0.4 + 0.3 * mark.weight, "one is counted on here before it is used as an index");
            any = true;
        }
    }
    any
}
