//! Traces (opentelemetry/proto/trace/v1): a line for each span that failed by itself, with the spans
//! that it was reached by. What failed only because a span within it did is no mistake of its own.

use super::signal::Signal;
use super::thrown::{TOLD, thrown_at, with_place};
use super::value::{all, attribute, id, line, others};
use super::wire::{self, Kind, Schema};
use serde_json::Value;
use std::collections::{HashMap, HashSet};

pub(super) static SIGNAL: Signal = Signal {
    path: "/v1/traces",
    request: "ExportTraceServiceRequest",
    schema: &[(1, "resourceSpans", Kind::Many(RESOURCE))],
    lines,
};

const RESOURCE: &Schema =
    &[(1, "resource", Kind::One(wire::RESOURCE)), (2, "scopeSpans", Kind::Many(SCOPE))];
const SCOPE: &Schema = &[(1, "scope", Kind::One(wire::SCOPE)), (2, "spans", Kind::Many(SPAN))];
const SPAN: &Schema = &[
    (1, "traceId", Kind::Hex),
    (2, "spanId", Kind::Hex),
    (4, "parentSpanId", Kind::Hex),
    (5, "name", Kind::Text),
    (8, "endTimeUnixNano", Kind::Long),
    (9, "attributes", Kind::Attributes),
    (11, "events", Kind::Many(EVENT)),
    (15, "status", Kind::One(STATUS)),
];
const EVENT: &Schema = &[(2, "name", Kind::Text), (3, "attributes", Kind::Attributes)];
const STATUS: &Schema = &[(2, "message", Kind::Text), (3, "code", Kind::Number)];

/// Spans above one that are told.
const ABOVE: usize = 16;

/// A span of a request, with who measured it.
struct Span<'a> {
    span: &'a Value,
    app: Option<Value>,
    logger: Option<&'a str>,
}

fn lines(told: &Value) -> String {
    let mut spans: Vec<Span<'_>> = Vec::new();
    for resource in all(&told["resourceSpans"]) {
        let app = attribute(&resource["resource"]["attributes"], "service.name");
        for scope in all(&resource["scopeSpans"]) {
            let logger = scope["scope"]["name"].as_str();
            let of = |span| Span { span, app: app.clone(), logger };
            spans.extend(all(&scope["spans"]).map(of));
        }
    }
    let by_id: HashMap<&str, &Value> =
        spans.iter().filter_map(|s| Some((s.span["spanId"].as_str()?, s.span))).collect();
    // Whoever a failed span was called by fails with it.
    let failed = || spans.iter().filter(|s| has_failed(s.span));
    let passed_on: HashSet<&str> =
        failed().filter_map(|s| s.span["parentSpanId"].as_str()).collect();
    let by_itself =
        failed().filter(|s| s.span["spanId"].as_str().is_none_or(|id| !passed_on.contains(id)));
    by_itself.map(|span| line_of(span, &by_id)).collect()
}

fn has_failed(span: &Value) -> bool {
    let code = &span["status"]["code"];
    code.as_u64() == Some(2) || code == "STATUS_CODE_ERROR"
}

fn line_of(of: &Span<'_>, by_id: &HashMap<&str, &Value>) -> String {
    let span = of.span;
    let name = span["name"].as_str().unwrap_or("a span");
    let events = || all(&span["events"]).rev();
    let raised = events().find(|e| e["name"] == "exception").map(|e| &e["attributes"]);
    let [_, exception] = raised.map(thrown_at).unwrap_or_default();
    let [place, _] = thrown_at(&span["attributes"]);
    let said = raised.and_then(|r| attribute(r, "exception.message"));
    let said = said.filter(|s| s.as_str().is_some_and(|s| !s.is_empty()));
    let status = span["status"]["message"].as_str().filter(|s| !s.is_empty());
    let message =
        said.or(status.map(Value::from)).unwrap_or_else(|| format!("{name} failed").into());
    let fields = [
        ("time", span.get("endTimeUnixNano").cloned()),
        ("level", Some("error".into())),
        ("app", of.app.clone()),
        ("logger", of.logger.map(Value::from)),
        ("message", Some(message)),
        ("spans", Some(path(span, by_id))),
        ("exception", exception),
        ("trace", id(&span["traceId"]).map(Value::from)),
        ("attributes", others(&span["attributes"], &TOLD)),
    ];
    line(with_place(fields, place))
}

/// The names of the spans that a span was reached by, the outermost first, and its own.
fn path(span: &Value, by_id: &HashMap<&str, &Value>) -> Value {
    let up = |span: &&Value| by_id.get(span["parentSpanId"].as_str()?).copied();
    let mut names: Vec<Value> = std::iter::successors(Some(span), up)
        .take(ABOVE)
        .filter_map(|span| span.get("name").cloned())
        .collect();
    names.reverse();
    names.into()
}

#[cfg(test)]
mod tests {
    use super::lines;
    use serde_json::{Value, json};

    fn span(id: &str, parent: &str, name: &str, code: u32) -> Value {
        json!({"traceId": "4BF92F3577B34DA6A3CE929D0E0E4736", "spanId": id, "parentSpanId": parent,
            "name": name, "status": {"code": code}})
    }

    fn told(spans: Vec<Value>) -> Vec<Value> {
        let told = json!({"resourceSpans": [{"scopeSpans": [{"spans": spans}]}]});
        lines(&told).lines().map(|l| serde_json::from_str(l).expect("JSON")).collect()
    }

    #[test]
    fn the_span_that_failed_is_told_with_its_path_and_those_above_it_are_not() {
        let text = |key: &str, t: &str| json!({"key": key, "value": {"stringValue": t}});
        let mut inner = span("c", "b", "load fares", 2);
        inner["events"] = json!([{"name": "exception", "attributes": [
            text("exception.type", "FareError"), text("exception.message", "no fare for a dog")]}]);
        let all = vec![
            inner,
            span("b", "a", "sell", 2),
            span("a", "", "GET /tickets", 2),
            span("d", "a", "look", 0),
        ];
        assert_eq!(
            told(all),
            [json!({"level": "error", "message": "no fare for a dog",
                "exception": {"type": "FareError", "message": "no fare for a dog", "stack": null},
                "spans": ["GET /tickets", "sell", "load fares"],
                "trace": "4bf92f3577b34da6a3ce929d0e0e4736"})]
        );
    }

    #[test]
    fn without_words_its_name_is_told_and_a_ring_comes_to_an_end() {
        let mut ring = span("a", "b", "sell", 2);
        ring["status"] = json!({"code": "STATUS_CODE_ERROR"});
        let told = told(vec![ring, span("b", "a", "wait", 1)]);
        assert_eq!(told[0]["message"], "sell failed");
        assert_eq!(told[0]["spans"].as_array().map(Vec::len), Some(super::ABOVE));
        assert_eq!(lines(&json!({"resourceSpans": [{"scopeSpans": 3}]})), "");
    }
}
