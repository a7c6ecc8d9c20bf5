//! How near two names are: by letters, by case, by the words that they are made of.

use crate::claim::Saying;
use crate::{say, sayings};

sayings! {
    "edit", Any, "../../words/edits.toml";
    CASE = "case",
    LETTER = "letter",
    SWAPPED = "swapped",
    EDGE = "edge",
    LETTERS = "letters",
    WORD = "word",
}

/// The slip that turns one name into the other.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum NameEdit {
    /// They differ in capital letters only.
    Case,
    /// One letter is missing, too many, another, or two stand in the wrong order.
    Letter,
    /// An underline, hyphen or number at its beginning or end.
    Edge,
    /// Two letters, in a name long enough for that to be a slip.
    Letters,
    /// One has a word more than the other (`smoke`, `old_smoke`).
    Word,
}

impl NameEdit {
    /// How likely such a slip is one, 0 to 1.
    pub fn weight(self) -> f32 {
        match self {
            NameEdit::Letter => 1.0,
            NameEdit::Case => 0.95,
            NameEdit::Edge => 0.8,
            NameEdit::Letters => 0.6,
            NameEdit::Word => 0.5,
        }
    }

    /// How it is said in a sentence, of the two names between which it was found.
    pub fn says(self, a: &str, b: &str) -> Saying {
        match self {
            NameEdit::Letter if swapped(a, b) => say!(SWAPPED),
            NameEdit::Case => say!(CASE),
            NameEdit::Letter => say!(LETTER),
            NameEdit::Edge => say!(EDGE),
            NameEdit::Letters => say!(LETTERS),
            NameEdit::Word => say!(WORD),
        }
    }
}

/// Whether two neighbouring letters of one name stand the other way round in the other.
fn swapped(a: &str, b: &str) -> bool {
    let differ: Vec<(char, char)> = a.chars().zip(b.chars()).filter(|(a, b)| a != b).collect();
    a.len() == b.len() && matches!(differ[..], [(x, y), (v, w)] if (x, y) == (w, v))
}

/// Edits between two names, swaps of neighbours counted as one.
pub fn distance(a: &str, b: &str) -> usize {
    strsim::osa_distance(a, b)
}

/// Which letters a name holds, as a set of 64: what is no letter is left out, and capitals count as
/// small ones.
pub fn letters_of(name: &str) -> u64 {
    let bit = |c: char| 1u64 << (c.to_lowercase().next().map_or(0, u32::from) % 64);
    name.chars().filter(|c| c.is_alphabetic()).map(bit).fold(0, |all, one| all | one)
}

/// Whether [`name_edit`] may find anything between names of these letters; false is certain. It
/// spares the comparing of most names.
pub fn may_be_edit(a: u64, b: u64) -> bool {
    // Two letters exchanged change four at most; a word more holds all letters of the rest.
    (a ^ b).count_ones() <= 4 || a & !b == 0 || b & !a == 0
}

/// The slip between two different names, if one is near the other.
pub fn name_edit(a: &str, b: &str) -> Option<NameEdit> {
    if a == b || a.is_empty() || b.is_empty() || a.len().abs_diff(b.len()) > 6 {
        return None;
    }
    if a.eq_ignore_ascii_case(b) {
        return Some(NameEdit::Case);
    }
    let bare = |s: &str| {
        s.trim_matches(['_', '-', '$', '#', ' '])
            .trim_end_matches(|c: char| c.is_ascii_digit())
            .to_ascii_lowercase()
    };
    let (bare_a, bare_b) = (bare(a), bare(b));
    if bare_a == bare_b && !bare_a.is_empty() {
        return Some(NameEdit::Edge);
    }
    let shorter = a.len().min(b.len());
    if a.len().abs_diff(b.len()) <= 2 && (letters_of(a) ^ letters_of(b)).count_ones() <= 4 {
        match distance(a, b) {
            1 if is_long_enough(a, b) => return Some(NameEdit::Letter),
            2 if shorter >= 5 => return Some(NameEdit::Letters),
            _ => {}
        }
        if shorter >= 4 && is_long_enough(&bare_a, &bare_b) && distance(&bare_a, &bare_b) == 1 {
            return Some(NameEdit::Letters);
        }
    }
    let (long, short) = if a.len() > b.len() { (a, b) } else { (b, a) };
    // One word more leaves what stands before it or behind it.
    let (l, s) = (long.as_bytes(), short.as_bytes());
    let same = |a: Option<&u8>, b: Option<&u8>| {
        a.zip(b).is_some_and(|(a, b)| {
            a.eq_ignore_ascii_case(b) || !(a.is_ascii_alphanumeric() && b.is_ascii_alphanumeric())
        })
    };
    if !same(l.first(), s.first()) && !same(l.last(), s.last()) {
        return None;
    }
    let (long, short) = (stem_words(long), stem_words(short));
    (short.len() + 1 == long.len()
        && short.concat().len() >= 3
        && short.iter().all(|w| long.contains(w)))
    .then_some(NameEdit::Word)
}

/// Whether names are long enough for one letter to be a slip: of short ones a letter says little.
fn is_long_enough(a: &str, b: &str) -> bool {
    let shorter = a.len().min(b.len());
    shorter >= 3 || (shorter == 2 && a.len() != b.len())
}

/// The words that a name is made of, in small letters: `onTurnPage`, `on_turn_page` are on, turn,
/// page.
pub fn stem_words(name: &str) -> Vec<String> {
    let mut words: Vec<String> = Vec::new();
    let mut before = '_';
    for c in name.chars() {
        if !c.is_alphanumeric() {
            before = '_';
            continue;
        }
        let begins = !before.is_alphanumeric() || (c.is_uppercase() && !before.is_uppercase());
        if begins {
            words.push(String::new());
        }
        if let Some(word) = words.last_mut() {
            word.extend(c.to_lowercase());
        }
        before = c;
    }
    words
}

#[cfg(test)]
mod tests {
    use super::*;

    proptest::proptest! {
        #[test]
        fn no_slip_is_lost_by_looking_at_the_letters_first(a in "[a-cA-C_é0-9]{1,7}", b in "[a-cA-C_é0-9]{1,7}") {
            let may = may_be_edit(letters_of(&a), letters_of(&b));
            proptest::prop_assert!(name_edit(&a, &b).is_none() || may);
        }
    }

    #[test]
    fn slips_are_told_from_other_names() {
        let told = |a, b| name_edit(a, b).map_or("-".to_owned(), |s| format!("{s:?}"));
        insta::assert_snapshot!(
            [
                ("harvest", "Harvest"), ("total", "toal"), ("length", "__length"), ("smoke", "smoke2"), ("smoke", "old_smoke"), ("onPull", "old_onPull"),
                ("light_all", "lighta_ll"), ("letters", "letter"), ("x", "y"), ("left", "right"), ("oil", "oils"), ("ferry", "fairy"), ("out", "oit"), ("in", "on"),
                ("__a2", "___1"), ("_ab_1", "_ac_2"), ("_oar_1", "_oat_2"),
            ]
            .map(|(a, b)| format!("{a} {b}: {}", told(a, b)))
            .join("\n"),
            @r"
            harvest Harvest: Case
            total toal: Letter
            length __length: Edge
            smoke smoke2: Edge
            smoke old_smoke: Word
            onPull old_onPull: Word
            light_all lighta_ll: Letter
            letters letter: Letter
            x y: -
            left right: -
            oil oils: Letter
            ferry fairy: Letters
            out oit: Letter
            in on: -
            __a2 ___1: -
            _ab_1 _ac_2: Letters
            _oar_1 _oat_2: Letters
            "
        );
    }
}
