//! Reports that browsers send (W3C Reporting API): crashes, policies that were broken, features
//! that are going away. Each becomes one line, a JSON object with level, sentence and place.

use crate::http::{Admission, Answer, Listener, Taken, json_of, serve};
use crate::spool::SpoolWriter;
use crate::{Bell, SourceError};
use hyper::body::Bytes;
use hyper::{HeaderMap, StatusCode};
use serde_json::{Map, Value, json};
use std::net::SocketAddr;
use std::sync::atomic::AtomicBool;
use std::sync::{Arc, Mutex};

/// Takes reports at `address`, path `/reports`, from `who`, until `stop` is set. The page names it in a header:
/// `Reporting-Endpoints: default="http://127.0.0.1:PORT/reports"`.
///
/// # Errors
///
/// [`SourceError::System`] when the address cannot be used.
pub fn take_reports(
    address: SocketAddr,
    spool: Arc<Mutex<SpoolWriter>>,
    bell: Bell,
    stop: Arc<AtomicBool>,
    who: Admission,
) -> Result<SocketAddr, SourceError> {
    serve(address, Listener { paths: vec!["/reports"], who, take }, spool, bell, stop)
}

fn take(_: &str, _: &HeaderMap, body: &Bytes) -> Taken {
    let reports = match json_of(body)? {
        Value::Array(reports) => reports,
        // The older form, of one policy alone.
        Value::Object(mut one) if one.contains_key("csp-report") => {
            vec![json!({"type": "csp-violation", "body": one.remove("csp-report")})]
        }
        one @ Value::Object(_) => vec![one],
        _ => {
            let why = "reports come as a list of objects";
            return Err(Answer::text(StatusCode::BAD_REQUEST, why));
        }
    };
    let lines = reports.iter().take(1_000).map(|r| format!("{}\n", line(r))).collect();
    Ok((lines, Answer::status(StatusCode::NO_CONTENT)))
}

fn line(report: &Value) -> Value {
    let body = &report["body"];
    let text =
        |names: &[&str]| names.iter().find_map(|n| body[n].as_str().filter(|t| !t.is_empty()));
    let kind = report["type"].as_str().unwrap_or("report");
    let level = match kind {
        "deprecation" | "intervention" | "coep" | "coop" | "permissions-policy-violation" => {
            "warning"
        }
        "crash" => "fatal",
        _ => "error",
    };
    let said = match (text(&["message"]), kind) {
        (Some(message), _) => message.to_owned(),
        (None, "crash") => format!(
            "the page crashed: {}",
            text(&["reason"]).unwrap_or("the browser does not say why")
        ),
        (None, "csp-violation") => format!(
            "the page's own policy {} refused {}",
            text(&["effectiveDirective", "effective-directive", "violated-directive"])
                .unwrap_or("(unnamed)"),
            text(&["blockedURL", "blocked-uri"]).unwrap_or("something")
        ),
        (None, other) => format!(
            "{other}: {}",
            text(&["reason", "id", "type", "policyId"]).unwrap_or("no more is told")
        ),
    };
    let mut line = Map::new();
    let mut put = |name: &str, value: Value| {
        drop((!value.is_null()).then(|| line.insert(name.to_owned(), value)))
    };
    put("level", level.into());
    put("message", said.into());
    put("code", text(&["id"]).map_or(Value::Null, Into::into));
    put("file", text(&["sourceFile", "source-file"]).map_or(Value::Null, Into::into));
    for (name, names) in
        [("line", ["lineNumber", "line-number"]), ("column", ["columnNumber", "column-number"])]
    {
        put(
            name,
            names.iter().map(|n| &body[n]).find(|v| v.is_number()).cloned().unwrap_or(Value::Null),
        );
    }
    put("page", report["url"].clone());
    Value::Object(line)
}

#[cfg(test)]
mod tests {
    use super::line;
    use serde_json::json;

    #[test]
    fn reports_become_lines_with_level_sentence_and_place() {
        let crash = json!({"type": "crash", "url": "http://localhost/", "body": {"reason": "oom"}});
        assert_eq!(
            line(&crash),
            json!({"level": "fatal", "message": "the page crashed: oom", "page": "http://localhost/"})
        );
        let policy = json!({"type": "csp-violation", "body": {"effectiveDirective": "script-src-elem", "blockedURL": "http://elsewhere/x.js", "sourceFile": "http://localhost/app.js", "lineNumber": 12, "columnNumber": 3}});
        assert_eq!(
            line(&policy),
            json!({"level": "error", "message": "the page's own policy script-src-elem refused http://elsewhere/x.js", "file": "http://localhost/app.js", "line": 12, "column": 3})
        );
        assert_eq!(line(&json!("nonsense"))["level"], "error");
    }
}
