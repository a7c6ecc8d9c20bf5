//! A listener for OpenTelemetry over HTTP (OTLP, as protobuf or JSON): what a program logs, which of
//! its spans failed, and what it measures. Each record, failed span and measured point becomes one
//! line, a JSON object.

mod logs;
mod metrics;
mod signal;
mod spans;
mod thrown;
mod value;
mod wire;

use crate::http::{Admission, Answer, Listener, Taken, json_of, serve};
use crate::spool::SpoolWriter;
use crate::{Bell, SourceError};
use hyper::body::Bytes;
use hyper::{HeaderMap, StatusCode};
use serde_json::json;
use signal::Signal;
use std::net::SocketAddr;
use std::sync::atomic::AtomicBool;
use std::sync::{Arc, Mutex};
use wire::Unread;

const JSON: &str = "application/json";
const PROTOBUF: &str = "application/x-protobuf";

/// All that is taken: one line for each kind.
static SIGNALS: [&Signal; 3] = [&logs::SIGNAL, &spans::SIGNAL, &metrics::SIGNAL];

/// Takes what is sent to `address` from `who`, at `/v1/logs`, `/v1/traces` and `/v1/metrics`, until
/// `stop` is set.
///
/// # Errors
///
/// [`SourceError::System`] when the address cannot be used.
pub fn take_telemetry(
    address: SocketAddr,
    spool: Arc<Mutex<SpoolWriter>>,
    bell: Bell,
    stop: Arc<AtomicBool>,
    who: Admission,
) -> Result<SocketAddr, SourceError> {
    let paths = SIGNALS.iter().map(|signal| signal.path).collect();
    serve(address, Listener { paths, who, take }, spool, bell, stop)
}

fn take(path: &str, headers: &HeaderMap, body: &Bytes) -> Taken {
    let Some(signal) = SIGNALS.iter().find(|signal| signal.path == path) else {
        return Err(Answer::status(StatusCode::NOT_FOUND));
    };
    let header = |name: &str| headers.get(name).and_then(|v| v.to_str().ok()).unwrap_or("");
    if !header("content-encoding").is_empty() {
        return Err(refuse(
            StatusCode::UNSUPPORTED_MEDIA_TYPE,
            "send without compression: OTEL_EXPORTER_OTLP_COMPRESSION=none",
        ));
    }
    let kind = header("content-type");
    if kind.starts_with(JSON) {
        let told = json_of(body)?;
        let answer = Answer::of(StatusCode::OK, JSON, "{\"partialSuccess\":{}}");
        return Ok(((signal.lines)(&told), answer));
    }
    if kind.starts_with(PROTOBUF) {
        let told = wire::request(body, signal.schema).map_err(|why| match why {
            Unread::Wrong => {
                let why = format!("the body is no {} in protobuf", signal.request);
                refuse(StatusCode::BAD_REQUEST, &why)
            }
            Unread::TooMuch => {
                Answer::too_large("a body has too many records; send fewer at a time".into())
            }
        })?;
        // An answer without anything refused is an empty message.
        let answer = Answer::of(StatusCode::OK, PROTOBUF, "");
        return Ok(((signal.lines)(&told), answer));
    }
    Err(refuse(
        StatusCode::UNSUPPORTED_MEDIA_TYPE,
        "send protobuf or JSON: OTEL_EXPORTER_OTLP_PROTOCOL=http/protobuf",
    ))
}

/// The lines of an export request of any kind, in protobuf or as JSON; `None` when it is neither, or
/// holds too much.
pub fn lines_of_export(body: &[u8]) -> Option<String> {
    let of = |signal: &&Signal| {
        let told = json_of(body).ok().or_else(|| wire::request(body, signal.schema).ok())?;
        Some((signal.lines)(&told))
    };
    SIGNALS.iter().map(of).collect()
}

fn refuse(status: StatusCode, why: &str) -> Answer {
    Answer::of(status, JSON, json!({"code": 3, "message": why}).to_string())
}
