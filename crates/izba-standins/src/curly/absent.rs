//! How the Java machine words that something is not there: what was wanted, and which part of the
//! line was empty.

use super::library;
use super::run::Machine;
use super::tree::{Expr, Node};
use super::value::Raised;
use std::rc::Rc;

impl Machine {
    /// What the Java machine says when there is nothing to call `name` on.
    pub(super) fn nothing_there(&self, name: &str, of: &Expr) -> Rc<Raised> {
        if self.kotlin {
            return self.raise("NullPointerException", String::new());
        }
        let kind = self.type_of(of);
        let takes = match self.classes.get(&kind).and_then(|c| c.method(name)) {
            Some(method) => method
                .takes
                .iter()
                .map(|(t, ..)| self.qualified(&t.name))
                .collect::<Vec<_>>()
                .join(", "),
            None => library::parameters(&kind, name).into(),
        };
        let what = if self.classes.get(&kind).is_some_and(|c| c.field(name).is_some()) {
            format!("read field \"{name}\"")
        } else {
            format!("invoke \"{}.{name}({takes})\"", self.qualified(&kind))
        };
        self.raise(
            "NullPointerException",
            format!("Cannot {what}{}", self.described(of).unwrap_or_default()),
        )
    }

    /// A type with its package, as the Java machine spells it.
    fn qualified(&self, name: &str) -> String {
        self.classes.get(name).map_or_else(|| library::qualified(name), |c| c.full())
    }

    /// ` because … is null`.
    pub(super) fn described(&self, of: &Expr) -> Option<String> {
        let what = match &of.node {
            Node::Name(name) if self.local(name).is_some() => format!("\"{name}\""),
            Node::Name(name) => format!("\"this.{name}\""),
            Node::Member(inner, name) => match &inner.node {
                Node::This => format!("\"this.{name}\""),
                Node::Name(of) if self.local(of).is_some() => format!("\"{of}.{name}\""),
                Node::Name(of) => format!("\"this.{of}.{name}\""),
                _ => return None,
            },
            Node::Call(of, name, _) => {
                let kind = of.as_ref().map_or_else(
                    || self.this().map_or_else(String::new, |t| t.class.name.clone()),
                    |of| self.type_of(of),
                );
                let takes = match self.classes.get(&kind).and_then(|c| c.method(name)) {
                    Some(method) => method
                        .takes
                        .iter()
                        .map(|(t, ..)| self.qualified(&t.name))
                        .collect::<Vec<_>>()
                        .join(", "),
                    None => library::parameters(&kind, name).into(),
                };
                format!("the return value of \"{}.{name}({takes})\"", self.qualified(&kind))
            }
            _ => return None,
        };
        Some(format!(" because {what} is null"))
    }

    /// The declared type of an expression.
    fn type_of(&self, of: &Expr) -> String {
        match &of.node {
            Node::Name(name) => match self.local(name) {
                Some((kind, _)) => kind.name.clone(),
                None => self
                    .this()
                    .and_then(|t| t.class.field(name).map(|f| f.kind.name.clone()))
                    .unwrap_or_default(),
            },
            Node::This => self.this().map_or_else(String::new, |t| t.class.name.clone()),
            Node::Member(inner, name) => {
                let kind = self.type_of(inner);
                self.classes
                    .get(&kind)
                    .and_then(|c| c.field(name))
                    .map_or_else(String::new, |f| f.kind.name.clone())
            }
            Node::Call(of, name, _) => {
                let kind = of.as_ref().map_or_else(
                    || self.this().map_or_else(String::new, |t| t.class.name.clone()),
                    |of| self.type_of(of),
                );
                self.classes
                    .get(&kind)
                    .and_then(|c| c.method(name))
                    .map_or_else(|| "Object".into(), |m| m.gives.name.clone())
            }
            _ => String::new(),
        }
    }
}
