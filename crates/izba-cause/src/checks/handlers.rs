//! handlers: functions that nothing names, though their siblings are put in somewhere.

use super::check::{Check, Look, Remark, remark};
use crate::seen::{MADE_HERE, PUT_IN_HERE};
use crate::suspect::As;
use izba_model::code::{At, FileFacts, Flag, How, Kind, NameEdit, stem_words};
use izba_model::{say, sayings};
use std::collections::HashMap;

sayings! {
    "handlers", Any, "../../words/checks/handlers.toml";
    NEARLY = "nearly",
    NOTHING_CALLS = "nothing-calls",
}

/// Of more functions that are called alike none is the odd one.
const MANY: usize = 300;

/// The check for this: functions that nothing names, though their siblings are put in somewhere.
pub static CHECK: Check = Check { id: "handlers", kinds: KINDS, title: "Never called", look };

fn look(look: &Look<'_>) -> Vec<Remark> {
    let mut found = Vec::new();
    for file in look.index.code() {
        let functions: Vec<At<'_>> = file
            .tree
            .all()
            .filter(|n| n.is(Kind::Func) && n.text().is_some() && !n.has(Flag::Constructor))
            .collect();
        // By owner and first word: those that are called alike.
        let key = |f: &At<'_>| {
            let first = stem_words(f.text().unwrap_or("")).into_iter().next();
            (f.class().map(At::line), first)
        };
        let mut alike: HashMap<_, Vec<&At<'_>>> = HashMap::new();
        functions.iter().for_each(|f| alike.entry(key(f)).or_default().push(f));
        for function in &functions {
            let name = function.text().unwrap_or("");
            if look.symbols.count(name) != 1 || name.len() < 3 || name.starts_with("__") {
                continue;
            }
            // What stands above it hands it on.
            if is_marked(file, *function) {
                continue;
            }
            let words = stem_words(name);
            let siblings = || {
                let all = alike.get(&key(function)).filter(|_| words.len() > 1);
                all.into_iter().flatten().filter(|f| **f != function).filter_map(|f| f.text())
            };
            // Several of one beginning that nothing calls are called by that, or by people.
            if alike.get(&key(function)).is_some_and(|f| f.len() > MANY) {
                continue;
            }
            let by_beginning = siblings().any(|other| !is_called(look, file, other));
            // Called alike, and put in at one place: all of them but this one.
            let put_in: Vec<_> = siblings()
                .filter_map(|other| handed(look, other).map(|(file, at)| (other, file, at)))
                .collect();
            let together = put_in.iter().filter(|(_, home, at)| {
                let (first, first_at) = (put_in[0].1, put_in[0].2);
                home.path == first.path && at.function() == first_at.function()
            });
            let one_place = put_in.len() >= 2
                && together.count() == put_in.len()
                && put_in.len() == siblings().count();
            let sibling = put_in.first().copied().filter(|_| one_place);
            if sibling.is_none()
                && !by_beginning
                && let Some((other, home, line, slip)) = nearly_a_handler(look, file, name)
            {
                let text = say!(NEARLY, name, other, edit = slip.says(name, other));
                found.push(remark(file, function.line(), 0.7, text).saw(
                    &home.path,
                    line,
                    say!(MADE_HERE, name = other),
                ));
                continue;
            }
            if let Some((other, home, at)) = sibling {
                let one = remark(file, function.line(), 0.8, say!(NOTHING_CALLS, name, other));
                found.push(one.saw(&home.path, at.line(), say!(PUT_IN_HERE, name = other)));
            }
        }
    }
    found
}

/// Whether a sign above a function or on its line marks it for others, who call it then.
fn is_marked(file: &FileFacts, function: At<'_>) -> bool {
    let line = function.line();
    let above = (1..line).rev().filter_map(|l| file.line(l)).map(str::trim);
    let own = file.line(line).map(str::trim);
    own.into_iter()
        .chain(above.take_while(|l| !l.is_empty()).take(MARKS))
        .any(|l| l.starts_with(['@', '[']) && !l.ends_with(';'))
}

/// Marks stand this many lines above a function at most.
const MARKS: usize = 4;

/// A function of other scripts, called by no code, that the engine therefore calls by its name;
/// nearly called like this one.
fn nearly_a_handler<'a>(
    look: &Look<'a>,
    file: &FileFacts,
    name: &str,
) -> Option<(&'a str, &'a FileFacts, u32, NameEdit)> {
    let near = look.symbols.near_of_many(name, |other, occurrences| {
        !other.starts_with("__")
            && occurrences.iter().any(|s| {
                s.as_what == As::Made(How::Function)
                    && s.file.path != file.path
                    && s.file.language == file.language
            })
            && !occurrences.iter().any(|s| s.file.path == file.path || s.as_what == As::Used)
    });
    // It has to be a way of scripts: one alone may be called so by chance.
    let (other, slip) = near
        .into_iter()
        .find(|(other, slip)| *slip <= NameEdit::Letters && made_for_others(look, file, other))?;
    let occurrence =
        look.symbols.occurrences(other).iter().find(|s| s.as_what == As::Made(How::Function))?;
    Some((other, occurrence.file, occurrence.line, slip))
}

/// Whether two scripts are made for an engine that calls what is in them: nothing in either is
/// called by code, or both have another function of one name that nothing calls.
fn made_for_others(look: &Look<'_>, file: &FileFacts, other: &str) -> bool {
    let called = |f: &FileFacts| functions(f).any(|n| is_called(look, file, n));
    let own: Vec<&str> = functions(file).collect();
    let alike =
        |home: &FileFacts| functions(home).any(|n| own.contains(&n) && !is_called(look, file, n));
    let homes = look.symbols.occurrences(other).iter();
    let mut homes = homes.filter(|s| s.as_what == As::Made(How::Function)).map(|s| s.file);
    homes.all(|home| alike(home) || !file.language.checked && !called(file) && !called(home))
}

/// The names of all functions that a script makes.
fn functions(file: &FileFacts) -> impl Iterator<Item = &str> {
    file.tree.all().filter(|n| n.is(Kind::Func)).filter_map(At::text)
}

/// Whether code of the same language names a function anywhere but where it is made.
fn is_called(look: &Look<'_>, by: &FileFacts, name: &str) -> bool {
    let mut all = look.symbols.occurrences(name).iter();
    // In a script that cannot be read a head may look like a call.
    let whole = |f: &FileFacts| f.language == by.language && !f.broken;
    all.any(|s| matches!(s.as_what, As::Used | As::Text) && whole(s.file))
}

/// Where a function is handed over by its name: in code, or by data.
fn handed<'a>(look: &Look<'a>, name: &str) -> Option<(&'a FileFacts, At<'a>)> {
    look.symbols
        .occurrences(name)
        .iter()
        .filter_map(|s| Some((s.file, s.node?, s.as_what)))
        .find_map(|(file, n, as_what)| {
            let by_name = matches!(n.kind(), Kind::Name | Kind::Field)
                && as_what == As::Used
                && !n.parent().is_some_and(|p| p.is(Kind::Call) && p.child(0) == Some(n));
            by_name.then_some((file, n))
        })
}
