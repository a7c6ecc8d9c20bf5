//! lists: an entry of a list or table that is of another kind than its neighbours, is empty, or is
//! missing.

use super::check::{Check, Seen, Strength};
use super::query::Query;
use izba_model::Family;
use izba_model::claim::{self, Saying};
use izba_model::code::{At, Datum, FileFacts, How, Kind, Role};
use izba_model::{say, sayings};
use std::collections::BTreeMap;

sayings! {
    "lists", Range, "../../words/suspects/lists.toml";
    NOTHING = "nothing",
    A_TEXT = "a-text",
    A_NUMBER = "a-number",
    YES_OR_NO = "yes-or-no",
    A_TABLE = "a-table",
    A_VALUE = "a-value",
    EMPTY_ENTRY = "empty-entry",
    ODD_ENTRY = "odd-entry",
    ENTRY_MISSING = "entry-missing",
    NO_FIRST_ENTRY = "no-first-entry",
    NO_NUMBER = "no-number",
    HIGHEST = "highest",
    BROKEN_COUNT = "broken-count",
    IS_HERE = "is-here",
    IN_QUOTES = "in-quotes",
    OTHER_NEEDED = "other-needed",
}

/// The check for this: an entry of a list or table that is of another kind than its neighbours, is
/// empty, or is missing.
pub static CHECK: Check = Check {
    id: "lists",
    kinds: KINDS,
    applies: |query| {
        matches!(
            query.family(),
            Family::ValueNotThere
                | Family::OutOfRange
                | Family::WrongKind
                | Family::Other
                | Family::NameNotThere
        )
    },
    look,
};

fn look(query: &Query<'_>, seen: &mut Seen) {
    // What a text or number lacks is no entry of a list.
    if query.family() == Family::NameNotThere {
        return literals(query, seen);
    }
    for file in &query.scope {
        for table in file.tree.all().filter(|n| n.is(Kind::Table)) {
            odd_entries(query, file, table, seen);
        }
        odd_data(query, file, seen);
    }
    literals(query, seen);
}

/// What kind of value a literal is: none, text, number, table, or something to compute.
fn sort(node: At<'_>) -> Option<&'static claim::Kind> {
    Some(match node.kind() {
        Kind::Nil => &NOTHING,
        Kind::Str => &A_TEXT,
        Kind::Num => &A_NUMBER,
        Kind::Bool => &YES_OR_NO,
        Kind::Table => &A_TABLE,
        Kind::Un if node.child(0).is_some_and(|c| c.is(Kind::Num)) => &A_NUMBER,
        _ => return None,
    })
}

/// Nobody looks through a longer list for its odd entry.
const LONG: usize = 400;

fn odd_entries(query: &Query<'_>, file: &FileFacts, table: At<'_>, seen: &mut Seen) {
    let entries: Vec<At<'_>> = table
        .children()
        .map(|c| if c.is(Kind::Pair) { c.children().last().unwrap_or(c) } else { c })
        .collect();
    let positional = table.children().all(|c| !c.is(Kind::Pair));
    let relevance = query
        .relevance(file, table.line())
        .max(entries.iter().map(|e| query.relevance(file, e.line())).fold(0.0, f32::max));
    // One that holds nothing among others that hold something.
    let empty: Vec<&At<'_>> = entries.iter().filter(|e| e.is(Kind::Nil)).collect();
    // Under a name of its own nothing is often meant, to begin with.
    let alike = entries.len() >= 3
        && entries.iter().filter(|e| !e.is(Kind::Nil)).map(|e| sort(*e)).all(|s| {
            s.is_some() && s == entries.iter().find(|e| !e.is(Kind::Nil)).and_then(|e| sort(*e))
        });
    let meant = if positional || alike { Strength::Fair } else { Strength::Weak };
    // What is given a value later only begins so.
    let begins = |e: &At<'_>| {
        let name = e.parent().filter(|p| p.is(Kind::Pair)).and_then(At::text);
        name.is_some_and(|name| {
            let mut set = query.named(name).filter(|(_, n)| n.is(Kind::Field));
            set.any(|(_, n)| n.defines() == Some(How::Assigned))
        })
    };
    if entries.len() >= 2 && empty.len() == 1 && entries.len() > empty.len() && !begins(empty[0]) {
        let hole = empty[0];
        // Far from the way it is often meant so.
        let meant = if relevance > 0.25 { meant } else { meant.with(-1) };
        seen.suspect(&file.path, hole.line(), meant, say!(EMPTY_ENTRY)).tied(relevance);
    }
    // One of another kind than all the others.
    if positional && (3..=LONG).contains(&entries.len()) {
        let sorts: Vec<Option<&claim::Kind>> = entries.iter().map(|e| sort(*e)).collect();
        for (at, odd) in sorts.iter().enumerate() {
            let others: Vec<_> =
                sorts.iter().enumerate().filter(|(n, _)| *n != at).map(|(_, s)| s).collect();
            if let (Some(odd), Some(Some(usual))) = (odd, others.first())
                && odd != usual
                && **odd != NOTHING
                && others.iter().all(|o| o.as_ref() == Some(usual))
            {
                let entry = entries[at];
                let says = say!(ODD_ENTRY, odd = Saying::new(odd), usual = Saying::new(usual));
                seen.suspect(&file.path, entry.line(), Strength::Fair, says).tied(relevance);
            }
        }
    }
    // Numbered entries with a gap.
    let numbers: Vec<(i64, At<'_>)> = table
        .children()
        .filter(|c| c.is(Kind::Pair))
        .filter_map(|c| Some((c.child(0)?.text()?.parse().ok()?, c)))
        .collect();
    let gaps = numbers.windows(2).filter(|p| p[1].0 != p[0].0 + 1).count();
    // With several gaps it is no list, but a table with some numbers.
    if numbers.len() >= 2 && numbers.len() == table.children().count() && gaps <= 1 {
        for pair in numbers.windows(2) {
            if pair[1].0 == pair[0].0 + 2 {
                let line = pair[0].1.line();
                let suspect = seen.suspect(
                    &file.path,
                    line,
                    Strength::Fair,
                    say!(
                        ENTRY_MISSING,
                        number = pair[0].0 + 1,
                        before = pair[0].0,
                        after = pair[1].0
                    ),
                );
                suspect.to(pair[1].1.line()).tied(relevance);
            }
        }
        // Where lists begin at 0, numbered entries make no list.
        let counted = query.file.map(|f| f.language).filter(|l| l.first_index > 0);
        if let Some(language) = counted.filter(|l| l.first_index + 1 == numbers[0].0) {
            let first = language.first_index;
            let says = say!(NO_FIRST_ENTRY, first = first, language = language.said());
            seen.suspect(&file.path, numbers[0].1.line(), Strength::Fair, says).tied(relevance);
        }
    }
}

/// Values of data that are of another kind than those of the same nature.
fn odd_data(query: &Query<'_>, file: &FileFacts, seen: &mut Seen) {
    let mut natures: BTreeMap<&str, Vec<&Datum>> = BTreeMap::new();
    for datum in file.data.iter().filter(|d| d.role == Role::Value) {
        natures.entry(&datum.path).or_default().push(datum);
    }
    let number = |d: &&&Datum| d.text.parse::<f64>().is_ok();
    for group in natures.values().filter(|g| g.len() >= 3) {
        broken_count(query, file, group, seen);
    }
    for group in natures.values().filter(|g| g.len() >= 2) {
        let (numbers, words): (Vec<&&Datum>, Vec<&&Datum>) = group.iter().partition(|d| number(d));
        let kind = query.family() == Family::WrongKind
            || query.said.contains("Format")
            || query.said.contains("NaN")
            || query.said.contains("parse")
            || query.said.contains("invalid literal")
            || query.said.contains("number");
        if let ([odd], true) = (words.as_slice(), !numbers.is_empty()) {
            let strength = if kind { Strength::Fair } else { Strength::Faint };
            seen.suspect(&file.path, odd.line, strength, say!(NO_NUMBER, name = odd.text));
        }
        // A number that goes beyond all others, where something is out of range.
        let out = query.family() == Family::OutOfRange || query.family() == Family::ValueNotThere;
        if out && words.is_empty() && numbers.len() >= 2 {
            let mut sorted: Vec<(f64, &Datum)> =
                numbers.iter().map(|d| (d.text.parse().unwrap_or(0.0), **d)).collect();
            sorted.sort_by(|a, b| a.0.total_cmp(&b.0));
            let (last, before) = (sorted[sorted.len() - 1], sorted[sorted.len() - 2]);
            if last.0 == before.0 + 1.0 || last.0 > before.0 * 1.5 {
                // A number that no one on the way asks for by its name is no index.
                let key = last.1.path.rsplit('/').next().unwrap_or_default();
                let asked_for = query
                    .slice
                    .iter()
                    .filter_map(|m| m.node)
                    .any(|n| n.last_name() == Some(key) || n.is(Kind::Str) && n.is_called(key));
                let by_number = |n: At<'_>| {
                    n.is(Kind::Index) && n.child(1).is_some_and(|key| !key.is(Kind::Str))
                };
                let indexed = query.slice.iter().filter_map(|m| m.node).any(by_number);
                if query.family() == Family::ValueNotThere && !indexed {
                    continue;
                }
                if !asked_for && query.data_tie(file, last.1.record, "") < 0.75 {
                    continue;
                }
                let says = say!(HIGHEST, name = last.1.text);
                seen.suspect(&file.path, last.1.line, Strength::Faint, says);
            }
        }
    }
}

/// Numbers of data that count up one by one, but for one of them.
fn broken_count(query: &Query<'_>, file: &FileFacts, group: &[&Datum], seen: &mut Seen) {
    let Some(numbers) =
        group.iter().map(|d| d.text.parse::<i64>().ok()).collect::<Option<Vec<i64>>>()
    else {
        return;
    };
    let odd = |from: i64| -> Vec<usize> {
        (0..numbers.len()).filter(|at| numbers[*at] != from + *at as i64).collect()
    };
    let last = numbers.len() as i64 - 1;
    let begins = [numbers[0], numbers[last as usize] - last];
    let Some((from, at)) = begins
        .iter()
        .find_map(|from| if let [one] = odd(*from)[..] { Some((*from, one)) } else { None })
    else {
        return;
    };
    let datum = group[at];
    let key = datum.path.rsplit('/').next().unwrap_or_default();
    let asked_for = query
        .slice
        .iter()
        .filter_map(|m| m.node)
        .any(|n| n.last_name() == Some(key) || n.is(Kind::Str) && n.is_called(key));
    if !asked_for
        || !matches!(query.family(), Family::OutOfRange | Family::ValueNotThere)
        || query.data_tie(file, datum.record, "") < 0.5
    {
        return;
    }
    let expected = from + at as i64;
    let reason = say!(BROKEN_COUNT, name = key, value = datum.text, expected = expected);
    let suspect = seen.suspect(&file.path, datum.line, Strength::Weak, reason);
    for beside in
        [at.checked_sub(1), Some(at + 1)].into_iter().flatten().filter_map(|n| group.get(n))
    {
        suspect.saw(&file.path, beside.line, say!(IS_HERE, name = key, value = beside.text));
    }
}

/// The message says what kind of value it met: a literal of that kind on the way is where it came
/// in.
fn literals(query: &Query<'_>, seen: &mut Seen) {
    let have = query.entry.facts.get("have").map(String::as_str).unwrap_or("");
    let said = &query.said;
    let kind = match have.rsplit('.').next().unwrap_or(have) {
        "table" | "list" | "dict" => Some(Kind::Table),
        "string" | "str" | "String" => Some(Kind::Str),
        "number" | "int" | "float" | "Integer" => Some(Kind::Num),
        "boolean" | "bool" => Some(Kind::Bool),
        "NoneType" => Some(Kind::Nil),
        _ => None,
    };
    let kinds: Vec<Kind> = match kind {
        // A compiler shows the very place where the two meet.
        Some(_)
            if query.entry.report.code.is_some() || query.entry.report.reader == "diagnostic" =>
        {
            return;
        }
        None if said.contains("unsupported operand") && said.contains("str") => vec![Kind::Str],
        None if said.contains("unsupported operand") && said.contains("NoneType") => {
            vec![Kind::Nil]
        }
        None if said.contains("not a function") && query.family() == Family::NameNotThere => {
            vec![Kind::Str]
        }
        None if said.contains("not a function") => vec![Kind::Str, Kind::Num, Kind::Table],
        Some(kind) => vec![kind],
        None => return,
    };
    for sliced in &query.slice {
        let Some(node) = sliced.node.filter(|n| kinds.contains(&n.kind())) else { continue };
        let on_report = sliced.line() == query.line && Some(sliced.path()) == query.path();
        // Handed over or assigned as it stands.
        let direct = node.parent().is_some_and(|p| {
            matches!(
                p.kind(),
                Kind::Values
                    | Kind::Call
                    | Kind::New
                    | Kind::Pair
                    | Kind::Table
                    | Kind::Return
                    | Kind::Param
            )
        });
        // What a function of the library is given is not what it gives back.
        let to_library = node
            .parent()
            .filter(|p| p.is(Kind::Call))
            .and_then(At::last_name)
            .is_some_and(|name| !query.symbols.is_made(name));
        if !direct || on_report || to_library {
            continue;
        }
        let written = node.text().map_or("this".to_owned(), str::to_owned);
        // In quotes, the name of something that is there as a variable.
        let variable = node.is(Kind::Str)
            && node.text().is_some_and(|t| {
                sliced
                    .file
                    .tree
                    .named(t)
                    .any(|n| n.defines().is_some() && n.is(Kind::Name) || n.is(Kind::Param))
            });
        let reason = if variable {
            say!(IN_QUOTES, name = written)
        } else {
            say!(OTHER_NEEDED, name = written, kind = Saying::new(sort(node).unwrap_or(&A_VALUE)))
        };
        let strength = if variable {
            Strength::Strong
        } else if query.family() == Family::NameNotThere && have.is_empty() {
            continue;
        } else if by_design(query, node) {
            Strength::Faint
        } else {
            Strength::Fair
        };
        seen.suspect(&sliced.file.path, node.line(), strength, reason).tied(sliced.weight);
    }
}

/// Whether everything that is put where this literal is put is of its kind: then it is meant so.
fn by_design(query: &Query<'_>, literal: At<'_>) -> bool {
    let Some(parent) = literal.parent() else { return false };
    let name = match parent.kind() {
        Kind::Values => parent
            .parent()
            .and_then(|a| a.part(Kind::Targets))
            .and_then(|t| t.child(0))
            .and_then(At::last_name),
        Kind::Pair => parent.text(),
        _ => None,
    };
    let Some(name) = name else { return false };
    let values = query.symbols.occurrences(name).iter().filter_map(|s| s.node).filter_map(|n| {
        match n.kind() {
            Kind::Pair => n.children().last(),
            _ => n.assigned_value(),
        }
    });
    // What is asked for as a condition is meant to be yes or no.
    let asked = |n: At<'_>| {
        n.parent().is_some_and(|p| {
            p.is(Kind::If) || p.is(Kind::Un) && matches!(p.text(), Some("not" | "!"))
        })
    };
    if literal.is(Kind::Bool)
        && query.symbols.occurrences(name).iter().filter_map(|s| s.node).any(asked)
    {
        return true;
    }
    let others: Vec<At<'_>> = values.filter(|v| v.id() != literal.id()).collect();
    !others.is_empty()
        && others
            .iter()
            .all(|v| v.kind() == literal.kind() || v.is(Kind::Un) && literal.is(Kind::Bool))
}
