//! An opener that is missing: a word, a colon or a bracket that begins a block.

use super::attempt::{Look, Try, is_keyword, put};
use crate::signs::{Pair, Sort, opener_of, sums};
use izba_model::dialect::By;
use izba_model::{say, sayings};

sayings! {
    "openers", Syntax, "../../../words/tries/openers.toml";
    WORD_MISSING_AT_END = "word-missing-at-end",
    HEADER = "header",
    WORD_MISSING = "word-missing",
    DEEPER_AS_FUNCTION = "deeper-as-function",
    COLON_MISSING = "colon-missing",
    DEEPER = "deeper",
    OPENING_MISSING = "opening-missing",
    CLOSES_NOTHING = "closes-nothing",
    OPENING_BETWEEN = "opening-between",
}

/// Lines after which a block begins by its indentation, though nothing opens it.
pub(super) fn opener_missing(look: &Look<'_>, pairs: &[Pair]) -> Vec<Try> {
    let mut out = Vec::new();
    let tokens = look.tokens;
    let curly = look.language.blocks.by == By::Brackets;
    // Inside round and square brackets lines are indented as they like.
    let mut steps = vec![0; tokens.len() + 1];
    for pair in pairs {
        if let (Some(open), Some(close)) = (pair.open, pair.close)
            && matches!(tokens[open].text, "(" | "[")
        {
            steps[open + 1] += 1;
            steps[close.max(open + 1)] -= 1;
        }
    }
    let inside: Vec<bool> = sums(&steps).map(|open| open > 0).collect();
    for (at, token) in tokens.iter().enumerate().filter(|(_, t)| t.first) {
        let end = look.last_of_line(at);
        let Some(next) = tokens.get(end + 1) else { continue };
        let last = &tokens[end];
        let words: Vec<&str> = tokens[at..=end].iter().map(|t| t.text).collect();
        let deeper = next.indent > token.indent;
        let headers = &look.language.blocks.headers;
        match look.language.blocks.by {
            By::Words => {
                for (header, wanted) in headers {
                    let Some(from) = words.iter().position(|w| w == header) else { continue };
                    if !words[from..].contains(&wanted.as_str()) {
                        let mut attempt = put(
                            last.end(),
                            format!(" {wanted}"),
                            token.line,
                            say!(WORD_MISSING_AT_END, name = wanted),
                            0.1,
                        );
                        attempt.seen.push((token.line, say!(HEADER, header, wanted)));
                        out.push(attempt);
                    }
                }
                let function = look.language.blocks.function.as_deref().unwrap_or("function");
                if deeper && !words.contains(&function) && last.text == ")" {
                    // `name(args)` or `= (args)` followed by a block.
                    for k in at..=end {
                        let called = tokens.get(k + 1).is_some_and(|n| n.text == "(")
                            && tokens[k].sort == Sort::Word;
                        let bare = tokens[k].text == "("
                            && k > at
                            && matches!(tokens[k - 1].text, "=" | "," | "(" | "return");
                        if called && (k == at || tokens[k - 1].text == "local") || bare {
                            let mut attempt = put(
                                tokens[k].start,
                                format!("{function} "),
                                token.line,
                                say!(WORD_MISSING, name = function),
                                0.2,
                            );
                            attempt.seen.push((next.line, say!(DEEPER_AS_FUNCTION)));
                            out.push(attempt);
                        } else if called && k > at && matches!(tokens[k - 1].text, "." | ":") {
                            let start = (at..k)
                                .rev()
                                .take_while(|j| {
                                    tokens[*j].sort == Sort::Word
                                        || matches!(tokens[*j].text, "." | ":")
                                })
                                .last()
                                .unwrap_or(at);
                            let mut attempt = put(
                                tokens[start].start,
                                format!("{function} "),
                                token.line,
                                say!(WORD_MISSING, name = function),
                                if start == at { 0.05 } else { 0.2 },
                            );
                            attempt.seen.push((next.line, say!(DEEPER_AS_FUNCTION)));
                            out.push(attempt);
                        }
                    }
                    let args = (at..=end).find(|k| {
                        tokens[*k].text == "("
                            && *k > at
                            && (tokens[*k - 1].text == "(" || tokens[*k - 1].text == ",")
                    });
                    if let Some(args) = args {
                        out.push(put(
                            tokens[args].start,
                            format!("{function} "),
                            token.line,
                            say!(WORD_MISSING, name = function),
                            0.3,
                        ));
                    }
                }
                if deeper && matches!(last.text, "=" | "," | "return") {
                    out.push(put(
                        last.end(),
                        " {",
                        token.line,
                        say!(OPENING_MISSING, name = "{"),
                        0.3,
                    ));
                }
            }
            By::Indentation => {
                let wanted = headers.iter().find(|(header, _)| header == words[0]);
                let compound = wanted.is_some();
                if compound && last.text != ":" && (deeper || look.hot(token.line)) {
                    out.push(put(last.end(), ":", token.line, say!(COLON_MISSING), 0.1));
                }
            }
            _ => {}
        }
        if curly
            && deeper
            && !inside[end]
            && !matches!(
                last.text,
                "{" | "(" | "[" | "," | "=" | "+" | "&&" | "||" | "?" | "." | "=>"
            )
        {
            let header = matches!(
                words[0],
                "if" | "for"
                    | "while"
                    | "else"
                    | "try"
                    | "switch"
                    | "do"
                    | "catch"
                    | "finally"
                    | "class"
                    | "function"
                    | "}"
            ) || last.text == ")";
            // On the line that is free, where there is one.
            let line = if next.line == last.line + 2 { last.line + 1 } else { token.line };
            let mut attempt = put(
                last.end(),
                " {",
                line,
                say!(OPENING_MISSING, name = "{"),
                if header { 0.2 } else { 0.5 },
            );
            attempt.to_line = next.line;
            attempt.seen.push((next.line, say!(DEEPER)));
            out.push(attempt);
        }
        if curly && last.text == "=>" && deeper {
            out.push(put(last.end(), " {", token.line, say!(OPENING_MISSING, name = "{"), 0.3));
        }
        if curly && matches!(last.text, "=" | "(" | "," | ":" | "return") && deeper {
            for sign in ["{", "["] {
                out.push(put(
                    last.end(),
                    format!(" {sign}"),
                    token.line,
                    say!(OPENING_MISSING, name = sign),
                    0.4,
                ));
            }
        }
    }
    out
}

/// An opening round or square bracket before a closer that closes nothing or the wrong thing.
pub(super) fn bracket_opener_missing(look: &Look<'_>, pairs: &[Pair]) -> Vec<Try> {
    let mut out = Vec::new();
    let tokens = look.tokens;
    let mut wrong: Vec<usize> =
        pairs.iter().filter(|p| p.open.is_none() || p.mixed).filter_map(|p| p.close).collect();
    wrong
        .extend((0..tokens.len()).filter(|at| {
            look.hot(tokens[*at].line) && matches!(tokens[*at].text, ")" | "]" | "}")
        }));
    for close in wrong.into_iter().take(24) {
        let closer = &tokens[close];
        let Some(opener) = opener_of(closer.text) else { continue };
        for at in (0..close).rev().take_while(|at| tokens[*at].line + 12 >= closer.line).take(60) {
            let token = &tokens[at];
            let before = at.checked_sub(1).map(|b| &tokens[b]);
            let after_name = before.is_some_and(|b| {
                b.line == token.line && (b.sort == Sort::Word || matches!(b.text, ")" | "]"))
            });
            let fits = match token.sort {
                Sort::Sign => {
                    matches!(token.text, ")" | "]" | "(" | "[" | "{" | "-" | "!" | "#" | "...")
                }
                _ => {
                    before.is_none_or(|b| !matches!(b.text, "." | ":" | "?." | "::")) || after_name
                }
            };
            if fits {
                // Nobody puts one word or number alone in brackets that call nothing.
                let closers = tokens[at + 1..=close].iter().all(|t| t.text == closer.text);
                let alone = closers && !after_name;
                let near = if token.line == closer.line { 0.45 } else { 0.6 };
                let near = near + if alone { 0.4 } else { 0.0 };
                let mut attempt = put(
                    token.start,
                    opener,
                    token.line,
                    say!(OPENING_MISSING, name = opener),
                    near,
                );
                attempt.seen.push((closer.line, say!(CLOSES_NOTHING, name = closer.text)));
                out.push(attempt);
            }
        }
        // Two names grown together where the bracket stood between them.
        for token in tokens[..close]
            .iter()
            .rev()
            .take_while(|t| t.line + 12 >= closer.line)
            .filter(|t| t.sort == Sort::Word && (4..=60).contains(&t.text.len()))
            .take(40)
        {
            let in_file = |w: &str| {
                tokens
                    .iter()
                    .filter(|t| t.sort == Sort::Word && t.text == w && t.start != token.start)
                    .count()
            };
            let known = |w: &str| in_file(w) + usize::from(look.language.has_name(w));
            if known(token.text) > 0 {
                continue;
            }
            // What is called elsewhere may be short.
            let called =
                |head: &str| tokens.windows(2).any(|w| w[0].text == head && w[1].text == opener);
            for cut in (2..token.text.len()).filter(|c| token.text.is_char_boundary(*c)) {
                let (head, tail) = token.text.split_at(cut);
                if cut < 3 && !called(head) {
                    continue;
                }
                if known(tail) > 0 && (known(head) > 0 || tail.len() == 1) {
                    let cost = if known(head) > 0 { 0.35 } else { 0.6 };
                    out.push(put(
                        token.start + cut,
                        opener,
                        token.line,
                        say!(OPENING_BETWEEN, name = opener, head, tail),
                        cost,
                    ));
                }
            }
        }
        // A bracket whose opener ended the line above: what follows a name stands deeper than its
        // line.
        let lines = (1..=close)
            .rev()
            .filter(|at| tokens[*at].first && tokens[*at].line + 12 >= closer.line);
        for (nth, first) in lines.enumerate().take(12) {
            let above = &tokens[first - 1];
            let begun = tokens[..first].iter().rfind(|t| t.first).map_or(0, |t| t.indent);
            let deeper = tokens[first].indent > begun
                && above.sort == Sort::Word
                && !is_keyword(look.language, above.text);
            if nth == 0 || deeper {
                out.push(put(
                    above.end(),
                    opener,
                    above.line,
                    say!(OPENING_MISSING, name = opener),
                    if deeper { 0.4 } else { 0.55 },
                ));
            }
        }
    }
    out
}
