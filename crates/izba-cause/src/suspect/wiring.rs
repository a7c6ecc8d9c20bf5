//! wiring: names in data (and in texts of code) that should lead to something and don't; handlers
//! that nothing names.

use super::check::{Check, Seen, Strength};
use super::query::Query;
use super::symbols::{As, Occurrence, capital_of_words, is_name, plural};
use crate::seen::ASKED_HERE;
use izba_model::Family;
use izba_model::claim::Saying;
use izba_model::code::{
    At, Datum, FileFacts, Flag, How, Kind, NameEdit, Role, name_edit, stem_words,
};
use izba_model::{say, sayings};
use std::collections::{BTreeMap, HashMap, HashSet};

sayings! {
    "wiring", Any, "../../words/suspects/wiring.toml";
    NEARLY = "nearly",
    NOWHERE = "nowhere",
    PUT_IN_OTHERWISE = "put-in-otherwise",
    NEAR_TO = "near-to",
    NEIGHBOURS = "neighbours",
    NOT_LISTED = "not-listed",
    KEY_NEARLY = "key-nearly",
    KEY_MISSING = "key-missing",
    TIED = "tied",
    NAMED_NOWHERE = "named-nowhere",
    NOT_PUT_IN = "not-put-in",
    NOTHING_NAMES = "nothing-names",
    SIBLING = "sibling",
}

/// The check for this: names in data (and in texts of code) that should lead to something and
/// don't.
pub static CHECK: Check = Check {
    id: "wiring",
    kinds: KINDS,
    applies: |query| {
        query.family() != Family::DoesNotParse
            && query.family() != Family::NotOpen
            && !query.said.contains("cannot find symbol")
    },
    look,
};

/// From this tie on data has to do with the error; what is below belongs to another part of the
/// project.
const SAME_PART: f32 = 0.5;

fn look(query: &Query<'_>, seen: &mut Seen) {
    for file in query.scope.iter().filter(|f| !f.data.is_empty()) {
        values(query, file, seen);
        keys(query, file, seen);
    }
    registrations(query, seen);
    places_of_key(query, seen);
}

/// Whether anything answers to a name that stands as a value in data.
fn answered(query: &Query<'_>, datum: &Datum) -> bool {
    query.symbols.kinds(&datum.text).iter().any(|s| {
        matches!(
            s,
            As::Made(How::Function | How::Class | How::Key | How::Assigned)
                | As::Text
                | As::DataKey
                | As::File
        )
    }) || query.symbols.occurrences(&datum.text).iter().filter(|s| s.as_what == As::DataValue).any(
        // The same name stands as a value of another nature: it is a reference there or here.
        |s| s.datum.is_some_and(|d| d.path != datum.path),
    )
}

/// Whether a word stands as a value where this value stands in its own record.
fn same_nature(occurrence: &Occurrence<'_>, datum: &Datum) -> bool {
    occurrence.datum.is_some_and(|d| d.path == datum.path && d.line != datum.line)
}

/// Values of one nature, most of which lead somewhere.
fn values(query: &Query<'_>, file: &FileFacts, seen: &mut Seen) -> bool {
    let mut any = false;
    let calls = [
        "not a function",
        "attempt to call",
        "NoSuchMethod",
        "has no attribute",
        "not callable",
        "Key",
        "is null",
    ]
    .iter()
    .any(|w| query.said.contains(w));
    let mut natures: BTreeMap<&str, Vec<&Datum>> = BTreeMap::new();
    for datum in file.data.iter().filter(|d| d.role == Role::Value && is_name(&d.text)) {
        natures.entry(&datum.path).or_default().push(datum);
    }
    // In a table of words each key of a small map is a path of its own; values under the same
    // parent are of one nature too.
    let mut parents: BTreeMap<&str, Vec<&Datum>> = BTreeMap::new();
    for datum in file.data.iter().filter(|d| d.role == Role::Value && is_name(&d.text)) {
        let parent = datum.path.rsplit_once('/').map_or("", |(p, _)| p);
        parents.entry(parent).or_default().push(datum);
    }
    let led_of = |group: &[&Datum]| group.iter().filter(|d| answered(query, d)).count();
    let mut led_below: HashMap<&str, usize> = HashMap::new();
    for (path, group) in &natures {
        let parent = path.rsplit_once('/').map_or("", |(p, _)| p);
        let above = parents.get(parent).filter(|_| group.len() == 1);
        let wider: &Vec<&Datum> = above.unwrap_or(group);
        let led = match above {
            Some(wider) => *led_below.entry(parent).or_insert_with(|| led_of(wider)),
            None => led_of(group),
        };
        let mut times: HashMap<&str, usize> = HashMap::new();
        group.iter().for_each(|d| *times.entry(&d.text).or_default() += 1);
        for datum in group.iter().filter(|d| !answered(query, d)) {
            let mentioned = query.says(&datum.text);
            let fits = |w: &str, occurrences: &[Occurrence<'_>]| {
                w.len() > 1
                    && occurrences.iter().any(|s| {
                        matches!(
                            s.as_what,
                            As::Made(How::Function | How::Class | How::Key | How::Assigned)
                                | As::DataKey
                                | As::Text
                                | As::File
                        ) || s.as_what == As::DataValue
                            && (query.symbols.count(w) > 1 || same_nature(s, datum))
                    })
            };
            let near = if mentioned {
                query.symbols.near(&datum.text, fits)
            } else {
                query.symbols.near_of_many(&datum.text, fits)
            };
            let words = |other: &str| {
                group.len() > 1
                    && capital_of_words(&datum.text, other, group.iter().map(|d| d.text.as_ref()))
            };
            let near = near
                .into_iter()
                .find(|(w, s)| (*s <= NameEdit::Letters || *s == NameEdit::Word) && !words(w));
            let share = led as f32 / wider.len() as f32;
            let strength = match &near {
                Some((_, slip)) if *slip <= NameEdit::Case => Strength::Fair,
                Some(_) => Strength::Weak,
                // Nothing near it: odd only where it is told, or the others all lead somewhere.
                None if mentioned && led >= 1 && share >= 0.5 => Strength::Weak,
                None if led >= 2 && share >= 0.6 => Strength::Faint,
                None if mentioned && calls && wider.len() == 1 => Strength::Faint,
                // Where its neighbours lead nowhere either, nothing was to be expected.
                None => continue,
            };
            // Several that say the same are right, and what they nearly name is the odd one.
            let same = times.get(datum.text.as_ref()).copied().unwrap_or(0);
            let several = same > 1
                && near
                    .as_ref()
                    .is_some_and(|(w, _)| query.symbols.count(w) == 1 && query.symbols.is_made(w));
            // Where it stands nowhere but among them, the odd one is accused, or none.
            let beside = |word: &str| {
                let mut all = query.symbols.occurrences(word).iter();
                all.all(|s| s.datum.is_some_and(|d| d.path == datum.path))
            };
            if same > 1 && near.as_ref().is_some_and(|(w, _)| beside(w)) {
                continue;
            }
            if same > 1
                && let Some((other, slip)) = &near
                && put_in_otherwise(query, datum, other, same, *slip, seen)
            {
                continue;
            }
            // What is called and not there was named by data, where its neighbours name functions.
            let to_functions =
                |word: &str| query.symbols.kinds(word).contains(&As::Made(How::Function));
            let of_function = calls
                && (wider.iter().any(|d| to_functions(&d.text))
                    || near.as_ref().is_some_and(|(w, _)| to_functions(w)));
            // What is looked for on the way is the very name that is nearly this one.
            let looked_for = |word: &str| {
                query
                    .slice
                    .iter()
                    .filter(|m| m.weight > 0.25)
                    .filter_map(|m| m.node)
                    .any(|n| n.is(Kind::Str) && n.is_called(word))
            };
            let wanted =
                near.as_ref().is_some_and(|(w, slip)| *slip <= NameEdit::Letter && looked_for(w));
            let reason = match &near {
                Some((other, slip)) => {
                    say!(NEARLY, name = datum.text, other, edit = slip.says(&datum.text, other))
                }
                None => say!(NOWHERE, name = datum.text),
            };
            // Words for people are near to names by chance.
            let by_chance = near.is_some() && !mentioned && !wanted && !calls;
            let speaks =
                [mentioned, of_function, wanted].into_iter().filter(|holds| *holds).count();
            let against = i32::from(several) + i32::from(by_chance);
            let strength = strength.with(speaks as i32 - against);
            let tie = query.data_tie(file, datum.record, &datum.text);
            if tie < SAME_PART && !wanted {
                continue;
            }
            let suspect = seen.suspect(&file.path, datum.line, strength, reason);
            suspect.tied(tie.max(query.relevance(file, datum.line)));
            if let Some(occurrence) =
                near.and_then(|(other, _)| query.symbols.occurrences(other).first().copied())
            {
                suspect.saw(&occurrence.file.path, occurrence.line, say!(NEAR_TO));
            }
            if led > 0 {
                suspect.saw(
                    &file.path,
                    datum.line,
                    say!(NEIGHBOURS, led = led, count = wider.len()),
                );
            }
            any |= strength >= Strength::Fair && tie > 0.6;
            if mentioned && near.is_none() {
                any |= listed_in_code(query, file, datum, seen);
            }
        }
    }
    any
}

/// What data names several times is put in by code once, under nearly that name.
fn put_in_otherwise(
    query: &Query<'_>,
    datum: &Datum,
    other: &str,
    times: usize,
    slip: NameEdit,
    seen: &mut Seen,
) -> bool {
    let texts: Vec<_> =
        query.symbols.occurrences(other).iter().filter(|s| s.as_what == As::Text).collect();
    let [once] = texts[..] else { return false };
    let Some(key) = once.node.filter(|n| {
        n.is(Kind::Str)
            && n.parent().is_some_and(|p| {
                p.is(Kind::Index) && p.parent().is_some_and(|t| t.is(Kind::Targets))
                    || p.is(Kind::Pair)
            })
    }) else {
        return false;
    };
    if slip > NameEdit::Letter || !query.says(&datum.text) {
        return false;
    }
    let reason = say!(PUT_IN_OTHERWISE, name = other, other = datum.text, count = times);
    seen.suspect(&once.file.path, key.line(), Strength::Plain, reason);
    true
}

/// Where code lists what the neighbours of a value are called, and not this one.
fn listed_in_code(query: &Query<'_>, file: &FileFacts, datum: &Datum, seen: &mut Seen) -> bool {
    let others = super::gaps::beside(file, datum);
    let mut homes: BTreeMap<(&str, u32), (Vec<At<'_>>, &FileFacts)> = BTreeMap::new();
    for other in &others {
        for occurrence in query.symbols.occurrences(other).iter().filter(|s| s.as_what == As::Text)
        {
            let Some(node) = occurrence.node else { continue };
            let function = node.function().map_or(0, At::line);
            homes
                .entry((&occurrence.file.path, function))
                .or_insert_with(|| (Vec::new(), occurrence.file))
                .0
                .push(node);
        }
    }
    let Some((nodes, file)) = homes
        .into_values()
        .filter(|(nodes, _)| {
            nodes.len() * 2 >= others.len() && nodes.len() >= 2 || others.len() == 1
        })
        .max_by_key(|(nodes, _)| nodes.len())
    else {
        return false;
    };
    let (from, to) = (
        nodes.iter().map(|n| n.line()).min().unwrap_or(1),
        nodes.iter().map(|n| n.line()).max().unwrap_or(1),
    );
    let names: Vec<&str> = nodes.iter().filter_map(|n| n.text()).collect();
    let suspect = seen.suspect(
        &file.path,
        from.saturating_sub(1).max(1),
        Strength::Strong,
        say!(NOT_LISTED, names, name = datum.text),
    );
    suspect.to(to + 1);
    for node in nodes {
        suspect.saw(&file.path, node.line(), Saying::quote(node.text().unwrap_or_default()));
    }
    true
}

/// So many keys of records at one place that all but one have are looked at.
const LACKING: usize = 20;

/// The members that the failing line asks for and that neither data nor code has.
fn unanswered<'a>(query: &Query<'a>) -> Vec<&'a str> {
    if !matches!(query.family(), Family::ValueNotThere | Family::WrongKind) {
        return Vec::new();
    }
    // A variable of that name is no member.
    let member = |n: At<'_>| {
        n.defines().is_some()
            && (n.is(Kind::Field) || n.defines() == Some(How::Key) || n.class().is_some())
    };
    let has = |name: &str| {
        query.named(name).any(|(_, n)| member(n))
            || query.symbols.kinds(name).contains(&As::DataKey)
            || query.symbols.kinds(name).contains(&As::Made(How::Class))
            || query.file.is_some_and(|f| f.language.has_name(name))
    };
    let asked = query.on_line().filter(|n| n.is(Kind::Field) && n.defines().is_none());
    asked.filter_map(At::text).filter(|name| !has(name)).collect()
}

/// Whether some code asks an object for a member of this name, or for an entry under it: a variable
/// of that name asks for nothing.
fn is_asked_of_something(query: &Query<'_>, name: &str) -> bool {
    query.named(name).any(|(_, n)| matches!(n.kind(), Kind::Field | Kind::Str))
}

/// Keys that the code never asks for, near one that it does; and records that lack what their
/// siblings have.
fn keys(query: &Query<'_>, file: &FileFacts, seen: &mut Seen) -> bool {
    let mut any = false;
    let mut natures: HashMap<&str, HashMap<&str, usize>> = HashMap::new();
    for datum in file.data.iter().filter(|d| d.role == Role::Key) {
        *natures.entry(&datum.path).or_default().entry(&datum.text).or_default() += 1;
    }
    let unanswered = unanswered(query);
    for datum in file.data.iter().filter(|d| d.role == Role::Key && is_name(&d.text)) {
        let meant = unanswered.iter().find_map(|w| Some((*w, name_edit(&datum.text, w)?)));
        if let Some((other, slip)) = meant.filter(|(_, slip)| *slip < NameEdit::Word)
            && !is_asked_of_something(query, &datum.text)
        {
            let edit = slip.says(&datum.text, other);
            let says = say!(KEY_NEARLY, name = datum.text, other, edit);
            let strength = Strength::Plain.of_slip(slip);
            let suspect = seen.suspect(&file.path, datum.line, strength, says);
            if let Some(path) = query.path() {
                suspect.saw(path, query.line, say!(ASKED_HERE, name = other));
            }
            suspect.tied(1.0);
            any = true;
            continue;
        }
        let kinds = query.symbols.kinds(&datum.text);
        if kinds.iter().any(|s| !matches!(s, As::DataKey | As::File)) {
            continue;
        }
        let alone = natures
            .get(datum.path.as_ref())
            .and_then(|n| n.get(datum.text.as_ref()))
            .is_some_and(|n| *n == 1);
        if !alone {
            continue;
        }
        let near = query.symbols.near_of_many(&datum.text, |_, occurrences| {
            occurrences.iter().any(|s| matches!(s.as_what, As::Used | As::Text | As::Made(_)))
        });
        let near = near.into_iter().find(|(_, s)| *s <= NameEdit::Letters);
        let Some((other, slip)) = near.filter(|(w, _)| !plural(w, &datum.text) && w.len() > 2)
        else {
            continue;
        };
        // What the language itself has is asked for as such.
        if query.file.is_some_and(|f| f.language.has_name(other)) && !query.symbols.is_made(other) {
            continue;
        }
        // A type that is made of what stands there is called like it.
        if slip == NameEdit::Case && query.symbols.kinds(other).contains(&As::Made(How::Class)) {
            continue;
        }
        let about = query.asked.as_deref() == Some(other)
            || query.mentioned.iter().any(|m| m == other)
            || query.subject_names().contains(&other);
        // What several files call so is called so on purpose.
        let elsewhere = || {
            let mut occurrences = query.symbols.occurrences(&datum.text).iter();
            occurrences.any(|s| s.file.path != file.path)
        };
        if !about && elsewhere() {
            continue;
        }
        let tie = if about { 1.0 } else { query.data_tie(file, datum.record, &datum.text) };
        // A capital is how data and code are told apart, unless it is this very name.
        let convention = slip == NameEdit::Case && !about;
        if tie < SAME_PART {
            continue;
        }
        let strength = if about { Strength::Plain } else { Strength::Fair }.of_slip(slip);
        let strength = strength.with(-2 * i32::from(convention));
        let suspect = seen.suspect(
            &file.path,
            datum.line,
            strength,
            say!(KEY_NEARLY, name = datum.text, other, edit = slip.says(&datum.text, other)),
        );
        if let Some(occurrence) = query.symbols.occurrences(other).first() {
            suspect.saw(&occurrence.file.path, occurrence.line, say!(ASKED_HERE, name = other));
        }
        suspect.tied(tie);
        any = true;
    }
    // Records of a list that lack a key which their siblings have.
    let mut records: BTreeMap<(&str, u32), Vec<&Datum>> = BTreeMap::new();
    for datum in file.data.iter().filter(|d| d.role == Role::Key) {
        records.entry((&datum.path, datum.record)).or_default().push(datum);
    }
    let mut by_path: BTreeMap<&str, Vec<&Vec<&Datum>>> = BTreeMap::new();
    for ((path, _), record) in &records {
        by_path.entry(path).or_default().push(record);
    }
    for group in by_path.values().filter(|g| g.len() >= 3) {
        let mut counts: BTreeMap<&str, usize> = BTreeMap::new();
        group.iter().for_each(|r| r.iter().for_each(|d| *counts.entry(&d.text).or_default() += 1));
        let lacking = counts.iter().filter(|(_, n)| **n + 1 == group.len()).take(LACKING);
        let lacking: Vec<&str> = lacking.map(|(key, _)| *key).collect();
        for record in group {
            for key in &lacking {
                if record.iter().any(|d| d.text.as_ref() == *key) {
                    continue;
                }
                let about = query.asked.as_deref() == Some(*key)
                    || query.mentioned.iter().any(|m| m == key)
                    || query.subject_names().contains(key);
                // Where it stands in its siblings: after the key that comes before it there.
                let before = group.iter().find_map(|r| {
                    let at = r.iter().position(|d| d.text.as_ref() == *key)?;
                    Some(at.checked_sub(1).map(|b| r[b].text.as_ref()))
                });
                let line = match before
                    .flatten()
                    .and_then(|b| record.iter().find(|d| d.text.as_ref() == b))
                {
                    Some(datum) => datum.line,
                    None if before == Some(None) => {
                        record.first().map_or(1, |d| d.line.saturating_sub(1).max(1))
                    }
                    None => record.last().map_or(1, |d| d.line),
                };
                let tie = record.first().map_or(0.0, |d| query.data_tie(file, d.record, ""));
                if !about && tie < SAME_PART {
                    continue;
                }
                let strength = if about { Strength::Strong } else { Strength::Faint };
                let suspect = seen.suspect(
                    &file.path,
                    line,
                    strength,
                    say!(KEY_MISSING, name = key, count = group.len() - 1),
                );
                suspect.to(line + 1);
                any |= about;
            }
        }
    }
    any
}

/// A key was looked for and is nowhere: where its siblings are put in.
fn places_of_key(query: &Query<'_>, seen: &mut Seen) -> bool {
    let Some(asked) = query.asked.as_deref() else { return false };
    if query.family() == Family::LooseWiring {
        let mut any = false;
        for occurrence in
            query.symbols.occurrences(asked).iter().filter(|s| s.as_what == As::DataValue)
        {
            let suspect = seen.suspect(
                &occurrence.file.path,
                occurrence.line,
                Strength::Plain,
                say!(TIED, name = asked),
            );
            suspect.saw(&occurrence.file.path, occurrence.line, Saying::quote(asked));
            any = true;
        }
        return any;
    }
    if !(query.said.contains("Key")
        || query.family() == Family::ValueNotThere
        || query.said.contains("not found")
        || query.said.contains("unknown"))
    {
        return false;
    }
    let known = query
        .symbols
        .occurrences(asked)
        .iter()
        .any(|s| matches!(s.as_what, As::Made(How::Key) | As::DataKey));
    if known {
        return false;
    }
    let mut any = false;
    // Where data holds other such keys.
    for occurrence in query.symbols.occurrences(asked).iter().filter(|s| s.as_what == As::DataValue)
    {
        let alone =
            query.symbols.occurrences(asked).iter().filter(|s| s.as_what == As::DataValue).count()
                == 1;
        let strength = if alone { Strength::Fair } else { Strength::Weak };
        let suspect = seen.suspect(
            &occurrence.file.path,
            occurrence.line,
            strength,
            say!(NAMED_NOWHERE, name = asked),
        );
        suspect.saw(&occurrence.file.path, occurrence.line, Saying::quote(asked));
        any = true;
    }
    any
}

/// Functions of one owner that are handed over by their names, in the order of the file; how many
/// names hold a word, and how many are handed over in one way.
#[derive(Default)]
struct Handed<'a> {
    all: Vec<(usize, &'a FileFacts, At<'a>)>,
    words: HashMap<String, usize>,
    ways: HashMap<Option<(Kind, Option<String>)>, usize>,
}

impl<'a> Handed<'a> {
    fn put(&mut self, at: usize, home: &'a FileFacts, node: At<'a>, function: &At<'_>) {
        let words: HashSet<String> =
            stem_words(function.text().unwrap_or("")).into_iter().collect();
        words.into_iter().for_each(|w| *self.words.entry(w).or_default() += 1);
        *self.ways.entry(way_of(node)).or_default() += 1;
        self.all.push((at, home, node));
    }
}

/// In which way a name is handed over: what it stands in, and under which name.
fn way_of(node: At<'_>) -> Option<(Kind, Option<String>)> {
    node.parent().map(|p| (p.kind(), p.last_name().map(str::to_owned)))
}

/// Handlers that nothing names, though their siblings are put in somewhere.
fn registrations(query: &Query<'_>, seen: &mut Seen) -> bool {
    let mut any = false;
    for file in query.scope.iter().filter(|f| f.language.is_code()) {
        let functions: Vec<At<'_>> = file
            .tree
            .all()
            .filter(|n| n.is(Kind::Func) && n.text().is_some() && !n.has(Flag::Constructor))
            .collect();
        // Many functions may share one name.
        let mut known = HashMap::new();
        let mut handed = |f: At<'_>| {
            let name = f.text().unwrap_or("").to_owned();
            let found = |name: &str| {
                let places = query.symbols.occurrences(name).iter();
                places.filter_map(|s| Some((s.file, s.node?))).find(|(_, n)| {
                    matches!(n.kind(), Kind::Name | Kind::Field)
                        && n.defines().is_none()
                        && !n.parent().is_some_and(|p| p.is(Kind::Call) && p.child(0) == Some(*n))
                })
            };
            *known.entry(name).or_insert_with_key(|name| found(name))
        };
        // Functions of the same owner that are handed over by name, and the words of their names.
        let owner = |f: &At<'_>| (f.class().map(At::line), f.has(Flag::Method));
        let mut owners: HashMap<_, Handed<'_>> = HashMap::new();
        for (at, function) in functions.iter().enumerate() {
            if let Some((home, node)) = handed(*function) {
                owners.entry(owner(function)).or_default().put(at, home, node, function);
            }
        }
        let none = Handed::default();
        for (nth, function) in functions.iter().enumerate() {
            let name = function.text().unwrap_or("");
            // Data may name it; code does not.
            let in_code = query
                .symbols
                .occurrences(name)
                .iter()
                .filter(|s| s.node.is_some() && s.as_what != As::Text)
                .take(2)
                .count();
            if in_code != 1
                || name.len() < 3
                || name.starts_with("__")
                || super::symbols::BEGINNINGS.contains(&name)
            {
                continue;
            }
            // Its siblings: functions of the same owner that are handed over by name.
            let of_owner = owners.get(&owner(function)).unwrap_or(&none);
            let siblings = &of_owner.all;
            let words = stem_words(name);
            // One sibling is enough where both are called alike; else several have to be put in in
            // the same way. This one itself may be among them, by another use of its name.
            let own = siblings.iter().find(|(at, ..)| *at == nth);
            let least = usize::from(own.is_some());
            let akin = words.iter().any(|w| of_owner.words.get(w).is_some_and(|n| *n > least));
            let own_way = own.map(|(_, _, n)| way_of(*n));
            let alike = of_owner
                .ways
                .iter()
                .any(|(way, count)| count - usize::from(own_way.as_ref() == Some(way)) >= 2);
            if siblings.len() == least || !akin && !alike {
                continue;
            }
            let about = |w: &str| stem_words(w).iter().any(|p| words.contains(p) && p.len() > 2);
            let calls = ["not a function", "attempt to call", "has no attribute", "Key"]
                .iter()
                .any(|w| query.said.contains(w));
            let by_data =
                calls && query.symbols.occurrences(name).iter().any(|s| s.as_what == As::DataValue);
            let asked = by_data
                || query.says(name)
                || query.asked.as_deref().is_some_and(about)
                || query.mentioned.iter().any(|m| about(m))
                || query
                    .slice
                    .iter()
                    .filter(|m| m.weight > 0.3)
                    .filter_map(|m| m.node)
                    .any(|n| n.is(Kind::Str) && n.text().is_some_and(about));
            // Put in after the sibling that is made before it.
            let (_, home, before) = siblings
                .iter()
                .rfind(|(at, ..)| *at < nth)
                .or_else(|| siblings.iter().find(|(at, ..)| *at != nth))
                .copied()
                .expect("there is one");
            let follows = siblings.first().is_some_and(|(at, ..)| *at < nth);
            let line = if follows { before.line() } else { before.line().saturating_sub(1).max(1) };
            let strength = if asked { Strength::Plain } else { Strength::Weak };
            let suspect = seen.suspect(&home.path, line, strength, say!(NOT_PUT_IN, name));
            suspect.to(line + 1).saw(&file.path, function.line(), say!(NOTHING_NAMES, name)).saw(
                &home.path,
                before.line(),
                say!(SIBLING),
            );
            any |= asked;
        }
    }
    any
}
