//! Near names without comparing all with all: an index of what is left of each name when one or two
//! of its letters are taken out (Garbe's symmetric deletions), and of its words when one is.
//!
//! Two names between which [`name_edit`](super::name_edit) finds something share such a
//! rest; so those that share none need not be compared. Names that differ in a number at their end
//! only are one family: of a large one a few stand for all.

use super::names::stem_words;
use std::collections::HashMap;

/// In a family of more than this, one name is no slip of another.
const FAMILY: usize = 8;
/// Of names longer than this only one letter is taken out.
const LONG: usize = 24;
/// Rests that are kept in all, 8 bytes each; with more, only one letter is taken out of each name.
const RESTS: usize = 12 << 20;
/// Candidates for one name; with more it is like everything.
const CANDIDATES: usize = 80;

/// Names that differ in a number at their end only, where they are many: by their stem.
pub struct Families {
    members: HashMap<Box<str>, Vec<u32>>,
}

impl Families {
    /// The large families among these names, which are in order.
    pub fn of(names: &[&str]) -> Families {
        let mut members: HashMap<&str, Vec<u32>> = HashMap::new();
        for (at, name) in names.iter().enumerate() {
            members.entry(stem(name)).or_default().push(at as u32);
        }
        members.retain(|_, members| members.len() > FAMILY);
        Families { members: members.into_iter().map(|(stem, of)| (stem.into(), of)).collect() }
    }

    /// Whether a name belongs to a large family.
    pub fn has(&self, name: &str) -> bool {
        self.members.contains_key(stem(name))
    }

    /// Whether a name belongs to a large family all of which are as near to the other as it is: then
    /// it is no slip of it. Only the number tells members apart.
    pub fn all_alike(&self, name: &str, other: &str) -> bool {
        self.has(name) && name[stem(name).len()..] != other[stem(other).len()..]
    }

    /// Whether a name stands for its family, or has none that is large.
    fn stands(&self, name: &str, at: u32) -> bool {
        self.members.get(stem(name)).is_none_or(|members| members[..2].contains(&at))
    }
}

/// The names of a project by what is left of them.
pub struct NearIndex {
    /// Hash of the rest in the upper half, position of the name in the lower.
    rests: Vec<u64>,
    /// Whether two letters were taken out.
    two: bool,
}

impl NearIndex {
    /// The index of these names, which are in order.
    pub fn of(names: &[&str], families: &Families) -> NearIndex {
        let each =
            || names.iter().enumerate().filter(|(at, name)| families.stands(name, *at as u32));
        let two = each().map(|(_, name)| count(name.chars().count())).sum::<usize>() <= RESTS;
        let mut rests = Vec::new();
        for (at, name) in each() {
            of_name(name, two, |rest| rests.push(u64::from(rest) << 32 | at as u64));
        }
        rests.sort_unstable();
        rests.dedup();
        NearIndex { rests, two }
    }

    /// Positions of names that may be near this one, in order: none that is near is left out, but
    /// for those of its own large family, and where more than some hundreds are near.
    pub fn candidates(&self, name: &str, names: &[&str], families: &Families) -> Vec<u32> {
        let mut found = Vec::new();
        of_name(name, self.two, |rest| {
            let from = self.rests.partition_point(|r| r >> 32 < u64::from(rest));
            let of_rest = self.rests[from..].iter().take_while(|r| *r >> 32 == u64::from(rest));
            let room = (2 * CANDIDATES).saturating_sub(found.len());
            found.extend(of_rest.take(room).map(|r| *r as u32));
        });
        // For a large family the member of the same number stands too.
        let number = &name[stem(name).len()..];
        let of_family: Vec<u32> = found
            .iter()
            .filter_map(|at| {
                let stem = stem(names[*at as usize]);
                families.members.get(stem)?;
                position(names, &format!("{stem}{number}"))
            })
            .collect();
        found.extend(of_family);
        let other = |at: &u32| names[*at as usize];
        found.retain(|at| other(at) != name && !families.all_alike(name, other(at)));
        found.sort_unstable();
        found.dedup();
        found.truncate(CANDIDATES);
        found
    }
}

fn position(names: &[&str], name: &str) -> Option<u32> {
    names.binary_search(&name).ok().map(|at| at as u32)
}

/// A name without the number at its end.
fn stem(name: &str) -> &str {
    name.trim_end_matches(|c: char| c.is_ascii_digit())
}

/// How many rests a name of so many letters has, at most.
fn count(letters: usize) -> usize {
    let two = if letters <= LONG { letters * letters.saturating_sub(1) / 2 } else { 0 };
    2 * letters + two + 4
}

/// The prime of FNV-1a, as the base of the hashes.
const BASE: u32 = 16_777_619;

/// Hashes of the beginnings of a text, and the powers of their base: with them the hash of what is
/// left after taking letters out is worked out without going through it.
struct Hashes {
    beginnings: Vec<u32>,
    powers: Vec<u32>,
}

impl Hashes {
    fn of(text: &[char]) -> Hashes {
        let (mut beginnings, mut powers) = (vec![0u32], vec![1u32]);
        for (at, c) in text.iter().enumerate() {
            let mixed = (u32::from(*c) + 1).wrapping_mul(0x9e37_79b1);
            beginnings.push(beginnings[at].wrapping_mul(BASE).wrapping_add(mixed ^ mixed >> 15));
            powers.push(powers[at].wrapping_mul(BASE));
        }
        Hashes { beginnings, powers }
    }

    /// Appends a stretch of the text to what has this hash.
    fn then(&self, hash: u32, from: usize, to: usize) -> u32 {
        let part = self.beginnings[to]
            .wrapping_sub(self.beginnings[from].wrapping_mul(self.powers[to - from]));
        hash.wrapping_mul(self.powers[to - from]).wrapping_add(part)
    }
}

/// Tells the hash of every rest of a name.
fn of_name(name: &str, two: bool, mut tell: impl FnMut(u32)) {
    let lower: Vec<char> = name.chars().flat_map(char::to_lowercase).collect();
    let hashes = Hashes::of(&lower);
    let n = lower.len();
    tell(hashes.then(0, 0, n));
    for i in 0..n {
        let until = hashes.then(0, 0, i);
        tell(hashes.then(until, i + 1, n));
        for j in (i + 1..n).take_while(|_| two && name.len() >= 5 && n <= LONG) {
            tell(hashes.then(hashes.then(until, i + 1, j), j + 1, n));
        }
    }
    // Without what stands at its edges.
    let bare: Vec<char> = name
        .trim_matches(['_', '-', '$', '#', ' '])
        .trim_end_matches(|c: char| c.is_ascii_digit())
        .chars()
        .flat_map(char::to_lowercase)
        .collect();
    if bare != lower && !bare.is_empty() {
        let hashes = Hashes::of(&bare);
        let n = bare.len();
        tell(hashes.then(0, 0, n));
        (0..n).for_each(|i| tell(hashes.then(hashes.then(0, 0, i), i + 1, n)));
    }
    // By words, whatever their order.
    let words = stem_words(name);
    let of_word = |word: &String| {
        let letters: Vec<char> = word.chars().collect();
        Hashes::of(&letters).then(7, 0, letters.len())
    };
    let all = words.iter().map(of_word).fold(11u32, u32::wrapping_add);
    tell(all);
    if words.len() > 1 {
        words.iter().for_each(|word| tell(all.wrapping_sub(of_word(word))));
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::code::{NameEdit, name_edit};

    fn sorted(names: &[String]) -> Vec<&str> {
        let mut all: Vec<&str> = names.iter().map(String::as_str).collect();
        all.sort_unstable();
        all.dedup();
        all
    }

    proptest::proptest! {
        /// What is found by comparing with all is found in the index.
        #[test]
        fn no_slip_is_lost(
            names in proptest::collection::vec("[abAB_é]{1,3}_?[abc]{0,5}[12]?", 1..40),
            asked in "[abAB_é]{1,3}_?[abc]{0,5}[12]?",
        ) {
            let names = sorted(&names);
            let families = Families::of(&names);
            let found = NearIndex::of(&names, &families).candidates(&asked, &names, &families);
            for (at, name) in names.iter().enumerate() {
                let edit = name_edit(&asked, name);
                if edit.is_some_and(|e| e != NameEdit::Word) && families.stands(name, at as u32) {
                    proptest::prop_assert!(found.contains(&(at as u32)), "{asked} {name} {edit:?}");
                }
            }
        }
    }

    #[test]
    fn of_a_large_family_few_are_compared() {
        let names: Vec<String> = (0..5000).map(|n| format!("item_{n}")).collect();
        let names = sorted(&names);
        let families = Families::of(&names);
        let index = NearIndex::of(&names, &families);
        assert!(index.rests.len() < 200, "{}", index.rests.len());
        let near = |asked: &str| -> Vec<&str> {
            let found = index.candidates(asked, &names, &families);
            found.into_iter().map(|at| names[at as usize]).collect()
        };
        // One of the family is no slip of another, with a digit more neither.
        assert_eq!(near("item_700"), Vec::<&str>::new());
        assert_eq!(near("item_77777"), Vec::<&str>::new());
        assert!(families.all_alike("item_4999", "item_4998"));
        assert!(families.all_alike("item_4999", "items"));
        assert!(!families.all_alike("item_4999", "itm_4999"));
        // Of a misspelt stem the one of the same number is near.
        assert!(near("itm_4711").contains(&"item_4711"));
    }

    #[test]
    fn a_word_more_is_found_wherever_it_stands() {
        let names = ["lampOilLevel".to_owned(), "rope".to_owned()];
        let names = sorted(&names);
        let families = Families::of(&names);
        let index = NearIndex::of(&names, &families);
        for asked in ["lamp_oil", "oil_level", "lampLevel"] {
            assert_eq!(index.candidates(asked, &names, &families), [0], "{asked}");
        }
        assert!(index.candidates("level_of_rope", &names, &families).is_empty());
    }
}
