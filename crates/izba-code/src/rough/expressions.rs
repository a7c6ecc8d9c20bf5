//! Expressions: names, members, calls, entries, texts, numbers, and what joins them.

use super::{CHAIN, DEEPEST, Part, Reader};
use crate::signs::Sort;
use izba_model::code::{Flag, Kind};

/// How strongly a sign binds its two sides.
fn strength(sign: &str) -> Option<u8> {
    Some(match sign {
        "||" | "or" | "??" => 1,
        "&&" | "and" => 2,
        "==" | "!=" | "===" | "!==" | "<" | ">" | "<=" | ">=" | "eq" | "ne" | "is" | "~=" => 3,
        ".." | "..." => 4,
        "|" | "^" => 5,
        "+" | "-" | "." => 6,
        "*" | "/" | "%" | "//" => 7,
        "**" => 8,
        _ => return None,
    })
}

impl Reader<'_> {
    pub(super) fn expression(&mut self) -> Option<Part> {
        if self.depth >= DEEPEST {
            self.at += 1;
            return None;
        }
        self.depth += 1;
        let found = self.binary(1);
        let found = found.map(|f| self.choice(f));
        self.depth -= 1;
        found
    }

    /// `a ? b : c`.
    fn choice(&mut self, condition: Part) -> Part {
        if !self.sees("?") || self.line_ends() {
            return condition;
        }
        let from = self.at;
        self.at += 1;
        let one = self.expression();
        if let (Some(one), true) = (one, self.eat(":")) {
            let other = self.expression();
            return condition.around(Kind::If).with([condition, one]).with(other);
        }
        // A sign of the language behind a value.
        self.at = from + 1;
        condition
    }

    fn binary(&mut self, least: u8) -> Option<Part> {
        let mut left = self.unary()?;
        let mut links = 0;
        while let Some(t) = self.peek() {
            links += 1;
            // `list << entry` puts something in.
            if t.text == "<"
                && self.rough.suffixes
                && self.touches(self.at)
                && least <= 4
                && self.ahead(1).is_some_and(|n| n.text == "<")
            {
                let line = t.line;
                self.at += 2;
                let Some(entry) = self.binary(5) else { break };
                let span = left.span;
                let field = Part { text: Some("push".into()), line, ..left.around(Kind::Field) };
                left = Part { line, span, ..left.around(Kind::Call) }
                    .with([field.with([left]), entry]);
                continue;
            }
            let Some(binds) = strength(t.text).filter(|b| *b >= least && t.sort != Sort::Text)
            else {
                break;
            };
            // On a new line only what cannot begin a statement goes on.
            let begins =
                matches!(t.text, "-" | "*" | "+" | "/" | "^" | "..") || t.sort == Sort::Word;
            if t.first && self.brackets == 0 && begins {
                break;
            }
            self.at += 1;
            let Some(right) = self.binary(binds + 1) else { break };
            if links > CHAIN {
                continue;
            }
            let sign = if t.text == "." { ".." } else { t.text };
            left = Part {
                kind: Kind::Bin,
                flags: 0,
                text: Some(sign.to_owned()),
                line: left.line,
                span: left.span,
                parts: Vec::new(),
            }
            .with([left, right]);
        }
        Some(left)
    }

    fn unary(&mut self) -> Option<Part> {
        let t = self.peek()?;
        let sign = match t.text {
            "!" | "-" | "+" | "*" | "&" | "&&" | "~" | "\\" | "not" | "await" | "try" | "++"
            | "--" | "..." => t.text,
            _ => return self.postfix(),
        };
        if self.depth >= DEEPEST {
            return None;
        }
        let part = self.taken(Kind::Un, Some(sign));
        self.eat("mut");
        self.depth += 1;
        let inner = self.unary();
        self.depth -= 1;
        let inner = inner?;
        // Signs before a name that only tell what kind it is.
        Some(if matches!(sign, "!" | "-" | "not" | "await") { part.with([inner]) } else { inner })
    }

    fn postfix(&mut self) -> Option<Part> {
        let mut part = self.primary()?;
        let mut links = 0;
        while let Some(t) = self.peek() {
            links += 1;
            if links > CHAIN {
                break;
            }
            if self.is_member_sign() && self.ahead(1).is_some_and(|n| n.sort == Sort::Word) {
                self.at += 1;
                let word = self.peek()?.text;
                let mut name = self.bare(word).to_owned();
                let (line, lenient) = (self.peek()?.line, matches!(t.text, "?." | "&."));
                self.at += 1;
                self.suffix(Some(&mut name));
                let flags = if lenient { Flag::Lenient as u16 } else { 0 };
                let span = (part.span.0, self.end());
                let field = Part {
                    kind: Kind::Field,
                    flags,
                    text: Some(name),
                    line,
                    span,
                    parts: Vec::new(),
                };
                part = field.with([part]);
                self.pass_parameters_of_type_of_call();
                continue;
            }
            let same_line = !t.first || self.brackets > 0;
            part = match t.text {
                "->" if self.is_member_sign() => {
                    // What stands behind is an entry.
                    self.at += 1;
                    part
                }
                "(" if same_line => {
                    let arguments = self.arguments();
                    self.called(part, arguments)
                }
                "!" if same_line
                    && part.is_name()
                    && self.touches(self.at - 1)
                    && self.ahead(1).is_some_and(|n| matches!(n.text, "(" | "[" | "{"))
                    && !self.rough.suffixes =>
                {
                    self.at += 1;
                    let arguments = self.arguments();
                    self.called(part, arguments)
                }
                "[" if same_line && (self.touches(self.at - 1) || !self.rough.calls_bare) => {
                    self.entry(part, "]")
                }
                "{" if same_line && self.rough.keys_in_braces && self.touches(self.at - 1) => {
                    self.entry(part, "}")
                }
                "{" if same_line
                    && !self.no_braces
                    && self.rough.closures_behind
                    && matches!(part.kind, Kind::Call | Kind::Field) =>
                {
                    let closure = self.closure("}");
                    self.handed_to(part, closure)
                }
                "do" if same_line
                    && self.by_words
                    && matches!(part.kind, Kind::Call | Kind::Field | Kind::Name)
                    && !self.no_braces =>
                {
                    let closure = self.closure("end");
                    self.handed_to(part, closure)
                }
                "++" | "--" | "!" | "?"
                    if same_line && self.touches(self.at - 1) && !self.is_choice() =>
                {
                    self.at += 1;
                    part
                }
                _ => {
                    return Some(self.called_bare(part));
                }
            };
        }
        Some(part)
    }

    /// Whether the next `?` is that of a choice.
    fn is_choice(&self) -> bool {
        self.sees("?") && self.ahead(1).is_some_and(|t| !self.touches(self.at) && !t.first)
    }

    /// `::<T>` behind a member, and `<T>` before brackets.
    fn pass_parameters_of_type_of_call(&mut self) {
        let from = self.at;
        self.eat("::");
        let before = self.at;
        self.pass_parameters_of_type();
        if self.at == before || !self.sees("(") {
            self.at = from;
        }
    }

    fn called(&self, callee: Part, arguments: Vec<Part>) -> Part {
        let made = self.rough.constructors.iter().any(|c| Some(c) == callee.text.as_ref());
        let of_type = callee.parts.first().filter(|o| {
            o.is_name() && o.text.as_deref().is_some_and(|t| t.starts_with(char::is_uppercase))
        });
        // `Boat.new(…)`, `Boat::new(…)`.
        if let (true, Kind::Field, Some(owner)) = (made, callee.kind, of_type) {
            let new = Part {
                kind: Kind::New,
                text: owner.text.clone(),
                parts: Vec::new(),
                flags: 0,
                ..callee
            };
            return new.with(arguments);
        }
        let upper = callee.is_name()
            && self.rough.types_are_called
            && callee.text.as_deref().is_some_and(|t| t.starts_with(char::is_uppercase));
        let end = self.end();
        let (kind, text) =
            if upper { (Kind::New, callee.text.clone()) } else { (Kind::Call, None) };
        let mut call =
            Part { kind, flags: 0, text, line: callee.line, span: callee.span, parts: Vec::new() };
        if !upper {
            call = call.with([callee]);
        }
        call = call.with(arguments);
        call.span.1 = call.span.1.max(end);
        call
    }

    /// A call without brackets: `puts x, y`.
    fn called_bare(&mut self, part: Part) -> Part {
        let callable = part.is_name() || part.kind == Kind::Field;
        let Some(t) = self.peek().filter(|t| {
            self.rough.calls_bare && callable && !t.first && !self.touches(self.at - 1)
        }) else {
            return part;
        };
        let begins = match t.sort {
            Sort::Text | Sort::Number => true,
            Sort::Word => !self.is_word_of_language(t.text) || t.text == "self",
            _ => matches!(t.text, ":" | "@" | "$") && self.touches(self.at),
        };
        if !begins {
            return part;
        }
        let arguments = self.list_of_arguments(&[]);
        self.called(part, arguments)
    }

    fn entry(&mut self, owner: Part, close: &str) -> Part {
        self.at += 1;
        self.brackets += 1;
        let named =
            self.is_word() && self.ahead(1).is_some_and(|t| t.text == close) && close == "}";
        let key = if named {
            let word = self.peek().map_or("", |t| t.text);
            Some(self.taken(Kind::Str, Some(word)))
        } else {
            self.expression()
        };
        self.brackets -= 1;
        while self.peek().is_some_and(|t| t.text != close && !t.first) {
            self.at += 1;
        }
        self.eat(close);
        let span = (owner.span.0, self.end());
        Part { kind: Kind::Index, flags: 0, text: None, line: owner.line, span, parts: Vec::new() }
            .with([owner])
            .with(key)
    }

    /// A function that is written behind the call that takes it.
    fn closure(&mut self, close: &str) -> Part {
        let function = self.taken(Kind::Func, None);
        let mut params = self.part(Kind::Params, None);
        if self.sees("|") {
            let names = self.names_in_bars();
            params = params.with(names);
        } else if let Some(to) = self.names_before_in() {
            let names = self.targets_as_params(to);
            params = params.with(names);
        }
        let block = self.part(Kind::Block, None);
        let (brackets, no_braces) = (self.brackets, self.no_braces);
        (self.brackets, self.no_braces) = (0, false);
        let mut parts = Vec::new();
        self.statements(&mut parts);
        self.eat(close);
        (self.brackets, self.no_braces) = (brackets, no_braces);
        function.with([params, block.with(parts)])
    }

    /// `|a, b|`: the names between the bars.
    fn names_in_bars(&mut self) -> Vec<Part> {
        self.eat("|");
        let mut names = Vec::new();
        while self.peek().is_some_and(|t| t.text != "|") {
            if self.is_word() {
                let word = self.peek().map_or("", |t| t.text);
                names.push(self.part(Kind::Param, Some(word)));
            }
            self.at += 1;
        }
        self.eat("|");
        names
    }

    /// `{ a, b in …`.
    fn names_before_in(&self) -> Option<usize> {
        let mut at = self.at;
        while let Some(t) = self.tokens.get(at).filter(|t| !t.first) {
            match t.text {
                "in" => return (at > self.at).then_some(at),
                "," | "(" | ")" => {}
                _ if t.sort == Sort::Word => {}
                _ => return None,
            }
            at += 1;
        }
        None
    }

    fn targets_as_params(&mut self, to: usize) -> Vec<Part> {
        let mut names = Vec::new();
        while self.at < to {
            if self.is_word() {
                let word = self.peek().map_or("", |t| t.text);
                names.push(self.part(Kind::Param, Some(word)));
            }
            self.at += 1;
        }
        self.at += 1;
        names
    }

    fn handed_to(&self, part: Part, closure: Part) -> Part {
        if part.kind == Kind::Call {
            return part.with([closure]);
        }
        self.called(part, vec![closure])
    }

    /// What stands in brackets behind a call, or in those of a list.
    pub(super) fn arguments(&mut self) -> Vec<Part> {
        let close = match self.peek().map_or("", |t| t.text) {
            "[" => "]",
            "{" => "}",
            _ => ")",
        };
        self.at += 1;
        self.brackets += 1;
        let no_braces = std::mem::replace(&mut self.no_braces, false);
        let found = self.list_of_arguments(&[close]);
        self.no_braces = no_braces;
        self.brackets -= 1;
        self.eat(close);
        found
    }

    fn list_of_arguments(&mut self, closers: &[&str]) -> Vec<Part> {
        let mut out = Vec::new();
        while self.peek().is_some() && !self.sees_any(closers) {
            if closers.is_empty() && self.line_ends() || self.sees_any(&[")", "]", "}", ";"]) {
                break;
            }
            let before = self.at;
            out.extend(self.argument());
            if !self.eat(",") && self.at == before {
                self.at += 1;
            }
            if closers.is_empty() && self.tokens.get(self.at - 1).is_none_or(|t| t.text != ",") {
                break;
            }
        }
        out
    }

    /// One of several: a value, or a name with a value.
    fn argument(&mut self) -> Option<Part> {
        let t = self.peek()?;
        let named = matches!(t.sort, Sort::Word | Sort::Text)
            && self.ahead(1).is_some_and(|n| n.text == ":")
            && !self.ahead(2).is_some_and(|n| n.text == ":" && self.touches(self.at + 1));
        if named {
            let name = t.text.trim_matches(['"', '\'']);
            let pair = self.taken(Kind::Pair, Some(name));
            self.at += 1;
            let value = self.expression();
            return Some(pair.with(value));
        }
        let key = self.expression()?;
        if self.eat("=>") {
            let value = self.expression();
            let text = (key.kind == Kind::Str).then(|| key.text.clone()).flatten();
            let pair = Part { kind: Kind::Pair, text, parts: Vec::new(), flags: 0, ..key.clone() };
            let inner = if pair.text.is_some() { None } else { Some(key) };
            return Some(pair.with(inner).with(value));
        }
        Some(key)
    }

    fn primary(&mut self) -> Option<Part> {
        let t = self.peek()?;
        match t.sort {
            Sort::Text | Sort::Unclosed => {
                let bare = crate::lang::unquoted(t.text);
                let bare = if bare.len() > 400 { "" } else { bare };
                Some(self.taken(Kind::Str, Some(bare)))
            }
            Sort::Number => Some(self.taken(Kind::Num, Some(t.text))),
            Sort::Word => self.word(),
            Sort::Sign => self.by_sign(),
        }
    }

    fn word(&mut self) -> Option<Part> {
        let word = self.peek()?.text;
        if self.nothing.iter().any(|n| n.eq_ignore_ascii_case(word)) {
            return Some(self.taken(Kind::Nil, Some(word)));
        }
        if matches!(word, "true" | "false" | "True" | "False") {
            return Some(self.taken(Kind::Bool, Some(word)));
        }
        if self.is_one_of(&self.rough.functions) {
            return Some(self.function(false));
        }
        if word == "new" && self.ahead(1).is_some_and(|t| t.sort == Sort::Word && !t.first) {
            self.at += 1;
            let name = self.peek()?.text;
            let mut new = self.taken(Kind::New, Some(name));
            while self.is_member_sign() && self.ahead(1).is_some_and(|t| t.sort == Sort::Word) {
                self.at += 1;
                new.text = Some(self.peek()?.text.to_owned());
                self.at += 1;
            }
            self.pass_parameters_of_type();
            let arguments = if self.sees("(") { self.arguments() } else { Vec::new() };
            return Some(new.with(arguments));
        }
        if self.is_word_of_language(word) && !matches!(word, "self" | "this" | "super") {
            // A word that holds no value: what it means is not known here.
            return matches!(word, "if" | "match" | "case" | "do" | "begin" | "switch")
                .then(|| self.statement())
                .flatten();
        }
        let upper = word.starts_with(char::is_uppercase);
        let mut name = self.bare(word).to_owned();
        let mut part = self.taken(Kind::Name, None);
        self.suffix(Some(&mut name));
        part.text = Some(name);
        if upper
            && self.rough.literals_of_types
            && !self.no_braces
            && self.sees("{")
            && !self.line_ends()
        {
            let arguments = self.arguments();
            let new = Part { kind: Kind::New, ..part };
            return Some(new.with(arguments));
        }
        self.pass_parameters_of_type_of_call();
        Some(part)
    }

    fn is_word_of_language(&self, word: &str) -> bool {
        let rough = self.rough;
        let lists = [&rough.functions, &rough.classes, &rough.declares, &rough.modifiers];
        rough.keywords.split_whitespace().any(|k| k == word)
            || lists.iter().any(|l| l.iter().any(|k| k == word))
    }

    fn by_sign(&mut self) -> Option<Part> {
        let t = self.peek()?;
        match t.text {
            "(" => {
                let line = t.line;
                let start = t.start;
                let mut found = self.arguments();
                // A function of few words: `(a, b) => …`.
                if self.sees("=>") && !self.rough.calls_bare {
                    let function = self.part(Kind::Func, None);
                    let names = found.into_iter().filter(Part::is_name);
                    let names: Vec<Part> = names.map(|n| Part { kind: Kind::Param, ..n }).collect();
                    let params = self.part(Kind::Params, None).with(names);
                    let block = self.body();
                    return Some(function.with([params]).with(block));
                }
                match found.len() {
                    1 => {
                        let mut one = found.remove(0);
                        one.span = (start, self.end());
                        Some(one)
                    }
                    _ => {
                        let span = (start, self.end());
                        let kind = Kind::Table;
                        Some(
                            Part { kind, flags: 0, text: None, line, span, parts: Vec::new() }
                                .with(found),
                        )
                    }
                }
            }
            "[" => {
                let table = self.part(Kind::Table, None);
                let parts = self.arguments();
                let end = self.end();
                let mut table = table.with(parts);
                table.span.1 = table.span.1.max(end);
                Some(table)
            }
            "{" if !self.no_braces => {
                let table = self.part(Kind::Table, None);
                let parts = self.arguments();
                let end = self.end();
                let mut table = table.with(parts);
                table.span.1 = table.span.1.max(end);
                Some(table)
            }
            // Fields of the object itself.
            "@" if self.rough.at_is_field
                && self.ahead(1).is_some_and(|n| n.sort == Sort::Word) =>
            {
                let itself = self.part(Kind::Name, Some("self"));
                self.at += 1;
                let word = self.peek()?.text;
                let field = self.taken(Kind::Field, Some(word));
                let span = (itself.span.0, field.span.1);
                Some(Part { span, ..field.with([itself]) })
            }
            "@" | "%" | "$" if self.ahead(1).is_some_and(|n| n.text == "{") => {
                self.at += 1;
                let mut inner = self.arguments();
                (inner.len() == 1).then(|| inner.remove(0))
            }
            "@" | "%" | "$" | "#" if self.ahead(1).is_some_and(|n| n.sort == Sort::Word) => {
                self.at += 1;
                self.primary()
            }
            ":" if self.ahead(1).is_some_and(|n| n.sort == Sort::Word) && self.touches(self.at) => {
                self.at += 1;
                let word = self.peek()?.text;
                Some(self.taken(Kind::Str, Some(word)))
            }
            // A function of few words: `|a, b| …`.
            "|" | "||" if !self.rough.calls_bare => {
                let function = self.part(Kind::Func, None);
                let params = self.part(Kind::Params, None);
                let names = if self.eat("||") { Vec::new() } else { self.names_in_bars() };
                let outside = std::mem::replace(&mut self.inside_function, true);
                let block = if self.sees("{") {
                    self.block()
                } else {
                    let block = self.part(Kind::Block, None);
                    let value = self.expression();
                    block.with(value)
                };
                self.inside_function = outside;
                Some(function.with([params.with(names), block]))
            }
            _ => None,
        }
    }
}
