//! gaps: an entry that data lacks, though code or other data asks for it by its name.

use super::check::{Check, Seen, Strength};
use super::query::Query;
use super::symbols::{As, is_name};
use crate::seen::NEEDED_HERE;
use izba_model::Family;
use izba_model::claim::Saying;
use izba_model::code::{At, Datum, FileFacts, How, Kind, NameEdit, Role, name_edit};
use izba_model::{say, sayings};
use std::collections::BTreeMap;

sayings! {
    "gaps", Any, "../../words/suspects/gaps.toml";
    NOT_BESIDE = "not-beside",
    NOT_LISTED = "not-listed",
    NO_ENTRY = "no-entry",
    LISTED_NEARLY = "listed-nearly",
    NOT_LISTED_THOUGH_LOOKED_UP = "not-listed-though-looked-up",
    IS_HERE = "is-here",
}

/// The check for this: an entry that data lacks, though code or other data asks for it by its name.
pub static CHECK: Check = Check {
    id: "gaps",
    kinds: KINDS,
    applies: |query| query.file.is_some() && asks_for_entry(query),
    look,
};

/// Whether the sentence speaks of something that was looked for and is not there.
fn asks_for_entry(query: &Query<'_>) -> bool {
    query.family() == Family::ValueNotThere
        || query.said.contains("Key")
        || query.said.contains("not found")
        || query.said.contains("unknown")
}

fn look(query: &Query<'_>, seen: &mut Seen) {
    lookups(query, seen);
    let mut names: Vec<&str> = query.asked.as_deref().into_iter().collect();
    names.extend(query.mentioned.iter().map(String::as_str));
    names.extend(query.subject_names());
    // What the sentence says without quotes, and data holds.
    let values = query
        .scope
        .iter()
        .flat_map(|f| &f.data)
        .filter(|d| d.role == Role::Value && is_name(&d.text));
    names.extend(values.map(|d| d.text.as_ref()).filter(|t| t.len() > 2 && query.says(t)));
    names.sort_unstable();
    names.dedup();
    for name in names.into_iter().filter(|n| is_name(n)) {
        let there = |s: &super::Occurrence<'_>| {
            matches!(
                s.as_what,
                As::DataKey | As::Made(How::Key | How::Function | How::Class | How::Parameter)
            )
        };
        if query.symbols.occurrences(name).iter().any(there) {
            continue;
        }
        section(query, name, seen);
        listed_in_data(query, name, seen);
        filled_from_data(query, name, seen);
    }
}

/// A field of what was read from a data file, whose other fields stand there side by side.
fn section(query: &Query<'_>, name: &str, seen: &mut Seen) {
    let owner = |n: At<'_>| n.child(0).and_then(At::last_name).map(str::to_owned);
    let Some(asked) =
        query.subjects.iter().copied().find(|s| s.is(Kind::Field) && s.is_called(name))
    else {
        return;
    };
    let Some(of) = owner(asked).filter(|o| !matches!(o.as_str(), "self" | "this")) else { return };
    if query
        .symbols
        .occurrences(name)
        .iter()
        .filter_map(|s| s.node)
        .any(|n| n.defines().is_some() && !n.is(Kind::Name))
    {
        return;
    }
    // What else is read of the same owner.
    let fields = query.scope.iter().filter(|f| f.language.is_code()).flat_map(|f| f.tree.all());
    let mut others: Vec<&str> = fields
        .filter(|n| n.is(Kind::Field) && !n.is_called(name) && owner(*n).as_ref() == Some(&of))
        .filter_map(At::text)
        .collect();
    others.sort_unstable();
    others.dedup();
    for file in query.scope.iter().filter(|f| !f.data.is_empty()) {
        let mut homes: BTreeMap<(&str, u32), Vec<&Datum>> = BTreeMap::new();
        for datum in
            file.data.iter().filter(|d| d.role == Role::Key && others.contains(&d.text.as_ref()))
        {
            homes.entry((&datum.path, datum.record)).or_default().push(datum);
        }
        let Some(beside) = homes
            .into_values()
            .max_by_key(Vec::len)
            .filter(|b| b.len() >= 2 || others.len() == b.len())
        else {
            continue;
        };
        let names: Vec<&str> = beside.iter().map(|d| d.text.as_ref()).collect();
        tell(query, seen, Strength::Fair, file, &beside, say!(NOT_BESIDE, name, names));
    }
}

/// What stands where a value stands in the other records, each once; of records that begin with a
/// word of their own only those that begin with the same one.
pub fn beside<'a>(file: &'a FileFacts, datum: &Datum) -> Vec<&'a str> {
    let begins = |record: u32| {
        file.data
            .iter()
            .find(|d| d.role == Role::Value && d.record == record)
            .map(|d| d.text.as_ref())
    };
    let others = || {
        file.data
            .iter()
            .filter(|d| d.role == Role::Value && d.path == datum.path && d.text != datum.text)
    };
    let same = others().any(|d| begins(d.record) == begins(datum.record));
    let mut found: Vec<&str> = others()
        .filter(|d| !same || begins(d.record) == begins(datum.record))
        .map(|d| d.text.as_ref())
        .collect();
    found.sort_unstable();
    found.dedup();
    found
}

/// Data names it, and other data, which lists what its neighbours name, does not list it.
fn listed_in_data(query: &Query<'_>, name: &str, seen: &mut Seen) {
    let occurrences: Vec<_> =
        query.symbols.occurrences(name).iter().filter(|s| s.as_what == As::DataValue).collect();
    let Some(first) = occurrences.first() else { return };
    let Some(datum) =
        first.file.data.iter().find(|d| d.line == first.line && d.text.as_ref() == name)
    else {
        return;
    };
    let path = &datum.path;
    let beside = beside(first.file, datum);
    for file in query.scope.iter().filter(|f| !f.data.is_empty()) {
        let mut lists: BTreeMap<(Role, &str), Vec<&Datum>> = BTreeMap::new();
        for datum in &file.data {
            if (file.path != first.file.path || datum.path != *path)
                && beside.contains(&datum.text.as_ref())
            {
                lists.entry((datum.role, &datum.path)).or_default().push(datum);
            }
        }
        // All that its neighbours name stands there, once each; or all that stands there is named
        // by them.
        let whole = |role: Role, path: &str| {
            file.data.iter().filter(|d| d.role == role && d.path.as_ref() == path).count()
        };
        let fits = |(role, path): &(Role, &str), l: &Vec<&Datum>| {
            l.len() >= 2 && (l.len() == beside.len() || l.len() == whole(*role, path))
        };
        let Some((_, list)) = lists.into_iter().find(|(at, l)| fits(at, l)) else { continue };
        let strength = if occurrences.len() >= 2 { Strength::Fair } else { Strength::Weak };
        let names: Vec<&str> = list.iter().take(3).map(|d| d.text.as_ref()).collect();
        tell(
            query,
            seen,
            strength,
            file,
            &list,
            say!(NOT_LISTED, names, name, file = first.file.name()),
        );
    }
}

/// A table that is filled by what data calls its entries, and nothing there is called so.
fn filled_from_data(query: &Query<'_>, name: &str, seen: &mut Seen) {
    let Some(table) = query
        .subjects
        .iter()
        .copied()
        .find(|s| s.is(Kind::Field) && s.is_called(name))
        .and_then(|s| s.child(0))
        .and_then(At::last_name)
    else {
        return;
    };
    let put_in = |n: &At<'_>| {
        n.is(Kind::Index)
            && n.parent().is_some_and(|p| p.is(Kind::Targets))
            && n.child(0).and_then(At::last_name) == Some(table)
    };
    let keys: Vec<&str> = query
        .scope
        .iter()
        .flat_map(|f| f.tree.all())
        .filter(put_in)
        .filter_map(|n| n.child(1))
        .filter_map(At::last_name)
        .collect();
    for file in query.scope.iter().filter(|f| !f.data.is_empty()) {
        for key in &keys {
            let entries: Vec<&Datum> = file
                .data
                .iter()
                .filter(|d| {
                    d.role == Role::Value
                        && d.path.rsplit('/').next() == Some(key)
                        && is_name(&d.text)
                })
                .collect();
            // Of several lists with such a key the one that the table is called after.
            let of_table = |d: &&Datum| {
                d.path.split('/').any(|part| super::plural(part, table) || part == table)
            };
            let own: Vec<&Datum> = entries.iter().copied().filter(of_table).collect();
            let list = if own.is_empty() { entries } else { own };
            if !list.is_empty() {
                tell(query, seen, Strength::Fair, file, &list, say!(NO_ENTRY, table, key, name));
            }
        }
    }
}

/// A table of code is looked up under a field whose values are known, and one of them is no key of
/// it.
fn lookups(query: &Query<'_>, seen: &mut Seen) {
    let lookups = query
        .slice
        .iter()
        .filter(|m| m.weight > 0.5)
        .filter_map(|m| m.node)
        .filter(|n| n.is(Kind::Index));
    for (table, key) in lookups.filter_map(|n| {
        Some((n.child(0)?.last_name()?, n.child(1).filter(|k| !k.is(Kind::Str))?.last_name()?))
    }) {
        let homes = query
            .scope
            .iter()
            .flat_map(|f| f.tree.named(table).filter_map(At::assigned_value).map(move |v| (*f, v)));
        let literal = |n: At<'_>| {
            n.is(Kind::Table)
                && n.children().count() >= 2
                && n.children().all(|c| c.is(Kind::Pair) && c.text().is_some())
        };
        let [(home, literal)] = homes.filter(|(_, v)| literal(*v)).collect::<Vec<_>>()[..] else {
            continue;
        };
        let keys: Vec<&str> = literal.children().filter_map(At::text).collect();
        // What stands under that field, in code and data.
        let mut values: Vec<(&str, &FileFacts, u32)> = Vec::new();
        for file in &query.scope {
            let pairs = file
                .tree
                .named(key)
                .filter(|n| n.is(Kind::Pair))
                .filter_map(|n| n.children().last())
                .filter(|v| v.is(Kind::Str));
            values.extend(pairs.filter_map(|v| Some((v.text()?, *file, v.line()))));
            let data = file
                .data
                .iter()
                .filter(|d| d.role == Role::Value && d.path.rsplit('/').next() == Some(key));
            values.extend(data.map(|d| (d.text.as_ref(), *file, d.line)));
        }
        let mut lacking: Vec<&str> =
            values.iter().map(|(v, ..)| *v).filter(|v| !keys.contains(v)).collect();
        lacking.sort_unstable();
        lacking.dedup();
        // Where most are no keys of it, they are no keys at all.
        let [lacking] = lacking[..] else { continue };
        if !values.iter().any(|(v, ..)| keys.contains(v)) {
            continue;
        }
        // One slip away from a key, and written once: the slip is where it is written.
        let slipped = keys.iter().find_map(|key| {
            name_edit(lacking, key).filter(|s| *s <= NameEdit::Letter).map(|s| (*key, s))
        });
        let mut written = values.iter().filter(|(v, ..)| *v == lacking);
        if let (Some((near, slip)), Some((_, file, line)), None) =
            (slipped, written.next(), written.next())
        {
            let reason =
                say!(LISTED_NEARLY, name = lacking, other = near, edit = slip.says(lacking, near));
            seen.suspect(&file.path, *line, Strength::Strong, reason).saw(
                &home.path,
                literal.line(),
                Saying::quote(keys.join(", ")),
            );
            continue;
        }
        let reason = say!(NOT_LISTED_THOUGH_LOOKED_UP, names = keys, name = lacking);
        let suspect = seen.suspect(&home.path, literal.line(), Strength::Fair, reason);
        suspect.to(literal.last_line());
        for (_, file, line) in values.iter().filter(|(v, ..)| *v == lacking).take(2) {
            suspect.saw(&file.path, *line, say!(IS_HERE, name = key, value = lacking));
        }
    }
}

fn tell(
    query: &Query<'_>,
    seen: &mut Seen,
    strength: Strength,
    file: &FileFacts,
    list: &[&Datum],
    reason: Saying,
) {
    let (from, to) = (
        list.iter().map(|d| d.line).min().unwrap_or(1),
        list.iter().map(|d| d.line).max().unwrap_or(1),
    );
    let tie = list.first().map_or(0.0, |d| query.data_tie(file, d.record, ""));
    let suspect = seen.suspect(&file.path, from, strength, reason);
    suspect.to(to).tied(tie);
    for datum in list.iter().take(3) {
        suspect.saw(&file.path, datum.line, Saying::quote(datum.text.as_ref()));
    }
    if let Some(path) = query.path() {
        suspect.saw(path, query.line, say!(NEEDED_HERE));
    }
}
