//! A session as others meet it: an orderly one as the list of what is sent, and whatever an adapter
//! may send instead.

use izba_dap::wire::Piece;
use izba_dap::{Begin, Errors, Out, Phase, Plan, Point, Session, Want, World};
use izba_model::spoken::{Part, Spoken};
use proptest::prelude::*;
use serde_json::{Value, json};
use std::sync::Arc;

struct Pier;

impl World for Pier {
    fn own(&self, path: &str) -> Option<Arc<str>> {
        path.strip_prefix("/pier/").map(Into::into)
    }

    fn absolute(&self, file: &str) -> String {
        format!("/pier/{file}")
    }

    fn spoken(&self, _: &str, line: u32) -> Vec<Spoken> {
        vec![Spoken { text: "boat".into(), line, part: Part::Value, asked: true }]
    }
}

/// What is sent, as a line for each request; `answers` holds what the adapter says after each of
/// them.
fn told(
    session: &mut Session,
    log: &mut Vec<String>,
    answers: &dyn Fn(&str, &Value) -> Vec<Value>,
) {
    loop {
        let sent: Vec<Value> = session
            .take()
            .into_iter()
            .filter_map(|o| if let Out::Send(m) = o { Some(m) } else { None })
            .collect();
        if sent.is_empty() {
            return;
        }
        for request in sent {
            let command = request["command"].as_str().unwrap_or("").to_owned();
            let arguments =
                if command == "initialize" { Value::Null } else { request["arguments"].clone() };
            log.push(format!("{command} {arguments}"));
            for mut message in answers(&command, &request) {
                if message["type"] == "response" {
                    message["request_seq"] = request["seq"].clone();
                }
                session.receive(Piece::Message(message), &Pier, 0);
            }
        }
    }
}

fn well(body: Value) -> Value {
    json!({"type": "response", "success": true, "body": body})
}

fn orderly(command: &str, _: &Value) -> Vec<Value> {
    match command {
        "initialize" => vec![well(
            json!({"supportsConfigurationDoneRequest": true, "supportsConditionalBreakpoints": true,
            "exceptionBreakpointFilters": [{"filter": "raised", "label": "Raised"}, {"filter": "uncaught", "label": "Uncaught", "default": true}]}),
        )],
        "launch" => vec![json!({"type": "event", "event": "initialized"}), well(json!({}))],
        "setBreakpoints" => {
            vec![well(json!({"breakpoints": [{"id": 4, "verified": true, "line": 3}]}))]
        }
        "threads" => vec![well(json!({"threads": [{"id": 1, "name": "main"}]}))],
        "stackTrace" => vec![well(json!({"stackFrames": [
            {"id": 1, "name": "inner", "line": 9, "source": {"path": "/usr/lib/x.py"}}, {"id": 2, "name": "sail", "line": 3, "source": {"path": "/pier/boat.py"}}]}))],
        "scopes" => vec![well(
            json!({"scopes": [{"name": "Locals", "variablesReference": 5, "expensive": false}]}),
        )],
        "variables" => vec![well(
            json!({"variables": [{"name": "boat", "value": "None", "variablesReference": 0}]}),
        )],
        "evaluate" => vec![well(json!({"result": "None", "variablesReference": 0}))],
        _ => vec![well(json!({}))],
    }
}

#[test]
fn an_orderly_session_asks_for_what_it_needs_and_no_more() {
    let point = |line| Point {
        file: "boat.py".into(),
        line,
        condition: Some("boat is None".into()),
        hits: Some(2),
        log: None,
    };
    let plan =
        Plan { errors: Errors::Uncaught, points: vec![point(3)], watches: vec!["1 + 1".into()] };
    let mut session = Session::new(Begin::Launch(json!({"program": "boat.py"})), plan.clone(), 0);
    let mut log = Vec::new();
    told(&mut session, &mut log, &orderly);
    assert_eq!(session.state().phase, Phase::Running);
    log.push("-- it stops".into());
    session.receive(Piece::Message(json!({"type": "event", "event": "stopped", "body": {"reason": "breakpoint", "threadId": 1}})), &Pier, 0);
    told(&mut session, &mut log, &orderly);
    let stop = session.state().stop.clone().expect("it is stopped");
    assert_eq!(
        (stop.chosen().and_then(|f| f.own.as_deref()), stop.frame),
        (Some("boat.py"), 1),
        "the own step is shown"
    );
    log.push("-- the same plan again, then another one, then into and on".into());
    session.want(Want::Plan(plan.clone()), &Pier, 0);
    session.want(Want::Plan(Plan { errors: Errors::All, points: Vec::new(), ..plan }), &Pier, 0);
    session.want(Want::Into { outside: false }, &Pier, 0);
    told(&mut session, &mut log, &orderly);
    // It lands outside, and is stepped out again.
    session.receive(
        Piece::Message(
            json!({"type": "event", "event": "stopped", "body": {"reason": "step", "threadId": 1}}),
        ),
        &Pier,
        0,
    );
    told(&mut session, &mut log, &orderly);
    session.receive(
        Piece::Message(json!({"type": "event", "event": "exited", "body": {"exitCode": 3}})),
        &Pier,
        0,
    );
    session.receive(Piece::Message(json!({"type": "event", "event": "terminated"})), &Pier, 0);
    assert_eq!(session.state().phase, Phase::Ended("the program ended with exit code 3".into()));
    insta::assert_snapshot!(log.join("\n"));
}

#[test]
fn silence_is_told_and_does_not_last_for_ever() {
    let mut session = Session::new(Begin::Attach(json!({})), Plan::default(), 0);
    session.tick(4_000);
    assert_eq!(session.state().late, None);
    session.tick(6_000);
    insta::assert_snapshot!(session.state().late.clone().unwrap_or_default(), @"the adapter has not answered “initialize” for 6 s; what the program prints is read all the same");
    session.tick(21_000);
    assert_eq!(session.state().phase, Phase::Ended("the adapter never answered in 21 s".into()));
}

/// A project whose files were not read yet.
struct Unread;

impl World for Unread {
    fn own(&self, path: &str) -> Option<Arc<str>> {
        Pier.own(path)
    }

    fn absolute(&self, file: &str) -> String {
        Pier.absolute(file)
    }

    fn spoken(&self, _: &str, _: u32) -> Vec<Spoken> {
        Vec::new()
    }
}

#[test]
fn a_stop_before_the_files_were_read_is_filled_in_once_they_are() {
    let mut session = Session::new(Begin::Launch(json!({})), Plan::default(), 0);
    told(&mut session, &mut Vec::new(), &orderly);
    // What arrives while nothing is known of the lines.
    let mut messages = vec![
        json!({"type": "event", "event": "stopped", "body": {"reason": "pause", "threadId": 1}}),
    ];
    while let Some(message) = messages.pop() {
        session.receive(Piece::Message(message), &Unread, 0);
        for out in session.take() {
            let Out::Send(request) = out else { continue };
            let command = request["command"].as_str().unwrap_or("").to_owned();
            for mut answer in orderly(&command, &request) {
                answer["request_seq"] = request["seq"].clone();
                messages.push(answer);
            }
        }
    }
    let line = |session: &Session| {
        let stop = session.state().stop.clone().expect("it is stopped");
        stop.line.iter().map(|(s, v)| (s.text.clone(), v.is_some())).collect::<Vec<_>>()
    };
    assert_eq!(line(&session), []);
    session.want(Want::Known, &Pier, 0);
    let mut log = Vec::new();
    told(&mut session, &mut log, &orderly);
    assert_eq!(line(&session), [("boat".to_owned(), true)]);
    // What is known is not asked for again.
    log.clear();
    session.want(Want::Known, &Pier, 0);
    told(&mut session, &mut log, &orderly);
    assert_eq!(log, Vec::<String>::new());
}

fn any_json() -> impl Strategy<Value = Value> {
    let leaf = prop_oneof![
        Just(Value::Null),
        any::<bool>().prop_map(Value::from),
        (-3i64..70_000).prop_map(Value::from),
        Just(json!(u64::MAX)),
        "\\PC{0,12}".prop_map(Value::from),
        prop_oneof![
            Just("exception"),
            Just("step"),
            Just("/pier/boat.py"),
            Just("changed"),
            Just("unhandled")
        ]
        .prop_map(Value::from)
    ];
    let keys = prop_oneof![
        Just("stackFrames"),
        Just("scopes"),
        Just("variables"),
        Just("threads"),
        Just("breakpoints"),
        Just("id"),
        Just("name"),
        Just("line"),
        Just("source"),
        Just("path"),
        Just("value"),
        Just("result"),
        Just("variablesReference"),
        Just("reason"),
        Just("threadId"),
        Just("exitCode"),
        Just("expensive"),
        Just("verified"),
        Just("details"),
        Just("breakMode"),
        Just("supportsConfigurationDoneRequest"),
        Just("supportsSetVariable"),
        Just("supportsExceptionInfoRequest"),
        Just("exceptionBreakpointFilters"),
        Just("filter"),
        Just("error"),
        Just("output"),
        Just("category")
    ];
    leaf.prop_recursive(4, 40, 6, move |inner| {
        prop_oneof![
            prop::collection::vec(inner.clone(), 0..5).prop_map(Value::from),
            prop::collection::vec((keys.clone(), inner), 0..6).prop_map(|pairs| pairs
                .into_iter()
                .map(|(k, v)| (k.to_owned(), v))
                .collect::<serde_json::Map<_, _>>()
                .into())
        ]
    })
}

fn any_message() -> impl Strategy<Value = Value> {
    let events = prop_oneof![
        Just("initialized"),
        Just("stopped"),
        Just("continued"),
        Just("exited"),
        Just("terminated"),
        Just("output"),
        Just("breakpoint"),
        Just("invalidated"),
        Just("loadedSource"),
        Just("capabilities"),
        Just("thread"),
        Just("?")
    ];
    prop_oneof![
        (1i64..60, any::<bool>(), any_json())
            .prop_map(|(seq, success, body)| json!({"type": "response", "request_seq": seq, "success": success, "body": body})),
        (events, any_json()).prop_map(|(event, body)| json!({"type": "event", "event": event, "body": body})),
        any_json()
    ]
}

fn any_want() -> impl Strategy<Value = Want> {
    prop_oneof![
        Just(Want::Go),
        Just(Want::Over),
        Just(Want::Out),
        Just(Want::Pause),
        Just(Want::Known),
        Just(Want::Into { outside: false }),
        Just(Want::RunTo("boat.py".into(), 3)),
        (0usize..9).prop_map(Want::Frame),
        (-2i64..9).prop_map(Want::Children),
        Just(Want::Set(1, "boat".into(), "2".into())),
        Just(Want::Tick { file: "boat.py".into(), line: 3, receiver: Some("self".into()) }),
        Just(Want::Plan(Plan {
            errors: Errors::Only("boat.py".into(), 3),
            points: Vec::new(),
            watches: vec!["boat".into()]
        }))
    ]
}

proptest! {
    #[test]
    fn nothing_that_an_adapter_sends_harms_a_session(steps in prop::collection::vec((any_message(), prop::option::of(any_want())), 1..60)) {
        let mut session = Session::new(Begin::Launch(json!({})), Plan { watches: vec!["boat".into()], ..Plan::default() }, 0);
        for (at, (message, want)) in steps.into_iter().enumerate() {
            let now = at as i64 * 300;
            session.receive(Piece::Message(message), &Pier, now);
            if let Some(want) = want {
                session.want(want, &Pier, now);
            }
            session.tick(now);
            let sent = session.take();
            // One message or wish has few consequences.
            prop_assert!(sent.len() < 200, "{} at once", sent.len());
            let state = session.state();
            prop_assert!(state.troubles.len() <= 8);
            prop_assert!(state.stop.is_none() || state.phase == Phase::Stopped);
        }
    }
}
