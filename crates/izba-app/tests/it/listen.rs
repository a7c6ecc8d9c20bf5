//! Senders over the network: syslog, lines and OpenTelemetry logs reach the screen, each as a
//! source of its own.

use crate::tmux::{Tmux, connect, free_address, izba};
use std::io::{Read, Write};
use std::net::{SocketAddr, TcpListener};
use std::time::Duration;

/// Sends bytes once somebody listens, and reads what comes back until `until` is in it.
fn send(address: SocketAddr, bytes: &[u8], until: &str) -> String {
    let mut stream = connect(address);
    stream.set_read_timeout(Some(Duration::from_secs(20))).expect("a socket");
    stream.write_all(bytes).expect("it is taken");
    let (mut heard, mut buffer) = (String::new(), [0; 1024]);
    while !until.is_empty() && !heard.contains(until) {
        let count = stream.read(&mut buffer).expect("an answer");
        assert!(count > 0, "{heard}");
        heard += &String::from_utf8_lossy(&buffer[..count]);
    }
    heard
}

#[test]
fn what_is_sent_is_watched_and_what_is_wrong_is_answered() {
    let tmux = Tmux::start(142, 42);
    tmux.write("deck.py", "def seat(names):\n    return names[3]\n");
    let (syslog, lines, otlp, reports) =
        (free_address(), free_address(), free_address(), free_address());
    tmux.command(&format!(
        "{} listen --syslog {syslog} --lines {lines} --otlp {otlp} --reports {reports}",
        izba()
    ));
    send(syslog, b"<11>1 2026-11-23T20:00:00Z h ferry 12 - - the rope is torn\n", "");
    send(lines, b"{\"level\":\"error\",\"msg\":\"the lamp is out\"}\n", "");
    let body = r#"{"resourceLogs":[{"scopeLogs":[{"logRecords":[{"severityNumber":17,"body":{"stringValue":"boarding failed"},"attributes":[{"key":"exception.type","value":{"stringValue":"IndexError"}},{"key":"exception.stacktrace","value":{"stringValue":"Traceback (most recent call last):\n  File \"deck.py\", line 2, in seat\n    return names[3]\nIndexError: list index out of range"}}]}]}]}]}"#;
    let post = |kind: &str, body: &str| {
        format!(
            "POST /v1/logs HTTP/1.1\r\nHost: localhost\r\nContent-Type: {kind}\r\nContent-Length: \
                {}\r\n\r\n{body}",
            body.len()
        )
    };
    assert!(
        send(otlp, post("application/json", body).as_bytes(), "partialSuccess").contains("200")
    );
    // The same protocol as protobuf: one record, severity 17, “no bell”.
    let protobuf = "\n\x11\x12\x0f\x12\r\x10\x11*\t\n\x07no bell";
    assert!(
        send(otlp, post("application/x-protobuf", protobuf).as_bytes(), "application/x-protobuf")
            .contains("200")
    );
    assert!(
        send(otlp, post("text/plain", "x").as_bytes(), "send protobuf or JSON").contains("415")
    );
    assert!(
        send(otlp, post("application/json", "{").as_bytes(), "the body is not JSON")
            .contains("400")
    );
    // The same record in the other form is the same mistake; a span that failed, and a number.
    let json = r#"{"resourceLogs":[{"scopeLogs":[{"logRecords":[{"severityNumber":17,"body":{"stringValue":"no bell"}}]}]}]}"#;
    let spans = r#"{"resourceSpans":[{"scopeSpans":[{"spans":[{"traceId":"4bf92f3577b34da6a3ce929d0e0e4736","spanId":"a1","name":"GET /tickets","status":{"code":2}},{"spanId":"b2","parentSpanId":"a1","name":"load fares","status":{"code":2,"message":"no fare for dogs"}}]}]}]}"#;
    let metrics = r#"{"resourceMetrics":[{"scopeMetrics":[{"metrics":[{"name":"seats","gauge":{"dataPoints":[{"asInt":"4"}]}}]}]}]}"#;
    let sent = [("logs", json), ("traces", spans)].into_iter();
    for (path, body) in sent.chain([("metrics", metrics); 6]) {
        let request = post("application/json", body).replace("/v1/logs", &format!("/v1/{path}"));
        assert!(send(otlp, request.as_bytes(), "partialSuccess").contains("200"), "{path}");
    }
    let report = r#"[{"type":"crash","url":"http://localhost/","body":{"reason":"oom"}}]"#;
    let post = |body: &str| {
        format!(
            "POST /reports HTTP/1.1\r\nHost: localhost\r\nContent-Type: \
                application/reports+json\r\nContent-Length: {}\r\n\r\n{body}",
            body.len()
        )
    };
    assert!(send(reports, post(report).as_bytes(), "204").contains("204"));
    for words in [
        "the rope is torn",
        "the lamp is out",
        "deck.py:2",
        "no bell",
        "no fare for dogs",
        "the page crashed: oom",
        "watching 4 of 4 sources",
    ] {
        tmux.wait_for(words);
    }
    let screen = tmux.wait_for("no bell");
    assert!(screen.lines().any(|l| l.contains(" 2 ◆") && l.contains("no bell")), "{screen}");
    assert!(!screen.contains("GET /tickets failed"), "what was passed on is told once:\n{screen}");
    tmux.keys(&["4"]);
    tmux.wait_for("seats");
    tmux.keys(&["1", "q"]);
    tmux.wait_for("shell>");
    // The address is taken: a sentence, and nothing is left running.
    let taken = TcpListener::bind("127.0.0.1:0").expect("a free port");
    tmux.command(&format!(
        "{} listen --syslog {}",
        izba(),
        taken.local_addr().expect("its address")
    ));
    tmux.wait_for("cannot listen at this address");
}
