//! The rough tree of a script whose language has no grammar here: names, calls, fields, assignments,
//! texts, blocks, functions, types, by the words that its dialect lists (`[rough]`). It reads any
//! text to its end; what it does not understand it passes over, so that less is seen and nothing is
//! made up.

mod expressions;
mod functions;
mod statements;

use crate::signs::{Sort, Token, tokens};
use izba_model::code::{Builder, Flag, Kind, Language, Tree};
use izba_model::dialect::{By, Rough};

/// Whether a language is read so.
pub fn is_rough(language: Language) -> bool {
    language.rough.is_some()
}

/// The tree of a text; empty where the dialect does not say how to read it.
pub fn tree(language: Language, text: &str) -> Tree {
    let Some(rough) = &language.known().rough else { return Tree::default() };
    let mut reader = Reader {
        text,
        tokens: with_signs(tokens(language, text), text, rough),
        rough,
        by_words: language.blocks.by == By::Words,
        nothing: &language.known().nothing,
        at: 0,
        depth: 0,
        brackets: 0,
        no_braces: false,
        types: Vec::new(),
        inside_function: false,
    };
    let mut parts = Vec::new();
    while reader.at < reader.tokens.len() {
        reader.statements(&mut parts);
        // What closes nothing is passed over.
        reader.at += 1;
    }
    let mut out = Builder::default();
    out.open(Kind::File, 0, None, 1, (0, text.len()));
    parts.iter().for_each(|p| p.write(&mut out));
    out.close();
    out.finish()
}

/// Where a single quote may stand alone, what it encloses is one text only if it is one sign.
fn with_signs<'t>(all: Vec<Token<'t>>, text: &'t str, rough: &Rough) -> Vec<Token<'t>> {
    if !rough.signs_in_quotes {
        return all;
    }
    let mut out: Vec<Token<'t>> = Vec::with_capacity(all.len());
    let mut at = 0;
    while let Some(token) = all.get(at) {
        let close = (at + 2..=at + 3)
            .find(|n| all.get(*n).is_some_and(|t| t.text == "'" && t.end() - token.start <= 6));
        match close.filter(|_| token.text == "'") {
            Some(close) => {
                let whole = &text[token.start..all[close].end()];
                out.push(Token { sort: Sort::Text, text: whole, ..*token });
                at = close + 1;
            }
            None => {
                out.push(*token);
                at += 1;
            }
        }
    }
    out
}

/// A node before it is written.
#[derive(Debug, Clone)]
struct Part {
    kind: Kind,
    flags: u16,
    text: Option<String>,
    line: u32,
    span: (usize, usize),
    parts: Vec<Part>,
}

impl Part {
    fn write(&self, out: &mut Builder) {
        out.open(self.kind, self.flags, self.text.as_deref(), self.line, self.span);
        self.parts.iter().for_each(|p| p.write(out));
        out.close();
    }

    fn with(mut self, parts: impl IntoIterator<Item = Part>) -> Part {
        for part in parts {
            self.span.1 = self.span.1.max(part.span.1);
            self.parts.push(part);
        }
        self
    }

    /// An empty node that stands where this one does.
    fn around(&self, kind: Kind) -> Part {
        Part { kind, flags: 0, text: None, line: self.line, span: self.span, parts: Vec::new() }
    }

    fn flag(mut self, flag: Flag) -> Part {
        self.flags |= flag as u16;
        self
    }

    fn is_name(&self) -> bool {
        self.kind == Kind::Name
    }
}

/// The word that begins a type which reaches to the next one.
const PACKAGE: &str = "package";

/// What is given to what.
fn given_to(targets: Vec<Part>, values: Vec<Part>, flags: u16, kind: Option<Part>) -> Part {
    let of = |kind: Kind, parts: Vec<Part>, beside: &Part| {
        let (line, span) = parts.first().map_or((beside.line, beside.span), |p| (p.line, p.span));
        Part { kind, flags: 0, text: None, line, span, parts: Vec::new() }.with(parts)
    };
    let first = targets[0].clone();
    let targets = of(Kind::Targets, targets, &first);
    // What is only declared with a type is given its value in ways that are not seen here.
    let unknown = kind.as_ref().filter(|_| values.is_empty()).map(|k| k.around(Kind::Other));
    let values = of(Kind::Values, values.into_iter().chain(unknown).collect(), &first);
    let assign = Part {
        kind: Kind::Assign,
        flags,
        text: None,
        line: first.line,
        span: first.span,
        parts: Vec::new(),
    };
    assign.with([targets, values]).with(kind)
}

/// Deeper code than this is passed over: nobody writes it, and each level costs stack.
const DEEPEST: usize = 120;
/// Of a longer chain (`a.b.c`, `a + b + c`) the rest is passed over: it makes a tree as deep as it is
/// long.
const CHAIN: usize = 100;

struct Reader<'t> {
    text: &'t str,
    tokens: Vec<Token<'t>>,
    rough: &'static Rough,
    /// Whether words open and close blocks.
    by_words: bool,
    nothing: &'static [String],
    at: usize,
    depth: usize,
    /// Brackets that are open: inside them lines do not end anything.
    brackets: usize,
    /// Whether a brace begins a block, and no table: between `if` and its block.
    no_braces: bool,
    /// The types around.
    types: Vec<String>,
    inside_function: bool,
}

impl<'t> Reader<'t> {
    fn peek(&self) -> Option<Token<'t>> {
        self.tokens.get(self.at).copied()
    }

    fn ahead(&self, by: usize) -> Option<Token<'t>> {
        self.tokens.get(self.at + by).copied()
    }

    fn sees(&self, text: &str) -> bool {
        self.peek().is_some_and(|t| t.text == text && t.sort != Sort::Text)
    }

    fn sees_any(&self, texts: &[&str]) -> bool {
        texts.iter().any(|t| self.sees(t))
    }

    fn eat(&mut self, text: &str) -> bool {
        let found = self.sees(text);
        self.at += usize::from(found);
        found
    }

    /// Whether the next token begins a line that is not part of what came before.
    fn line_ends(&self) -> bool {
        match self.peek() {
            None => true,
            Some(t) => {
                t.first && self.brackets == 0 && !self.rough.members.iter().any(|m| m == t.text)
            }
        }
    }

    /// Whether two neighbours touch.
    fn touches(&self, before: usize) -> bool {
        match (self.tokens.get(before), self.tokens.get(before + 1)) {
            (Some(a), Some(b)) => a.end() == b.start,
            _ => false,
        }
    }

    /// A node that begins at the next token.
    fn part(&self, kind: Kind, text: Option<&str>) -> Part {
        let (line, span) = match self.peek() {
            Some(t) => (t.line, (t.start, t.end())),
            None => (self.tokens.last().map_or(1, |t| t.line), (self.text.len(), self.text.len())),
        };
        Part { kind, flags: 0, text: text.map(str::to_owned), line, span, parts: Vec::new() }
    }

    /// A node of the next token, which is taken.
    fn taken(&mut self, kind: Kind, text: Option<&str>) -> Part {
        let part = self.part(kind, text);
        self.at += 1;
        part
    }

    /// Where the last token that was taken ends.
    fn end(&self) -> usize {
        self.at.checked_sub(1).and_then(|at| self.tokens.get(at)).map_or(0, |t| t.end())
    }

    fn is_word(&self) -> bool {
        self.peek().is_some_and(|t| t.sort == Sort::Word)
    }

    fn is_one_of(&self, words: &[String]) -> bool {
        self.peek().is_some_and(|t| t.sort == Sort::Word && words.iter().any(|w| w == t.text))
    }

    /// A name as it is called everywhere, without the sign that some languages put before it.
    fn bare<'a>(&self, word: &'a str) -> &'a str {
        word.trim_start_matches('$')
    }

    /// Passes over what stands in brackets, from the opener on.
    fn pass_over(&mut self, open: &str, close: &str) {
        let mut depth = 0usize;
        while let Some(t) = self.peek() {
            self.at += 1;
            if t.text == open {
                depth += 1;
            } else if t.text == close {
                depth = depth.saturating_sub(1);
                if depth == 0 {
                    return;
                }
            }
        }
    }

    /// Passes over `<…>` behind a name, where it holds nothing but words and signs of types.
    fn pass_parameters_of_type(&mut self) {
        if !self.sees("<") {
            return;
        }
        let (from, mut depth) = (self.at, 0usize);
        while let Some(t) = self.peek() {
            match t.text {
                "<" => depth += 1,
                ">" => depth = depth.saturating_sub(1),
                ">>>" => depth = depth.saturating_sub(3),
                "," | "." | "::" | "*" | "&" | "?" | "[" | "]" | "(" | ")" | "=>" | "->" | ":" => {}
                _ if t.sort == Sort::Word || t.text == "'" => {}
                _ => break,
            }
            self.at += 1;
            if depth == 0 {
                return;
            }
        }
        self.at = from;
    }
}

#[cfg(test)]
mod tests;
