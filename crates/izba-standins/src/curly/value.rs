//! Values of a running program, and exceptions with the steps that led to them.

use super::tree::Class;
use std::cell::RefCell;
use std::collections::BTreeMap;
use std::rc::Rc;

/// A value of a running program.
#[derive(Debug, Clone)]
pub enum Value {
    /// Nothing.
    Null,
    /// A whole number.
    Int(i64),
    /// A number with a point.
    Float(f64),
    /// Yes or no.
    Bool(bool),
    /// A text.
    Text(Rc<str>),
    /// A list.
    List(Rc<RefCell<Vec<Value>>>),
    /// A map from texts.
    Map(Rc<RefCell<BTreeMap<String, Value>>>),
    /// An object.
    Object(Rc<Instance>),
    /// An exception.
    Raised(Rc<Raised>),
}

/// An object of a class.
#[derive(Debug)]
pub struct Instance {
    pub(super) class: Rc<Class>,
    pub(super) fields: RefCell<BTreeMap<String, Value>>,
}

/// One step that led to an exception.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Frame {
    /// The class.
    pub class: String,
    /// The method; `<init>` for a constructor.
    pub method: String,
    /// The name of the file, without folders.
    pub file: String,
    /// Line, from 1.
    pub line: usize,
}

/// An exception on its way out, with the steps that it passed.
#[derive(Debug, Clone)]
pub struct Raised {
    /// Its full name.
    pub kind: String,
    /// Its message.
    pub message: Option<String>,
    /// The steps that led to it, the fault first.
    pub frames: Vec<Frame>,
    /// What led to it.
    pub cause: Option<Rc<Raised>>,
}

impl Value {
    /// A value that is this text.
    pub fn text(text: &str) -> Value {
        Value::Text(text.into())
    }

    /// A value as JSON tells it; a text stays a text.
    pub fn from_json(json: &serde_json::Value) -> Value {
        use serde_json::Value as Json;
        match json {
            Json::Null => Value::Null,
            Json::Bool(b) => Value::Bool(*b),
            Json::Number(n) => {
                n.as_i64().map_or_else(|| Value::Float(n.as_f64().unwrap_or(0.0)), Value::Int)
            }
            Json::String(s) => Value::text(s),
            Json::Array(items) => {
                Value::List(Rc::new(RefCell::new(items.iter().map(Value::from_json).collect())))
            }
            Json::Object(map) => Value::Map(Rc::new(RefCell::new(
                map.iter().map(|(k, v)| (k.clone(), Value::from_json(v))).collect(),
            ))),
        }
    }

    /// The value as the language prints it.
    pub fn spoken(&self) -> String {
        match self {
            Value::Null => "null".into(),
            Value::Int(n) => n.to_string(),
            Value::Float(n) => n.to_string(),
            Value::Bool(b) => b.to_string(),
            Value::Text(s) => s.to_string(),
            Value::List(items) => format!(
                "[{}]",
                items.borrow().iter().map(Value::spoken).collect::<Vec<_>>().join(", ")
            ),
            Value::Map(map) => format!(
                "{{{}}}",
                map.borrow()
                    .iter()
                    .map(|(k, v)| format!("{k}={}", v.spoken()))
                    .collect::<Vec<_>>()
                    .join(", ")
            ),
            Value::Object(object) => object.class.name.clone(),
            Value::Raised(raised) => raised.sentence(),
        }
    }

    /// Whether two values are the same.
    pub fn equals(&self, other: &Value) -> bool {
        match (self, other) {
            (Value::Object(a), Value::Object(b)) => Rc::ptr_eq(a, b),
            (Value::Null, Value::Null) => true,
            (Value::Null, _) | (_, Value::Null) => false,
            _ => self.spoken() == other.spoken(),
        }
    }
}

impl Raised {
    /// Its name and message, as a trace begins.
    pub fn sentence(&self) -> String {
        self.message.as_ref().map_or_else(|| self.kind.clone(), |m| format!("{}: {m}", self.kind))
    }
}
