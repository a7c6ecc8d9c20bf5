//! What the standard's values hold (`AnyValue`, `KeyValue`; opentelemetry/proto/common/v1): as plain
//! JSON, and in words.

use serde_json::{Map, Value};

/// Attributes of one record that are told.
const ATTRIBUTES: usize = 64;

/// The entries of a list; none where it is no list.
pub(super) fn all(value: &Value) -> std::slice::Iter<'_, Value> {
    value.as_array().map(Vec::as_slice).unwrap_or_default().iter()
}

/// What an attribute of this name holds.
pub(super) fn attribute(attributes: &Value, name: &str) -> Option<Value> {
    all(attributes).find(|a| a["key"] == name).and_then(|a| plain(&a["value"]))
}

/// The attributes but for those that are told by themselves.
pub(super) fn others(attributes: &Value, told: &[&str]) -> Option<Value> {
    let rest =
        all(attributes).filter(|a| a["key"].as_str().is_some_and(|key| !told.contains(&key)));
    let rest = fields(rest.take(ATTRIBUTES));
    (!rest.is_empty()).then_some(Value::Object(rest))
}

fn fields<'a>(pairs: impl Iterator<Item = &'a Value>) -> Map<String, Value> {
    pairs.filter_map(|p| Some((p["key"].as_str()?.to_owned(), plain(&p["value"])?))).collect()
}

/// Numbers of 64 bits stand as texts in this encoding.
pub(super) fn whole(value: Value) -> Option<Value> {
    value.as_u64().or_else(|| value.as_str()?.parse().ok()).map(Into::into)
}

/// What an `AnyValue` holds.
pub(super) fn plain(value: &Value) -> Option<Value> {
    let (kind, inner) = value.as_object()?.iter().next()?;
    Some(match kind.as_str() {
        "intValue" => {
            let number = inner.as_i64().or_else(|| inner.as_str()?.parse().ok());
            number.map_or_else(|| inner.clone(), Into::into)
        }
        "arrayValue" => all(&inner["values"]).map(|v| plain(v).unwrap_or(Value::Null)).collect(),
        "kvlistValue" => Value::Object(fields(all(&inner["values"]))),
        _ => inner.clone(),
    })
}

/// A value as one would write it down: `seats 4, boats [reed, mill]`.
pub(super) fn words(value: &Value) -> String {
    let list = |all: &[Value]| all.iter().map(words).collect::<Vec<_>>().join(", ");
    match value {
        Value::String(text) => text.clone(),
        Value::Array(all) => format!("[{}]", list(all)),
        Value::Object(fields) => {
            let named = |(name, value): (&String, &Value)| match value {
                Value::Object(_) => format!("{name} ({})", words(value)),
                _ => format!("{name} {}", words(value)),
            };
            fields.iter().map(named).collect::<Vec<_>>().join(", ")
        }
        other => other.to_string(),
    }
}

/// A line: one object with these fields, those without a value left out.
pub(super) fn line(fields: impl IntoIterator<Item = (String, Option<Value>)>) -> String {
    let there = fields.into_iter().filter_map(|(name, value)| Some((name, value?)));
    let line: Map<String, Value> = there.filter(|(_, value)| !value.is_null()).collect();
    format!("{}\n", Value::Object(line))
}

/// The id of a trace or span, where there is one.
pub(super) fn id(value: &Value) -> Option<String> {
    let id = value.as_str()?.to_ascii_lowercase();
    id.contains(|c| c != '0').then_some(id)
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    #[test]
    fn lists_and_maps_are_values_and_words() {
        let text = |t: &str| json!({"stringValue": t});
        let boats = json!({"arrayValue": {"values": [text("reed"), text("mill")]}});
        let pairs = json!([
            {"key": "seats", "value": {"intValue": "-4"}},
            {"key": "boats", "value": boats},
            {"key": "tide", "value": {"kvlistValue": {"values": [
                {"key": "high", "value": {"boolValue": true}}, {"key": "odd"}]}}}
        ]);
        let map = plain(&json!({"kvlistValue": {"values": pairs}})).expect("a map");
        assert_eq!(map, json!({"seats": -4, "boats": ["reed", "mill"], "tide": {"high": true}}));
        assert_eq!(words(&map), "boats [reed, mill], seats -4, tide (high true)");
        assert_eq!(others(&pairs, &["boats", "tide"]), Some(json!({"seats": -4})));
        assert_eq!(others(&json!("nonsense"), &[]), None);
        assert_eq!(plain(&json!({"arrayValue": "nonsense"})), Some(json!([])));
    }
}
