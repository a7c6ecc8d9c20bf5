//! Words, signs and texts of a script, read without any grammar, so that it works on broken text
//! too; and the ladder of blocks that brackets and block words make, held against the indentation.

use izba_model::code::{Clash, Language, Rung};
use izba_model::dialect::By;

/// What a token is, as far as repairs tell tokens apart.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Sort {
    /// A name or word.
    Word,
    /// A number.
    Number,
    /// A text in quotes.
    Text,
    /// A text whose closing quote is missing.
    Unclosed,
    /// Anything else.
    Sign,
}

/// One word, sign or text.
#[derive(Debug, Clone, Copy)]
pub struct Token<'t> {
    /// What it is.
    pub sort: Sort,
    /// As written.
    pub text: &'t str,
    /// Byte of the text where it begins, from 0.
    pub start: usize,
    /// Line, from 1, where it begins.
    pub line: u32,
    /// Whether it is the first of its line.
    pub first: bool,
    /// Columns before the first token of its line; a tab counts to the next multiple of eight.
    pub indent: u32,
    /// Whether it may open, go on with or close a block or bracket: of most tokens nothing more has
    /// to be asked.
    pub of_block: bool,
}

impl Token<'_> {
    /// The first byte of the text behind the token.
    pub fn end(&self) -> usize {
        self.start + self.text.len()
    }
}

const PAIRS: [(&str, &str); 3] = [("(", ")"), ("[", "]"), ("{", "}")];

/// The closer that belongs to an opener.
pub fn closer_of(language: Language, opener: &str) -> &'static str {
    let bracket = PAIRS.iter().find(|(o, _)| *o == opener).map(|(_, c)| *c);
    bracket.or_else(|| language.known().block_of(opener).map(|b| b.close.as_str())).unwrap_or("")
}

/// The opener that belongs to a bracket that closes.
pub fn opener_of(closer: &str) -> Option<&'static str> {
    PAIRS.iter().find(|(_, c)| *c == closer).map(|(o, _)| *o)
}

/// Reads all tokens; comments are left out.
pub fn tokens(language: Language, text: &str) -> Vec<Token<'_>> {
    let bytes = text.as_bytes();
    let mut out: Vec<Token<'_>> = Vec::with_capacity(text.len() / 4);
    let (mut at, mut line, mut first, mut indent) = (0usize, 1u32, true, 0u32);
    while at < bytes.len() {
        let c = bytes[at];
        match c {
            b'\n' => {
                (at, line, first, indent) = (at + 1, line + 1, true, 0);
                continue;
            }
            b' ' | b'\r' => {
                indent += u32::from(first && c == b' ');
                at += 1;
                continue;
            }
            b'\t' => {
                indent = if first { indent / 8 * 8 + 8 } else { indent };
                at += 1;
                continue;
            }
            _ => {}
        }
        let rest = &text[at..];
        if let Some(len) = comment(language, rest) {
            line += rest.as_bytes()[..len].iter().filter(|b| **b == b'\n').count() as u32;
            if rest.as_bytes()[..len].contains(&b'\n') && first {
                indent = 0;
            }
            at += len;
            continue;
        }
        let (sort, len) = next(language, rest, out.last());
        let text = &rest[..len];
        let of_block =
            match sort {
                Sort::Sign => matches!(text.as_bytes(), [b'(' | b')' | b'[' | b']' | b'{' | b'}']),
                Sort::Word => language.blocks.pairs.iter().any(|p| {
                    p.open == text || p.close == text || p.begun_by.as_deref() == Some(text)
                }),
                _ => false,
            };
        let token = Token { sort, text, start: at, line, first, indent, of_block };
        line += rest.as_bytes()[..len].iter().filter(|b| **b == b'\n').count() as u32;
        out.push(token);
        first = false;
        at += len;
    }
    out
}

/// The length of a comment that begins here.
pub(crate) fn comment(language: Language, rest: &str) -> Option<usize> {
    let signs = &language.signs;
    if let Some(sign) = signs.line_comments.iter().find(|s| rest.starts_with(s.as_str())) {
        let body = &rest[sign.len()..];
        return Some(match long_bracket(body).filter(|_| signs.long_brackets) {
            Some((open, close)) => body[open..]
                .find(&close)
                .map_or(rest.len(), |e| sign.len() + open + e + close.len()),
            None => rest.find('\n').unwrap_or(rest.len()),
        });
    }
    let (open, close) =
        signs.block_comments.iter().find(|(open, _)| rest.starts_with(open.as_str()))?;
    let end = rest[open.len()..].find(close.as_str());
    Some(end.map_or(rest.len(), |e| open.len() + e + close.len()))
}

/// `[[` or `[==[`: the length of the opener, and the closer.
fn long_bracket(rest: &str) -> Option<(usize, String)> {
    let inner = rest.strip_prefix('[')?;
    let signs = inner.bytes().take_while(|b| *b == b'=').count();
    inner[signs..].starts_with('[').then(|| (signs + 2, format!("]{}]", "=".repeat(signs))))
}

/// What the token that begins here is, and its length in bytes.
pub(crate) fn next(language: Language, rest: &str, before: Option<&Token<'_>>) -> (Sort, usize) {
    let Some(c) = rest.chars().next() else { return (Sort::Sign, 0) };
    let signs = &language.signs;
    if signs.long_brackets
        && let Some((open, close)) = long_bracket(rest)
    {
        return match rest[open..].find(&close) {
            Some(end) => (Sort::Text, open + end + close.len()),
            None => (Sort::Unclosed, rest.len()),
        };
    }
    let marks = rest.chars().take_while(|c| signs.marks.contains(*c)).count();
    let quoted_at = (marks <= 2 && begins_text(language, &rest[marks..])).then_some(marks);
    if let Some(marks) = quoted_at {
        return quoted(language, rest, marks);
    }
    if signs.template_quote.as_deref().is_some_and(|q| rest.starts_with(q)) {
        return template(rest);
    }
    if c.is_alphabetic() || c == '_' || c == '$' {
        return (
            Sort::Word,
            rest.find(|c: char| !(c.is_alphanumeric() || c == '_' || c == '$'))
                .unwrap_or(rest.len()),
        );
    }
    if c.is_ascii_digit() {
        let len = rest
            .find(|c: char| !(c.is_alphanumeric() || c == '.' || c == '_'))
            .unwrap_or(rest.len());
        // `1..2` joins texts in Lua.
        let len = rest[..len].find("..").unwrap_or(len);
        return (Sort::Number, len.max(1));
    }
    if c == '/'
        && signs.patterns
        && begins_pattern(before)
        && let Some(len) = pattern(rest)
    {
        return (Sort::Text, len);
    }
    let long = [
        "...", "===", "!==", "**=", ">>>", "->", "=>", "==", "~=", "!=", "<=", ">=", "&&", "||",
        "++", "--", "+=", "-=", "*=", "/=", "..", "::", "//", "**", "?.", "&.", "??", ":=",
    ];
    let len = long.iter().find(|s| rest.starts_with(**s)).map_or(c.len_utf8(), |s| s.len());
    (Sort::Sign, len)
}

fn begins_text(language: Language, rest: &str) -> bool {
    language.signs.quotes.iter().any(|q| rest.starts_with(q.as_str()))
}

fn quoted(language: Language, rest: &str, marks: usize) -> (Sort, usize) {
    let signs = &language.signs;
    let body = &rest[marks..];
    let quote = body.chars().next();
    if let Some(triple) = signs.triple_quotes.iter().find(|t| body.starts_with(t.as_str())) {
        return match body[triple.len()..].find(triple.as_str()) {
            Some(end) => (Sort::Text, marks + end + 2 * triple.len()),
            None => (Sort::Unclosed, rest.len()),
        };
    }
    let verbatim = signs.verbatim.as_deref().is_some_and(|v| rest[..marks].contains(v));
    let mut skip = false;
    for (at, c) in body.char_indices().skip(1) {
        match c {
            _ if skip => skip = false,
            '\\' if !verbatim => skip = true,
            '\n' if !verbatim => return (Sort::Unclosed, marks + at),
            _ if Some(c) == quote => return (Sort::Text, marks + at + 1),
            _ => {}
        }
    }
    (Sort::Unclosed, rest.len())
}

fn template(rest: &str) -> (Sort, usize) {
    let (mut depth, mut skip) = (0usize, false);
    for (at, c) in rest.char_indices().skip(1) {
        match c {
            _ if skip => skip = false,
            '\\' => skip = true,
            '{' if depth > 0 || rest[..at].ends_with('$') => depth += 1,
            '}' if depth > 0 => depth -= 1,
            '`' if depth == 0 => return (Sort::Text, at + 1),
            _ => {}
        }
    }
    (Sort::Unclosed, rest.len())
}

fn begins_pattern(before: Option<&Token<'_>>) -> bool {
    match before {
        None => true,
        Some(t) => match t.sort {
            Sort::Word => matches!(
                t.text,
                "return" | "typeof" | "case" | "in" | "of" | "delete" | "void" | "throw" | "new"
            ),
            Sort::Number | Sort::Text | Sort::Unclosed => false,
            // Behind `<` it closes an element.
            Sort::Sign => !matches!(t.text, ")" | "]" | "}" | "<"),
        },
    }
}

/// A longer pattern is none.
const PATTERN: usize = 2000;

fn pattern(rest: &str) -> Option<usize> {
    let (mut set, mut skip) = (false, false);
    for (at, c) in rest.char_indices().skip(1).take(PATTERN) {
        match c {
            _ if skip => skip = false,
            '\\' => skip = true,
            '\n' => return None,
            '[' => set = true,
            ']' => set = false,
            '/' if !set => {
                return Some(
                    at + 1 + rest[at + 1..].bytes().take_while(u8::is_ascii_alphabetic).count(),
                );
            }
            _ => {}
        }
    }
    None
}

/// One pair of the ladder, by its tokens.
#[derive(Debug, Clone, Copy)]
pub struct Pair {
    /// Index of the opening token; `None` for a closer that closes nothing.
    pub open: Option<usize>,
    /// Index of the closing token.
    pub close: Option<usize>,
    /// How many blocks are open around it; 0 at the outermost.
    pub depth: u32,
    /// Whether opener and closer are of different kinds.
    pub mixed: bool,
}

/// Matches openers with closers in the order of the file.
pub fn pairs(language: Language, tokens: &[Token<'_>]) -> Vec<Pair> {
    let mut out: Vec<Pair> = Vec::new();
    // Which pair is open, and whether its `do` is still to come.
    let mut stack: Vec<(usize, bool)> = Vec::new();
    let open_text = |out: &[Pair], pair: usize| out[pair].open.map_or("", |t| tokens[t].text);
    for (at, token) in tokens.iter().enumerate() {
        if !token.of_block {
            continue;
        }
        let text = token.text;
        let member = at > 0
            && tokens[at - 1].sort == Sort::Sign
            && matches!(tokens[at - 1].text, "." | ":")
            && token.sort == Sort::Word;
        // The word that begins a loop's body is part of the loop.
        let begins_body = |stack: &[(usize, bool)]| {
            stack.last().is_some_and(|(pair, waits)| {
                let open = language.block_of(open_text(&out, *pair));
                *waits && open.and_then(|b| b.begun_by.as_deref()) == Some(text)
            })
        };
        let block = language.block_of(text).filter(|_| !member);
        let opens = match text {
            "(" | "[" | "{" => true,
            _ if block.is_some() && begins_body(&stack) => {
                stack.last_mut().into_iter().for_each(|(_, waits)| *waits = false);
                false
            }
            _ => block.is_some(),
        };
        if opens {
            out.push(Pair { open: Some(at), close: None, depth: stack.len() as u32, mixed: false });
            stack.push((out.len() - 1, block.is_some_and(|b| b.begun_by.is_some())));
        } else if language.closes(text) && !member {
            match stack.pop() {
                Some((pair, _)) => {
                    out[pair].mixed = closer_of(language, open_text(&out, pair)) != text;
                    out[pair].close = Some(at);
                }
                None => out.push(Pair { open: None, close: Some(at), depth: 0, mixed: false }),
            }
        }
    }
    out
}

/// The ladder of blocks of a script: what spans several lines, with what disagrees.
pub fn ladder(language: Language, text: &str) -> Vec<Rung> {
    let tokens = tokens(language, text);
    let mut rungs = Vec::new();
    for pair in pairs(language, &tokens) {
        let open = pair.open.and_then(|t| tokens.get(t));
        let close = pair.close.and_then(|t| tokens.get(t));
        let (from, to) = (open.map(|t| t.line), close.map(|t| t.line));
        let clash = match (open, close) {
            (Some(_), None) => Clash::Open,
            (None, Some(_)) => Clash::Stray,
            (Some(o), Some(c))
                if pair.mixed || c.first && c.line > o.line && c.indent != o.indent =>
            {
                Clash::Slanted
            }
            _ => Clash::None,
        };
        if from != to || clash != Clash::None {
            let opener = open.or(close).map_or("", |t| t.text);
            rungs.push(Rung {
                opener: opener.into(),
                from: from.or(to).unwrap_or(1),
                to,
                depth: pair.depth,
                clash,
            });
        }
    }
    rungs.sort_by_key(|r| r.from);
    rungs
}

/// The lines of a script as they would stand if they were indented by their blocks, however broken
/// those are: from where an opener or closer is missing on, everything stands too deep or too far
/// out. Python's blocks are its indentation; it stays.
pub fn reindented(language: Language, text: &str) -> Vec<String> {
    let lines: Vec<&str> = text.lines().collect();
    if language.blocks.by == By::Indentation || !language.is_code() {
        return lines.into_iter().map(str::to_owned).collect();
    }
    let tokens = tokens(language, text);
    let unit = tokens
        .iter()
        .filter(|t| t.first && t.indent > 0)
        .map(|t| t.indent)
        .min()
        .unwrap_or(2)
        .clamp(2, 8) as usize;
    // How many more blocks are open on a line than on the one before.
    let mut steps = vec![0; lines.len() + 2];
    let mut openers = std::collections::HashSet::new();
    for pair in pairs(language, &tokens) {
        let Some(open) = pair.open.map(|t| &tokens[t]) else { continue };
        let close = pair.close.map(|t| (&tokens[t], t));
        // What closes at the beginning of a line stands as far out as what it closes.
        let leading = |t: usize| {
            (0..=t)
                .rev()
                .take_while(|at| tokens[*at].line == tokens[t].line)
                .all(|at| language.closes(tokens[at].text))
        };
        let end = close.map_or(lines.len() as u32 + 1, |(token, at)| {
            if leading(at) { token.line } else { token.line + 1 }
        });
        // Two that open on one line and close together are one step.
        if end > open.line + 1 && openers.insert((open.line, end)) {
            steps[(open.line as usize + 1).min(lines.len() + 1)] += 1;
            steps[(end as usize).min(lines.len() + 1)] -= 1;
        }
    }
    let depths: Vec<usize> = sums(&steps).map(|open| usize::try_from(open).unwrap_or(0)).collect();
    let within_text: std::collections::HashSet<u32> = tokens
        .iter()
        .filter(|t| matches!(t.sort, Sort::Text | Sort::Unclosed))
        .flat_map(|t| t.line + 1..=t.line + t.text.matches('\n').count() as u32)
        .collect();
    let middles: std::collections::HashSet<u32> =
        tokens.iter().filter(|t| t.first && language.is_middle(t.text)).map(|t| t.line).collect();
    let back = |line: u32| middles.contains(&line);
    let indented = |(at, text): (usize, &&str)| {
        let line = at as u32 + 1;
        let bare = text.trim_start();
        if bare.is_empty() || within_text.contains(&line) {
            return (*text).to_owned();
        }
        let depth = depths[at + 1].saturating_sub(usize::from(back(line)));
        format!("{}{bare}", " ".repeat(depth * unit))
    };
    lines.iter().enumerate().map(indented).collect()
}

/// How many are open at each place, where so many more are than at the one before.
pub fn sums(steps: &[i32]) -> impl Iterator<Item = i32> {
    steps.iter().scan(0, |open, step| {
        *open += step;
        Some(*open)
    })
}

/// How much brackets, block words and indentation disagree; 0 for a script that is well and well
/// indented.
pub fn unrest(language: Language, tokens: &[Token<'_>]) -> f32 {
    let mut cost = 0.0;
    let pairs = pairs(language, tokens);
    let python = language.blocks.by == By::Indentation;
    // For each token index that opens: the index of its pair.
    let mut opens: Vec<Option<usize>> = vec![None; tokens.len()];
    let mut shuts: Vec<bool> = vec![false; tokens.len()];
    for (at, pair) in pairs.iter().enumerate() {
        if let Some(o) = pair.open {
            opens[o] = Some(at);
        }
        if let Some(c) = pair.close {
            shuts[c] = true;
        }
        match (pair.open.map(|o| &tokens[o]), pair.close.map(|c| &tokens[c])) {
            (Some(o), Some(c)) => {
                if pair.mixed {
                    cost += 3.0;
                } else if c.first && c.line > o.line && c.indent != o.indent {
                    cost += if python { 0.2 } else { 1.0 };
                }
            }
            _ => cost += 3.0,
        }
    }
    // What stands in a block stands deeper than the line that opens it, and as deep as its
    // siblings.
    let mut stack: Vec<(u32, u32, Option<u32>)> = Vec::new();
    let mut before: Option<&Token<'_>> = None;
    // Indent of the line of a statement, whether it ends with a colon, whether it goes on.
    let mut logical: Option<(u32, bool, bool)> = None;
    for (at, token) in tokens.iter().enumerate() {
        let part = || matches!(token.text, "case" | "default") || language.is_middle(token.text);
        if token.first && !shuts[at] && !part() {
            if let Some((line, indent, siblings)) = stack.last_mut() {
                if token.line > *line {
                    if token.indent <= *indent {
                        cost += 1.0;
                    }
                    let begins = before
                        .is_none_or(|b| matches!(b.text, ";" | "{" | "}" | "end" | "then" | "do"));
                    match siblings {
                        None => *siblings = Some(token.indent),
                        Some(first) if begins && token.indent > *first => cost += 0.5,
                        Some(_) => {}
                    }
                }
            } else if python {
                // A line may stand deeper than the one before only where that one ends with a
                // colon.
                if let Some(last) = logical.filter(|l| token.indent > l.0 && !l.1) {
                    cost += if last.2 { 0.0 } else { 1.0 };
                }
            } else if token.indent > 0 {
                let begins = before.is_none_or(|b| matches!(b.text, ";" | "}" | "end"));
                cost += if begins { 0.5 } else { 0.0 };
            }
        }
        if token.first && stack.is_empty() {
            logical = Some((token.indent, false, false));
        }
        if let Some(logical) = &mut logical {
            logical.1 = token.text == ":" && stack.is_empty();
            logical.2 = token.text == "\\";
        }
        if opens[at].is_some() {
            stack.push((token.line, token.indent, None));
        } else if shuts[at] {
            stack.pop();
        }
        before = Some(token);
    }
    cost
}

#[cfg(test)]
mod tests;
