//! A listener for OpenTelemetry logs over HTTP (OTLP, JSON encoding): each log record becomes one line, a JSON object with the
//! record's level, sentence, logger, place and exception.

use crate::sink::Sink;
use crate::spool::{Event, SpoolWriter};
use crate::{Bell, SourceError};
use izba_core::Stream;
use serde_json::{Map, Value, json};
use std::io::Read;
use std::net::SocketAddr;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex};
use std::time::Duration;

/// How often an end that was asked for is noticed.
const LOOK: Duration = Duration::from_millis(100);
/// A request longer than this, in bytes, is refused.
const REQUEST: u64 = 8 << 20;

/// Takes logs at `address`, path `/v1/logs`, until `stop` is set.
///
/// # Errors
///
/// [`SourceError::System`] when the address cannot be used.
pub fn take_logs(address: SocketAddr, spool: Arc<Mutex<SpoolWriter>>, bell: Bell, stop: Arc<AtomicBool>) -> Result<SocketAddr, SourceError> {
    let server = tiny_http::Server::http(address)
        .map_err(|e| SourceError::System { doing: "listen at this address", cause: std::io::Error::other(e.to_string()) })?;
    let bound = server.server_addr().to_ip().unwrap_or(address);
    let sink = Sink::new(spool, bell);
    sink.append(&Event::Start, bound.to_string().as_bytes());
    let serve = move || {
        while !stop.load(Ordering::Acquire) {
            let Ok(Some(mut request)) = server.recv_timeout(LOOK) else { continue };
            let (status, said) = match read_request(&mut request) {
                Ok(lines) => {
                    sink.append(&Event::Bytes(Stream::Out), lines.as_bytes());
                    (200, "{\"partialSuccess\":{}}".to_owned())
                }
                Err((status, why)) => (status, json!({"code": 3, "message": why}).to_string()),
            };
            let mut response = tiny_http::Response::from_string(said).with_status_code(status);
            if let Ok(kind) = tiny_http::Header::from_bytes("Content-Type", "application/json") {
                response.add_header(kind);
            }
            // A sender that went away needs no answer.
            let _ = request.respond(response);
        }
        sink.append(&Event::End { well: true }, b"is no longer listened to");
    };
    std::thread::Builder::new().name("otlp".into()).spawn(serve).map_err(SourceError::system("start a thread"))?;
    Ok(bound)
}

fn read_request(request: &mut tiny_http::Request) -> Result<String, (u16, &'static str)> {
    if request.url().split('?').next() != Some("/v1/logs") {
        return Err((404, "logs are taken at /v1/logs"));
    }
    let json = request.headers().iter().any(|h| h.field.equiv("Content-Type") && h.value.as_str().starts_with("application/json"));
    if !json {
        return Err((415, "send logs as JSON: OTEL_EXPORTER_OTLP_PROTOCOL=http/json"));
    }
    let mut body = Vec::new();
    request.as_reader().take(REQUEST + 1).read_to_end(&mut body).map_err(|_| (400, "the request ended too early"))?;
    if body.len() as u64 > REQUEST {
        return Err((413, "the request is longer than 8 MiB; send smaller batches"));
    }
    let told: Value = serde_json::from_slice(&body).map_err(|_| (400, "the body is not JSON"))?;
    Ok(lines(&told))
}

/// One line for each record of an export request.
fn lines(told: &Value) -> String {
    let all = |value: &Value| value.as_array().cloned().unwrap_or_default();
    let mut lines = String::new();
    for resource in all(&told["resourceLogs"]) {
        let service = attribute(&resource["resource"]["attributes"], "service.name");
        for scope in all(&resource["scopeLogs"]) {
            for record in all(&scope["logRecords"]) {
                let mut line = Map::new();
                let mut put = |name: &str, value: Option<Value>| drop(value.filter(|v| !v.is_null()).map(|v| line.insert(name.to_owned(), v)));
                put("time", record.get("timeUnixNano").or(record.get("observedTimeUnixNano")).cloned());
                put("level", Some(level(&record)));
                put("app", service.clone());
                put("logger", scope["scope"]["name"].as_str().map(Into::into));
                put("message", plain(&record["body"]));
                let of = |name: &str| attribute(&record["attributes"], name);
                put("file", of("code.file.path").or_else(|| of("code.filepath")));
                put("line", of("code.line.number").or_else(|| of("code.lineno")).and_then(whole));
                put("function", of("code.function.name").or_else(|| of("code.function")));
                let (kind, stack) = (of("exception.type"), of("exception.stacktrace"));
                if kind.is_some() || stack.is_some() {
                    put("exception", Some(json!({"type": kind, "message": of("exception.message"), "stack": stack})));
                }
                put("trace", record["traceId"].as_str().filter(|t| !t.is_empty()).map(Into::into));
                lines += &format!("{}\n", Value::Object(line));
            }
        }
    }
    lines
}

/// The level by its number (1 to 24, in steps of four), else by its word.
fn level(record: &Value) -> Value {
    let number = record["severityNumber"].as_u64().or_else(|| record["severityNumber"].as_str().and_then(|s| s.parse().ok()));
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
