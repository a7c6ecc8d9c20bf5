//! Statements: what is declared and given, the ways a program takes, what it brings in.

use super::{DEEPEST, PACKAGE, Part, Reader, given_to};
use crate::signs::Sort;
use izba_model::code::{Flag, Kind};

/// Words that go on with a block in all these languages.
const MIDDLES: &[&str] =
    &["else", "elsif", "elseif", "elif", "when", "rescue", "ensure", "catch", "except", "finally"];
const GIVES: &[&str] = &["=", ":="];
const COUNTS_ON: &[&str] = &["+=", "-=", "*=", "/="];

impl Reader<'_> {
    /// Statements up to a closer or the end.
    pub(super) fn statements(&mut self, out: &mut Vec<Part>) {
        while let Some(t) = self.peek() {
            let word = t.sort == Sort::Word;
            let of_words = self.by_words && (t.text == "end" || MIDDLES.contains(&t.text));
            let next = t.text == PACKAGE && !self.types.is_empty();
            let closes = matches!(t.text, "}" | ")" | "]") || word && (of_words || next);
            if closes {
                return;
            }
            if matches!(t.text, ";" | ",") {
                self.at += 1;
                continue;
            }
            let before = self.at;
            if self.depth < DEEPEST {
                self.depth += 1;
                if let Some(part) = self.statement() {
                    out.push(part);
                }
                self.depth -= 1;
            }
            self.at = self.at.max(before + 1);
        }
    }

    /// A block behind a head: braces, a body of words, or one statement.
    pub(super) fn block(&mut self) -> Part {
        let block = self.part(Kind::Block, None);
        let (brackets, no_braces) = (self.brackets, self.no_braces);
        (self.brackets, self.no_braces) = (0, false);
        let mut parts = Vec::new();
        if self.eat("{") {
            self.statements(&mut parts);
            self.eat("}");
        } else if self.by_words {
            if !self.eat("then") {
                self.eat("do");
            }
            self.statements(&mut parts);
        } else if let Some(one) = self.statement() {
            parts.push(one);
        }
        (self.brackets, self.no_braces) = (brackets, no_braces);
        let end = self.end();
        let mut block = block.with(parts);
        block.span.1 = block.span.1.max(end);
        block
    }

    pub(super) fn statement(&mut self) -> Option<Part> {
        let mut fixed = false;
        while self.is_one_of(&self.rough.modifiers) && !self.modifier_is_name() {
            fixed |= self.sees("static");
            self.at += 1;
        }
        let token = self.peek()?;
        if token.text == "{" {
            return Some(self.block());
        }
        if token.text == "#" && self.ahead(1).is_some_and(|t| t.sort == Sort::Word) {
            return self.directive();
        }
        if token.sort == Sort::Word {
            if self.is_one_of(&self.rough.functions) {
                return Some(self.function(fixed));
            }
            if self.is_one_of(&self.rough.classes)
                && self
                    .ahead(1)
                    .is_some_and(|t| (t.sort == Sort::Word || t.text == "<") && !t.first)
            {
                return Some(self.class());
            }
            if self.is_one_of(&self.rough.imports) && !self.is_asked(1) {
                return Some(self.import());
            }
            if let Some(part) = self.way() {
                return Some(part);
            }
            if self.is_one_of(&self.rough.declares) {
                self.at += 1;
                let given = self.given(true);
                return given.map(|g| if fixed { g.flag(Flag::Static) } else { g });
            }
            if self.rough.typed_first
                && let Some(part) = self.typed(fixed)
            {
                return Some(part);
            }
            if !self.types.is_empty()
                && !self.inside_function
                && let Some(member) = self.member()
            {
                return Some(member);
            }
        }
        let one = self.given(false)?;
        Some(self.with_modifier(one))
    }

    /// Whether a word that may stand before others is a name here.
    fn modifier_is_name(&self) -> bool {
        self.ahead(1).is_none_or(|t| t.first || matches!(t.text, "=" | "." | "(" | "," | ";"))
            && !self.ahead(1).is_some_and(|t| t.text == "(" && self.sees("pub"))
    }

    /// Whether the token `by` further on asks something of what stands before it, or calls it.
    fn is_asked(&self, by: usize) -> bool {
        self.ahead(by).is_some_and(|t| !t.first && matches!(t.text, "." | "=" | "->" | "["))
    }

    /// `return x if y`: the condition behind.
    fn with_modifier(&mut self, one: Part) -> Part {
        let behind = ["if", "unless", "while", "until"];
        if !self.rough.conditions_behind || self.line_ends() || !self.sees_any(&behind) {
            return one;
        }
        let negated = self.sees_any(&["unless", "until"]);
        let part = self.taken(Kind::If, None);
        let condition = self.expression().map(|c| if negated { denied(c) } else { c });
        let span = (one.span.0, part.span.1);
        let block = one.around(Kind::Block).with([one]);
        Part { span, ..part }.with(condition.into_iter().chain([block]))
    }

    /// `#include <x>` and others like it.
    fn directive(&mut self) -> Option<Part> {
        let line = self.peek()?.line;
        let brings = self.ahead(1).is_some_and(|t| t.text == "include");
        let mut import = self.part(Kind::Import, None);
        while let Some(t) = self.peek().filter(|t| t.line == line) {
            if brings && t.sort == Sort::Text {
                import.text = Some(t.text.trim_matches(['"', '\'']).to_owned());
            }
            self.at += 1;
        }
        import.span.1 = self.end();
        (brings && import.text.is_some()).then_some(import)
    }

    /// What is brought in: a file by its text, or names of a module.
    fn import(&mut self) -> Part {
        let mut import = self.taken(Kind::Import, None);
        let mut path = String::new();
        let mut names: Vec<Part> = Vec::new();
        while let Some(t) = self.peek() {
            if t.text == ";" || t.first && self.brackets == 0 && !path.is_empty() {
                break;
            }
            match t.sort {
                Sort::Text => {
                    let text = t.text.trim_matches(['"', '\'', '`']);
                    import.text.get_or_insert_with(|| text.to_owned());
                    path.push_str(text);
                }
                Sort::Word if t.text == "as" => names.clear(),
                Sort::Word => {
                    names.push(self.part(Kind::Name, Some(self.bare(t.text))));
                    path.push_str(t.text);
                }
                _ => path.push_str(t.text),
            }
            self.at += 1;
        }
        // Of a path it is the last part that becomes a name, of a list each.
        let keep = if path.contains(['{', ',']) { names.len() } else { 1 };
        let names = names.split_off(names.len().saturating_sub(keep));
        import.text.get_or_insert(path);
        import.with(names)
    }

    /// The ways a program takes: conditions, loops, what is given back or raised.
    fn way(&mut self) -> Option<Part> {
        let word = self.peek()?.text;
        // A member or a variable may be called so.
        if self.is_asked(1) && !matches!(word, "return" | "for") {
            return None;
        }
        Some(match word {
            "return" => {
                let back = self.taken(Kind::Return, None);
                let values = if self.line_ends() || self.sees_any(&[";", "}", "if", "unless"]) {
                    Vec::new()
                } else {
                    self.list_of_values()
                };
                let back = back.with(values);
                self.with_modifier(back)
            }
            "break" | "continue" | "next" | "last" | "redo" => {
                let leave = self.taken(Kind::Leave, None);
                self.with_modifier(leave)
            }
            _ if self.rough.raises.iter().any(|r| r == word) => {
                let throw = self.taken(Kind::Throw, None);
                self.eat("!");
                let values = if self.line_ends() { Vec::new() } else { self.list_of_values() };
                let throw = throw.with(values);
                self.with_modifier(throw)
            }
            "if" | "unless" | "elsif" | "elseif" | "elif" | "guard" => self.condition(),
            "while" | "until" | "loop" => {
                let part = self.taken(Kind::While, None);
                let head = self.head();
                let part = part.with(head);
                let block = self.block();
                self.closed();
                part.with([block])
            }
            "for" | "foreach" => self.for_loop(),
            "switch" | "match" | "case" | "begin" | "try" | "do" | "catch" | "finally"
            | "defer" | "unsafe" | "rescue" | "ensure" | "else"
                if !(word == "do" && !self.by_words && !self.ahead(1)?.text.starts_with('{')) =>
            {
                let kind = if matches!(word, "try" | "begin") { Kind::Try } else { Kind::Other };
                let part = self.taken(kind, None);
                let head = if self.sees("{") || self.line_ends() { None } else { self.head() };
                let block = self.block();
                let mut part = part.with(head).with([block]);
                while self.by_words && self.sees_any(MIDDLES) {
                    self.at += 1;
                    let head = if self.line_ends() { None } else { self.head() };
                    let block = self.block();
                    part = part.with(head).with([block]);
                }
                self.closed();
                part
            }
            _ => return None,
        })
    }

    /// Behind the last block of one that is made by words.
    fn closed(&mut self) {
        if self.by_words {
            self.eat("end");
        }
    }

    /// What stands between a word and its block.
    fn head(&mut self) -> Option<Part> {
        let before = std::mem::replace(&mut self.no_braces, true);
        let found = self.expression();
        self.no_braces = before;
        found
    }

    fn condition(&mut self) -> Part {
        let negated = self.sees("unless") || self.sees("guard");
        let part = self.taken(Kind::If, None);
        // What is bound for the branch only.
        if self.is_one_of(&self.rough.declares) {
            self.at += 1;
        }
        let mut head = self.head();
        if self.eat("=") {
            let value = self.head();
            head = head.map(|target| assignment(target, value, Flag::Local as u16));
            self.eat("else");
        } else if self.sees(":=") || self.sees(";") {
            while !self.line_ends() && !self.sees("{") {
                self.at += 1;
            }
        }
        if negated {
            head = head.map(denied);
        }
        self.eat("else");
        let block = self.block();
        let mut part = part.with(head).with([block]);
        let further = ["elsif", "elseif", "elif"];
        if self.sees_any(&further)
            || self.sees("else") && self.ahead(1).is_some_and(|t| t.text == "if")
        {
            self.eat("else");
            let other = self.condition();
            part = part.with([other]);
        } else if self.eat("else") {
            let other = self.block();
            part = part.with([other]);
            self.closed();
        } else {
            self.closed();
        }
        part
    }

    fn for_loop(&mut self) -> Part {
        let part = self.taken(Kind::ForIn, None);
        let bracketed = self.eat("(");
        self.brackets += usize::from(bracketed);
        let head = self.loop_head();
        let (kind, parts) = match head {
            Some((targets, through)) => {
                (Kind::ForIn, vec![targets].into_iter().chain(through).collect())
            }
            None => self.counting(),
        };
        self.brackets -= usize::from(bracketed);
        // Whatever was not understood of the head.
        while self
            .peek()
            .is_some_and(|t| !matches!(t.text, "{" | "do" | ")") && (!t.first || bracketed))
        {
            self.at += 1;
        }
        if bracketed {
            self.eat(")");
        }
        let block = self.block();
        self.closed();
        Part { kind, ..part }.with(parts).with([block])
    }

    /// `x in xs`, `x of xs`, `T x : xs`, `a, b := range xs`, `xs as k => v`, `my x (xs)`.
    fn loop_head(&mut self) -> Option<(Part, Option<Part>)> {
        let (from, mut at, mut sign) = (self.at, self.at, None);
        while let Some(t) = self.tokens.get(at) {
            let single = t.text == ":" && self.rough.typed_first;
            if t.sort == Sort::Word && matches!(t.text, "in" | "of" | "as" | "range") || single {
                sign = Some(at);
                break;
            }
            if matches!(t.text, ";" | "{" | "}") || t.first && at > from && self.brackets == 0 {
                break;
            }
            at += 1;
        }
        if let Some(sign) = sign {
            let word = self.tokens[sign].text;
            if word == "as" {
                let through = self.head();
                self.at = sign + 1;
                let to = self.header_end();
                return Some((self.targets(sign + 1, to), through));
            }
            let end = if word == "range" { sign.saturating_sub(1) } else { sign };
            let targets = self.targets(from, end);
            self.at = sign + 1;
            return Some((targets, self.head()));
        }
        // A name and a list in brackets.
        let open = (from..at).find(|n| self.tokens[*n].text == "(").filter(|n| *n > from)?;
        if self.tokens[from..open].iter().any(|t| t.sort == Sort::Sign && t.text == "=") {
            return None;
        }
        let targets = self.targets(from, open);
        self.at = open;
        Some((targets, self.head()))
    }

    fn header_end(&self) -> usize {
        let rest = self.tokens[self.at.min(self.tokens.len())..].iter();
        self.at + rest.take_while(|t| !matches!(t.text, ")" | "{" | "do" | ";")).count()
    }

    /// The names between two tokens: of each part between commas the last word.
    fn targets(&mut self, from: usize, to: usize) -> Part {
        let save = std::mem::replace(&mut self.at, from);
        let targets = self.part(Kind::Targets, None);
        let mut names: Vec<Part> = Vec::new();
        let mut new = true;
        for at in from..to.min(self.tokens.len()) {
            self.at = at;
            let t = self.tokens[at];
            if matches!(t.text, "," | "=>") {
                new = true;
            } else if t.sort == Sort::Word && t.text != "_" {
                let name = self.part(Kind::Name, Some(self.bare(t.text)));
                if !new {
                    names.pop();
                }
                names.push(name);
                new = false;
            }
        }
        self.at = save.max(to);
        targets.with(names)
    }

    /// `init; condition; step`, or a condition alone.
    fn counting(&mut self) -> (Kind, Vec<Part>) {
        if self.is_one_of(&self.rough.declares) {
            self.at += 1;
        }
        // A type before the name.
        if self.rough.typed_first && self.ahead(1).is_some_and(|t| t.sort == Sort::Word) {
            self.at += 1;
        }
        if self.sees("{") {
            return (Kind::While, Vec::new());
        }
        let first = self.given(true);
        if !self.eat(";") {
            return (Kind::While, first.into_iter().collect());
        }
        let until = self.head();
        if self.eat(";") {
            while self.peek().is_some_and(|t| !matches!(t.text, ")" | "{")) {
                self.at += 1;
            }
        }
        let Some(first) = first else { return (Kind::While, until.into_iter().collect()) };
        let mut parts = first.parts;
        let values = if parts.len() > 1 { parts.pop() } else { None };
        let start = values.and_then(|v| v.parts.into_iter().next());
        (Kind::For, parts.into_iter().chain(start).chain(until).collect())
    }

    /// An expression, or what is given a value; `fresh` where it is declared.
    pub(super) fn given(&mut self, fresh: bool) -> Option<Part> {
        let apart = self.peek().filter(|t| fresh && matches!(t.text, "(" | "[" | "{"));
        if let Some(open) = apart
            && let Some(part) = self.taken_apart(open.text)
        {
            return Some(part);
        }
        let mut targets = vec![self.target(fresh)?];
        while self.sees(",") && self.brackets == 0 && self.gives_further_on() {
            self.at += 1;
            targets.extend(self.target(fresh));
        }
        let mut kind = None;
        if fresh && self.eat(":") {
            kind = self.type_name();
        }
        let declared = if fresh { Flag::Local as u16 } else { 0 };
        if self.sees_any(GIVES) {
            let flags = if self.sees(":=") { Flag::Local as u16 } else { declared };
            self.at += 1;
            let values = self.list_of_values();
            return Some(given_to(targets, values, flags, kind));
        }
        if self.sees_any(COUNTS_ON) {
            self.at += 1;
            let values = self.list_of_values();
            return Some(given_to(targets, values, Flag::Augmented as u16, None));
        }
        // `||=`, `??=`, `.=`.
        if self.peek().is_some_and(|t| matches!(t.text, "||" | "&&" | "??" | "." | "%"))
            && self.ahead(1).is_some_and(|t| t.text == "=")
            && self.touches(self.at)
        {
            self.at += 2;
            let values = self.list_of_values();
            return Some(given_to(targets, values, Flag::Augmented as u16, None));
        }
        if fresh {
            return Some(given_to(targets, Vec::new(), declared, kind));
        }
        targets.into_iter().next()
    }

    /// Names in brackets that are declared at once: `let (a, b) = …`.
    fn taken_apart(&mut self, open: &str) -> Option<Part> {
        let from = self.at;
        let close = match open {
            "(" => ")",
            "[" => "]",
            _ => "}",
        };
        let mut names = Vec::new();
        self.at += 1;
        while self.peek().is_some_and(|t| t.text != close && !matches!(t.text, ";" | "=")) {
            if self.is_word() && !self.sees("mut") {
                let word = self.peek().map_or("", |t| t.text);
                names.push(self.part(Kind::Name, Some(self.bare(word))));
            }
            self.at += 1;
        }
        if !self.eat(close) || !self.sees("=") || names.is_empty() {
            self.at = from;
            return None;
        }
        self.at += 1;
        let values = self.list_of_values();
        Some(given_to(names, values, Flag::Local as u16, None))
    }

    /// What is given something: an expression, or the names that a declaration takes apart.
    fn target(&mut self, fresh: bool) -> Option<Part> {
        while fresh && self.sees_any(&["mut", "&", "(", "[", "{"]) {
            self.at += 1;
        }
        if fresh && self.is_word() {
            let word = self.peek()?.text;
            let part = self.taken(Kind::Name, Some(self.bare(word)));
            while self.sees_any(&[")", "]", "?"]) && self.brackets == 0 {
                self.at += 1;
            }
            self.pass_parameters_of_type();
            return Some(part);
        }
        self.expression()
    }

    /// Whether a list of names is given something on this line.
    fn gives_further_on(&self) -> bool {
        let rest = &self.tokens[self.at..];
        rest.iter()
            .take_while(|t| !t.first && !matches!(t.text, ";" | "{" | "}" | "(" | ")"))
            .any(|t| GIVES.contains(&t.text))
    }

    /// The name of a type, and what belongs to it.
    pub(super) fn type_name(&mut self) -> Option<Part> {
        let mut found = None;
        while let Some(t) = self.peek() {
            if self.line_ends() || matches!(t.text, "=" | "," | ";" | ")" | "{" | "}" | ":=") {
                break;
            }
            if t.sort == Sort::Word && found.is_none() {
                found = Some(self.part(Kind::Type, Some(t.text)));
            }
            let before = self.at;
            match t.text {
                "<" => self.pass_parameters_of_type(),
                "[" => self.pass_over("[", "]"),
                "(" => self.pass_over("(", ")"),
                _ => {}
            }
            self.at = self.at.max(before + 1);
        }
        found
    }

    pub(super) fn list_of_values(&mut self) -> Vec<Part> {
        let mut values = Vec::new();
        loop {
            // The right side may begin on the next line.
            let before = self.at;
            values.extend(self.expression());
            if self.at == before || !self.sees(",") || self.line_ends() {
                return values;
            }
            self.at += 1;
        }
    }
}

/// What holds where a condition does not.
fn denied(condition: Part) -> Part {
    Part { text: Some("not".into()), ..condition.around(Kind::Un) }.with([condition])
}

fn assignment(target: Part, value: Option<Part>, flags: u16) -> Part {
    given_to(vec![target], value.into_iter().collect(), flags, None)
}
