//! From tokens to a tree, for three spellings of the same things.

use super::token::{Placed, Token, tokens};
use super::tree::{Class, Expr, Field, Method, Node, Step, Type, What};
use super::{Language, Problem, Spot};

type Parsed<T> = Result<T, Problem>;

/// Reads the classes of a source.
///
/// # Errors
///
/// The first thing that is wrong with it, as the language's compiler says it.
pub fn parse(file: &str, text: &str, language: Language) -> Parsed<Vec<Class>> {
    let tokens = tokens(file, text, language)?;
    let mut parser = Parser { file, tokens, at: 0, language, space: String::new() };
    let mut classes = Vec::new();
    while *parser.peek() != Token::End {
        if ["package", "import", "using", "namespace"].iter().any(|w| parser.is_word(w)) {
            let space = parser.is_word("namespace") || parser.is_word("package");
            let begun = parser.at + 1;
            while !parser.is_sign(";")
                && !parser.is_sign("{")
                && *parser.peek() != Token::End
                && (language != Language::Kotlin || !parser.next_is_on_new_line())
            {
                parser.at += 1;
            }
            if space {
                let spelt = |t: &Placed| if let Token::Word(word) = &t.token { word.clone() } else { ".".into() };
                parser.space = parser.tokens[begun..parser.at].iter().map(spelt).collect();
            }
            if language == Language::Kotlin {
                if space {
                    // The last word of the line is part of the name.
                    if let Token::Word(word) = parser.peek().clone() {
                        parser.space += &word;
                    }
                }
                parser.at += 1;
            } else if space && parser.take("{") {
                while !parser.is_sign("}") {
                    classes.push(parser.class()?);
                }
                parser.expect("}")?;
            } else {
                parser.expect(";")?;
            }
            continue;
        }
        classes.push(parser.class()?);
    }
    Ok(classes)
}

struct Parser<'a> {
    file: &'a str,
    tokens: Vec<Placed>,
    at: usize,
    language: Language,
    space: String,
}

#[derive(Default)]
struct Marks {
    of_type: bool,
    private: bool,
    late: bool,
}

const MARKS: &[&str] = &[
    "public",
    "private",
    "protected",
    "internal",
    "static",
    "final",
    "const",
    "readonly",
    "abstract",
    "sealed",
    "override",
    "open",
    "lateinit",
    "data",
];

impl Parser<'_> {
    fn peek(&self) -> &Token {
        &self.tokens[self.at].token
    }

    fn ahead(&self, by: usize) -> &Token {
        &self.tokens[(self.at + by).min(self.tokens.len() - 1)].token
    }

    fn spot(&self) -> Spot {
        self.tokens[self.at].at
    }

    fn kotlin(&self) -> bool {
        self.language == Language::Kotlin
    }

    fn next_is_on_new_line(&self) -> bool {
        self.at + 1 >= self.tokens.len() || self.tokens[self.at + 1].at.line > self.tokens[self.at].end.line
    }

    fn on_new_line(&self) -> bool {
        self.at == 0 || self.tokens[self.at].at.line > self.tokens[self.at - 1].end.line || *self.peek() == Token::End
    }

    fn is_sign(&self, sign: &str) -> bool {
        matches!(self.peek(), Token::Sign(s) if *s == sign)
    }

    fn is_word(&self, word: &str) -> bool {
        matches!(self.peek(), Token::Word(w) if w == word)
    }

    fn take(&mut self, sign: &str) -> bool {
        let is = self.is_sign(sign);
        self.at += usize::from(is);
        is
    }

    fn take_word(&mut self, word: &str) -> bool {
        let is = self.is_word(word);
        self.at += usize::from(is);
        is
    }

    fn expect(&mut self, sign: &str) -> Parsed<()> {
        if self.take(sign) { Ok(()) } else { Err(self.unexpected(Some(sign))) }
    }

    fn expect_word(&mut self, word: &str) -> Parsed<()> {
        if self.take_word(word) { Ok(()) } else { Err(self.unexpected(Some(word))) }
    }

    fn name(&mut self) -> Parsed<String> {
        match self.peek().clone() {
            Token::Word(word) => {
                self.at += 1;
                Ok(word)
            }
            _ => Err(self.unexpected(None)),
        }
    }

    /// What the compiler says when something else should stand here.
    fn unexpected(&self, wanted: Option<&str>) -> Problem {
        let found = match self.peek() {
            Token::Word(word) => word.clone(),
            Token::Int(n) => n.to_string(),
            Token::Float(n) => n.to_string(),
            Token::Text(text) => format!("\"{text}\""),
            Token::Sign(sign) => (*sign).to_owned(),
            Token::End => "end-of-file".into(),
        };
        let before = self.tokens[self.at.saturating_sub(1)].end;
        match (self.language, wanted) {
            (Language::Java, _) if *self.peek() == Token::End => before.problem(self.file, "", "reached end of file while parsing".into()),
            (Language::Java, Some(sign)) => before.problem(self.file, "", format!("'{sign}' expected")),
            (Language::Java, None) => self.spot().problem(self.file, "", "illegal start of expression".into()),
            (Language::CSharp, Some(sign)) => self.spot().problem(self.file, "CS1525", format!("Unexpected symbol `{found}', expecting `{sign}'")),
            (Language::CSharp, None) => self.spot().problem(self.file, "CS1525", format!("Unexpected symbol `{found}'")),
            (Language::Kotlin, Some(sign)) => self.spot().problem(self.file, "", format!("Expecting '{sign}'")),
            (Language::Kotlin, None) => self.spot().problem(self.file, "", "Expecting an element".into()),
        }
    }

    fn marks(&mut self) -> Parsed<Marks> {
        let mut marks = Marks::default();
        loop {
            if self.take("@") {
                self.name()?;
                continue;
            }
            // Java and C# keep to themselves what isn't marked; what C# doesn't mark is private.
            let Token::Word(word) = self.peek() else { return Ok(marks) };
            if !MARKS.contains(&word.as_str()) {
                return Ok(marks);
            }
            marks.of_type |= matches!(word.as_str(), "static" | "const");
            marks.private |= word == "private";
            marks.late |= word == "lateinit";
            self.at += 1;
        }
    }

    fn class(&mut self) -> Parsed<Class> {
        self.marks()?;
        self.expect_word("class")?;
        let name = self.name()?;
        let mut class = Class { file: self.file.into(), space: self.space.clone(), name, fields: Vec::new(), methods: Vec::new() };
        if self.kotlin() && self.take("(") {
            self.primary_constructor(&mut class)?;
        }
        if self.kotlin() && !self.is_sign("{") {
            return Ok(class);
        }
        self.expect("{")?;
        while !self.take("}") {
            if self.kotlin() { self.kotlin_member(&mut class)? } else { self.member(&mut class)? }
        }
        Ok(class)
    }

    fn primary_constructor(&mut self, class: &mut Class) -> Parsed<()> {
        let at = self.spot();
        let (mut takes, mut body) = (Vec::new(), Vec::new());
        while !self.take(")") {
            let marks = self.marks()?;
            let kept = self.take_word("val") || self.take_word("var");
            let at = self.spot();
            let name = self.name()?;
            self.expect(":")?;
            let kind = self.a_type()?;
            if kept {
                class.fields.push(Field {
                    kind: kind.clone(),
                    at,
                    name: name.clone(),
                    of_type: false,
                    private: marks.private,
                    late: false,
                    value: None,
                });
                let this = Expr { at, node: Node::Member(Box::new(Expr { at, node: Node::This }), name.clone()) };
                let given = Expr { at, node: Node::Name(name.clone()) };
                body.push(Step { at, what: What::Do(Expr { at, node: Node::Set("=", Box::new(this), Box::new(given)) }) });
            }
            takes.push((kind, name, at));
            if !self.take(",") && !self.is_sign(")") {
                return Err(self.unexpected(Some(")")));
            }
        }
        let name = class.name.clone();
        class.methods.push(Method { gives: Type::default(), at, name, of_type: false, private: false, takes, body });
        Ok(())
    }

    fn kotlin_member(&mut self, class: &mut Class) -> Parsed<()> {
        let marks = self.marks()?;
        let at = self.spot();
        if self.take_word("fun") {
            let name = self.name()?;
            self.expect("(")?;
            let mut takes = Vec::new();
            while !self.take(")") {
                let at = self.spot();
                let name = self.name()?;
                self.expect(":")?;
                takes.push((self.a_type()?, name, at));
                if !self.take(",") && !self.is_sign(")") {
                    return Err(self.unexpected(Some(")")));
                }
            }
            let gives = if self.take(":") { self.a_type()? } else { Type::default() };
            let body = if self.take("=") {
                let at = self.spot();
                vec![Step { at, what: What::Return(Some(self.expr()?)) }]
            } else {
                self.block()?
            };
            class.methods.push(Method { gives, at, name, of_type: false, private: marks.private, takes, body });
            return Ok(());
        }
        if !self.take_word("val") && !self.take_word("var") {
            return Err(self.unexpected(None));
        }
        let at = self.spot();
        let name = self.name()?;
        let kind = if self.take(":") { self.a_type()? } else { Type::default() };
        let value = if self.take("=") { Some(self.expr()?) } else { None };
        class.fields.push(Field { kind, at, name, of_type: false, private: marks.private, late: marks.late, value });
        Ok(())
    }

    fn member(&mut self, class: &mut Class) -> Parsed<()> {
        let marked = self.at;
        let marks = self.marks()?;
        let open =
            self.tokens[marked..self.at].iter().any(|t| matches!(&t.token, Token::Word(w) if w == "public" || w == "internal" || w == "protected"));
        let private = marks.private || (self.language == Language::CSharp && !open);
        let at = self.spot();
        let constructor = matches!((self.peek(), self.ahead(1)), (Token::Word(w), Token::Sign("(")) if *w == class.name);
        let gives = if constructor { Type::default() } else { self.a_type()? };
        let name = self.name()?;
        if self.take("(") {
            let mut takes = Vec::new();
            while !self.take(")") {
                self.marks()?;
                let kind_at = self.spot();
                takes.push((self.a_type()?, self.name()?, kind_at));
                if !self.take(",") && !self.is_sign(")") {
                    return Err(self.unexpected(Some(")")));
                }
            }
            let body = self.block()?;
            class.methods.push(Method { gives, at, name, of_type: marks.of_type, private, takes, body });
            return Ok(());
        }
        let value = if self.take("=") { Some(self.expr()?) } else { None };
        self.expect(";")?;
        class.fields.push(Field { kind: gives, at, name, of_type: marks.of_type, private, late: false, value });
        Ok(())
    }

    fn a_type(&mut self) -> Parsed<Type> {
        let mut kind = Type { name: self.name()?, of: Vec::new() };
        if self.take("<") {
            while !self.take(">") {
                kind.of.push(self.a_type()?);
                if !self.take(",") && !self.is_sign(">") {
                    return Err(self.unexpected(Some(">")));
                }
            }
        }
        self.take("?");
        Ok(kind)
    }

    fn block(&mut self) -> Parsed<Vec<Step>> {
        self.expect("{")?;
        let mut steps = Vec::new();
        while !self.take("}") {
            if *self.peek() == Token::End {
                return Err(self.unexpected(Some("}")));
            }
            steps.push(self.step()?);
        }
        Ok(steps)
    }

    fn body(&mut self) -> Parsed<Vec<Step>> {
        if self.is_sign("{") { self.block() } else { Ok(vec![self.step()?]) }
    }

    fn end_of_step(&mut self) -> Parsed<()> {
        if self.kotlin() {
            if self.take(";") || self.on_new_line() || self.is_sign("}") { Ok(()) } else { Err(self.unexpected(None)) }
        } else {
            self.expect(";")
        }
    }

    fn step(&mut self) -> Parsed<Step> {
        let at = self.spot();
        let word = match self.peek() {
            Token::Word(word) => word.clone(),
            _ => String::new(),
        };
        let what = match word.as_str() {
            "" if self.is_sign("{") => What::Block(self.block()?),
            "return" => {
                self.at += 1;
                let bare = self.is_sign(";") || self.is_sign("}") || (self.kotlin() && self.on_new_line());
                let value = if bare { None } else { Some(self.expr()?) };
                self.end_of_step()?;
                What::Return(value)
            }
            "throw" => {
                self.at += 1;
                let value = self.expr()?;
                self.end_of_step()?;
                What::Throw(value)
            }
            "break" => {
                self.at += 1;
                self.end_of_step()?;
                What::Break
            }
            "if" | "while" => {
                self.at += 1;
                self.expect("(")?;
                let condition = self.expr()?;
                self.expect(")")?;
                let body = self.body()?;
                if word == "while" {
                    What::While(condition, body)
                } else {
                    let other = if self.take_word("else") { self.body()? } else { Vec::new() };
                    What::If(condition, body, other)
                }
            }
            "for" | "foreach" => self.each()?,
            "try" => {
                self.at += 1;
                let body = self.block()?;
                self.expect_word("catch")?;
                self.expect("(")?;
                let (kind, name) = if self.kotlin() {
                    let name = self.name()?;
                    self.expect(":")?;
                    (self.a_type()?, name)
                } else {
                    (self.a_type()?, self.name()?)
                };
                self.expect(")")?;
                What::Try(body, kind, name, self.block()?)
            }
            "switch" => self.switch()?,
            "when" => self.when()?,
            "val" | "var" if self.kotlin() => {
                self.at += 1;
                let named = self.spot();
                let name = self.name()?;
                let kind = if self.take(":") { self.a_type()? } else { Type::default() };
                let value = if self.take("=") { Some(self.expr()?) } else { None };
                self.end_of_step()?;
                What::Local(kind, name, named, value)
            }
            _ if !self.kotlin() && self.begins_local() => {
                self.marks()?;
                let kind = self.a_type()?;
                let named = self.spot();
                let name = self.name()?;
                let value = if self.take("=") { Some(self.expr()?) } else { None };
                self.end_of_step()?;
                What::Local(kind, name, named, value)
            }
            _ => {
                let value = self.expr()?;
                self.end_of_step()?;
                What::Do(value)
            }
        };
        Ok(Step { at, what })
    }

    /// Whether a type and a name stand here: `Type name`, `Type<…> name`.
    fn begins_local(&self) -> bool {
        let Token::Word(first) = self.peek() else { return false };
        if first == "new" || first == "this" {
            return false;
        }
        if MARKS.contains(&first.as_str()) {
            return true;
        }
        let (mut by, mut depth) = (1, 0i32);
        loop {
            match self.ahead(by) {
                Token::Sign("<") => depth += 1,
                Token::Sign(">") if depth > 0 => depth -= 1,
                Token::Sign(",") if depth > 0 => {}
                Token::Word(_) if depth > 0 => {}
                Token::Word(_) => return true,
                _ => return false,
            }
            by += 1;
        }
    }

    fn each(&mut self) -> Parsed<What> {
        self.at += 1;
        self.expect("(")?;
        let (kind, name) = if self.kotlin() {
            (Type::default(), self.name()?)
        } else {
            self.marks()?;
            (self.a_type()?, self.name()?)
        };
        if self.language == Language::Java {
            self.expect(":")?
        } else {
            self.expect_word("in")?
        }
        let list = self.expr()?;
        self.expect(")")?;
        Ok(What::Each(kind, name, list, self.body()?))
    }

    fn switch(&mut self) -> Parsed<What> {
        self.at += 1;
        self.expect("(")?;
        let value = self.expr()?;
        self.expect(")")?;
        self.expect("{")?;
        let (mut cases, mut others) = (Vec::new(), None);
        while !self.take("}") {
            let mut labels = Vec::new();
            let mut default = false;
            while self.is_word("case") || self.is_word("default") {
                if self.take_word("default") {
                    default = true;
                } else {
                    self.at += 1;
                    labels.push(self.expr()?);
                }
                self.expect(":")?;
            }
            if labels.is_empty() && !default {
                return Err(self.unexpected(Some("case")));
            }
            let mut steps = Vec::new();
            while !self.is_word("case") && !self.is_word("default") && !self.is_sign("}") {
                steps.push(self.step()?);
            }
            if default { others = Some(steps) } else { cases.push((labels, steps)) }
        }
        Ok(What::Switch(value, cases, others))
    }

    fn when(&mut self) -> Parsed<What> {
        self.at += 1;
        self.expect("(")?;
        let value = self.expr()?;
        self.expect(")")?;
        self.expect("{")?;
        let (mut cases, mut others) = (Vec::new(), None);
        while !self.take("}") {
            if self.take_word("else") {
                self.expect("->")?;
                others = Some(self.body()?);
                continue;
            }
            let mut labels = vec![self.expr()?];
            while self.take(",") {
                labels.push(self.expr()?);
            }
            self.expect("->")?;
            cases.push((labels, self.body()?));
        }
        Ok(What::Switch(value, cases, others))
    }

    fn expr(&mut self) -> Parsed<Expr> {
        let left = self.binary(0)?;
        for sign in ["=", "+=", "-="] {
            if self.is_sign(sign) {
                let at = left.at;
                self.at += 1;
                let value = self.expr()?;
                let Some(sign) = ["=", "+=", "-="].into_iter().find(|s| *s == sign) else { break };
                return Ok(Expr { at, node: Node::Set(sign, Box::new(left), Box::new(value)) });
            }
        }
        Ok(left)
    }

    fn binary(&mut self, level: usize) -> Parsed<Expr> {
        const LEVELS: &[&[&str]] = &[&["||", "?:"], &["&&"], &["==", "!="], &["<", ">", "<=", ">="], &["+", "-"], &["*", "/", "%"]];
        let Some(signs) = LEVELS.get(level) else { return self.unary() };
        let mut left = self.binary(level + 1)?;
        while let Some(sign) = signs.iter().copied().find(|s| self.is_sign(s) && !(self.kotlin() && self.on_new_line())) {
            let at = self.spot();
            self.at += 1;
            let right = self.binary(level + 1)?;
            left = Expr { at, node: Node::Binary(sign, Box::new(left), Box::new(right)) };
        }
        Ok(left)
    }

    fn unary(&mut self) -> Parsed<Expr> {
        let at = self.spot();
        for sign in ["!", "-"] {
            if self.is_sign(sign) {
                self.at += 1;
                let value = self.unary()?;
                let sign = if sign == "!" { "!" } else { "-" };
                return Ok(Expr { at, node: Node::Unary(sign, Box::new(value)) });
            }
        }
        self.postfix()
    }

    fn arguments(&mut self) -> Parsed<Vec<Expr>> {
        let mut given = Vec::new();
        while !self.take(")") {
            given.push(self.expr()?);
            if !self.take(",") && !self.is_sign(")") {
                return Err(self.unexpected(Some(")")));
            }
        }
        Ok(given)
    }

    fn postfix(&mut self) -> Parsed<Expr> {
        let mut value = self.primary()?;
        loop {
            if self.is_sign(".") || self.is_sign("?.") {
                // Compilers point at the dot of a member.
                let at = if self.language == Language::Java { self.spot() } else { value.at };
                self.at += 1;
                let named = self.spot();
                let name = self.name()?;
                let at = if self.language == Language::CSharp { named } else { at };
                value = if self.take("(") {
                    let given = self.arguments()?;
                    Expr { at, node: Node::Call(Some(Box::new(value)), name, given) }
                } else {
                    Expr { at, node: Node::Member(Box::new(value), name) }
                };
            } else if self.is_sign("[") {
                self.at += 1;
                let index = self.expr()?;
                self.expect("]")?;
                value = Expr { at: value.at, node: Node::Element(Box::new(value), Box::new(index)) };
            } else if self.take("!!") {
                value = Expr { at: value.at, node: Node::Sure(Box::new(value)) };
            } else if self.is_sign("++") || self.is_sign("--") {
                let sign = if self.is_sign("++") { "+=" } else { "-=" };
                let at = value.at;
                self.at += 1;
                value = Expr { at, node: Node::Set(sign, Box::new(value), Box::new(Expr { at, node: Node::Int(1) })) };
            } else {
                return Ok(value);
            }
        }
    }

    fn primary(&mut self) -> Parsed<Expr> {
        let at = self.spot();
        let token = self.peek().clone();
        let node = match token {
            Token::Int(n) => Node::Int(n),
            Token::Float(n) => Node::Float(n),
            Token::Text(text) => {
                self.at += 1;
                return Ok(if self.kotlin() { template(&text, at) } else { Expr { at, node: Node::Text(text) } });
            }
            Token::Sign("(") => {
                self.at += 1;
                let inner = self.expr()?;
                self.expect(")")?;
                return Ok(inner);
            }
            Token::Word(word) => match word.as_str() {
                "true" | "false" => Node::Bool(word == "true"),
                "null" => Node::Null,
                "this" => Node::This,
                "new" => {
                    self.at += 1;
                    let kind_at = self.spot();
                    let kind = self.a_type()?;
                    self.expect("(")?;
                    let given = self.arguments()?;
                    let at = if self.language == Language::CSharp { kind_at } else { at };
                    return Ok(Expr { at, node: Node::New(kind, given) });
                }
                "else" | "case" | "catch" | "return" | "class" => return Err(self.unexpected(None)),
                _ => {
                    self.at += 1;
                    if self.take("(") {
                        let given = self.arguments()?;
                        return Ok(Expr { at, node: Node::Call(None, word, given) });
                    }
                    return Ok(Expr { at, node: Node::Name(word) });
                }
            },
            _ => return Err(self.unexpected(None)),
        };
        self.at += 1;
        Ok(Expr { at, node })
    }
}

/// `"a $name b"` as the sum of its parts.
fn template(text: &str, at: Spot) -> Expr {
    let mut parts = text.split('$');
    let mut whole = Expr { at, node: Node::Text(parts.next().unwrap_or_default().into()) };
    for part in parts {
        let end = part.find(|c: char| !c.is_alphanumeric() && c != '_').unwrap_or(part.len());
        let name = Expr { at, node: Node::Name(part[..end].into()) };
        whole = Expr { at, node: Node::Binary("+", Box::new(whole), Box::new(name)) };
        if end < part.len() {
            whole = Expr { at, node: Node::Binary("+", Box::new(whole), Box::new(Expr { at, node: Node::Text(part[end..].into()) })) };
        }
    }
    whole
}
