//! Expressions.

use super::super::token::Token;
use super::super::tree::{Expr, Node};
use super::super::{Language, Spot};
use super::{Parsed, Parser};

impl Parser<'_> {
    pub(super) fn expr(&mut self) -> Parsed<Expr> {
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
        const LEVELS: &[&[&str]] = &[
            &["||", "?:"],
            &["&&"],
            &["==", "!="],
            &["<", ">", "<=", ">="],
            &["+", "-"],
            &["*", "/", "%"],
        ];
        let Some(signs) = LEVELS.get(level) else { return self.unary() };
        let mut left = self.binary(level + 1)?;
        while let Some(sign) = signs
            .iter()
            .copied()
            .find(|s| self.is_sign(s) && !(self.kotlin() && self.on_new_line()))
        {
            let at = self.spot();
            self.at += 1;
            let right = self.binary(level + 1)?;
            left = Expr { at, node: Node::Binary(sign, Box::new(left), Box::new(right)) };
        }
        Ok(left)
    }

    fn unary(&mut self) -> Parsed<Expr> {
        self.nested(Self::unary_alone)
    }

    fn unary_alone(&mut self) -> Parsed<Expr> {
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
                value =
                    Expr { at: value.at, node: Node::Element(Box::new(value), Box::new(index)) };
            } else if self.take("!!") {
                value = Expr { at: value.at, node: Node::Sure(Box::new(value)) };
            } else if self.is_sign("++") || self.is_sign("--") {
                let sign = if self.is_sign("++") { "+=" } else { "-=" };
                let at = value.at;
                self.at += 1;
                value = Expr {
                    at,
                    node: Node::Set(
                        sign,
                        Box::new(value),
                        Box::new(Expr { at, node: Node::Int(1) }),
                    ),
                };
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
                return Ok(if self.kotlin() {
                    template(&text, at)
                } else {
                    Expr { at, node: Node::Text(text) }
                });
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
            whole = Expr {
                at,
                node: Node::Binary(
                    "+",
                    Box::new(whole),
                    Box::new(Expr { at, node: Node::Text(part[end..].into()) }),
                ),
            };
        }
    }
    whole
}
