//! What the standard's attributes say of an error: where it happened, and what was thrown
//! (semantic conventions `code.*` and `exception.*`).

use super::value::{attribute, whole};
use serde_json::{Value, json};

/// Attributes that are told by themselves.
pub(super) const TOLD: [&str; 9] = [
    "code.file.path",
    "code.filepath",
    "code.line.number",
    "code.lineno",
    "code.function.name",
    "code.function",
    "exception.type",
    "exception.message",
    "exception.stacktrace",
];

/// Where attributes say that something happened, and what was thrown there.
pub(super) fn thrown_at(attributes: &Value) -> [Option<Value>; 2] {
    let of = |name: &str| attribute(attributes, name);
    let file = of("code.file.path").or_else(|| of("code.filepath"));
    let place = file.map(|file| {
        let line = of("code.line.number").or_else(|| of("code.lineno")).and_then(whole);
        let function = of("code.function.name").or_else(|| of("code.function"));
        json!({"file": file, "line": line, "function": function})
    });
    let (kind, stack) = (of("exception.type"), of("exception.stacktrace"));
    let exception = (kind.is_some() || stack.is_some())
        .then(|| json!({"type": kind, "message": of("exception.message"), "stack": stack}));
    [place, exception]
}

/// The fields of a line with those of its place among them.
pub(super) fn with_place(
    fields: impl IntoIterator<Item = (&'static str, Option<Value>)>,
    place: Option<Value>,
) -> Vec<(String, Option<Value>)> {
    let mut fields: Vec<(String, Option<Value>)> =
        fields.into_iter().map(|(name, value)| (name.to_owned(), value)).collect();
    if let Some(Value::Object(place)) = place {
        fields.extend(place.into_iter().map(|(name, value)| (name, Some(value))));
    }
    fields
}
