//! News as a record of OpenTelemetry's logs, in the standard's JSON form (opentelemetry-proto 1.x,
//! `LogRecord`; semantic conventions `exception.*` and `code.*`). Only what is the user's own is in
//! it: own places, own steps; and every word has gone through the same sieve as a request for help.

use super::{Change, News, SCOPE};
use crate::help::{Owner, redact};
use izba_model::Level;
use izba_model::{Millis, StackFrame};
use serde_json::{Value, json};

/// Who tells.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Teller {
    /// What is watched: the project's name.
    pub project: String,
    /// A number of this session that says nothing of who it is.
    pub session: String,
    /// The name that the user wants to be told under, if any.
    pub name: Option<String>,
}

/// Steps of a path that are told.
const STEPS: usize = 20;
/// Characters of a text that are told.
const LONGEST: usize = 2_000;

/// The resource of all records of a teller.
pub fn resource(teller: &Teller, owner: &Owner) -> Value {
    let mut attributes = vec![
        // A folder may be called after its owner.
        text("service.name", &said(&teller.project, owner)),
        text("service.instance.id", &teller.session),
        text("telemetry.sdk.name", SCOPE),
    ];
    // What the user typed to be told is told as it is.
    attributes.extend(teller.name.as_deref().map(|name| text("user.name", name)));
    json!({ "attributes": attributes })
}

/// One piece of news as a record.
pub fn record(news: &News, owner: &Owner, now: Millis) -> Value {
    let group = &news.group;
    let entry = &group.entry;
    let own = |words: &str| said(words, owner);
    let mut attributes = vec![
        text("izba.mistake", &mark(group.identity.as_str())),
        text("izba.change", news.change.word()),
        number("izba.count", group.total),
        number("izba.run", u64::from(group.last_run)),
        text("izba.says", &own(&group.told(None).short.to_string())),
        text("exception.message", &own(&entry.root_message)),
    ];
    attributes.extend(entry.root_kind.as_deref().map(|kind| text("exception.type", &own(kind))));
    if let Some(place) = &entry.place {
        attributes.push(text("code.file.path", &own(&place.file)));
        attributes.extend(place.line.map(|line| number("code.line.number", u64::from(line))));
    }
    let function = entry.function.as_deref();
    attributes.extend(function.map(|name| text("code.function.name", &own(name))));
    let steps: Vec<String> = group.path().iter().filter_map(step).take(STEPS).collect();
    if !steps.is_empty() {
        attributes.push(text("exception.stacktrace", &own(&steps.join("\n"))));
    }
    let gone = news.change == Change::Gone;
    let (severity, word) = match group.level() {
        // That something is gone is no error.
        _ if gone => (9, "INFO"),
        level if level >= Level::Fatal => (21, "FATAL"),
        _ => (17, "ERROR"),
    };
    let nanos = |at: Millis| (i128::from(at.0.max(0)) * 1_000_000).to_string();
    json!({
        "timeUnixNano": nanos(if gone { now } else { group.last.unwrap_or(now) }),
        "observedTimeUnixNano": nanos(now),
        "severityNumber": severity,
        "severityText": word,
        "body": { "stringValue": own(&entry.root_message) },
        "attributes": attributes,
    })
}

/// A step in the user's own code, as one line of a trace.
fn step(frame: &StackFrame) -> Option<String> {
    let file = frame.own.as_deref()?;
    let function = frame.function.as_deref().unwrap_or("(top of the file)");
    Some(frame.line.map_or_else(
        || format!("at {function} ({file})"),
        |line| format!("at {function} ({file}:{line})"),
    ))
}

/// A text without what is nobody's business, and not longer than it may be.
fn said(words: &str, owner: &Owner) -> String {
    let cut: String = words.chars().take(LONGEST).collect();
    redact(&cut, owner).text.trim_end().to_owned()
}

/// A number for what a mistake is known by, the same on every machine (FNV-1a, 64 bits): who hears
/// it cannot read the user's line in it.
fn mark(identity: &str) -> String {
    let hash = identity.bytes().fold(0xcbf2_9ce4_8422_2325_u64, |hash, byte| {
        (hash ^ u64::from(byte)).wrapping_mul(0x0100_0000_01b3)
    });
    format!("{hash:016x}")
}

fn text(key: &str, value: &str) -> Value {
    json!({ "key": key, "value": { "stringValue": value } })
}

/// 64 bits are a text in the JSON form.
fn number(key: &str, value: u64) -> Value {
    json!({ "key": key, "value": { "intValue": value.to_string() } })
}
