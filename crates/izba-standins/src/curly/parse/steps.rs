//! Statements.

use super::super::Language;
use super::super::token::Token;
use super::super::tree::{Expr, Step, Type, What};
use super::{MARKS, Parsed, Parser};

impl Parser<'_> {
    pub(super) fn block(&mut self) -> Parsed<Vec<Step>> {
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
            if self.take(";") || self.on_new_line() || self.is_sign("}") {
                Ok(())
            } else {
                Err(self.unexpected(None))
            }
        } else {
            self.expect(";")
        }
    }

    fn step(&mut self) -> Parsed<Step> {
        self.nested(Self::step_alone)
    }

    fn step_alone(&mut self) -> Parsed<Step> {
        let at = self.spot();
        let word = match self.peek() {
            Token::Word(word) => word.clone(),
            _ => String::new(),
        };
        let what = match word.as_str() {
            "" if self.is_sign("{") => What::Block(self.block()?),
            "return" => {
                self.at += 1;
                let bare =
                    self.is_sign(";") || self.is_sign("}") || (self.kotlin() && self.on_new_line());
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

    /// What a choice is made by, up to the brace of its cases.
    fn subject(&mut self) -> Parsed<Expr> {
        self.at += 1;
        self.expect("(")?;
        let value = self.expr()?;
        self.expect(")")?;
        self.expect("{")?;
        Ok(value)
    }

    fn switch(&mut self) -> Parsed<What> {
        let value = self.subject()?;
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
        let value = self.subject()?;
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
}
