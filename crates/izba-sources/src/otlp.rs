//! A listener for OpenTelemetry logs over HTTP (OTLP, as protobuf or JSON): each log record becomes
//! one line, a JSON object with the record's level, sentence, logger, place and exception.

use crate::http::{Admission, Answer, Listener, Taken, json_of, serve};
use crate::otlp_wire::{self, Unread};
use crate::spool::SpoolWriter;
use crate::{Bell, SourceError};
use hyper::body::Bytes;
use hyper::{HeaderMap, StatusCode};
use serde_json::{Map, Value, json};
use std::net::SocketAddr;
use std::sync::atomic::AtomicBool;
use std::sync::{Arc, Mutex};

const JSON: &str = "application/json";
const PROTOBUF: &str = "application/x-protobuf";

/// Takes logs at `address`, path `/v1/logs`, from `who`, until `stop` is set.
///
/// # Errors
///
/// [`SourceError::System`] when the address cannot be used.
pub fn take_logs(
    address: SocketAddr,
    spool: Arc<Mutex<SpoolWriter>>,
    bell: Bell,
    stop: Arc<AtomicBool>,
    who: Admission,
) -> Result<SocketAddr, SourceError> {
    serve(address, Listener { path: "/v1/logs", who, take }, spool, bell, stop)
}

fn take(headers: &HeaderMap, body: &Bytes) -> Taken {
    let header = |name: &str| headers.get(name).and_then(|v| v.to_str().ok()).unwrap_or("");
    if !header("content-encoding").is_empty() {
        return Err(refuse(
            StatusCode::UNSUPPORTED_MEDIA_TYPE,
            "send logs without compression: OTEL_EXPORTER_OTLP_COMPRESSION=none",
        ));
    }
    let kind = header("content-type");
    if kind.starts_with(JSON) {
        let told = json_of(body)?;
        let answer = Answer::of(StatusCode::OK, JSON, "{\"partialSuccess\":{}}");
        return Ok((lines(&told), answer));
    }
    if kind.starts_with(PROTOBUF) {
        let told = otlp_wire::request(body).map_err(|why| match why {
            Unread::Wrong => {
                let why = "the body is no ExportLogsServiceRequest in protobuf";
                refuse(StatusCode::BAD_REQUEST, why)
            }
            Unread::TooMuch => {
                Answer::too_large("a body has too many records; send fewer at a time".into())
            }
        })?;
        // An answer without anything refused is an empty message.
        let answer = Answer::of(StatusCode::OK, PROTOBUF, "");
        return Ok((lines(&told), answer));
    }
    Err(refuse(
        StatusCode::UNSUPPORTED_MEDIA_TYPE,
        "send logs as protobuf or JSON: OTEL_EXPORTER_OTLP_PROTOCOL=http/protobuf",
    ))
}

/// The lines of an export request (`ExportLogsServiceRequest`), in protobuf or as JSON; `None` when
/// it is neither, or holds too much.
pub fn lines_of_export(body: &[u8]) -> Option<String> {
    let told = json_of(body).ok().or_else(|| otlp_wire::request(body).ok())?;
    Some(lines(&told))
}

fn refuse(status: StatusCode, why: &str) -> Answer {
    Answer::of(status, JSON, json!({"code": 3, "message": why}).to_string())
}

/// One line for each record of an export request.
fn lines(told: &Value) -> String {
    let mut lines = String::new();
    for resource in all(&told["resourceLogs"]) {
        let service = attribute(&resource["resource"]["attributes"], "service.name");
        for scope in all(&resource["scopeLogs"]) {
            for record in all(&scope["logRecords"]) {
                let mut line = Map::new();
                let mut put = |name: &str, value: Option<Value>| {
                    drop(value.filter(|v| !v.is_null()).map(|v| line.insert(name.to_owned(), v)))
                };
                put(
                    "time",
                    record.get("timeUnixNano").or(record.get("observedTimeUnixNano")).cloned(),
                );
                put("level", Some(level(record)));
                put("app", service.clone());
                put("logger", scope["scope"]["name"].as_str().map(Into::into));
                put("message", plain(&record["body"]));
                let of = |name: &str| attribute(&record["attributes"], name);
                put("file", of("code.file.path").or_else(|| of("code.filepath")));
                put("line", of("code.line.number").or_else(|| of("code.lineno")).and_then(whole));
                put("function", of("code.function.name").or_else(|| of("code.function")));
                let (kind, stack) = (of("exception.type"), of("exception.stacktrace"));
                if kind.is_some() || stack.is_some() {
                    put(
                        "exception",
                        Some(
                            json!({"type": kind, "message": of("exception.message"), "stack": stack}),
                        ),
                    );
                }
                put("trace", record["traceId"].as_str().filter(|t| !t.is_empty()).map(Into::into));
                lines += &format!("{}\n", Value::Object(line));
            }
        }
    }
    lines
}

fn all(value: &Value) -> std::slice::Iter<'_, Value> {
    value.as_array().map(Vec::as_slice).unwrap_or_default().iter()
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

fn attribute(attributes: &Value, name: &str) -> Option<Value> {
    attributes.as_array()?.iter().find(|a| a["key"] == name).and_then(|a| plain(&a["value"]))
}

/// Numbers of 64 bits stand as texts in this encoding.
fn whole(value: Value) -> Option<Value> {
    value.as_u64().or_else(|| value.as_str()?.parse().ok()).map(Into::into)
}

/// What an `AnyValue` holds.
fn plain(value: &Value) -> Option<Value> {
    let (kind, inner) = value.as_object()?.iter().next()?;
    Some(match kind.as_str() {
        "stringValue" | "boolValue" | "doubleValue" => inner.clone(),
        "intValue" => whole(inner.clone()).unwrap_or_else(|| inner.clone()),
        _ => Value::String(inner.to_string()),
    })
}

#[cfg(test)]
mod tests {
    use super::lines;
    use serde_json::json;

    #[test]
    fn records_become_lines_with_what_matters() {
        let text = |t: &str| json!({"stringValue": t});
        let told = json!({"resourceLogs": [{"resource": {"attributes": [{"key": "service.name", "value": text("ferry")}]}, "scopeLogs": [{"scope": {"name": "deck"}, "logRecords": [
            {"severityNumber": 17, "body": text("no seat"), "attributes": [
                {"key": "exception.type", "value": text("SeatError")}, {"key": "code.lineno", "value": {"intValue": "12"}}, {"key": "code.filepath", "value": text("a.py")}]},
            {"severityText": "INFO", "body": {"kvlistValue": {"values": []}}},
        ]}]}]});
        assert_eq!(
            lines(&told),
            concat!(
                r#"{"app":"ferry","exception":{"message":null,"stack":null,"type":"SeatError"},"file":"a.py","level":"error","line":12,"logger":"deck","message":"no seat"}"#,
                "\n",
                r#"{"app":"ferry","level":"INFO","logger":"deck","message":"{\"values\":[]}"}"#,
                "\n"
            )
        );
        assert_eq!(lines(&json!({"resourceLogs": "nonsense"})), "");
    }
}
