//! What the languages bring with them, as far as the demo's sources use it.

use super::Language;
use super::tree::Type;
use super::value::{Frame, Value};

/// What a text is called.
pub fn text(language: Language) -> &'static str {
    if language == Language::CSharp { "string" } else { "String" }
}

/// Whether the language or its library has a type of that name.
pub fn is_type(language: Language, name: &str) -> bool {
    let all: &[&str] = match language {
        Language::Java => &[
            "void",
            "int",
            "long",
            "double",
            "boolean",
            "String",
            "Object",
            "Integer",
            "Math",
            "System",
            "List",
            "ArrayList",
            "Map",
            "HashMap",
            "null",
        ],
        Language::CSharp => &[
            "void",
            "int",
            "long",
            "double",
            "decimal",
            "bool",
            "string",
            "object",
            "Console",
            "Math",
            "List",
            "Dictionary",
            "String",
            "Convert",
            "null",
        ],
        Language::Kotlin => &["Unit", "Int", "Double", "Boolean", "String", "Any", "List", "Map"],
    };
    all.contains(&name) || name.ends_with("Exception")
}

fn is_plain(name: &str) -> bool {
    matches!(name, "int" | "long" | "double" | "boolean" | "bool" | "decimal")
}

/// Whether a value of one type may stand where another is wanted.
pub fn converts(given: &Type, wanted: &Type) -> bool {
    if given.is_unknown() || wanted.is_unknown() || given.name == wanted.name {
        return true;
    }
    match (given.name.as_str(), wanted.name.as_str()) {
        (_, "Object" | "object") => true,
        ("null", other) => !is_plain(other),
        ("int", "long" | "double" | "decimal") | ("long", "double") => true,
        ("int", "Integer") | ("Integer", "int") | ("ArrayList", "List") | ("HashMap", "Map") => {
            true
        }
        (from, to) => from.ends_with("Exception") && to.ends_with("Exception"),
    }
}

/// The type of a member of a library type, where it matters.
pub fn member(language: Language, of: &Type, name: &str) -> Type {
    match (of.name.as_str(), name) {
        ("List" | "ArrayList", "get") => of.of.first().cloned().unwrap_or_default(),
        ("Map" | "HashMap" | "Dictionary", "get") => of.of.last().cloned().unwrap_or_default(),
        (_, "size" | "length" | "Length" | "Count") => Type::named("int"),
        (_, "toString" | "ToString" | "trim" | "Trim") => Type::named(text(language)),
        _ => Type::default(),
    }
}

/// A library type with its package, as the Java machine spells it.
pub fn qualified(name: &str) -> String {
    match name {
        "List" | "ArrayList" | "Map" | "HashMap" => format!("java.util.{name}"),
        _ => name.into(),
    }
}

/// The parameters of a library method, as the Java machine spells them.
pub fn parameters(of: &str, name: &str) -> &'static str {
    match (of, name) {
        ("Map" | "HashMap", "get" | "containsKey") | ("List" | "ArrayList", "contains" | "add") => {
            "Object"
        }
        ("List" | "ArrayList", "get") => "int",
        _ => "",
    }
}

/// The full name of an exception.
pub fn exception(name: &str) -> String {
    let package = match name {
        "NoSuchElementException" | "ConcurrentModificationException" => "java.util",
        "UninitializedPropertyAccessException" => "kotlin",
        "IOException" => "java.io",
        "NoSuchFileException" => "java.nio.file",
        _ => "java.lang",
    };
    format!("{package}.{name}")
}

/// What goes wrong inside the library: kind, message, and the library's own steps with the fault
/// first.
pub struct Trouble {
    pub kind: &'static str,
    pub message: String,
    pub inside: Vec<Frame>,
}

fn trouble(kind: &'static str, message: String, inside: &[(&str, &str, &str, usize)]) -> Trouble {
    let frame = |(class, method, file, line): &(&str, &str, &str, usize)| Frame {
        class: (*class).into(),
        method: (*method).into(),
        file: (*file).into(),
        line: *line,
    };
    Trouble { kind, message, inside: inside.iter().map(frame).collect() }
}

fn number(text: &str) -> Result<Value, Trouble> {
    text.parse().map(Value::Int).map_err(|_| {
        let inside = [
            ("java.lang.NumberFormatException", "forInputString", "NumberFormatException.java", 67),
            ("java.lang.Integer", "parseInt", "Integer.java", 668),
        ];
        trouble("NumberFormatException", format!("For input string: \"{text}\""), &inside)
    })
}

fn element(items: &[Value], at: i64) -> Result<Value, Trouble> {
    usize::try_from(at).ok().and_then(|at| items.get(at)).cloned().ok_or_else(|| {
        let inside = [
            ("jdk.internal.util.Preconditions", "outOfBounds", "Preconditions.java", 100),
            ("jdk.internal.util.Preconditions", "checkIndex", "Preconditions.java", 302),
            ("java.util.Objects", "checkIndex", "Objects.java", 385),
            ("java.util.ArrayList", "get", "ArrayList.java", 427),
        ];
        trouble(
            "IndexOutOfBoundsException",
            format!("Index {at} out of bounds for length {}", items.len()),
            &inside,
        )
    })
}

/// Calls a method or reads a member of a library value; `None` when there is no such thing.
pub fn call(of: &Value, name: &str, given: &[Value]) -> Option<Result<Value, Trouble>> {
    let empty = |inside: &str| {
        trouble(
            "NoSuchElementException",
            "List is empty.".into(),
            &[("kotlin.collections.CollectionsKt___CollectionsKt", inside, "_Collections.kt", 418)],
        )
    };
    let done = match (of, name, given) {
        (Value::Text(s), "length" | "Length", []) => Value::Int(s.chars().count() as i64),
        (Value::Text(s), "isEmpty", []) => Value::Bool(s.is_empty()),
        (Value::Text(s), "trim" | "Trim", []) => Value::text(s.trim()),
        (Value::Text(s), "toUpperCase" | "uppercase", []) => Value::text(&s.to_uppercase()),
        (Value::Text(s), "toInt", []) => return Some(number(s)),
        (Value::Text(s), "equals", [other]) => {
            Value::Bool(matches!(other, Value::Text(o) if o == s))
        }
        (Value::List(items), "size" | "Count", []) => Value::Int(items.borrow().len() as i64),
        (Value::List(items), "isEmpty", []) => Value::Bool(items.borrow().is_empty()),
        (Value::List(items), "get" | "[]", [Value::Int(at)]) => {
            return Some(element(&items.borrow(), *at));
        }
        (Value::List(items), "last" | "first", []) => {
            let items = items.borrow();
            let found = if name == "last" { items.last() } else { items.first() };
            return Some(found.cloned().ok_or_else(|| empty(name)));
        }
        (Value::List(items), "add" | "Add", [value]) => {
            items.borrow_mut().push(value.clone());
            Value::Bool(true)
        }
        (Value::List(items), "contains", [value]) => {
            Value::Bool(items.borrow().iter().any(|i| i.equals(value)))
        }
        (Value::Map(map), "get" | "[]", [Value::Text(key)]) => {
            map.borrow().get(&**key).cloned().unwrap_or(Value::Null)
        }
        (Value::Map(map), "containsKey", [Value::Text(key)]) => {
            Value::Bool(map.borrow().contains_key(&**key))
        }
        (Value::Map(map), "put", [Value::Text(key), value]) => {
            map.borrow_mut().insert(key.to_string(), value.clone()).unwrap_or(Value::Null)
        }
        (Value::Map(map), "size", []) => Value::Int(map.borrow().len() as i64),
        (any, "toString" | "ToString", []) => Value::text(&any.spoken()),
        _ => return None,
    };
    Some(Ok(done))
}

/// Calls something that belongs to a library type; `None` when there is no such thing.
pub fn call_type(of: &str, name: &str, given: &[Value]) -> Option<Result<Value, Trouble>> {
    match (of, name, given) {
        ("Integer", "parseInt", [Value::Text(text)]) => Some(number(text)),
        ("Math", "max", [Value::Int(a), Value::Int(b)]) => Some(Ok(Value::Int(*a.max(b)))),
        ("Math", "min", [Value::Int(a), Value::Int(b)]) => Some(Ok(Value::Int(*a.min(b)))),
        _ => None,
    }
}
