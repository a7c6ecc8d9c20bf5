//! Functions, types and their members.

use super::{PACKAGE, Part, Reader, given_to};
use crate::signs::Sort;
use izba_model::code::{Flag, Kind};

/// The parameters of a function that takes them out of one list: `my ($a, $b) = @_;`.
fn taken_from_list(block: &Part) -> Vec<Part> {
    let first = block.parts.first().filter(|p| p.kind == Kind::Assign);
    let [targets, values, ..] = first.map_or(&[][..], |a| a.parts.as_slice()) else {
        return Vec::new();
    };
    let whole = values.parts.first().is_some_and(|v| v.is_name() && v.text.as_deref() == Some("_"));
    let names = targets.parts.iter().filter(|p| p.is_name() && whole);
    names.map(|n| Part { kind: Kind::Param, ..n.clone() }).collect()
}

impl Reader<'_> {
    /// A function behind the word that begins it.
    pub(super) fn function(&mut self, fixed: bool) -> Part {
        let mut part = self.taken(Kind::Func, None);
        let mut owner = None;
        // `func (b *Boat) name`: the object comes first.
        let mut receiver = None;
        if self.sees("(") && self.has_receiver() {
            let params = self.params();
            receiver = params.parts.into_iter().next();
            owner = receiver
                .as_ref()
                .and_then(|r| r.parts.iter().find(|p| p.kind == Kind::Type))
                .and_then(|t| t.text.clone());
        }
        let mut name: Option<String> = None;
        while self.is_word() && !self.line_ends() {
            let word = self.peek().map_or("", |t| t.text);
            owner = name.take().or(owner);
            name = Some(self.bare(word).to_owned());
            part.line = self.peek().map_or(part.line, |t| t.line);
            self.at += 1;
            self.suffix(name.as_mut());
            if !self.is_member_sign() {
                break;
            }
            self.at += 1;
        }
        self.pass_parameters_of_type();
        let fixed = fixed || owner.as_deref() == Some("self");
        part.flags = self.flags_of(name.as_deref(), fixed, receiver.is_some());
        part.text = name;
        let mut params = if self.sees("(") {
            self.params()
        } else {
            let params = self.part(Kind::Params, None);
            // Names without brackets, to the end of the line.
            let mut names = Vec::new();
            while self.by_words && self.is_word() && !self.line_ends() {
                let word = self.peek().map_or("", |t| t.text);
                names.push(self.taken(Kind::Param, Some(word)));
                self.eat(",");
            }
            params.with(names)
        };
        if let Some(receiver) = receiver {
            params.parts.insert(0, receiver);
        }
        let owner = owner.filter(|o| o != "self").map(|o| self.owner_part(&part, &o));
        let block = self.body();
        if params.parts.is_empty() {
            params.parts = block.as_ref().map(taken_from_list).unwrap_or_default();
        }
        part.with(owner).with([params]).with(block)
    }

    fn owner_part(&self, function: &Part, owner: &str) -> Part {
        let name = Part {
            kind: Kind::Name,
            flags: 0,
            text: Some(owner.to_owned()),
            line: function.line,
            span: function.span,
            parts: Vec::new(),
        };
        Part { kind: Kind::Owner, text: None, ..name.clone() }.with([name])
    }

    /// Whether brackets behind the word hold an object and a name follows them.
    fn has_receiver(&self) -> bool {
        let mut depth = 0usize;
        for at in self.at..self.tokens.len().min(self.at + 12) {
            match self.tokens[at].text {
                "(" => depth += 1,
                ")" if depth <= 1 => {
                    return self.tokens.get(at + 1).is_some_and(|t| t.sort == Sort::Word)
                        && self.tokens.get(at + 2).is_some_and(|t| t.text == "(");
                }
                ")" => depth -= 1,
                _ => {}
            }
        }
        false
    }

    fn flags_of(&self, name: Option<&str>, fixed: bool, receiver: bool) -> u16 {
        let member = (!self.types.is_empty() || receiver) && !self.inside_function;
        let mut flags = 0;
        if member {
            flags |= Flag::Member as u16;
            flags |= if fixed { Flag::Static as u16 } else { Flag::Method as u16 };
        }
        let constructs = name.is_some_and(|n| {
            self.rough.constructors.iter().any(|c| c == n)
                || self.types.last().is_some_and(|t| t == n)
        });
        if member && constructs {
            flags |= Flag::Constructor as u16;
        }
        flags
    }

    /// The sign behind a name that asks or changes.
    pub(super) fn suffix(&mut self, name: Option<&mut String>) {
        if let Some(name) = name
            && self.rough.suffixes
            && self.sees_any(&["?", "!"])
            && self.touches(self.at - 1)
            && !self.ahead(1).is_some_and(|t| t.text == "=" && self.touches(self.at))
        {
            name.push_str(self.peek().map_or("", |t| t.text));
            self.at += 1;
        }
    }

    pub(super) fn is_member_sign(&self) -> bool {
        self.peek().is_some_and(|t| self.rough.members.iter().any(|m| m == t.text))
    }

    /// Parameters in brackets.
    pub(super) fn params(&mut self) -> Part {
        let params = self.taken(Kind::Params, None);
        let mut out = Vec::new();
        let mut words: Vec<Part> = Vec::new();
        let mut value = None;
        let mut behind = false;
        let (mut depth, mut signed) = (1usize, None);
        while let Some(t) = self.peek() {
            match t.text {
                "(" | "[" | "{" => depth += 1,
                ")" | "]" | "}" => {
                    depth -= 1;
                    if depth == 0 {
                        break;
                    }
                }
                "," if depth == 1 => {
                    out.extend(self.param(std::mem::take(&mut words), signed.take(), value.take()));
                    behind = false;
                }
                ":" if depth == 1 => {
                    // The name stands before it.
                    signed = words.len().checked_sub(1);
                    behind = true;
                }
                "=" if depth == 1 => {
                    self.at += 1;
                    self.brackets += 1;
                    value = self.expression();
                    self.brackets -= 1;
                    continue;
                }
                "<" => {
                    let before = self.at;
                    self.pass_parameters_of_type();
                    if self.at > before {
                        continue;
                    }
                }
                _ if t.sort == Sort::Word && depth == 1 => {
                    let named = t.text.starts_with('$');
                    if named {
                        signed = Some(words.len());
                    }
                    let kind = if behind && !named { Kind::Type } else { Kind::Name };
                    words.push(self.part(kind, Some(t.text)));
                }
                _ => {}
            }
            self.at += 1;
        }
        out.extend(self.param(words, signed, value));
        self.eat(")");
        let end = self.end();
        let mut params = params.with(out);
        params.span.1 = params.span.1.max(end);
        params
    }

    /// One parameter of the words that stand for it.
    fn param(&self, words: Vec<Part>, signed: Option<usize>, value: Option<Part>) -> Option<Part> {
        let is_modifier = |p: &Part| {
            p.text.as_deref().is_some_and(|t| {
                matches!(
                    t,
                    "mut" | "const" | "inout" | "final" | "required" | "var" | "let" | "ref"
                )
            })
        };
        let first = words.iter().position(|p| !is_modifier(p))?;
        let at = match signed {
            Some(at) => at,
            None if self.rough.typed_first => words.len() - 1,
            None => first,
        };
        let name = words.get(at)?;
        let text = self.bare(name.text.as_deref()?).to_owned();
        // Its type stands on the other side of the name.
        let before = name.text.as_deref().is_some_and(|t| t.starts_with('$'))
            || signed.is_none() && self.rough.typed_first;
        let kind = if before { at.checked_sub(1) } else { Some(at + 1) };
        let kind = kind.and_then(|n| words.get(n)).filter(|p| !is_modifier(p));
        let kind = kind.map(|p| Part { kind: Kind::Type, ..p.clone() });
        let part = Part { kind: Kind::Param, text: Some(text), parts: Vec::new(), ..name.clone() };
        Some(part.with(kind).with(value))
    }

    /// What a function does: a block, one expression, or nothing but a declaration.
    pub(super) fn body(&mut self) -> Option<Part> {
        // Its result's type and what it promises.
        while let Some(t) = self.peek() {
            let ends = t.first && self.brackets == 0;
            if matches!(t.text, "{" | ";" | "=" | "=>" | "}") || ends {
                break;
            }
            self.at += 1;
        }
        let outside = std::mem::replace(&mut self.inside_function, true);
        let block = if self.by_words {
            let expression = self.eat("=");
            let block = self.block();
            if !expression {
                self.eat_end();
            }
            Some(block)
        } else if self.sees("{") {
            Some(self.block())
        } else if self.eat("=>") || self.eat("=") {
            let block = self.part(Kind::Block, None);
            let value = self.expression();
            let back = value.map(|v| v.around(Kind::Return).with([v]));
            Some(block.with(back))
        } else {
            None
        };
        self.inside_function = outside;
        block.map(|b| self.with_last_given(b))
    }

    /// Where the last expression of a function is what it gives.
    fn with_last_given(&self, mut block: Part) -> Part {
        let closed = self.tokens[..self.at].iter().rev().nth(1).is_some_and(|t| t.text == ";");
        let gives = self.rough.last_is_given && (!closed || self.rough.calls_bare);
        let value = |p: &Part| {
            matches!(
                p.kind,
                Kind::Name
                    | Kind::Field
                    | Kind::Call
                    | Kind::Index
                    | Kind::New
                    | Kind::Str
                    | Kind::Num
                    | Kind::Bin
                    | Kind::Table
                    | Kind::Nil
                    | Kind::Bool
            )
        };
        if gives && block.parts.last().is_some_and(value) {
            let last = block.parts.pop();
            block.parts.extend(last.map(|l| l.around(Kind::Return).with([l])));
        }
        block
    }

    fn eat_end(&mut self) {
        // What catches errors of the whole function stands before its end.
        while self.sees_any(&["rescue", "ensure", "else"]) {
            self.at += 1;
            let mut parts = Vec::new();
            self.statements(&mut parts);
        }
        self.eat("end");
    }

    /// A type with its members.
    pub(super) fn class(&mut self) -> Part {
        let implements = self.sees("impl") || self.sees("extension");
        let mut part = self.taken(Kind::Class, None);
        self.pass_parameters_of_type();
        let mut name = None;
        let mut bases = Vec::new();
        while let Some(t) = self.peek() {
            if matches!(t.text, "{" | ";" | "(" | "=") || t.first && self.brackets == 0 {
                break;
            }
            if t.sort == Sort::Word {
                match t.text {
                    // `impl Trait for Type`.
                    "for" if implements => {
                        bases.extend(name.take().map(|n| self.part(Kind::Name, Some(n))));
                    }
                    "extends" | "implements" | "with" | "public" | "private" | "where" => {}
                    // `type Boat struct`.
                    "struct" | "interface" => {}
                    word if name.is_none() => {
                        part.line = t.line;
                        name = Some(word);
                    }
                    word => bases.push(self.part(Kind::Name, Some(word))),
                }
            }
            self.at += 1;
            self.pass_parameters_of_type_behind_name();
        }
        if self.sees("(") {
            self.pass_over("(", ")");
        }
        part.text = name.map(str::to_owned);
        self.types.push(name.unwrap_or_default().to_owned());
        let outside = std::mem::replace(&mut self.inside_function, false);
        let mut members = Vec::new();
        if self.eat("{") {
            self.statements(&mut members);
            self.eat("}");
        } else if self.sees(";") && self.rough.classes.iter().any(|c| c == PACKAGE) {
            // It reaches to the next one.
            while self.peek().is_some() && !self.sees(PACKAGE) {
                self.statements(&mut members);
                self.at += usize::from(!self.sees(PACKAGE));
            }
        } else if self.by_words {
            self.statements(&mut members);
            self.eat("end");
        }
        self.inside_function = outside;
        self.types.pop();
        let of = (!bases.is_empty()).then(|| bases[0].around(Kind::Bases).with(bases));
        let end = self.end();
        let mut part = part.with(of).with(members);
        part.span.1 = part.span.1.max(end);
        part
    }

    fn pass_parameters_of_type_behind_name(&mut self) {
        if !self.by_words {
            self.pass_parameters_of_type();
        }
    }

    /// A field of a type: `name: Type`, `name Type`.
    pub(super) fn member(&mut self) -> Option<Part> {
        let next = self.ahead(1)?;
        let apart = matches!(next.text, "[" | "*") && !self.touches(self.at);
        let typed = next.text == ":" || (next.sort == Sort::Word || apart) && !next.first;
        if !typed || self.by_words || self.rough.calls_bare {
            return None;
        }
        let word = self.peek()?.text;
        let name = self.taken(Kind::Name, Some(self.bare(word)));
        self.eat(":");
        let kind = self.type_name();
        let value = if self.eat("=") { self.expression() } else { None };
        Some(given_to(vec![name], value.into_iter().collect(), Flag::Member as u16, kind))
    }

    /// Languages that write types first: a function, or a variable that is declared.
    pub(super) fn typed(&mut self, fixed: bool) -> Option<Part> {
        let from = self.at;
        let mut words: Vec<usize> = Vec::new();
        let mut owner = None;
        while let Some(t) = self.peek() {
            match t.text {
                "*" | "&" | "?" if !words.is_empty() => self.at += 1,
                "<" if !words.is_empty() => {
                    let before = self.at;
                    self.pass_parameters_of_type();
                    if self.at == before {
                        break;
                    }
                }
                "::" => {
                    owner = words.pop();
                    self.at += 1;
                }
                "~" => self.at += 1,
                _ if t.sort == Sort::Word && (!t.first || words.is_empty()) => {
                    words.push(self.at);
                    self.at += 1;
                }
                _ => break,
            }
        }
        let name = words.last().map(|at| self.tokens[*at]);
        let Some(name) = name else {
            self.at = from;
            return None;
        };
        let constructs = self.types.last().is_some_and(|t| t == name.text) || owner.is_some();
        let function = self.sees("(")
            && (words.len() >= 2 || constructs)
            && !self.inside_function
            && self.has_body();
        let at = *words.last()?;
        if function {
            self.at = at;
            let mut part = self.taken(Kind::Func, Some(name.text));
            part.flags = self.flags_of(Some(name.text), fixed, owner.is_some());
            self.pass_parameters_of_type();
            let params = self.params();
            let owner = owner.map(|o| self.owner_part(&part, self.tokens[o].text));
            let block = self.body();
            return Some(part.with(owner).with([params]).with(block));
        }
        // What only tells that there is such a function.
        if self.sees("(") && words.len() >= 2 && !self.inside_function && owner.is_none() {
            let declared = self.declared_only();
            if declared && self.types.is_empty() {
                return Some(self.part(Kind::Other, None));
            }
            if declared {
                let part = Part { line: name.line, ..self.part(Kind::Func, Some(name.text)) };
                let flags = self.flags_of(Some(name.text), fixed, false);
                return Some(Part { flags, span: (name.start, self.end()), ..part });
            }
        }
        let declares = words.len() >= 2
            && self
                .peek()
                .is_none_or(|t| matches!(t.text, "=" | ";" | "," | "(" | "{" | "[") && !t.first);
        if !declares {
            self.at = from;
            return None;
        }
        self.at = words[words.len() - 2];
        let kind = self.part(Kind::Type, Some(self.tokens[self.at].text));
        self.at = at;
        let target = self.taken(Kind::Name, Some(name.text));
        while self.sees("[") {
            self.pass_over("[", "]");
        }
        let mut values = Vec::new();
        if self.eat("=") {
            values = self.list_of_values();
        } else if self.sees("(") || self.sees("{") {
            // Made at once with what it takes.
            let new = self.part(Kind::New, kind.text.as_deref());
            let arguments = self.arguments();
            values.push(new.with(arguments));
        }
        let local = if self.inside_function { Flag::Local } else { Flag::Member };
        let flags = if self.inside_function || !self.types.is_empty() { local as u16 } else { 0 };
        Some(given_to(vec![target], values, flags, Some(kind)))
    }

    /// Passes over a function that is declared without what it does; whether it is one.
    fn declared_only(&mut self) -> bool {
        let from = self.at;
        self.pass_over("(", ")");
        while self.peek().is_some_and(|t| t.sort == Sort::Word && !t.first) {
            self.at += 1;
        }
        let pure = self.sees("=") && self.ahead(1).is_some_and(|t| t.text == "0");
        let values =
            self.tokens[from..self.at].iter().any(|t| matches!(t.sort, Sort::Text | Sort::Number));
        let found = (self.sees(";") || pure) && !values;
        if !found {
            self.at = from;
        }
        found
    }

    /// Whether brackets that open here are followed by what a function does.
    fn has_body(&mut self) -> bool {
        let from = self.at;
        self.pass_over("(", ")");
        let promises = ["const", "override", "async", "noexcept", "final"];
        while self.sees_any(&promises) {
            self.at += 1;
        }
        // What a constructor sets before its block.
        let found = self.sees_any(&["{", "=>", ":"]);
        self.at = from;
        found
    }
}
