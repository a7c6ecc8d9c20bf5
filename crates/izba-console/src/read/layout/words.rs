//! What a column holds, told by its values over many lines.

use super::Part;
use izba_model::Level;
use std::collections::{BTreeMap, BTreeSet};

/// Words of which a level may be an abbreviation.
const LEVEL_WORDS: &[(&str, Level)] = &[
    ("error", Level::Error),
    ("fatal", Level::Fatal),
    ("critical", Level::Fatal),
    ("panic", Level::Fatal),
    ("emergency", Level::Fatal),
    ("alert", Level::Fatal),
    ("severe", Level::Error),
    ("failure", Level::Error),
    ("warning", Level::Warning),
    ("information", Level::Info),
    ("notice", Level::Info),
    ("config", Level::Info),
    ("debug", Level::Debug),
    ("trace", Level::Debug),
    ("verbose", Level::Debug),
    ("finest", Level::Debug),
];

/// Words of a sentence about something that failed.
const FAILING: &[&str] = &[
    "error",
    "fail",
    "cannot",
    "can't",
    "could not",
    "not found",
    "missing",
    "exception",
    "invalid",
    "refused",
    "denied",
    "does not",
    "unable",
    "no such",
    "broken",
    "lost",
];

const CALENDAR: &[&str] = &[
    "jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec", "mon",
    "tue", "wed", "thu", "fri", "sat", "sun", "am", "pm",
];

/// The level that a word abbreviates: `WRN`, `Err`, `EE`, `i`.
pub(super) fn abbreviated(word: &str) -> Option<Level> {
    let lower: Vec<u8> =
        word.bytes().filter(u8::is_ascii_alphanumeric).map(|b| b.to_ascii_lowercase()).collect();
    if lower.is_empty()
        || lower.len() != word.trim().len()
        || !lower.iter().all(u8::is_ascii_lowercase)
    {
        return None;
    }
    if let Some(level) = Level::from_word(word) {
        return Some(level);
    }
    let first = lower[0];
    if lower.iter().all(|b| *b == first) && lower.len() <= 2 {
        return Some(match first {
            b'f' | b'c' | b'p' => Level::Fatal,
            b'e' | b's' => Level::Error,
            b'w' => Level::Warning,
            b'i' | b'n' => Level::Info,
            b'd' | b't' | b'v' => Level::Debug,
            _ => return None,
        });
    }
    let within = |whole: &str| {
        let mut letters = whole.bytes();
        whole.as_bytes()[0] == first && lower.iter().all(|b| letters.any(|l| l == *b))
    };
    let begins = |whole: &str| whole.as_bytes().starts_with(&lower);
    let found = LEVEL_WORDS
        .iter()
        .find(|(whole, _)| begins(whole))
        .or_else(|| LEVEL_WORDS.iter().find(|(whole, _)| within(whole)));
    found.map(|(_, level)| *level)
}

/// The grave words of the same make, which may come later: a log begins with what is ordinary.
fn with_siblings(mut seen: BTreeMap<String, Level>) -> BTreeMap<String, Level> {
    let Some(first) = seen.keys().next().cloned() else { return seen };
    let longest = seen.keys().map(String::len).max().unwrap_or(0);
    let siblings: &[&str] = match longest {
        1 => &["e", "w", "f", "c"],
        2 if first.as_bytes()[0] == first.as_bytes()[1] => &["ee", "ww", "ff", "cc"],
        2 => &["er", "wa", "wn", "fa", "cr"],
        3 | 4 => &["err", "wrn", "war", "ftl", "fat", "crt", "cri", "erro", "fata"],
        _ => &[],
    };
    let upper = first.bytes().all(|b| !b.is_ascii_lowercase());
    let title = longest > 1 && first.as_bytes()[0].is_ascii_uppercase() && !upper;
    for word in siblings {
        let word = match (upper, title) {
            (true, _) => word.to_uppercase(),
            (_, true) => word[..1].to_uppercase() + &word[1..],
            _ => (*word).to_owned(),
        };
        if let Some(level) = abbreviated(&word) {
            seen.entry(word).or_insert(level);
        }
    }
    seen
}

/// What the values of a column mean if they are levels. `sentences` are what the same lines say.
pub(super) fn levels(values: &[&str], sentences: &[&str]) -> Option<BTreeMap<String, Level>> {
    let distinct: BTreeSet<&str> = values.iter().copied().collect();
    if distinct.len() > 8 || distinct.contains("") {
        return None;
    }
    let by_word: BTreeMap<String, Level> =
        distinct.iter().filter_map(|word| Some(((*word).to_owned(), abbreviated(word)?))).collect();
    let exact = distinct.iter().any(|w| w.len() > 2 && Level::from_word(w).is_some());
    if by_word.len() == distinct.len() && (distinct.len() > 1 || exact) {
        return Some(with_siblings(by_word));
    }
    if distinct.len() < 2 {
        return None;
    }
    // Most of them are levels in full; another word among them is one that a program made up.
    let in_full = values.iter().filter(|w| w.len() > 2 && Level::from_word(w).is_some()).count();
    if in_full * 10 >= values.len() * 6
        && by_word.len() >= 2
        && distinct.iter().all(|w| w.chars().all(char::is_alphabetic))
    {
        return Some(
            distinct
                .iter()
                .map(|w| ((*w).to_owned(), by_word.get(*w).copied().unwrap_or(Level::Info)))
                .collect(),
        );
    }
    let numbers: Option<BTreeMap<&str, i64>> =
        distinct.iter().map(|w| Some((*w, w.parse().ok()?))).collect();
    // How often the lines of each value speak of something that failed.
    let failing = |word: &str| {
        let said: Vec<&str> =
            values.iter().zip(sentences).filter(|(v, _)| **v == word).map(|(_, s)| *s).collect();
        let bad =
            said.iter().filter(|s| FAILING.iter().any(|f| s.to_lowercase().contains(f))).count();
        (bad as f64 / said.len().max(1) as f64, said.len())
    };
    if let Some(numbers) = numbers {
        if numbers.values().all(|n| n % 10 == 0 && (10..=60).contains(n)) {
            return Some(
                (1..=6)
                    .filter_map(|n| {
                        Some(((n * 10).to_string(), Level::from_number(n * 10, false)?))
                    })
                    .collect(),
            );
        }
        if !numbers.values().all(|n| (0..=8).contains(n)) {
            return None;
        }
        // Small numbers are counted from either end; the gravest is that whose lines speak of
        // failures, else what most lines have tells.
        let low = *numbers.iter().min_by_key(|(_, n)| **n)?.0;
        let high = *numbers.iter().max_by_key(|(_, n)| **n)?.0;
        let (of_low, of_high) = (failing(low), failing(high));
        // As syslog counts, what is told in passing is 5 to 7.
        let commonest = numbers.iter().max_by_key(|(w, _)| failing(w).1).map_or(0, |(_, n)| *n);
        let low_is_grave =
            if (of_low.0 - of_high.0).abs() > 0.2 { of_low.0 > of_high.0 } else { commonest >= 5 };
        if !low_is_grave {
            return None;
        }
        return Some(
            (0..=8)
                .filter_map(|n: i64| Some((n.to_string(), Level::from_number(n, false)?)))
                .collect(),
        );
    }
    // Signs and words in any language: the rare ones whose lines speak of failures.
    let short =
        distinct.iter().all(|w| w.chars().count() <= 8 && !w.bytes().any(|b| b.is_ascii_digit()));
    let judged: Vec<(&str, f64, usize)> =
        distinct.iter().map(|w| (*w, failing(w).0, failing(w).1)).collect();
    let common = judged.iter().max_by_key(|(.., n)| *n)?;
    let grave: Vec<_> = judged.iter().filter(|(_, share, n)| *share >= 0.6 && *n >= 2).collect();
    (short && values.len() >= 24 && common.1 < 0.1 && !grave.is_empty() && distinct.len() <= 6)
        .then(|| {
            judged
                .iter()
                .map(|(w, share, _)| {
                    ((*w).to_owned(), if *share >= 0.6 { Level::Error } else { Level::Info })
                })
                .collect()
        })
}

/// Whether the values of a column are moments: digits with the same signs and letters between them
/// in each line, that do not run backwards.
pub(super) fn is_time(values: &[&str]) -> bool {
    let mut forms = BTreeSet::new();
    let mut moments = Vec::new();
    for value in values {
        let (mut numbers, mut between, mut word) = (Vec::new(), String::new(), String::new());
        let flush = |word: &mut String, between: &mut String| {
            if CALENDAR
                .contains(&word.get(..3.min(word.len())).unwrap_or("").to_lowercase().as_str())
                || word.len() == 2 && CALENDAR.contains(&word.to_lowercase().as_str())
            {
                between.push('@');
            } else {
                between.push_str(word);
            }
            word.clear();
        };
        let mut digits = String::new();
        for c in value.chars().chain(std::iter::once('\0')) {
            if c.is_ascii_digit() {
                flush(&mut word, &mut between);
                digits.push(c);
                continue;
            }
            if !digits.is_empty() {
                between.push('0');
                numbers.push(digits.parse::<u64>().unwrap_or(u64::MAX));
                digits.clear();
            }
            if c.is_alphabetic() {
                word.push(c);
            } else {
                flush(&mut word, &mut between);
                between.push(c);
            }
        }
        if numbers.is_empty() || numbers.len() > 9 || value.len() > 40 {
            return false;
        }
        forms.insert(between);
        moments.push(numbers);
    }
    let (Some(form), true) = (forms.first(), forms.len() <= 2) else { return false };
    if form.chars().filter(|c| c.is_alphabetic()).count() > 8 {
        return false;
    }
    let backwards = moments.windows(2).filter(|w| w[1] < w[0]).count();
    let distinct = moments.iter().collect::<BTreeSet<_>>().len();
    let many = moments[0].len() >= 2;
    let dated = moments[0].len() >= 3;
    // A date stays the same; what counts seconds does not.
    backwards * 10 <= moments.len()
        && (dated
            || (many || moments.iter().all(|m| m[0] >= 100))
                && distinct * 3 >= moments.len().min(30))
}

/// What a column that is neither moment nor level may be.
pub(super) fn role(values: &[&str]) -> Option<Part> {
    let distinct: BTreeSet<&str> = values.iter().copied().collect();
    let all = |test: &dyn Fn(&str) -> bool| distinct.iter().all(|v| test(v));
    if all(&|v| !v.is_empty() && v.bytes().all(|b| b.is_ascii_digit())) {
        return Some(if distinct.len() == 1 { Part::Process } else { Part::Thread });
    }
    let numbered = |v: &str, sign: char| {
        v.rsplit_once(sign).is_some_and(|(w, n)| {
            w.starts_with(char::is_alphabetic)
                && n.bytes().all(|b| b.is_ascii_digit())
                && !n.is_empty()
        })
    };
    if all(&|v| numbered(v, '#')) {
        return Some(Part::Object);
    }
    let threadlike = |v: &str| {
        v == "main"
            || ["thread", "worker", "pool", "task"].iter().any(|w| v.to_lowercase().contains(w))
            || numbered(v, '-')
    };
    if all(&threadlike) {
        return Some(Part::Thread);
    }
    let word = |v: &str| {
        v.split_whitespace().count() <= 3 && v.len() <= 60 && v.chars().any(char::is_alphanumeric)
    };
    (all(&word) && distinct.len() * 2 <= values.len() + 1).then_some(Part::Name)
}

/// Cuts a line into words and signs, each with what it may be: where a teacher begins.
pub fn guess_parts(text: &str) -> Vec<(String, Option<Part>)> {
    let mut pieces: Vec<(String, Option<Part>)> = Vec::new();
    let kind = |c: char| {
        if c.is_whitespace() {
            0
        } else if c.is_alphanumeric() || matches!(c, '_' | '.' | '/' | '\\' | '#' | '$' | '-' | '+')
        {
            1
        } else {
            2
        }
    };
    for c in text.chars() {
        match pieces.last_mut() {
            // A sign that is repeated is one.
            Some((piece, _))
                if piece
                    .chars()
                    .next_back()
                    .is_some_and(|last| kind(last) == kind(c) && (kind(c) != 2 || last == c)) =>
            {
                piece.push(c)
            }
            _ => pieces.push((c.to_string(), None)),
        }
    }
    pieces
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn levels_in_forms_that_nobody_listed() {
        let of = |values: &[&str]| {
            let found = levels(values, &vec!["it goes on"; values.len()]);
            found.map_or("none".to_owned(), |f| {
                f.iter().map(|(w, l)| format!("{w}={}", l.word())).collect::<Vec<_>>().join(" ")
            })
        };
        insta::assert_snapshot!(
            [
                of(&["INF", "WRN", "ERRO"]),
                of(&["II", "WW", "EE"]),
                of(&["i", "w"]),
                of(&["6", "6", "6", "6", "6", "3"]),
                of(&["20", "40"]),
                of(&["tide", "gate"]),
                of(&["info"]),
                of(&["i"]),
            ]
            .join("\n"),
            @"
            CRI=fatal CRT=fatal ERR=error ERRO=error FAT=fatal FATA=fatal FTL=fatal INF=info WAR=warning WRN=warning
            CC=fatal EE=error FF=fatal II=info WW=warning
            c=fatal e=error f=fatal i=info w=warning
            0=fatal 1=fatal 2=fatal 3=error 4=warning 5=info 6=info 7=debug 8=debug
            10=debug 20=debug 30=info 40=warning 50=error 60=fatal
            none
            cri=fatal crt=fatal err=error erro=error fat=fatal fata=fatal ftl=fatal info=info war=warning wrn=warning
            none
            "
        );
    }

    #[test]
    fn moments_in_forms_that_nobody_listed() {
        assert!(is_time(&["20h55m24s", "20h55m25s", "20h55m25s", "20h56m01s"]));
        assert!(is_time(&["@1763931324.233", "@1763931324.300", "@1763931325.001"]));
        assert!(is_time(&["+0012.345", "+0012.600", "+0013.100"]));
        assert!(is_time(&["23-Nov-2026", "23-Nov-2026"]));
        assert!(!is_time(&["4312", "17", "4312"]));
        assert!(!is_time(&["boat", "ferry"]));
        assert!(!is_time(&[
            "pool-1-thread-2",
            "pool-1-thread-1",
            "pool-1-thread-2",
            "pool-1-thread-1"
        ]));
    }
}
