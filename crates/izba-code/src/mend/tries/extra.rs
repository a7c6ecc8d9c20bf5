//! A sign or word too many: taken out.

use super::attempt::{Look, Try, put};
use crate::signs::Pair;
use izba_model::{say, sayings};

sayings! {
    "extra", Syntax, "../../../words/tries/extra.toml";
    TOO_MANY = "too-many",
    WOULD_CLOSE = "would-close",
}

pub(super) fn one_too_many(look: &Look<'_>, pairs: &[Pair]) -> Vec<Try> {
    let mut out = Vec::new();
    let stray: Vec<&str> = pairs
        .iter()
        .filter(|p| p.open.is_none() || p.mixed)
        .filter_map(|p| Some(look.tokens[p.close?].text))
        .collect();
    let stray: std::collections::HashSet<&str> = stray.into_iter().collect();
    let unclosed = pairs.iter().any(|p| p.close.is_none());
    for pair in pairs {
        let Some(close) = pair.close else { continue };
        let token = &look.tokens[close];
        let open = pair.open.map(|o| &look.tokens[o]);
        let slanted = open
            .is_none_or(|o| token.first && o.line < token.line && o.indent != token.indent)
            || pair.mixed;
        // `}}` where each closes a block of its own is rarely meant.
        let double = close > 0
            && look.tokens[close - 1].line == token.line
            && look.tokens[close - 1].first
            && look.tokens[close - 1].text == token.text
            && open.is_none_or(|o| o.line < token.line);
        // One that stands twice in a row and closes nothing was typed twice.
        let twice = open.is_none() && close > 0 && look.tokens[close - 1].text == token.text;
        if !(slanted
            || double
            || look.hot(token.line)
            || (stray.contains(token.text) && token.first && !unclosed))
        {
            continue;
        }
        let mut attempt = put(
            token.start,
            "",
            token.line,
            say!(TOO_MANY, name = token.text),
            if double {
                0.3
            } else if twice {
                0.4
            } else {
                0.55
            },
        );
        attempt.remove = token.text.len();
        if let Some(open) = open.filter(|_| slanted) {
            attempt.seen.push((open.line, say!(WOULD_CLOSE, name = open.text)));
        }
        out.push(attempt);
    }
    out
}
