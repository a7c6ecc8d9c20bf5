//! Debug adapters that break every rule, or never answer: the session ends with a sentence or goes
//! on, and nothing is held up.

use super::watch;
use izba_dap::{Begin, Phase, Want};
use izba_sources::Reach;
use izba_watch::debugged::Debugged;
use serde_json::{Value, json};
use std::io::{BufRead, BufReader, Read, Write};
use std::net::{SocketAddr, TcpListener, TcpStream};
use std::time::{Duration, Instant};

/// One adapter that does not keep to the rules: what it does once it was asked for the first time.
type Rogue = fn(&mut TcpStream, &mut BufReader<TcpStream>);

fn heard(input: &mut BufReader<TcpStream>) -> Option<Value> {
    let mut length = 0;
    loop {
        let mut line = String::new();
        if input.read_line(&mut line).ok()? == 0 {
            return None;
        }
        if line.trim().is_empty() && length > 0 {
            break;
        }
        length = line.split_once(':').and_then(|(_, n)| n.trim().parse().ok()).unwrap_or(length);
    }
    let mut body = vec![0; length];
    input.read_exact(&mut body).ok()?;
    serde_json::from_slice(&body).ok()
}

fn say(out: &mut TcpStream, message: &Value) {
    let body = message.to_string();
    let _ = write!(out, "Content-Length: {}\r\n\r\n{body}", body.len());
}

fn answer(out: &mut TcpStream, request: &Value, body: Value) {
    say(
        out,
        &json!({"seq": 1, "type": "response", "request_seq": request["seq"], "command": request["command"], "success": true, "body": body}),
    );
}

/// Answers everything with `body_of`, after an orderly beginning and a stop.
fn stop_and_answer(
    out: &mut TcpStream,
    input: &mut BufReader<TcpStream>,
    body_of: fn(&str) -> Value,
) {
    while let Some(request) = heard(input) {
        let command = request["command"].as_str().unwrap_or("").to_owned();
        answer(out, &request, body_of(&command));
        match command.as_str() {
            "attach" => say(out, &json!({"seq": 2, "type": "event", "event": "initialized"})),
            "initialize" => {}
            "setExceptionBreakpoints" | "setBreakpoints" => {}
            "threads" | "stackTrace" | "scopes" | "variables" | "evaluate" => {}
            _ => say(
                out,
                &json!({"seq": 3, "type": "event", "event": "stopped", "body": {"reason": "breakpoint", "threadId": 7}}),
            ),
        }
        if command == "attach" {
            say(
                out,
                &json!({"seq": 3, "type": "event", "event": "stopped", "body": {"reason": "breakpoint", "threadId": 7}}),
            );
        }
    }
}

/// Each rule broken in turn, and a word of the sentence that tells it; none where it can be lived
/// with.
const ROGUES: &[(&str, Rogue, &str)] = &[
    ("goes away at once", |_, _| {}, "went away"),
    ("tells no length", |out, _| drop(out.write_all(b"Content-Length: many\r\n\r\n{}")), "length"),
    (
        "tells a length beyond all bounds",
        |out, _| drop(out.write_all(b"Content-Length: 99999999999\r\n\r\n")),
        "more than Izba takes",
    ),
    (
        "sends what is no message",
        |out, _| drop(out.write_all(&vec![b'x'; 200_000])),
        "no message of the protocol",
    ),
    (
        "sends a header without end",
        |out, _| {
            drop(
                out.write_all(&[b"Content-Length: 5\r\n".as_slice(), &vec![b'y'; 20_000]].concat()),
            )
        },
        "header",
    ),
    (
        "sends broken JSON again and again",
        |out, _| (0..40).for_each(|_| drop(out.write_all(b"Content-Length: 3\r\n\r\n{]}"))),
        "no JSON",
    ),
    (
        "answers what was not asked",
        |out, _| {
            (0..40).for_each(|n| {
                say(
                    out,
                    &json!({"seq": n, "type": "response", "request_seq": 900 + n, "success": true}),
                )
            })
        },
        "not asked",
    ),
    (
        "sends messages of no kind",
        |out, _| (0..40).for_each(|n| say(out, &json!({"seq": n, "kind": "?"}))),
        "kind",
    ),
    (
        "refuses to begin",
        |out, input| {
            if let Some(request) = heard(input) {
                say(
                    out,
                    &json!({"type": "response", "request_seq": request["seq"], "success": false, "message": "not today"}),
                );
            }
            let _ = heard(input);
        },
        "not today",
    ),
    (
        "asks of us what we cannot do",
        |out, input| {
            while let Some(request) = heard(input) {
                say(
                    out,
                    &json!({"seq": 9, "type": "request", "command": "runInTerminal", "arguments": {"args": ["rm"]}}),
                );
                if request["type"] == "response" {
                    return;
                }
            }
        },
        "went away",
    ),
    (
        "stops and tells nothing but nulls",
        |out, input| stop_and_answer(out, input, |_| Value::Null),
        "",
    ),
    (
        "answers with the wrong kinds of values",
        |out, input| {
            stop_and_answer(
                out,
                input,
                |_| json!({"stackFrames": [1, {"id": "x"}, {"id": 1, "line": -5, "source": 3}], "scopes": {"a": 1}, "variables": [null, {"name": 3}], "threads": "none"}),
            );
        },
        "",
    ),
    (
        "tells steps and values without end",
        |out, input| {
            stop_and_answer(out, input, |command| match command {
                "stackTrace" => {
                    json!({"stackFrames": (0..5_000).map(|n| json!({"id": n, "name": "deep".repeat(500), "line": n})).collect::<Vec<_>>()})
                }
                "scopes" => {
                    json!({"scopes": (0..200).map(|n| json!({"name": "x", "variablesReference": n + 1})).collect::<Vec<_>>()})
                }
                "variables" => {
                    json!({"variables": (0..20_000).map(|n| json!({"name": n.to_string(), "value": "v".repeat(900), "variablesReference": n + 1})).collect::<Vec<_>>()})
                }
                _ => json!({}),
            });
        },
        "",
    ),
    (
        "stops without an end",
        |out, input| {
            let request = heard(input);
            answer(out, &request.unwrap_or_default(), json!({}));
            for _ in 0..20_000 {
                say(
                    out,
                    &json!({"type": "event", "event": "stopped", "body": {"reason": "exception"}}),
                );
            }
        },
        "went away",
    ),
    (
        "says that it ended, and goes on talking",
        |out, input| {
            let request = heard(input);
            answer(out, &request.unwrap_or_default(), json!({}));
            say(out, &json!({"type": "event", "event": "terminated"}));
            for _ in 0..100 {
                say(
                    out,
                    &json!({"type": "event", "event": "stopped", "body": {"reason": "step", "threadId": 1}}),
                );
            }
        },
        "ended",
    ),
];

#[test]
fn an_adapter_that_breaks_every_rule_harms_nothing() {
    for (what, rogue, word) in ROGUES {
        let listener = TcpListener::bind("127.0.0.1:0").expect("a free port");
        let address: SocketAddr = listener.local_addr().expect("it has one");
        let served = std::thread::spawn(move || {
            let (mut out, _) = listener.accept().expect("Izba comes");
            let mut input = BufReader::new(out.try_clone().expect("a copy"));
            rogue(&mut out, &mut input);
            // What it said arrives whole: a connection with unread bytes would be torn.
            let _ = out.shutdown(std::net::Shutdown::Write);
            let _ = std::io::copy(&mut input, &mut std::io::sink());
        });
        let game = watch(&[("main.lua", "print(1)\n")], |_| Debugged {
            command: None,
            reach: Reach::Address(address),
            begin: Begin::Attach(json!({})),
            alone: None,
        });
        if word.is_empty() {
            // It can be lived with: the session goes on, and what is wanted is done or told.
            game.until(what, |p| p.pause.state.stops > 0);
            for want in [
                Want::Frame(3),
                Want::Children(1),
                Want::Over,
                Want::Set(1, "a".into(), "1".into()),
                Want::Go,
                Want::Pause,
            ] {
                game.want(want);
            }
            game.want(Want::End);
        }
        let over = game.until(what, |p| matches!(p.pause.state.phase, Phase::Ended(_)));
        let Phase::Ended(how) = &over.pause.state.phase else { unreachable!("it was waited for") };
        assert!(how.contains(word), "{what}: {how}");
        drop(game);
        served.join().expect("the rogue itself does not fail");
    }
}

#[test]
fn an_adapter_that_never_answers_holds_nothing_up() {
    let listener = TcpListener::bind("127.0.0.1:0").expect("a free port");
    let address = listener.local_addr().expect("it has one");
    let game = watch(&[("main.lua", "print(1)\n")], |project| {
        let spec = izba_sources::CommandSpec {
            words: ["sh", "-c", "echo boarding; exec sleep 60"].map(Into::into).to_vec(),
            folder: project.to_owned(),
            environment: Vec::new(),
            pipes: false,
            inherit_input: false,
        };
        Debugged::at(izba_sources::Command::new(spec).expect("sh is there"), address)
    });
    let (silent, _) = listener.accept().expect("Izba comes");
    let published = game.until("a sentence about the silence", |p| {
        p.pause.state.late.is_some() && p.snapshot.rows > 0
    });
    assert!(
        published.pause.state.late.as_ref().is_some_and(|l| l.contains("“initialize”")),
        "{:?}",
        published.pause.state.late
    );
    let begun = Instant::now();
    drop(game);
    assert!(begun.elapsed() < Duration::from_secs(10), "leaving took {:?}", begun.elapsed());
    drop(silent);
}
