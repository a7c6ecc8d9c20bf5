//! The line as it would be: where a claim itself says which word or sign stands for which, the way
//! to mend it is that line of this very program.

use izba_model::claim::{Saying, Slot, Suspect};
use izba_model::code::Index;

/// The first suspect's line with what the claim says put right; `None` where the claim says no more
/// than where, or where the word stands there more than once.
pub(super) fn line(index: &Index, suspect: &Suspect) -> Option<String> {
    let file = index.file(&suspect.file)?;
    let as_it_is = file.line(suspect.line)?.trim();
    let (old, new) = exchanged(&suspect.claim.says)?;
    let mut places = whole_words(as_it_is, &old);
    let (at, more) = (places.next()?, places.next());
    let mended = format!("{}{new}{}", &as_it_is[..at], &as_it_is[at + old.len()..]);
    (more.is_none() && mended.len() <= LONGEST).then_some(mended)
}

/// A line that is longer shows nothing at a glance.
const LONGEST: usize = 100;

/// What stands there, and what should, as far as the claim tells.
fn exchanged(says: &Saying) -> Option<(String, String)> {
    let name = |slot: &str| match says.slot(slot) {
        Some(Slot::Name(name)) => Some(name.to_string()),
        _ => None,
    };
    let kind = format!("{:?}", says.kind);
    let word = name("name")?;
    match kind.as_str() {
        "spelling.only-here"
        | "spelling.nearly"
        | "spelling.taught"
        | "spelling.installed"
        | "spelling.of-language"
        | "spelling.constructor"
        | "never.write-only"
        | "never.lost-local" => Some((word, name("other")?)),
        "spelling.made-otherwise" => Some((name("other")?, word)),
        "idioms.not-called" | "idioms.not-called-value" => {
            let called = format!("{word}()");
            Some((word, called))
        }
        "idioms.dot-for-colon" => Some((format!(".{word}"), format!(":{word}"))),
        _ => None,
    }
}

/// Where a word stands in a line by itself, as byte offsets.
fn whole_words<'l>(line: &'l str, word: &'l str) -> impl Iterator<Item = usize> + 'l {
    let part = |c: char| c.is_alphanumeric() || matches!(c, '_' | '$');
    let begins = word.starts_with(part);
    line.match_indices(word).map(|(at, _)| at).filter(move |at| {
        let before = line[..*at].chars().next_back();
        let behind = line[at + word.len()..].chars().next();
        !(behind.is_some_and(part) || begins && before.is_some_and(part))
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_word_is_found_only_by_itself() {
        let at = |line: &str, word: &str| whole_words(line, word).collect::<Vec<_>>();
        assert_eq!(at("rope = ropes[rope]", "rope"), [0, 13]);
        assert_eq!(at("self.rope_end", "rope"), Vec::<usize>::new());
        assert_eq!(at("text.upper() .. text.uppercase", ".upper"), [4]);
        assert_eq!(at("größe = größer", "größe"), [0]);
    }
}
