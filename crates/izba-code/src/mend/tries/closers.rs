//! A closer that is missing: put in where its block or bracket may have ended.

use super::attempt::{Look, THOUGHT_OF, Try, is_operand_end, put};
use crate::signs::{Pair, Sort, closer_of};
use izba_model::claim::Saying;
use izba_model::{say, sayings};

sayings! {
    "closers", Syntax, "../../../words/tries/closers.toml";
    END_MISSING = "end-missing",
    CLOSING_MISSING = "closing-missing",
    OPENED = "opened",
    COMES_BEFORE = "comes-before",
    STANDS_OUT = "stands-out",
}

/// Of a longer line so many signs and words behind the opener are looked at.
const ON_A_LINE: usize = 200;

pub(super) fn closer_missing(look: &Look<'_>, pairs: &[Pair]) -> Vec<Try> {
    let mut out = Vec::new();
    let tokens = look.tokens;
    // Of very many the ones near where it was noticed are thought of first.
    let hot = look.noticed.or(look.stumbles).unwrap_or(0);
    let far = |p: &Pair| p.open.map_or(0, |o| look.tokens[o].line.abs_diff(hot));
    let mut near: Vec<&Pair> = pairs.iter().collect();
    if near.len() > THOUGHT_OF {
        near.sort_by_key(|p| far(p));
    }
    for pair in near {
        if out.len() >= THOUGHT_OF {
            break;
        }
        let Some(open) = pair.open else { continue };
        let opener = &tokens[open];
        let slanted = pair.close.is_none_or(|c| {
            tokens[c].first && tokens[c].line > opener.line && tokens[c].indent != opener.indent
        });
        let holds_hot = look.noticed.or(look.stumbles).is_some_and(|n| {
            opener.line <= n && pair.close.is_none_or(|c| tokens[c].line + 1 >= n)
        });
        if !(slanted
            || pair.mixed
            || look.opener == Some(opener.line)
            || holds_hot && look.hot(opener.line))
        {
            continue;
        }
        let closer = closer_of(look.language, opener.text);
        let bracket = matches!(opener.text, "(" | "[");
        let what = if look.language.block_of(opener.text).is_some() {
            say!(END_MISSING, name = opener.text)
        } else {
            say!(CLOSING_MISSING, name = closer)
        };
        let opened = (opener.line, say!(OPENED, name = opener.text));
        let mut add = |at: usize,
                       insert: String,
                       line: u32,
                       to_line: u32,
                       cost: f32,
                       saw: Option<(u32, Saying)>| {
            let mut attempt = put(at, insert, line, what.clone(), cost);
            attempt.to_line = to_line;
            attempt.seen.extend(
                [Some(opened.clone()), saw]
                    .into_iter()
                    .flatten()
                    .filter(|(l, _)| *l != line || l == &opener.line),
            );
            out.push(attempt);
        };
        // On the line of the opener, before what usually follows.
        let end = look.last_of_line(open);
        let spaced = if closer == "end" { format!(" {closer} ") } else { closer.to_owned() };
        for at in ((open + 1)..=end + 1).take(ON_A_LINE) {
            let before = &tokens[at - 1];
            let ends = at > end
                || matches!(
                    tokens[at].text,
                    ")" | "]" | "}" | "," | ";" | "{" | ":" | "then" | "do"
                );
            let gap = ends
                || at == open + 1 && bracket
                || tokens[at].sort == Sort::Sign && bracket
                || closer == "end";
            if gap && (before.line == opener.line || at > end) {
                let index = opener.text == "["
                    && open > 0
                    && is_operand_end(look.language, &tokens[open - 1]);
                // A text may have gone on over several lines.
                let line = before.line + before.text.matches('\n').count() as u32;
                add(
                    before.end(),
                    spaced.clone(),
                    line,
                    line,
                    if index {
                        0.2
                    } else if bracket && at == open + 1 && at <= end {
                        // Something was to be in it.
                        0.55
                    } else if bracket && ends {
                        0.35
                    } else if bracket {
                        // What goes on with an operator is likelier one expression.
                        0.37
                    } else {
                        0.5
                    },
                    None,
                );
            }
        }
        // Before a closer that closes the wrong thing.
        if let Some(close) = pair.close.filter(|_| pair.mixed) {
            let token = &tokens[close];
            add(
                token.start,
                spaced.clone(),
                token.line,
                token.line,
                0.35,
                Some((token.line, say!(COMES_BEFORE, name = token.text))),
            );
            // Or on a line of its own before it.
            if token.first && close > 0 {
                add(
                    tokens[close - 1].end(),
                    format!("\n{}{closer}", " ".repeat(opener.indent as usize)),
                    tokens[close - 1].line,
                    token.line,
                    0.4,
                    None,
                );
            }
        }
        // Where the indentation says that it is over.
        let mut at = open;
        let mut steps = 0;
        while let Some(next) = look.first_of_next_line(at) {
            let (token, last) = (&tokens[next], &tokens[next - 1]);
            let out_again = token.indent <= opener.indent;
            if bracket {
                let end = look.last_of_line(next);
                for cut in [end + 1, end, end.saturating_sub(1)] {
                    if cut > next
                        && cut <= end + 1
                        && (cut == end + 1
                            || look.is_closer(cut)
                            || matches!(tokens[cut].text, "," | ";" | "{" | ":" | "then" | "do"))
                    {
                        let dedents = look
                            .first_of_next_line(next)
                            .is_none_or(|n| tokens[n].indent <= opener.indent);
                        // On the line that is free, where the opener ended its line and its closer
                        // would have one of its own.
                        let own = dedents
                            && cut == end + 1
                            && look.last_of_line(open) == open
                            && tokens.get(cut).is_some_and(|t| t.line > token.line + 1);
                        let line = token.line + u32::from(own);
                        add(
                            tokens[cut - 1].end(),
                            closer.to_owned(),
                            line,
                            line,
                            if dedents { 0.3 } else { 0.75 },
                            None,
                        );
                    }
                }
                if steps > 60 || out_again && steps > 2 {
                    break;
                }
            } else if out_again {
                let indent = " ".repeat(opener.indent as usize);
                let saw = Some((token.line, say!(STANDS_OUT)));
                // On the line that is free, where there is one.
                let line = if token.line > last.line + 1 { last.line + 1 } else { last.line };
                add(last.end(), format!("\n{indent}{closer}"), line, token.line, 0.3, saw);
                // Where a closer of its own stands there already, the missing one was before it.
                if steps > 400 {
                    break;
                }
            } else if look.is_closer(next) || look.hot(token.line) {
                // An inner block that took this closer.
                let indent = " ".repeat(opener.indent as usize);
                add(last.end(), format!("\n{indent}{closer}"), last.line, token.line, 0.6, None);
            }
            steps += 1;
            at = next;
        }
        if let Some(last) = tokens.last().filter(|_| !bracket) {
            add(
                last.end(),
                format!("\n{}{closer}", " ".repeat(opener.indent as usize)),
                last.line,
                last.line,
                0.5,
                None,
            );
        }
    }
    out
}
