//! From tokens to a tree, for three spellings of the same things.

mod exprs;
mod steps;

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
    let mut parser = Parser { file, tokens, at: 0, language, space: String::new(), depth: 0 };
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
                let spelt = |t: &Placed| {
                    if let Token::Word(word) = &t.token { word.clone() } else { ".".into() }
                };
                parser.space = parser
                    .tokens
                    .get(begun..parser.at)
                    .unwrap_or_default()
                    .iter()
                    .map(spelt)
                    .collect();
            }
            if language == Language::Kotlin {
                if space {
                    // The last word of the line is part of the name.
                    if let Token::Word(word) = parser.peek().clone() {
                        parser.space += &word;
                    }
                }
                parser.at = (parser.at + 1).min(parser.tokens.len() - 1);
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
    depth: usize,
}

/// How deep statements and expressions may lie in one another; a compiler's own stack is not
/// endless either.
pub(super) const DEPTH: usize = 40;

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
        self.at + 1 >= self.tokens.len()
            || self.tokens[self.at + 1].at.line > self.tokens[self.at].end.line
    }

    fn on_new_line(&self) -> bool {
        self.at == 0
            || self.tokens[self.at].at.line > self.tokens[self.at - 1].end.line
            || *self.peek() == Token::End
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

    /// Reads something that may hold others of its kind.
    fn nested<T>(&mut self, read: impl FnOnce(&mut Self) -> Parsed<T>) -> Parsed<T> {
        if self.depth >= DEPTH {
            return Err(self.unexpected(None));
        }
        self.depth += 1;
        let done = read(self);
        self.depth -= 1;
        done
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
            (Language::Java, _) if *self.peek() == Token::End => {
                before.problem(self.file, "", "reached end of file while parsing".into())
            }
            (Language::Java, Some(sign)) => {
                before.problem(self.file, "", format!("'{sign}' expected"))
            }
            (Language::Java, None) => {
                self.spot().problem(self.file, "", "illegal start of expression".into())
            }
            (Language::CSharp, Some(sign)) => self.spot().problem(
                self.file,
                "CS1525",
                format!("Unexpected symbol `{found}', expecting `{sign}'"),
            ),
            (Language::CSharp, None) => {
                self.spot().problem(self.file, "CS1525", format!("Unexpected symbol `{found}'"))
            }
            (Language::Kotlin, Some(sign)) => {
                self.spot().problem(self.file, "", format!("Expecting '{sign}'"))
            }
            (Language::Kotlin, None) => {
                self.spot().problem(self.file, "", "Expecting an element".into())
            }
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
        let mut class = Class {
            file: self.file.into(),
            space: self.space.clone(),
            name,
            fields: Vec::new(),
            methods: Vec::new(),
        };
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
                let this = Expr {
                    at,
                    node: Node::Member(Box::new(Expr { at, node: Node::This }), name.clone()),
                };
                let given = Expr { at, node: Node::Name(name.clone()) };
                body.push(Step {
                    at,
                    what: What::Do(Expr {
                        at,
                        node: Node::Set("=", Box::new(this), Box::new(given)),
                    }),
                });
            }
            takes.push((kind, name, at));
            if !self.take(",") && !self.is_sign(")") {
                return Err(self.unexpected(Some(")")));
            }
        }
        let name = class.name.clone();
        class.methods.push(Method {
            gives: Type::default(),
            at,
            name,
            of_type: false,
            private: false,
            takes,
            body,
        });
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
            class.methods.push(Method {
                gives,
                at,
                name,
                of_type: false,
                private: marks.private,
                takes,
                body,
            });
            return Ok(());
        }
        if !self.take_word("val") && !self.take_word("var") {
            return Err(self.unexpected(None));
        }
        let at = self.spot();
        let name = self.name()?;
        let kind = if self.take(":") { self.a_type()? } else { Type::default() };
        let value = if self.take("=") { Some(self.expr()?) } else { None };
        class.fields.push(Field {
            kind,
            at,
            name,
            of_type: false,
            private: marks.private,
            late: marks.late,
            value,
        });
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
            class.methods.push(Method {
                gives,
                at,
                name,
                of_type: marks.of_type,
                private,
                takes,
                body,
            });
            return Ok(());
        }
        let value = if self.take("=") { Some(self.expr()?) } else { None };
        self.expect(";")?;
        class.fields.push(Field {
            kind: gives,
            at,
            name,
            of_type: marks.of_type,
            private,
            late: false,
            value,
        });
        Ok(())
    }

    fn a_type(&mut self) -> Parsed<Type> {
        self.nested(Self::a_type_alone)
    }

    fn a_type_alone(&mut self) -> Parsed<Type> {
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
}
