//! wiring: names in data that lead nowhere, while their neighbours lead somewhere.

use super::check::{Check, Look, Remark, remark};
use crate::suspect::{As, Stand, Words, capital_of_words, is_name, plural};
use izba_model::code::{Datum, How, Role, Slip};
use std::collections::BTreeMap;

/// The check.
pub static CHECK: Check = Check { id: "wiring", title: "Lead nowhere", look };

/// Whether something in code answers to a name.
fn leads(words: &Words<'_>, text: &str) -> bool {
    words.stands(text).iter().any(|s| {
        matches!(
            s.as_what,
            As::Made(How::Function | How::Class | How::Key) | As::DataKey | As::Text
        )
    }) || {
        // A type or file is often called like its object, in other letters.
        let stands = [text.to_lowercase(), capital(text)];
        stands.iter().any(|t| {
            words
                .stands(t)
                .iter()
                .any(|s| matches!(s.as_what, As::File | As::Made(How::Class) | As::DataKey))
        })
    }
}

fn capital(text: &str) -> String {
    let mut chars = text.chars();
    chars.next().map_or_else(String::new, |c| c.to_uppercase().collect::<String>() + chars.as_str())
}

fn look(look: &Look<'_>) -> Vec<Remark> {
    let mut found = Vec::new();
    let parts = look.index.parts();
    for file in look.index.data() {
        // Of another program in the same folder the names are others'.
        let ours = |s: &Stand<'_>| parts.together(&s.file.path, &file.path);
        let mut natures: BTreeMap<&str, Vec<&Datum>> = BTreeMap::new();
        for datum in file.data.iter().filter(|d| is_name(&d.text)) {
            if datum.role == Role::Value {
                natures.entry(&datum.path).or_default().push(datum);
            } else if !look
                .words
                .stands(&datum.text)
                .iter()
                .any(|s| !matches!(s.as_what, As::DataKey | As::File))
            {
                // A key that no code asks for, near one that code asks for and data never has.
                let alone = look.words.count(&datum.text) == 1 && datum.text.len() >= 4;
                let near = look.words.near(&datum.text, |w, stands| {
                    stands.iter().any(|s| matches!(s.as_what, As::Text | As::Used))
                        && (w.len() >= 4)
                        && !stands.iter().any(|s| {
                            s.as_what == As::DataKey
                                && s.file.path == file.path
                                && look.words.count(w) < 3
                        })
                });
                if let Some((other, slip)) = near
                    .into_iter()
                    .find(|(w, s)| alone && *s <= Slip::Letter && !look.words.is_made(w))
                {
                    let stand = look.words.stands(other)[0];
                    let text = format!(
                        "no code asks for {}; it asks for {other}, and {}",
                        datum.text,
                        slip.words()
                    );
                    found.push(remark(CHECK.id, file, datum.line, 0.8 * slip.weight(), text).saw(
                        &stand.file.path,
                        stand.line,
                        format!("{other} is asked for here"),
                    ));
                }
            }
        }
        for group in natures.values() {
            if group.iter().any(|d| d.text.len() > 30) {
                continue;
            }
            let led = group
                .iter()
                .filter(|d| {
                    look.words
                        .stands(&d.text)
                        .iter()
                        .any(|s| matches!(s.as_what, As::Made(How::Function | How::Class)))
                })
                .count();
            let led_anywhere = group.iter().filter(|d| leads(&look.words, &d.text)).count();
            for datum in group.iter().filter(|d| !leads(&look.words, &d.text)) {
                let near = look.words.near(&datum.text, |_, stands| {
                    stands.iter().any(|s| {
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
                let near = near.into_iter().find(|(w, s)| {
                    (*s <= Slip::Letter || *s == Slip::Word && led > 0)
                        && !plural(w, &datum.text)
                        && !words(w)
                });
                let (text, confidence) = match (&near, led * 2 >= group.len() && led > 0) {
                    (Some((other, slip)), true) => (
                        format!(
                            "{} leads nowhere; {other} is nearly the same, and {}",
                            datum.text,
                            slip.words()
                        ),
                        0.9,
                    ),
                    (None, true) => (
                        format!(
                            "nothing in the code is called {}, as its neighbours are",
                            datum.text
                        ),
                        0.75,
                    ),
                    (Some((other, Slip::Letter)), false)
                        if led_anywhere >= 2 && led_anywhere * 4 >= group.len() * 3 =>
                    {
                        (
                            format!(
                                "{} leads nowhere; {other} is nearly the same, and {}",
                                datum.text,
                                Slip::Letter.words()
                            ),
                            0.8,
                        )
                    }
                    (Some((other, slip)), false)
                        if *slip <= Slip::Letter && datum.text.len() > 4 =>
                    {
                        (
                            format!(
                                "{} leads nowhere; {other} is nearly the same, and {}",
                                datum.text,
                                slip.words()
                            ),
                            0.65,
                        )
                    }
                    _ => continue,
                };
                let mut one = remark(CHECK.id, file, datum.line, confidence, text);
                if let Some(stand) = near.and_then(|(other, _)| {
                    look.words.stands(other).iter().find(|s| ours(s)).copied()
                }) {
                    one = one.saw(&stand.file.path, stand.line, "what it is near to");
                }
                if led > 0 {
                    one = one.saw(
                        &file.path,
                        datum.line,
                        format!(
                            "{led} of {} names of this kind are functions of the code",
                            group.len()
                        ),
                    );
                }
                found.push(one);
            }
        }
    }
    found
}
