//! names: a name that stands once, one slip from another one: the one is made and never used, the
//! other used and never made.

use super::check::{Check, Look, Remark, remark};
use super::owner;
use crate::seen::{MADE_HERE, STANDS_HERE};
use crate::suspect::{As, Occurrence, is_name, is_outside_name, names_file, plural, taught};
use izba_model::code::{
    At, Datum, Flag, How, Kind, NameEdit, Role, letters_of, may_be_edit, name_edit,
};
use izba_model::{say, sayings};
use std::collections::HashMap;

sayings! {
    "names", Name, "../../words/checks/names.toml";
    MADE_OTHERWISE = "made-otherwise",
    USED = "used",
    NOTHING_MAKES = "nothing-makes",
    NEVER_READ = "never-read",
    TAUGHT = "taught",
    INSTALLED = "installed",
    LANGUAGE_HAS = "language-has",
    NEVER_READ_OUTSIDE = "never-read-outside",
}

/// The check for this: a name that stands once, one slip from another one: the one is made and
/// never used, the other used and never made.
pub static CHECK: Check = Check { id: "names", kinds: KINDS, title: "Probably misspelt", look };

fn look(look: &Look<'_>) -> Vec<Remark> {
    let mut found = Vec::new();
    for (word, occurrences) in look.symbols.iter() {
        let real: Vec<&Occurrence<'_>> =
            occurrences.iter().filter(|s| s.as_what != As::File).collect();
        let [only] = real.as_slice() else { continue };
        let digit = word.starts_with(|c: char| c.is_ascii_digit());
        if !is_name(word)
            || digit
            || word.len() < 4
            || word.starts_with("__")
            || only.node.is_none()
        {
            continue;
        }
        // What the language or the engine has is spelt right.
        if is_outside_name(look.index, Some(only.file.language), word) {
            continue;
        }
        match only.as_what {
            // Made and never used.
            As::Made(How::Function | How::Class | How::Assigned | How::Key) => {
                let near = look.symbols.near_of_many(word, |_, others| {
                    let used = others.iter().any(|s| s.as_what == As::Used);
                    used && !others.iter().any(|s| matches!(s.as_what, As::Made(_) | As::DataKey))
                });
                let Some((other, slip)) = near.into_iter().find(|(_, s)| *s <= NameEdit::Letter)
                else {
                    continue;
                };
                let occurrence = look.symbols.occurrences(other)[0];
                if occurrence.file.language != only.file.language
                    || is_outside_name(look.index, Some(only.file.language), other)
                {
                    continue;
                }
                // A name of the library that is used so has an owner that nothing here makes.
                if outside(look, &occurrence) && !may_be_ours(only, &occurrence) {
                    continue;
                }
                let text = say!(MADE_OTHERWISE, name = word, other, edit = slip.says(word, other));
                found.push(remark(only.file, only.line, 0.9 * slip.weight(), text).saw(
                    &occurrence.file.path,
                    occurrence.line,
                    say!(USED, name = other),
                ));
            }
            // Used and never made; or given a value on a slip, which no one notices.
            As::Used => {
                let near = look.symbols.near_of_many(word, |_, others| {
                    others.iter().any(|s| matches!(s.as_what, As::Made(_))) && others.len() > 1
                });
                let Some((other, slip)) = near.into_iter().find(|(_, s)| *s <= NameEdit::Letter)
                else {
                    continue;
                };
                if outside(look, only) {
                    continue;
                }
                let occurrence = look.symbols.occurrences(other).iter().find(|s| {
                    matches!(s.as_what, As::Made(_)) && s.file.language == only.file.language
                });
                let Some(occurrence) = occurrence else { continue };
                let text = say!(NOTHING_MAKES, name = word, other, edit = slip.says(word, other));
                found.push(remark(only.file, only.line, 0.85 * slip.weight(), text).saw(
                    &occurrence.file.path,
                    occurrence.line,
                    say!(MADE_HERE, name = other),
                ));
            }
            _ => {}
        }
    }
    // A field that is given a value once under a name that is nearly one that others read and give.
    for (word, occurrences) in look.symbols.iter().filter(|(w, s)| s.len() == 1 && w.len() >= 4) {
        let only = &occurrences[0];
        let Some(node) =
            only.node.filter(|n| only.as_what == As::Made(How::Assigned) && n.is(Kind::Field))
        else {
            continue;
        };
        // A field of the data's record of this very script gets its first value there.
        let of_script = |s: &Occurrence<'_>| {
            let names = |d: &Datum| {
                d.role == Role::Value && d.text.rsplit('/').next() == Some(only.file.name())
            };
            let record = s.file.data.iter().find(|d| d.line == s.line).map(|d| d.record);
            s.as_what == As::DataKey
                && s.file.data.iter().any(|d| Some(d.record) == record && names(d))
        };
        let near = look.symbols.near_of_many(word, |w, others| {
            let by_data = w.len() >= 5
                && others.iter().any(of_script)
                && !others.iter().any(|s| matches!(s.as_what, As::Made(_)));
            by_data
                || others
                    .iter()
                    .filter(|s| {
                        s.node.is_some_and(|n| {
                            n.is(Kind::Field)
                                || n.parent()
                                    .and_then(At::parent)
                                    .is_some_and(|p| p.has(Flag::Member))
                        })
                    })
                    .count()
                    >= 2
        });
        let Some((other, slip)) =
            near.into_iter().find(|(_, s)| matches!(s, NameEdit::Letter | NameEdit::Case))
        else {
            continue;
        };
        if found.iter().any(|r| r.file == only.file.path && r.line == only.line)
            || plural(word, other)
            || side_by_side(node, look.symbols.occurrences(other))
            || !same_owner(node, look.symbols.occurrences(other))
                && !look.symbols.occurrences(other).iter().any(of_script)
        {
            continue;
        }
        let occurrence = look.symbols.occurrences(other)[0];
        let text = say!(NEVER_READ, name = word, other, edit = slip.says(word, other));
        found.push(remark(only.file, node.line(), 0.8 * slip.weight(), text).saw(
            &occurrence.file.path,
            occurrence.line,
            say!(STANDS_HERE, name = other),
        ));
    }
    outside_slips(look, &mut found);
    found
}

/// Given a value once and read by nothing here, under a name nearly one of the language, its
/// library or the engine: so the real one never changes, and nobody says a word.
fn outside_slips(look: &Look<'_>, found: &mut Vec<Remark>) {
    // Each with its letters, so that most are told apart without comparing.
    let mut of_language: HashMap<(&str, bool), Vec<(&str, u64)>> = HashMap::new();
    for (word, occurrences) in look.symbols.iter().filter(|(w, s)| s.len() == 1 && w.len() >= 5) {
        let only = &occurrences[0];
        let Some(node) = only.node.filter(|_| only.as_what == As::Made(How::Assigned)) else {
            continue;
        };
        let local = node
            .parent()
            .and_then(At::parent)
            .is_some_and(|a| a.has(Flag::Local) || a.has(Flag::Member));
        if local
            || only.file.language.checked
            || found.iter().any(|r| r.file == only.file.path && r.line == only.line)
        {
            continue;
        }
        if is_outside_name(look.index, Some(only.file.language), word) {
            continue;
        }
        let member = node.is(Kind::Field);
        let known = of_language.entry((&only.file.language.id, member)).or_insert_with(|| {
            let own = only.file.language.known().meant(member);
            let names =
                own.chain(taught(look.index)).chain(look.index.library.iter().map(AsRef::as_ref));
            names.filter(|n| n.len() >= 5).map(|n| (n, letters_of(n))).collect()
        });
        let letters = letters_of(word);
        let near = known.iter().filter(|(n, l)| may_be_edit(letters, *l) && !plural(n, word));
        let near = near
            .map(|(n, _)| *n)
            .find_map(|n| Some((n, name_edit(word, n).filter(|s| *s <= NameEdit::Letter)?)));
        let Some((other, slip)) = near else { continue };
        // A constant is written in capitals, whatever the language calls so.
        if slip == NameEdit::Case && word.to_uppercase() == *word {
            continue;
        }
        let from = if taught(look.index).any(|n| n == other) {
            say!(TAUGHT)
        } else if look.index.library.iter().any(|n| n.as_ref() == other) {
            say!(INSTALLED)
        } else {
            say!(LANGUAGE_HAS, language = only.file.language.said())
        };
        let text =
            say!(NEVER_READ_OUTSIDE, name = word, from, other, edit = slip.says(word, other));
        found.push(remark(only.file, node.line(), 0.8 * slip.weight(), text));
    }
}

/// Whether a name may be made elsewhere: it is asked of something that the project does not make
/// from beginning to end, or scripts from elsewhere give all their names.
fn outside(look: &Look<'_>, occurrence: &Occurrence<'_>) -> bool {
    let Some(node) = occurrence.node else { return false };
    let file = occurrence.file;
    match node.kind() {
        Kind::Field => node.child(0).is_none_or(|owner| !owner::all_known(look, file, owner)),
        // Types, annotations and names of the language's own library have no maker here either.
        Kind::Name => {
            let all_of_others = |n: At<'_>| {
                n.is(Kind::Import)
                    && n.has(Flag::Whole)
                    && !look.index.code().any(|f| names_file(n.text().unwrap_or_default(), f))
            };
            file.language.checked || file.tree.all().any(all_of_others)
        }
        _ => true,
    }
}

/// Whether what is asked of something that came from somewhere may be asked of an object of ours:
/// a method that nothing calls, and a call of a method that nothing makes.
fn may_be_ours(made: &Occurrence<'_>, used: &Occurrence<'_>) -> bool {
    let used_in = used.file;
    let (Some(made), Some(used)) = (made.node, used.node) else { return false };
    let method =
        made.is(Kind::Func) && (made.class().is_some() || made.part(Kind::Owner).is_some());
    let owner = used.child(0).filter(|o| used.is(Kind::Field) && o.is(Kind::Name));
    let by_hand = owner.and_then(At::text).is_some_and(|name| {
        used_in.tree.named(name).any(|n| {
            matches!(n.defines(), Some(How::Parameter | How::Loop))
                && n.function() == used.function()
        })
    });
    let called = used.parent().is_some_and(|p| p.is(Kind::Call) && p.child(0) == Some(used));
    method && by_hand && called && made.text().is_some_and(|name| name.len() >= 6)
}

/// Whether another name is asked, more than once, of what is called like the owner of this one.
fn same_owner(one: At<'_>, other: &[Occurrence<'_>]) -> bool {
    let owner = |n: At<'_>| {
        let name = n.child(0).and_then(At::last_name)?;
        // Of itself only within one type.
        let class = n.class().and_then(At::text).unwrap_or_default();
        Some(if matches!(name, "self" | "this") { format!("{class} {name}") } else { name.into() })
    };
    let of_it = || {
        let fields = other.iter().filter_map(|s| s.node).filter(|n| n.is(Kind::Field));
        fields.filter(|n| owner(*n).is_some() && owner(*n) == owner(one))
    };
    // A method of that name is another thing.
    of_it().count() > 1 && of_it().any(|n| n.defines() == Some(How::Assigned))
}

/// Whether two names are given a value by one function: then they are two on purpose.
fn side_by_side(one: At<'_>, other: &[Occurrence<'_>]) -> bool {
    other.iter().filter_map(|s| s.node).any(|n| {
        n.defines().is_some() && n.function() == one.function() && n.class() == one.class()
    })
}
