//! Logs (opentelemetry/proto/logs/v1): a line for each record, with its level, sentence, logger,
//! place, exception and attributes.

use super::signal::Signal;
use super::thrown::{TOLD, thrown_at, with_place};
use super::value::{all, attribute, id, line, others, plain, words};
use super::wire::{self, Kind, Schema};
use serde_json::{Value, json};

/// The scope under which other Izbas tell of their mistakes.
const IZBA: &str = "izba";

pub(super) static SIGNAL: Signal = Signal {
    path: "/v1/logs",
    request: "ExportLogsServiceRequest",
    schema: &[(1, "resourceLogs", Kind::Many(RESOURCE))],
    lines,
};

const RESOURCE: &Schema =
    &[(1, "resource", Kind::One(wire::RESOURCE)), (2, "scopeLogs", Kind::Many(SCOPE))];
const SCOPE: &Schema =
    &[(1, "scope", Kind::One(wire::SCOPE)), (2, "logRecords", Kind::Many(RECORD))];
const RECORD: &Schema = &[
    (1, "timeUnixNano", Kind::Long),
    (2, "severityNumber", Kind::Number),
    (3, "severityText", Kind::Text),
    (5, "body", Kind::Any),
    (6, "attributes", Kind::Attributes),
    (9, "traceId", Kind::Hex),
    (11, "observedTimeUnixNano", Kind::Long),
];

fn lines(told: &Value) -> String {
    let mut lines = String::new();
    for resource in all(&told["resourceLogs"]) {
        let said_by = &resource["resource"]["attributes"];
        let service = attribute(said_by, "service.name");
        for scope in all(&resource["scopeLogs"]) {
            let logger = scope["scope"]["name"].as_str();
            // Of an Izba it matters who of several it is.
            let sender = (logger == Some(IZBA)).then(|| {
                let of = |name: &str| attribute(said_by, name);
                json!({"id": of("service.instance.id"), "name": of("user.name")})
            });
            for record in all(&scope["logRecords"]) {
                let (service, logger) = (service.clone(), logger.map(Value::from));
                lines += &line_of(record, service, logger, sender.clone());
            }
        }
    }
    lines
}

fn line_of(
    record: &Value,
    service: Option<Value>,
    logger: Option<Value>,
    sender: Option<Value>,
) -> String {
    let time = record.get("timeUnixNano").filter(|t| !matches!(t.as_str(), Some("0")));
    let body = plain(&record["body"]);
    let message = body.as_ref().map(|body| said(body).unwrap_or_else(|| words(body)).into());
    let [place, exception] = thrown_at(&record["attributes"]);
    let fields = [
        ("time", time.or(record.get("observedTimeUnixNano")).cloned()),
        ("level", Some(level(record))),
        ("app", service),
        ("logger", logger),
        ("sender", sender),
        ("message", message),
        ("fields", body.filter(Value::is_object)),
        ("exception", exception),
        ("trace", id(&record["traceId"]).map(Value::from)),
        ("attributes", others(&record["attributes"], &TOLD)),
    ];
    line(with_place(fields, place))
}

/// The sentence of a body of several fields, where one of them is called so.
fn said(body: &Value) -> Option<String> {
    let named = ["message", "msg", "event", "text", "error"];
    named.iter().find_map(|name| body.get(name)?.as_str()).map(str::to_owned)
}

/// The level by its number (1 to 24, in steps of four), else by its word.
fn level(record: &Value) -> Value {
    let number = record["severityNumber"]
        .as_u64()
        .or_else(|| record["severityNumber"].as_str().and_then(|s| s.parse().ok()));
    match number {
        Some(1..=8) => "debug".into(),
        Some(9..=12) => "info".into(),
        Some(13..=16) => "warning".into(),
        Some(17..=20) => "error".into(),
        Some(21..) => "fatal".into(),
        _ => record["severityText"].as_str().unwrap_or("info").into(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn records_become_lines_with_what_matters() {
        let text = |t: &str| json!({"stringValue": t});
        let told = json!({"resourceLogs": [{"resource": {"attributes": [{"key": "service.name", "value": text("ferry")}]}, "scopeLogs": [{"scope": {"name": "deck"}, "logRecords": [
            {"severityNumber": 17, "body": text("no seat"), "attributes": [
                {"key": "exception.type", "value": text("SeatError")}, {"key": "code.lineno", "value": {"intValue": "12"}}, {"key": "code.filepath", "value": text("a.py")}, {"key": "row", "value": {"intValue": "3"}}]},
            {"severityText": "INFO", "body": {"kvlistValue": {"values": [{"key": "seats", "value": {"intValue": "4"}}]}}},
            {"severityNumber": 17, "body": {"kvlistValue": {"values": [{"key": "seats", "value": {"intValue": "4"}}, {"key": "event", "value": text("full")}]}}},
        ]}]}]});
        assert_eq!(
            lines(&told),
            concat!(
                r#"{"app":"ferry","attributes":{"row":3},"exception":{"message":null,"stack":null,"type":"SeatError"},"file":"a.py","level":"error","line":12,"logger":"deck","message":"no seat"}"#,
                "\n",
                r#"{"app":"ferry","fields":{"seats":4},"level":"INFO","logger":"deck","message":"seats 4"}"#,
                "\n",
                r#"{"app":"ferry","fields":{"event":"full","seats":4},"level":"error","logger":"deck","message":"full"}"#,
                "\n"
            )
        );
        assert_eq!(lines(&json!({"resourceLogs": "nonsense"})), "");
    }
}
