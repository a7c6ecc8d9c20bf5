//! wiring: names in data that lead nowhere, while their neighbours lead somewhere.

use super::check::{Check, Look, Remark, remark};
use crate::seen::ASKED_HERE;
use crate::suspect::{
    As, Occurrence, SymbolIndex, capital_of_words, is_for_tools, is_name, plural,
};
use izba_model::code::{Datum, FileFacts, How, NameEdit, Role};
use izba_model::{say, sayings};
use std::collections::{BTreeMap, BTreeSet, HashMap};

sayings! {
    "wiring", Name, "../../words/checks/wiring.toml";
    KEY_NEARLY = "key-nearly",
    NEARLY = "nearly",
    NOTHING_CALLED = "nothing-called",
    NEAR_TO = "near-to",
    NEIGHBOURS = "neighbours",
}

/// The check for this: names in data that lead nowhere, while their neighbours lead somewhere.
pub static CHECK: Check =
    Check { id: "wiring", kinds: KINDS, title: "Names that lead nowhere", look };

/// Whether something in code answers to a name.
fn leads(words: &SymbolIndex<'_>, text: &str) -> bool {
    words.kinds(text).iter().any(|s| {
        matches!(s, As::Made(How::Function | How::Class | How::Key) | As::DataKey | As::Text)
    }) || {
        // A type or file is often called like its object, in other letters.
        let occurrences = [text.to_lowercase(), capital(text)];
        occurrences.iter().any(|t| {
            let mut kinds = words.kinds(t).iter();
            kinds.any(|s| matches!(s, As::File | As::Made(How::Class) | As::DataKey))
        })
    }
}

fn capital(text: &str) -> String {
    let mut chars = text.chars();
    chars.next().map_or_else(String::new, |c| c.to_uppercase().collect::<String>() + chars.as_str())
}

/// Whether code names a file of data, so that it reads it.
fn is_named(look: &Look<'_>, file: &FileFacts) -> bool {
    let name = file.name();
    look.index.code().any(|f| f.text.contains(name))
}

/// The keys of a file, by what they stand in.
struct Keys<'s, 'a> {
    symbols: &'s SymbolIndex<'a>,
    beside: HashMap<&'s str, BTreeSet<&'s str>>,
}

fn parent(path: &str) -> &str {
    path.rsplit_once('/').map_or("", |(parent, _)| parent)
}

impl<'s, 'a> Keys<'s, 'a> {
    fn of(symbols: &'s SymbolIndex<'a>, file: &'s FileFacts) -> Keys<'s, 'a> {
        let mut beside: HashMap<&str, BTreeSet<&str>> = HashMap::new();
        for datum in file.data.iter().filter(|d| d.role == Role::Key) {
            beside.entry(parent(&datum.path)).or_default().insert(&datum.text);
        }
        Keys { symbols, beside }
    }

    /// Whether code asks for all other keys that stand beside one.
    fn others_are_asked(&self, datum: &Datum) -> bool {
        let Some(beside) = self.beside.get(parent(&datum.path)) else { return false };
        let asked = |key: &str| {
            let mut kinds = self.symbols.kinds(key).iter();
            kinds.any(|s| matches!(s, As::Text | As::Used))
        };
        let mut others = beside.iter().filter(|key| ***key != *datum.text);
        beside.len() > 2 && others.all(|key| asked(key))
    }
}

/// Whether code asks for a name that a page or file which code reads does not have: with a value
/// there that no code asks for it makes a pair.
fn pair(look: &Look<'_>, file: &FileFacts, other: &str, slip: NameEdit) -> bool {
    let occurrences = look.symbols.occurrences(other);
    slip <= NameEdit::Letter
        && occurrences.iter().any(|s| s.as_what == As::Text)
        && !occurrences.iter().any(|s| s.file.path == file.path)
}

/// How many different texts there are.
fn distinct<'d>(data: impl Iterator<Item = &'d &'d Datum>) -> usize {
    let mut texts: Vec<&str> = data.map(|d| d.text.as_ref()).collect();
    texts.sort_unstable();
    texts.dedup();
    texts.len()
}

fn look(look: &Look<'_>) -> Vec<Remark> {
    let mut found = Vec::new();
    let parts = look.index.parts();
    for file in look.index.data().filter(|f| !is_for_tools(f)) {
        // Of another program in the same folder the names are others'.
        let ours = |s: &Occurrence<'_>| parts.together(&s.file.path, &file.path);
        let read = is_named(look, file);
        let scripted = file.text.contains("<script");
        let keys = Keys::of(&look.symbols, file);
        let mut natures: BTreeMap<&str, Vec<&Datum>> = BTreeMap::new();
        for datum in file.data.iter().filter(|d| is_name(&d.text)) {
            if datum.role == Role::Value {
                natures.entry(&datum.path).or_default().push(datum);
            } else if look
                .symbols
                .kinds(&datum.text)
                .iter()
                .all(|s| matches!(s, As::DataKey | As::File))
            {
                // A key that no code asks for, near one that code asks for and data never has.
                if look.symbols.count(&datum.text) != 1
                    || datum.text.len() < 4
                    || !(read || keys.others_are_asked(datum))
                {
                    continue;
                }
                let near = look.symbols.near_of_many(&datum.text, |w, occurrences| {
                    occurrences.iter().any(|s| matches!(s.as_what, As::Text | As::Used))
                        && (w.len() >= 4)
                        && !occurrences.iter().any(|s| {
                            s.as_what == As::DataKey
                                && s.file.path == file.path
                                && look.symbols.count(w) < 3
                        })
                });
                if let Some((other, slip)) = near
                    .into_iter()
                    .find(|(w, s)| *s <= NameEdit::Letter && !look.symbols.is_made(w))
                {
                    let occurrence = look.symbols.occurrences(other)[0];
                    let text = say!(
                        KEY_NEARLY,
                        name = datum.text,
                        other,
                        edit = slip.says(&datum.text, other)
                    );
                    found.push(remark(file, datum.line, 0.8 * slip.weight(), text).saw(
                        &occurrence.file.path,
                        occurrence.line,
                        say!(ASKED_HERE, name = other),
                    ));
                }
            }
        }
        for group in natures.values() {
            if group.iter().any(|d| d.text.len() > 30) {
                continue;
            }
            let is_made = |d: &&&Datum| {
                let mut kinds = look.symbols.kinds(&d.text).iter();
                kinds.any(|s| matches!(s, As::Made(How::Function | How::Class)))
            };
            let led = group.iter().filter(is_made).count();
            let led_anywhere = group.iter().filter(|d| leads(&look.symbols, &d.text)).count();
            // Words that only look like names of the code lead somewhere by chance: the more of
            // them do, and the fewer do not, the less so.
            let led_names = distinct(group.iter().filter(is_made));
            let lost_names = distinct(group.iter().filter(|d| !leads(&look.symbols, &d.text)));
            let all_names = distinct(group.iter());
            let wired = lost_names == 1 && (led_names >= 2 || all_names >= 4);
            let mostly = led_anywhere * 4 >= group.len() * 3;
            let may_pair = read || scripted;
            if !(wired || may_pair) {
                continue;
            }
            let mut times: HashMap<&str, usize> = HashMap::new();
            group.iter().for_each(|d| *times.entry(&d.text).or_default() += 1);
            for datum in group.iter().filter(|d| !leads(&look.symbols, &d.text)) {
                // A slip is made once.
                if times.get(datum.text.as_ref()).is_some_and(|n| *n > 1) {
                    continue;
                }
                let near = look.symbols.near_of_many(&datum.text, |_, occurrences| {
                    occurrences.iter().any(|s| {
                        matches!(
                            s.as_what,
                            As::Made(How::Function | How::Class | How::Key) | As::DataKey
                        ) && ours(s)
                    })
                });
                let words = |other: &str| {
                    group.len() > 1
                        && capital_of_words(
                            &datum.text,
                            other,
                            group.iter().map(|d| d.text.as_ref()),
                        )
                };
                let paired = may_pair && near.iter().any(|(w, s)| pair(look, file, w, *s));
                if !(wired || paired || read && mostly) {
                    continue;
                }
                let near = near.into_iter().find(|(w, s)| {
                    (*s <= NameEdit::Letter || *s == NameEdit::Word && led > 0)
                        && !plural(w, &datum.text)
                        && !words(w)
                });
                let nearly = |other: &str, slip: NameEdit| {
                    say!(NEARLY, name = datum.text, other, edit = slip.says(&datum.text, other))
                };
                let (text, confidence) = match (&near, led * 2 >= group.len() && led > 0) {
                    (Some((other, slip)), true) => (nearly(other, *slip), 0.9),
                    (None, true) => (say!(NOTHING_CALLED, name = datum.text), 0.75),
                    (Some((other, NameEdit::Letter)), false) if led_anywhere >= 2 && mostly => {
                        (nearly(other, NameEdit::Letter), 0.8)
                    }
                    (Some((other, slip)), false)
                        if *slip <= NameEdit::Letter && datum.text.len() > 4 =>
                    {
                        (nearly(other, *slip), 0.65)
                    }
                    _ => continue,
                };
                let mut one = remark(file, datum.line, confidence, text);
                if let Some(occurrence) = near.and_then(|(other, _)| {
                    look.symbols.occurrences(other).iter().find(|s| ours(s)).copied()
                }) {
                    one = one.saw(&occurrence.file.path, occurrence.line, say!(NEAR_TO));
                }
                if led > 0 {
                    one = one.saw(
                        &file.path,
                        datum.line,
                        say!(NEIGHBOURS, led = led, count = group.len()),
                    );
                }
                found.push(one);
            }
        }
    }
    found
}
