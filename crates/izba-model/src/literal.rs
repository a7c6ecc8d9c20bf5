//! What must stand in a text wherever a regular expression matches: literals by which most patterns
//! are ruled out before they are even compiled.

use regex_syntax::ParserBuilder;
use regex_syntax::hir::{Class, Hir, HirKind};
use std::borrow::Cow;

/// More alternatives than this are not followed.
const MOST: usize = 48;
/// A literal shorter than this rules little out.
const SHORTEST: usize = 3;

/// Literals in lower case, one of which stands (in whatever case) in every text that `pattern`
/// matches; `None` when there are none that are long enough to say anything.
pub fn required(pattern: &str) -> Option<Vec<String>> {
    let found = of(&parsed(pattern)?, true)?;
    (shortest(&found) >= SHORTEST).then_some(found)
}

/// Several sets of literals: of each of them one stands in every text that `pattern` matches.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Needs {
    sets: Vec<Vec<String>>,
    /// Whether they are in small letters, and may stand there in any case.
    folded: bool,
}

impl Needs {
    /// What a pattern needs; one that ignores the case of some part needs its letters in any case.
    pub fn of(pattern: &str) -> Needs {
        let folded = pattern.contains("(?i");
        let sets = parsed(pattern).map_or_else(Vec::new, |hir| all_of(&hir, folded));
        Needs { sets, folded }
    }

    /// Whether nothing is needed that could rule a text out.
    pub fn is_empty(&self) -> bool {
        self.sets.is_empty()
    }

    /// Whether a text holds what is needed.
    pub fn met_by(&self, text: &str) -> bool {
        let small = if self.folded { Cow::Owned(text.to_lowercase()) } else { Cow::Borrowed(text) };
        self.sets.iter().all(|set| set.iter().any(|l| small.contains(l.as_str())))
    }
}

fn parsed(pattern: &str) -> Option<Hir> {
    // Classes of ASCII are read ten times as fast, and only literals are looked for; a class that
    // names other signs needs the whole.
    let mut ascii = ParserBuilder::new().unicode(false).utf8(false).build();
    ascii.parse(pattern).ok().or_else(|| regex_syntax::parse(pattern).ok())
}

fn shortest(all: &[String]) -> usize {
    all.iter().map(String::len).min().unwrap_or(0)
}

/// All texts that the expression can be, where they are few; in lower case where `fold` says so.
fn exact(hir: &Hir, fold: bool) -> Option<Vec<String>> {
    match hir.kind() {
        HirKind::Empty | HirKind::Look(_) => Some(vec![String::new()]),
        HirKind::Literal(literal) => Some(vec![cased(std::str::from_utf8(&literal.0).ok()?, fold)]),
        HirKind::Class(class) => letters(class, fold),
        HirKind::Capture(capture) => exact(&capture.sub, fold),
        HirKind::Repetition(repeated) => match (repeated.min, repeated.max) {
            (1, Some(1)) => exact(&repeated.sub, fold),
            (0, Some(1)) => {
                let mut all = exact(&repeated.sub, fold)?;
                all.push(String::new());
                Some(all)
            }
            _ => None,
        },
        HirKind::Concat(parts) => parts
            .iter()
            .try_fold(vec![String::new()], |so_far, part| joined(&so_far, &exact(part, fold)?)),
        HirKind::Alternation(parts) => {
            let mut all = Vec::new();
            for part in parts {
                all.extend(exact(part, fold)?);
            }
            (all.len() <= MOST).then_some(all)
        }
    }
}

fn joined(heads: &[String], tails: &[String]) -> Option<Vec<String>> {
    let all = heads.iter().flat_map(|head| tails.iter().map(move |tail| format!("{head}{tail}")));
    (heads.len() * tails.len() <= MOST).then(|| all.collect())
}

fn cased(text: &str, fold: bool) -> String {
    if fold { text.to_lowercase() } else { text.to_owned() }
}

/// The letters of a small class, capitals as small ones.
fn letters(class: &Class, fold: bool) -> Option<Vec<String>> {
    let mut all = Vec::new();
    let ranges: Vec<(u32, u32)> = match class {
        Class::Unicode(class) => {
            class.ranges().iter().map(|r| (r.start().into(), r.end().into())).collect()
        }
        Class::Bytes(class) => {
            class.ranges().iter().map(|r| (r.start().into(), r.end().into())).collect()
        }
    };
    for (start, end) in ranges {
        // Bytes above are parts of signs, not signs.
        if end - start > 3 || matches!(class, Class::Bytes(_)) && end > 127 {
            return None;
        }
        all.extend(
            (start..=end)
                .filter_map(char::from_u32)
                .map(|c| cased(c.encode_utf8(&mut [0; 4]), fold)),
        );
    }
    all.sort();
    all.dedup();
    // The long s is an s that ignores its case, and nothing that a runtime would print.
    if all.iter().any(|c| c == "s") {
        all.retain(|c| c != "ſ");
    }
    (all.len() <= 4).then_some(all)
}

/// The best set of which one stands in every match.
fn of(hir: &Hir, fold: bool) -> Option<Vec<String>> {
    let whole = exact(hir, fold).filter(|all| shortest(all) > 0);
    let part = match hir.kind() {
        HirKind::Capture(capture) => of(&capture.sub, fold),
        HirKind::Repetition(repeated) if repeated.min > 0 => of(&repeated.sub, fold),
        HirKind::Alternation(parts) => {
            let mut all = Vec::new();
            for part in parts {
                all.extend(of(part, fold)?);
            }
            (all.len() <= MOST).then_some(all)
        }
        HirKind::Concat(parts) => {
            let mut best: Option<Vec<String>> = None;
            let mut better = |found: Vec<String>| {
                if best.as_ref().is_none_or(|b| shortest(&found) > shortest(b)) {
                    best = Some(found);
                }
            };
            let mut run = vec![String::new()];
            for part in parts {
                match exact(part, fold).and_then(|texts| joined(&run, &texts)) {
                    Some(longer) => run = longer,
                    None => {
                        better(std::mem::replace(&mut run, vec![String::new()]));
                        of(part, fold).into_iter().for_each(&mut better);
                        run = exact(part, fold).unwrap_or(run);
                    }
                }
            }
            better(run);
            best.filter(|b| shortest(b) > 0)
        }
        _ => None,
    };
    match (whole, part) {
        (Some(a), Some(b)) => Some(if shortest(&a) >= shortest(&b) { a } else { b }),
        (one, other) => one.or(other),
    }
}

/// All sets that are found along the expression.
fn all_of(hir: &Hir, fold: bool) -> Vec<Vec<String>> {
    match hir.kind() {
        HirKind::Capture(capture) => all_of(&capture.sub, fold),
        HirKind::Repetition(repeated) if repeated.min > 0 => all_of(&repeated.sub, fold),
        HirKind::Concat(parts) => {
            let mut sets = Vec::new();
            let mut run = vec![String::new()];
            for part in parts {
                match exact(part, fold).and_then(|texts| joined(&run, &texts)) {
                    Some(longer) => run = longer,
                    None => {
                        sets.push(std::mem::replace(&mut run, vec![String::new()]));
                        match exact(part, fold) {
                            Some(texts) => run = texts,
                            None => sets.extend(all_of(part, fold)),
                        }
                    }
                }
            }
            sets.push(run);
            sets.retain(|set| shortest(set) > 0);
            sets
        }
        _ => of(hir, fold).into_iter().filter(|set| shortest(set) > 0).collect(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[track_caller]
    fn check(pattern: &str, expected: &[&str]) {
        let mut found = required(pattern).unwrap_or_default();
        found.sort();
        assert_eq!(found, expected, "{pattern}");
    }

    #[test]
    fn the_longest_sure_part_is_taken() {
        check(r"^no seat \d+ in (?<name>\w+)$", &["no seat "]);
        check(r"[Ii]ndex (?<index>\d+) is past", &[" is past"]);
        check(r"(?i)circular (?:import|need)", &["circular import", "circular need"]);
        check(r"(?:\w+ )?(?:list|text) index|pop from", &["list index", "pop from", "text index"]);
        check(r"(?:never there)?\w+", &[]);
        check(r"(?:again )+and", &["again "]);
        check(r"ab", &[]);
    }

    #[test]
    fn all_parts_are_needed_and_in_their_own_case() {
        let needs = Needs::of(r"^(?<level>error|warning)(?:\[(?<code>[\w-]+)\])?: (?<rest>.+)$");
        assert!(needs.met_by("error[E7]: the mast is gone") && needs.met_by("warning: fog"));
        assert!(!needs.met_by("ERROR: fog") && !needs.met_by("an error without a colon"));
        assert!(Needs::of(r"(?i)no seat \d+").met_by("NO SEAT 7"));
        assert!(!Needs::of(r"^\w+#\d+$").met_by("lamp"));
        assert!(Needs::of(r"\w+").is_empty());
    }

    proptest! {
        /// No text that a pattern matches is ever ruled out.
        #[test]
        fn what_matches_meets_the_needs(text in "[a-cA-C#:. ]{0,12}") {
            for pattern in [
                r"a+#b", r"(?:ab|ba): ?c", r"(?i)abc", r"[Aa]b.c", r"^(?:a|b)*c\.", r"(a|)b",
                r"(?:ab)+:|c#", r"a(?:b|c)?a", r"[a-c]{2}#", r"A|b: ",
            ] {
                let matches = regex::Regex::new(pattern).expect("it is one").is_match(&text);
                prop_assert!(!matches || Needs::of(pattern).met_by(&text), "{pattern}");
            }
        }
    }
}
