//! The repairs that are worth trying: one sign or word put in, taken out or exchanged.

use crate::signs::{Pair, Sort, Token, closer_of, opener_of, pairs};
use izba_model::code::Language;
use izba_model::dialect::By;

/// One repair.
#[derive(Debug, Clone)]
pub struct Try {
    /// Byte where it goes.
    pub at: usize,
    /// How many bytes it takes out there.
    pub remove: usize,
    /// What it puts in.
    pub insert: String,
    /// The line to show, from 1.
    pub line: u32,
    /// The last line that it may be in.
    pub to_line: u32,
    /// What is wrong, if this repair is right.
    pub what: String,
    /// How unusual such a slip is; 0 is the most usual.
    pub cost: f32,
    /// What speaks for it, with lines.
    pub seen: Vec<(u32, String)>,
}

impl Try {
    /// The text after it.
    pub fn apply(&self, text: &str) -> String {
        let mut out = String::with_capacity(text.len() + self.insert.len());
        out.push_str(&text[..self.at]);
        out.push_str(&self.insert);
        out.push_str(&text[(self.at + self.remove).min(text.len())..]);
        out
    }
}

/// The script that is looked at.
pub struct Look<'a> {
    /// Its language.
    pub language: Language,
    /// Its text.
    pub text: &'a str,
    /// Its tokens.
    pub tokens: &'a [Token<'a>],
    /// Line that the console named.
    pub noticed: Option<u32>,
    /// Line of an opener that the console named.
    pub opener: Option<u32>,
    /// The sign or word that the console says it met.
    pub near: Option<String>,
    /// Line at which the grammar first stumbles.
    pub stumbles: Option<u32>,
}

/// Not more repairs than this of each nature; a file of nothing but brackets is not worth more
/// time.
const MOST: usize = 160;

/// All repairs worth trying.
pub fn all(look: &Look<'_>) -> Vec<Try> {
    let pairs = pairs(look.language, look.tokens);
    let mut out = Vec::new();
    let hot: Vec<u32> = [look.noticed, look.stumbles].into_iter().flatten().collect();
    let mark = |t: &Try| {
        t.cost + 0.004 * hot.iter().map(|h| h.abs_diff(t.line)).min().unwrap_or(0).min(100) as f32
    };
    for tries in [
        one_too_many(look, &pairs),
        closer_missing(look, &pairs),
        opener_missing(look, &pairs),
        bracket_opener_missing(look, &pairs),
        exchanged(look, &pairs),
        between_neighbours(look),
        quotes(look),
    ] {
        // Dense code gives many; the usual ones and those nearest to where it was noticed come
        // first.
        let mut tries = tries;
        tries.sort_by(|a, b| mark(a).total_cmp(&mark(b)));
        out.extend(tries.into_iter().take(MOST));
    }
    out
}

impl Look<'_> {
    fn hot(&self, line: u32) -> bool {
        [self.noticed, self.stumbles]
            .into_iter()
            .flatten()
            .any(|hot| line <= hot + 1 && line + 3 >= hot)
    }

    fn last_of_line(&self, at: usize) -> usize {
        let line = self.tokens[at].line;
        (at..self.tokens.len()).take_while(|t| self.tokens[*t].line == line).last().unwrap_or(at)
    }

    fn first_of_next_line(&self, at: usize) -> Option<usize> {
        let next = self.last_of_line(at) + 1;
        (next < self.tokens.len()).then_some(next)
    }

    fn is_closer(&self, at: usize) -> bool {
        self.tokens.get(at).is_some_and(|t| {
            matches!(t.sort, Sort::Sign | Sort::Word) && self.language.closes(t.text)
        })
    }
}

fn put(at: usize, insert: impl Into<String>, line: u32, what: impl Into<String>, cost: f32) -> Try {
    Try {
        at,
        remove: 0,
        insert: insert.into(),
        line,
        to_line: line,
        what: what.into(),
        cost,
        seen: Vec::new(),
    }
}

fn one_too_many(look: &Look<'_>, pairs: &[Pair]) -> Vec<Try> {
    let mut out = Vec::new();
    let stray: Vec<&str> = pairs
        .iter()
        .filter(|p| p.open.is_none() || p.mixed)
        .filter_map(|p| Some(look.tokens[p.close?].text))
        .collect();
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
        if !(slanted
            || double
            || look.hot(token.line)
            || (stray.contains(&token.text) && token.first && !unclosed))
        {
            continue;
        }
        let mut attempt = put(
            token.start,
            "",
            token.line,
            format!("there is one {} too many", token.text),
            if double { 0.3 } else { 0.55 },
        );
        attempt.remove = token.text.len();
        if let Some(open) = open.filter(|_| slanted) {
            attempt
                .seen
                .push((open.line, format!("it would close the {} of this line", open.text)));
        }
        out.push(attempt);
    }
    out
}

fn closer_missing(look: &Look<'_>, pairs: &[Pair]) -> Vec<Try> {
    let mut out = Vec::new();
    let tokens = look.tokens;
    for pair in pairs {
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
            format!("the end of this {} is missing", opener.text)
        } else {
            format!("the closing {closer} is missing")
        };
        let opened = (opener.line, format!("the {} is opened here", opener.text));
        let mut add = |at: usize,
                       insert: String,
                       line: u32,
                       to_line: u32,
                       cost: f32,
                       saw: Option<(u32, String)>| {
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
        for at in (open + 1)..=end + 1 {
            let before = &tokens[at - 1];
            let gap = at > end
                || at == open + 1 && bracket
                || matches!(
                    tokens[at].text,
                    ")" | "]" | "}" | "," | ";" | "{" | ":" | "then" | "do"
                )
                || tokens[at].sort == Sort::Sign && bracket
                || closer == "end";
            if gap && (before.line == opener.line || at > end) {
                let index = opener.text == "[" && open > 0 && is_operand_end(&tokens[open - 1]);
                add(
                    before.end(),
                    spaced.clone(),
                    opener.line,
                    opener.line,
                    if index {
                        0.2
                    } else if bracket {
                        0.35
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
                Some((token.line, format!("{} comes before anything closes it", token.text))),
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
                let saw = Some((
                    token.line,
                    "this line stands as far out as the line that opens".to_owned(),
                ));
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

/// Lines after which a block begins by its indentation, though nothing opens it.
fn opener_missing(look: &Look<'_>, pairs: &[Pair]) -> Vec<Try> {
    let mut out = Vec::new();
    let tokens = look.tokens;
    let curly = look.language.blocks.by == By::Brackets;
    // Inside round and square brackets lines are indented as they like.
    let mut inside = vec![false; tokens.len()];
    for pair in pairs {
        if let (Some(open), Some(close)) = (pair.open, pair.close)
            && matches!(tokens[open].text, "(" | "[")
        {
            inside[open + 1..close.max(open + 1)].iter_mut().for_each(|i| *i = true);
        }
    }
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
                            format!("{wanted} is missing at the end of this line"),
                            0.1,
                        );
                        attempt.seen.push((
                            token.line,
                            format!("{header} opens a block that {wanted} has to begin"),
                        ));
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
                                format!("the word {function} is missing"),
                                0.2,
                            );
                            attempt.seen.push((
                                next.line,
                                "what follows stands deeper, as in a function".to_owned(),
                            ));
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
                                format!("the word {function} is missing"),
                                0.2,
                            );
                            attempt.seen.push((
                                next.line,
                                "what follows stands deeper, as in a function".to_owned(),
                            ));
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
                            format!("the word {function} is missing"),
                            0.3,
                        ));
                    }
                }
                if deeper && matches!(last.text, "=" | "," | "return") {
                    out.push(put(last.end(), " {", token.line, "the opening { is missing", 0.3));
                }
            }
            By::Indentation => {
                let wanted = headers.iter().find(|(header, _)| header == words[0]);
                let compound = wanted.is_some();
                if compound && last.text != ":" && (deeper || look.hot(token.line)) {
                    out.push(put(
                        last.end(),
                        ":",
                        token.line,
                        "the colon at the end of this line is missing",
                        0.1,
                    ));
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
                "the opening { is missing",
                if header { 0.2 } else { 0.5 },
            );
            attempt.to_line = next.line;
            attempt.seen.push((
                next.line,
                "what follows stands deeper, and nothing opens a block for it".to_owned(),
            ));
            out.push(attempt);
        }
        if curly && last.text == "=>" && deeper {
            out.push(put(last.end(), " {", token.line, "the opening { is missing", 0.3));
        }
        if curly && matches!(last.text, "=" | "(" | "," | ":" | "return") && deeper {
            for sign in ["{", "["] {
                out.push(put(
                    last.end(),
                    format!(" {sign}"),
                    token.line,
                    format!("the opening {sign} is missing"),
                    0.4,
                ));
            }
        }
    }
    out
}

/// An opening round or square bracket before a closer that closes nothing or the wrong thing.
fn bracket_opener_missing(look: &Look<'_>, pairs: &[Pair]) -> Vec<Try> {
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
                let near = if token.line == closer.line { 0.45 } else { 0.6 };
                let mut attempt = put(
                    token.start,
                    opener,
                    token.line,
                    format!("the opening {opener} is missing"),
                    near,
                );
                attempt.seen.push((
                    closer.line,
                    format!("this {} closes nothing that was opened for it", closer.text),
                ));
                out.push(attempt);
            }
        }
        // Two names grown together where the bracket stood between them.
        for token in tokens[..close]
            .iter()
            .rev()
            .take_while(|t| t.line + 12 >= closer.line)
            .filter(|t| t.sort == Sort::Word && t.text.len() > 3)
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
            for cut in (3..token.text.len()).filter(|c| token.text.is_char_boundary(*c)) {
                let (head, tail) = token.text.split_at(cut);
                if known(tail) > 0 && (known(head) > 0 || tail.len() == 1) {
                    let cost = if known(head) > 0 { 0.35 } else { 0.6 };
                    out.push(put(
                        token.start + cut,
                        opener,
                        token.line,
                        format!("the opening {opener} between {head} and {tail} is missing"),
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
                && !KEYWORDS.contains(&above.text);
            if nth == 0 || deeper {
                out.push(put(
                    above.end(),
                    opener,
                    above.line,
                    format!("the opening {opener} is missing"),
                    if deeper { 0.4 } else { 0.55 },
                ));
            }
        }
    }
    out
}

fn exchanged(look: &Look<'_>, pairs: &[Pair]) -> Vec<Try> {
    let mut out = Vec::new();
    let tokens = look.tokens;
    let mut exchange = |token: &Token<'_>, with: &str, cost: f32, saw: Option<(u32, String)>| {
        let mut attempt = put(
            token.start,
            with,
            token.line,
            format!("{} stands where {with} belongs", token.text),
            cost,
        );
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
                Some((opener.line, format!("it was opened by {}", opener.text))),
            );
        }
    }
    let by_words = look.language.blocks.by == By::Words;
    let begins_block = |word: &str| {
        by_words && look.language.blocks.headers.iter().any(|(_, wanted)| wanted == word)
    };
    for (at, token) in tokens.iter().enumerate().filter(|(_, t)| look.hot(t.line)) {
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

const KEYWORDS: &[&str] = &[
    "and",
    "or",
    "not",
    "in",
    "is",
    "if",
    "else",
    "elseif",
    "elif",
    "then",
    "do",
    "end",
    "for",
    "while",
    "return",
    "local",
    "function",
    "var",
    "let",
    "const",
    "new",
    "class",
    "public",
    "private",
    "protected",
    "static",
    "void",
    "final",
    "def",
    "import",
    "from",
    "as",
    "await",
    "async",
    "typeof",
    "throw",
    "raise",
    "case",
    "default",
    "repeat",
    "until",
    "instanceof",
    "extends",
    "implements",
    "throws",
    "try",
    "catch",
    "finally",
    "with",
    "lambda",
    "yield",
    "del",
    "using",
    "break",
    "continue",
    "goto",
    "override",
    "abstract",
    "readonly",
    "unsafe",
    "export",
    "package",
    "namespace",
    "enum",
    "interface",
    "struct",
    "of",
    "int",
    "double",
    "String",
    "string",
    "bool",
    "boolean",
    "long",
    "float",
    "char",
    "byte",
    "global",
    "assert",
    "pass",
    "delete",
    "switch",
];

fn is_operand_end(t: &Token<'_>) -> bool {
    match t.sort {
        Sort::Word => !KEYWORDS.contains(&t.text),
        Sort::Sign => matches!(t.text, ")" | "]" | "}" | "..."),
        _ => true,
    }
}

fn is_operand_start(t: &Token<'_>) -> bool {
    match t.sort {
        Sort::Word => {
            !KEYWORDS.contains(&t.text)
                || matches!(t.text, "function" | "not" | "new" | "lambda" | "typeof" | "await")
        }
        Sort::Sign => matches!(t.text, "(" | "[" | "{" | "!" | "-" | "#" | "..."),
        _ => true,
    }
}

fn between_neighbours(look: &Look<'_>) -> Vec<Try> {
    let mut out = Vec::new();
    let curly = look.language.blocks.by == By::Brackets;
    let operators: Vec<String> =
        look.language.operators.iter().map(|operator| format!(" {operator} ")).collect();
    // A sign that carries a line on to the next one stands between nothing.
    let carries = |t: &Token<'_>| look.language.signs.line_goes_on.as_deref() == Some(t.text);
    let read: Vec<(&Token<'_>, bool)> = look
        .tokens
        .iter()
        .enumerate()
        .filter(|(_, t)| !carries(t))
        .map(|(at, t)| (t, at > 0 && carries(&look.tokens[at - 1])))
        .collect();
    for pair in read.windows(2) {
        let [(a, _), (b, carried)] = pair else { continue };
        if !(look.hot(a.line) || look.hot(b.line)) {
            continue;
        }
        let broken = a.line != b.line && !carried;
        // Written as words, an operator may stand beside another: `a or not b`.
        let both = is_operand_end(a) && is_operand_start(b);
        // What was taken out leaves a space behind: at the end of the one line, or at the beginning
        // of the other.
        let gap = &look.text[a.end()..b.start];
        let first_gap = gap.split('\n').next().unwrap_or("");
        let leads = broken
            && first_gap.trim_end_matches('\r').is_empty()
            && b.indent > a.indent
            && gap.ends_with(' ')
            && b.indent % 2 == 1;
        let line = if leads { b.line } else { a.line };
        // What the console says it met stands right behind the gap.
        let told = look.near.as_deref() == Some(b.text) && look.noticed == Some(b.line);
        let dangling = a.sort == Sort::Sign
            && matches!(
                a.text,
                "+" | "-"
                    | "*"
                    | "/"
                    | "%"
                    | ".."
                    | "=="
                    | "<"
                    | ">"
                    | "<="
                    | ">="
                    | "&&"
                    | "||"
                    | "="
                    | "~="
                    | "!="
            );
        if dangling
            && matches!(
                b.text,
                ";" | ")"
                    | "]"
                    | "}"
                    | ","
                    | "then"
                    | "do"
                    | "end"
                    | "local"
                    | "return"
                    | "if"
                    | "for"
            )
        {
            let mut attempt =
                put(a.end(), " 0", a.line, format!("something is missing after {}", a.text), 0.45);
            attempt.seen.push((a.line, format!("{} comes right after it", b.text)));
            out.push(attempt);
        }
        let mut add = |sign: &str, what: String, cost: f32| {
            let mut attempt = put(
                a.end(),
                sign,
                line,
                what,
                cost + if broken { 0.05 } else { 0.0 } - if told { 0.2 } else { 0.0 },
            );
            attempt.seen.push((
                a.line,
                format!(
                    "{} and {} stand side by side with nothing between them",
                    short(a.text),
                    short(b.text)
                ),
            ));
            out.push(attempt);
        };
        if both {
            // A call's bracket may follow a name; in front of a table or another name something has
            // to stand.
            let call = matches!(b.text, "(" | "[" | "{") && !broken;
            let odd = if call { 0.35 } else { 0.0 };
            add(",", "a comma is missing here".into(), 0.45 + odd);
            add(
                " =",
                "an equals sign is missing here".into(),
                0.45 + odd + if broken { 0.3 } else { 0.0 },
            );
            for operator in &operators {
                add(operator, "an operator is missing between the two".into(), 0.6 + odd);
            }
            if curly && broken {
                add(";", "the semicolon at the end of this line is missing".into(), 0.4);
            }
            if !broken && !call {
                add(".", "a dot is missing here".into(), 0.8);
            }
        }
        if curly && !both && is_operand_end(a) {
            add(";", "the semicolon is missing here".into(), if broken { 0.4 } else { 0.6 });
        }
        // A name or value that is declared with what is given to it, or an operator before a sign.
        if !both
            && is_operand_end(a)
            && matches!(b.text, "function" | "new" | "{" | "[" | "not" | "lambda" | "await")
            && !broken
        {
            add(" =", "an equals sign is missing here".into(), 0.5);
        }
        if !both
            && !broken
            && !is_operand_end(a)
            && matches!(b.sort, Sort::Sign)
            && matches!(b.text, "*" | "/" | "%" | "..")
        {
            add(" 0", "something to compute with is missing before this".into(), 0.8);
        }
    }
    out
}

fn short(text: &str) -> String {
    let line = text.lines().next().unwrap_or("");
    if line.chars().count() > 18 {
        format!("{}…", line.chars().take(17).collect::<String>())
    } else {
        line.to_owned()
    }
}

fn quotes(look: &Look<'_>) -> Vec<Try> {
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
            for (k, row) in token.text.lines().enumerate().take(MOST) {
                let end = byte + row.trim_end().len();
                let line = token.line + k as u32;
                // A free line is where a closer of its own stood.
                let free = if k > 0 && row.trim().is_empty() { 0.03 } else { 0.0 };
                let mut attempt = put(
                    end,
                    closer.clone(),
                    line,
                    format!("the closing {closer} of this text is missing"),
                    0.2 + 0.01 * k as f32 - free,
                );
                attempt.seen.push((token.line, "the text begins here".to_owned()));
                out.push(attempt);
                // A comment that stands in it was written behind its end.
                let lead = row.len() - row.trim_start().len();
                if k > 0 && row[lead..].starts_with("--") {
                    out.push(put(
                        byte + lead,
                        closer.clone(),
                        line,
                        format!("the closing {closer} of this text is missing"),
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
                        format!("the closing {closer} of this text is missing"),
                        0.3 + 0.01 * k as f32,
                    ));
                }
                byte += row.len() + 1;
            }
            // Or an earlier one of its kind was never closed, or never opened, and all since stand
            // the wrong way round.
            for earlier in tokens[..at].iter().filter(|t| {
                t.sort == Sort::Text && t.text.contains('\n') && t.text.ends_with(&closer)
            }) {
                let row = earlier.text.lines().next().unwrap_or("").trim_end();
                if row.len() > 3 {
                    out.push(put(
                        earlier.start + row.len(),
                        closer.clone(),
                        earlier.line,
                        format!("the closing {closer} of this text is missing"),
                        0.35,
                    ));
                }
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
            out.push(put(
                token.start + end,
                quote,
                token.line,
                "the closing quotation mark is missing",
                0.3,
            ));
        }
        for k in (0..=at).rev().take_while(|k| tokens[*k].line == token.line).take(16) {
            let what = "the opening quotation mark is missing";
            out.push(put(tokens[k].start, quote, token.line, what, 0.35));
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
        if b.sort == Sort::Text && b.text.len() > 2 && is_operand_end(a) && a.sort != Sort::Sign {
            let quote = &b.text[..1];
            for end in [a.start, a.end()] {
                out.push(put(end, quote, a.line, "a quotation mark is missing here", 0.6));
            }
        }
    }
    out
}

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
    let what = format!("the opening {closer} of this text is missing");
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
