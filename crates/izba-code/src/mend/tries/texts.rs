//! Quotation marks that are missing at one end of a text.

use super::attempt::{Look, MOST, THOUGHT_OF, Try, is_keyword, is_operand_end, put};
use crate::signs::{Sort, Token};
use izba_model::{say, sayings};

sayings! {
    "texts", Syntax, "../../../words/tries/texts.toml";
    TEXT_CLOSING = "text-closing",
    TEXT_BEGINS = "text-begins",
    QUOTE_CLOSING = "quote-closing",
    QUOTE_OPENING = "quote-opening",
    QUOTE = "quote",
    TEXT_OPENING = "text-opening",
}

pub(super) fn quotes(look: &Look<'_>) -> Vec<Try> {
    let mut out = Vec::new();
    let tokens = look.tokens;
    // A long text that ends where reading stopped may have taken in code that only looks like its
    // end.
    let ends_hot = |t: &Token<'_>| {
        t.sort == Sort::Text
            && t.text.contains('\n')
            && look.hot(t.line + t.text.matches('\n').count() as u32)
    };
    for (at, token) in
        tokens.iter().enumerate().filter(|(_, t)| t.sort == Sort::Unclosed || ends_hot(t))
    {
        if out.len() >= THOUGHT_OF {
            break;
        }
        let body = token
            .text
            .trim_start_matches(|c: char| c.is_ascii_alphabetic() || matches!(c, '@' | '$'));
        let long = body.starts_with('[')
            || body.starts_with("\"\"\"")
            || body.starts_with("'''")
            || body.starts_with('`');
        if long {
            let closer = if body.starts_with('[') {
                let signs = body.bytes().skip(1).take_while(|b| *b == b'=').count();
                format!("]{}]", "=".repeat(signs))
            } else if body.starts_with('`') {
                "`".to_owned()
            } else {
                body[..3].to_owned()
            };
            let mut byte = token.start;
            let code = first_code(look, token);
            for (k, row) in token.text.lines().enumerate().take(MOST) {
                // Behind a line of code it is too late.
                let late = if k >= code { 0.15 } else { 0.0 };
                let end = byte + row.trim_end().len();
                let line = token.line + k as u32;
                // A free line is where a closer of its own stood.
                let free = if k > 0 && row.trim().is_empty() { 0.03 } else { 0.0 };
                let mut attempt = put(
                    end,
                    closer.clone(),
                    line,
                    say!(TEXT_CLOSING, name = closer),
                    0.2 + 0.01 * k as f32 - free + late,
                );
                attempt.seen.push((token.line, say!(TEXT_BEGINS)));
                out.push(attempt);
                // A comment that stands in it was written behind its end.
                let lead = row.len() - row.trim_start().len();
                if k > 0 && row[lead..].starts_with("--") {
                    out.push(put(
                        byte + lead,
                        closer.clone(),
                        line,
                        say!(TEXT_CLOSING, name = closer),
                        0.17 + 0.01 * k as f32,
                    ));
                }
                // Behind it on the same line something may follow.
                for (cut, _) in row
                    .char_indices()
                    .rev()
                    .filter(|(_, c)| matches!(c, ')' | ',' | ';' | '}'))
                    .take(2)
                {
                    out.push(put(
                        byte + cut,
                        closer.clone(),
                        line,
                        say!(TEXT_CLOSING, name = closer),
                        0.3 + 0.01 * k as f32,
                    ));
                }
                byte += row.len() + 1;
            }
            // Or an earlier one of its kind was never closed, or never opened, and all since stand
            // the wrong way round.
            let earlier = tokens[..at].iter().filter(|t| {
                t.sort == Sort::Text && t.text.contains('\n') && t.text.ends_with(&closer)
            });
            for earlier in earlier.take(MOST) {
                let row = earlier.text.lines().next().unwrap_or("").trim_end();
                if row.len() > 3 {
                    out.push(put(
                        earlier.start + row.len(),
                        closer.clone(),
                        earlier.line,
                        say!(TEXT_CLOSING, name = closer),
                        0.35,
                    ));
                }
                ends_within(look, earlier, &closer, &mut out);
                if closer.starts_with(['"', '\'', '`']) && earlier.text.contains('\n') {
                    opener_of_text_missing(look, earlier, &closer, &mut out);
                }
            }
            continue;
        }
        let quote = &body[..1];
        let row = token.text.trim_end();
        let mut ends: Vec<usize> = vec![row.len()];
        ends.extend(
            row.char_indices()
                .skip(1)
                .filter(|(_, c)| matches!(c, ')' | ',' | ';' | ']' | '}' | ' ' | ':' | '.'))
                .map(|(i, _)| i)
                .collect::<Vec<_>>()
                .into_iter()
                .rev()
                .take(14),
        );
        for end in ends {
            out.push(put(token.start + end, quote, token.line, say!(QUOTE_CLOSING), 0.3));
        }
        for k in (0..=at).rev().take_while(|k| tokens[*k].line == token.line).take(16) {
            let what = say!(QUOTE_OPENING);
            out.push(put(tokens[k].start, quote, token.line, what.clone(), 0.35));
            // The text may have begun in the middle of what looks like a sign.
            if tokens[k].sort == Sort::Text {
                out.push(put(tokens[k].end(), quote, token.line, what, 0.45));
            }
        }
    }
    // A text that begins as words: `print(hello")` has its last quote open; one with both quotes
    // elsewhere is seen by its neighbours.
    for pair in tokens.windows(2).filter(|p| p[0].line == p[1].line && look.hot(p[0].line)) {
        let (a, b) = (&pair[0], &pair[1]);
        if b.sort == Sort::Text
            && b.text.len() > 2
            && is_operand_end(look.language, a)
            && a.sort != Sort::Sign
        {
            let quote = &b.text[..1];
            for end in [a.start, a.end()] {
                out.push(put(end, quote, a.line, say!(QUOTE), 0.6));
            }
        }
    }
    out
}

/// A text that took in what stands below it: it may have ended at any free line, or before a
/// comment that stands as deep as the text.
fn ends_within(look: &Look<'_>, taken: &Token<'_>, closer: &str, out: &mut Vec<Try>) {
    let code = first_code(look, taken);
    let rows: Vec<&str> = taken.text.split('\n').collect();
    let depth = |row: &str| row.len() - row.trim_start().len();
    let mut byte = taken.start + rows.first().map_or(0, |r| r.len() + 1);
    for (k, row) in rows.iter().enumerate().skip(1).take(ROWS) {
        let code_below = rows.get(k + 1).is_some_and(|below| {
            let word = below.trim_start();
            let own = word.starts_with(['#', '@', '-', '/']) || word.contains(['=', '(', ':']);
            own && depth(below) > 0
        });
        if code_below && k + 1 < rows.len() {
            let line = taken.line + k as u32;
            let free = if row.trim().is_empty() { 0.0 } else { 0.08 };
            let free = free + if k >= code { 0.15 } else { 0.0 };
            let what = say!(TEXT_CLOSING, name = closer);
            let mut attempt =
                put(byte + row.trim_end().len(), closer, line, what, 0.3 + free + 0.005 * k as f32);
            attempt.seen.push((taken.line, say!(TEXT_BEGINS)));
            out.push(attempt);
        }
        byte += row.len() + 1;
    }
}

/// The first row of a text that stands as far out as the text's own line and is written like code,
/// or like a comment.
fn first_code(look: &Look<'_>, text: &Token<'_>) -> usize {
    let comment = |row: &str| {
        look.language.signs.line_comments.iter().any(|sign| row.starts_with(sign.as_str()))
    };
    let code = |row: &str| {
        let word: String = row.chars().take_while(|c| c.is_alphanumeric() || *c == '_').collect();
        let behind = row[word.len()..].trim_start();
        let given = behind.starts_with(['=', '(', '[', ':']) && !behind.starts_with(": ");
        !word.is_empty()
            && (given || is_keyword(look.language, &word) && behind.contains(['=', '(', ':']))
    };
    let rows = text.text.lines().enumerate().skip(1);
    let mut outer = rows.filter(|(_, row)| {
        !row.trim().is_empty() && row.len() - row.trim_start().len() <= text.indent as usize
    });
    let found = outer.find(|(_, row)| comment(row.trim_start()) || code(row.trim_start()));
    found.map_or(usize::MAX, |(k, _)| k)
}

/// Rows of a text that are tried as its end.
const ROWS: usize = 60;

/// What was meant as the closer of a long text opens one: the text before it lost its opener.
fn opener_of_text_missing(look: &Look<'_>, closes: &Token<'_>, closer: &str, out: &mut Vec<Try>) {
    let tokens = look.tokens;
    let mut lines: Vec<u32> = Vec::new();
    if let Some(stumbles) = look.stumbles.filter(|s| *s <= closes.line) {
        lines.extend(stumbles.saturating_sub(3).max(1)..=stumbles + 1);
    }
    // Alone on its line it looks like a closer: the text began below what begins a block.
    let alone =
        closes.first && closes.text.lines().next().is_some_and(|row| row.trim_end() == closer);
    let block = tokens
        .iter()
        .rev()
        .skip_while(|t| t.line >= closes.line)
        .take_while(|t| t.line + 60 >= closes.line)
        .find(|t| {
            t.text == ":"
                && look.text[t.end()..]
                    .split('\n')
                    .next()
                    .is_some_and(|rest| rest.trim().is_empty())
        });
    if let Some(block) = block.filter(|_| alone) {
        lines.extend(block.line + 1..=block.line + 2);
    }
    lines.sort_unstable();
    lines.dedup();
    let what = say!(TEXT_OPENING, name = closer);
    for line in lines {
        // On a free line of its own.
        let above = tokens.iter().rfind(|t| t.line < line);
        let free = look.text.lines().nth(line as usize - 1).is_some_and(|l| l.trim().is_empty());
        if let Some(above) = above.filter(|a| free && a.line + 1 == line && a.text == ":") {
            let below = tokens.iter().find(|t| t.line > line).map_or(0, |t| t.indent as usize);
            if look.text.as_bytes().get(above.end()) == Some(&b'\n') {
                out.push(put(
                    above.end() + 1,
                    format!("{}{closer}", " ".repeat(below)),
                    line,
                    what.clone(),
                    0.36,
                ));
            }
        }
        if let Some(first) = tokens.iter().find(|t| t.first && t.line == line) {
            out.push(put(first.start, closer, line, what.clone(), 0.4));
        }
    }
}
