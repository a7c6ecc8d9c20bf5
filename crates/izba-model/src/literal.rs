//! What must stand in a text wherever a regular expression matches: literals by which most patterns
//! are ruled out before they are even compiled.

use regex_syntax::ParserBuilder;
use regex_syntax::hir::{Class, Hir, HirKind};

/// More alternatives than this are not followed.
const MOST: usize = 48;
/// A literal shorter than this rules little out.
const SHORTEST: usize = 3;

/// Literals in lower case, one of which stands (in whatever case) in every text that `pattern`
/// matches; `None` when there are none that are long enough to say anything.
pub fn required(pattern: &str) -> Option<Vec<String>> {
    // Classes of ASCII are read ten times as fast, and only literals are looked for; a class that
    // names other signs needs the whole.
    let mut ascii = ParserBuilder::new().unicode(false).utf8(false).build();
    let hir = match ascii.parse(pattern) {
        Ok(hir) => hir,
        Err(_) => regex_syntax::parse(pattern).ok()?,
    };
    let found = of(&hir)?;
    (shortest(&found) >= SHORTEST).then_some(found)
}

fn shortest(all: &[String]) -> usize {
    all.iter().map(String::len).min().unwrap_or(0)
}

/// All texts that the expression can be, in lower case, where they are few.
fn exact(hir: &Hir) -> Option<Vec<String>> {
    match hir.kind() {
        HirKind::Empty | HirKind::Look(_) => Some(vec![String::new()]),
        HirKind::Literal(literal) => {
            Some(vec![std::str::from_utf8(&literal.0).ok()?.to_lowercase()])
        }
        HirKind::Class(class) => letters(class),
        HirKind::Capture(capture) => exact(&capture.sub),
        HirKind::Repetition(repeated) => match (repeated.min, repeated.max) {
            (1, Some(1)) => exact(&repeated.sub),
            (0, Some(1)) => {
                let mut all = exact(&repeated.sub)?;
                all.push(String::new());
                Some(all)
            }
            _ => None,
        },
        HirKind::Concat(parts) => parts
            .iter()
            .try_fold(vec![String::new()], |so_far, part| joined(&so_far, &exact(part)?)),
        HirKind::Alternation(parts) => {
            let mut all = Vec::new();
            for part in parts {
                all.extend(exact(part)?);
            }
            (all.len() <= MOST).then_some(all)
        }
    }
}

fn joined(heads: &[String], tails: &[String]) -> Option<Vec<String>> {
    let all = heads.iter().flat_map(|head| tails.iter().map(move |tail| format!("{head}{tail}")));
    (heads.len() * tails.len() <= MOST).then(|| all.collect())
}

/// The letters of a small class, capitals as small ones.
fn letters(class: &Class) -> Option<Vec<String>> {
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
        all.extend((start..=end).filter_map(char::from_u32).map(|c| c.to_lowercase().to_string()));
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
fn of(hir: &Hir) -> Option<Vec<String>> {
    let whole = exact(hir).filter(|all| shortest(all) > 0);
    let part = match hir.kind() {
        HirKind::Capture(capture) => of(&capture.sub),
        HirKind::Repetition(repeated) if repeated.min > 0 => of(&repeated.sub),
        HirKind::Alternation(parts) => {
            let mut all = Vec::new();
            for part in parts {
                all.extend(of(part)?);
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
                match exact(part).and_then(|texts| joined(&run, &texts)) {
                    Some(longer) => run = longer,
                    None => {
                        better(std::mem::replace(&mut run, vec![String::new()]));
                        of(part).into_iter().for_each(&mut better);
                        run = exact(part).unwrap_or(run);
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

#[cfg(test)]
mod tests {
    use super::*;

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
}
