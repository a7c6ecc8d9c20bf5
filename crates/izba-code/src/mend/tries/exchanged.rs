//! One sign or word in the place of another.

use super::attempt::{Look, Try, put};
use crate::signs::{Pair, Token, closer_of};
use izba_model::claim::Saying;
use izba_model::dialect::By;
use izba_model::{say, sayings};

sayings! {
    "exchanged", Syntax, "../../../words/tries/exchanged.toml";
    INSTEAD = "instead",
    OPENED_BY = "opened-by",
}

/// Of longer lines so many signs and words are looked at.
const HOT: usize = 1500;

pub(super) fn exchanged(look: &Look<'_>, pairs: &[Pair]) -> Vec<Try> {
    let mut out = Vec::new();
    let tokens = look.tokens;
    let mut exchange = |token: &Token<'_>, with: &str, cost: f32, saw: Option<(u32, Saying)>| {
        let mut attempt =
            put(token.start, with, token.line, say!(INSTEAD, name = token.text, with), cost);
        attempt.remove = token.text.len();
        attempt.seen.extend(saw);
        out.push(attempt);
    };
    for pair in pairs.iter().filter(|p| p.mixed) {
        if let (Some(open), Some(close)) = (pair.open, pair.close) {
            let opener = &tokens[open];
            exchange(
                &tokens[close],
                closer_of(look.language, opener.text),
                0.3,
                Some((opener.line, say!(OPENED_BY, name = opener.text))),
            );
        }
    }
    let by_words = look.language.blocks.by == By::Words;
    let begins_block = |word: &str| {
        by_words && look.language.blocks.headers.iter().any(|(_, wanted)| wanted == word)
    };
    for (at, token) in tokens.iter().enumerate().filter(|(_, t)| look.hot(t.line)).take(HOT) {
        match token.text {
            word if begins_block(word) => {
                let others = look.language.blocks.headers.iter().map(|(_, wanted)| wanted);
                let others: std::collections::BTreeSet<&String> =
                    others.filter(|o| o.as_str() != word).collect();
                others.into_iter().for_each(|other| exchange(token, other, 0.15, None));
            }
            "=" if look.language.blocks.by != By::Words || at > 0 => {
                exchange(token, "==", 0.7, None)
            }
            ")" | "]" | "}" => {
                for other in [")", "]", "}"] {
                    if other != token.text {
                        exchange(token, other, 0.6, None);
                    }
                }
            }
            "(" | "[" | "{" => {
                for other in ["(", "[", "{"] {
                    if other != token.text {
                        exchange(token, other, 0.7, None);
                    }
                }
            }
            _ => {}
        }
    }
    out
}
