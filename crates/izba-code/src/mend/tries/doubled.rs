//! Something that stands there twice in a row, as if it had been typed or pasted once more.

use super::attempt::{Look, Try, is_keyword, put};
use crate::signs::{Sort, Token};
use izba_model::{say, sayings};

sayings! {
    "doubled", Syntax, "../../../words/tries/doubled.toml";
    TWICE = "twice",
    ONCE = "once",
}

/// Signs and words that are compared at most.
const LONGEST: usize = 24;
/// Of longer lines so many places are looked at.
const PLACES: usize = 600;
/// Signs of a text that are told.
const TOLD: usize = 40;

pub(super) fn typed_twice(look: &Look<'_>) -> Vec<Try> {
    let mut out = Vec::new();
    let hot = (0..look.tokens.len()).filter(|at| look.hot(look.tokens[*at].line)).take(PLACES);
    for at in hot {
        let line = look.tokens[at].line;
        let here: Vec<&Token<'_>> =
            look.tokens[at..].iter().take_while(|t| t.line == line).take(2 * LONGEST).collect();
        let same = |n: usize| (0..n).all(|k| here[k].text == here[n + k].text);
        // The longest of them says most; of one number or sign nothing can be told.
        let found = (1..=here.len() / 2).rev().find(|n| same(*n) && is_worth(look, &here[..*n]));
        let Some(n) = found else { continue };
        let (from, to) = (here[n - 1].end(), here[2 * n - 1].end());
        let whole = &look.text[here[0].start..from];
        let mut said: String = whole.chars().take(TOLD).collect();
        if said.len() < whole.len() {
            said.push('…');
        }
        let mut attempt = put(from, "", line, say!(TWICE, name = said), 0.3);
        attempt.remove = to - from;
        attempt.seen.push((line, say!(ONCE, text = look.text[here[0].start..to].to_owned())));
        out.push(attempt);
    }
    out
}

/// Whether a word is among them that is not one of the language's own.
fn is_worth(look: &Look<'_>, tokens: &[&Token<'_>]) -> bool {
    let name = |t: &&Token<'_>| t.sort == Sort::Word && !is_keyword(look.language, t.text);
    tokens.iter().any(name)
}
