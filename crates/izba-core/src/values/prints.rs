//! Prints in the source, and which of them told a value: the texts that stand in a call, held
//! against a line that arrived.

use izba_model::code::{At, Index, Kind};
use std::sync::Arc;

/// Calls that print, in all languages; of a longer name the end counts (`System.out.println`).
const PRINTS: &[&str] = &[
    "print",
    "printf",
    "println",
    "puts",
    "log",
    "info",
    "debug",
    "warn",
    "error",
    "write",
    "WriteLine",
    "Write",
    "d",
    "i",
    "w",
    "e",
    "v",
];
/// The owners that make one of the short names above a print: `Log.d`, but not `math.log`.
const OWNERS: &[&str] = &[
    "console", "Console", "Log", "logger", "log", "logging", "out", "err", "io", "stdout",
    "stderr", "Debug",
];
/// Letters of its texts that a line has to show at least.
const LETTERS: usize = 2;

/// A call in the code that prints a value.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Print {
    /// The script, relative to the project.
    pub file: Arc<str>,
    /// Its line, from 1.
    pub line: u32,
    /// The fixed texts in it, in order, without what is filled in.
    pub texts: Vec<String>,
}

impl Print {
    /// How many letters of a line are those of its texts; 0 where not all of them stand in the
    /// line, in order.
    pub fn tells(&self, line: &str) -> usize {
        let mut rest = line;
        let mut letters = 0;
        for text in &self.texts {
            let Some(at) = rest.find(text.as_str()) else { return 0 };
            letters += text.chars().filter(|c| c.is_alphabetic()).count();
            rest = &rest[at + text.len()..];
        }
        if letters < LETTERS { 0 } else { letters }
    }
}

/// All calls that print, by file and line.
pub fn prints(index: &Index) -> Vec<Print> {
    let mut found = Vec::new();
    for file in index.code() {
        for call in file.tree.all().filter(|n| n.is(Kind::Call) && is_print(*n)) {
            let texts = call
                .arguments()
                .flat_map(At::whole)
                .filter(|a| a.is(Kind::Str))
                .filter_map(At::text);
            let texts =
                texts.flat_map(fixed).filter(|t| t.chars().any(|c| !c.is_whitespace())).collect();
            found.push(Print { file: file.path.clone(), line: call.line(), texts });
        }
    }
    found
}

/// The print that told a line: the one with most letters in common; `None` where none, or two
/// alike, do.
pub fn printed_by<'a>(prints: &'a [Print], line: &str) -> Option<&'a Print> {
    let best = prints.iter().max_by_key(|p| p.tells(line))?;
    let letters = best.tells(line);
    (letters > 0 && prints.iter().filter(|p| p.tells(line) == letters).count() == 1).then_some(best)
}

fn is_print(call: At<'_>) -> bool {
    let Some(called) = call.child(0) else { return false };
    let Some(name) = called.last_name().filter(|n| PRINTS.contains(n)) else { return false };
    match called.kind() {
        Kind::Field => {
            called.child(0).and_then(At::last_name).is_some_and(|owner| OWNERS.contains(&owner))
        }
        _ => name.starts_with("print") || name == "puts",
    }
}

/// The pieces of a text between what is filled in: `%5.2f`, `{}`, `{name}`, `${…}`.
fn fixed(text: &str) -> Vec<String> {
    let (mut pieces, mut piece) = (Vec::new(), String::new());
    let mut rest = text.chars().peekable();
    while let Some(c) = rest.next() {
        let filled = match c {
            '%' if rest.peek() == Some(&'%') => {
                rest.next();
                piece.push('%');
                continue;
            }
            '%' => {
                while rest
                    .next_if(|c| matches!(c, '-' | '+' | ' ' | '#' | '.' | '0'..='9'))
                    .is_some()
                {}
                rest.next_if(|c| c.is_ascii_alphabetic()).is_some()
            }
            '{' => {
                while rest.next_if(|c| *c != '}').is_some() {}
                rest.next().is_some()
            }
            '$' if rest.peek() == Some(&'{') => continue,
            '$' => {
                let mut named = false;
                while rest.next_if(|c| c.is_alphanumeric() || *c == '_').is_some() {
                    named = true;
                }
                named
            }
            // What is written as an escape comes out as another character.
            '\\' => rest.next().is_some(),
            _ => false,
        };
        if filled {
            pieces.push(std::mem::take(&mut piece));
        } else {
            piece.push(c);
        }
    }
    pieces.push(piece);
    pieces
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn a_text_falls_into_what_stays() {
        let all = [
            "passengers=%d fuel=%.2f",
            "tide {height} m, {}",
            "100%% of ${name}\\n",
            "a family pays $sum",
            "left % open {",
        ];
        let told: Vec<String> = all.iter().map(|t| format!("{t} → {:?}", fixed(t))).collect();
        insta::assert_snapshot!(told.join("\n"), @r#"
    passengers=%d fuel=%.2f → ["passengers=", " fuel=", ""]
    tide {height} m, {} → ["tide ", " m, ", ""]
    100%% of ${name}\n → ["100% of ", "", ""]
    a family pays $sum → ["a family pays ", ""]
    left % open { → ["left ", "pen {"]
    "#);
    }

    proptest! {
        #[test]
        fn a_line_made_of_the_texts_is_told_by_them(texts in prop::collection::vec("[a-z]{2,8}[=: ]{1,2}", 1..4), values in prop::collection::vec("[0-9]{1,4} ", 4)) {
            let line: String = texts.iter().zip(&values).map(|(t, v)| format!("{t}{v}")).collect();
            let print = Print { file: "a.lua".into(), line: 1, texts };
            prop_assert!(print.tells(&line) >= LETTERS);
            prop_assert_eq!(print.tells(""), 0);
        }

        #[test]
        fn any_text_is_divided(text in "\\PC{0,60}") {
            let _ = fixed(&text);
        }
    }
}
