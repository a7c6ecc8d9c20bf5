//! What Izba asks of an adapter, and what it takes out of the answers. Texts are cut, numbers are
//! checked: an adapter is a stranger.

use crate::state::{Can, Errors, Frame, Scope, Value, Variable};
use crate::wire::cut;
use serde_json::{Value as Json, json};

/// The longest value that is kept, in bytes.
const SHOWN: usize = 4 << 10;
/// The most parts of one value that are kept.
pub const PARTS: usize = 2_000;
/// The most steps that are kept.
pub const STEPS: usize = 200;

pub fn initialize() -> Json {
    json!({
        "clientID": "izba", "clientName": "Izba", "adapterID": "izba", "locale": "en", "linesStartAt1": true, "columnsStartAt1": true,
        "pathFormat": "path", "supportsVariableType": true, "supportsVariablePaging": true, "supportsRunInTerminalRequest": false,
        "supportsProgressReporting": false, "supportsInvalidatedEvent": true, "supportsANSIStyling": false
    })
}

pub fn text(from: &Json, key: &str) -> Option<String> {
    from.get(key).and_then(Json::as_str).map(|t| cut(t, SHOWN))
}

pub fn number(from: &Json, key: &str) -> Option<i64> {
    from.get(key).and_then(Json::as_i64)
}

fn count(from: &Json, key: &str) -> Option<u64> {
    from.get(key).and_then(Json::as_u64)
}

pub fn can(body: &Json, before: Can) -> Can {
    let is = |key: &str, was: bool| body.get(key).and_then(Json::as_bool).unwrap_or(was);
    Can {
        conditions: is("supportsConditionalBreakpoints", before.conditions),
        hits: is("supportsHitConditionalBreakpoints", before.hits),
        logs: is("supportsLogPoints", before.logs),
        set: is("supportsSetVariable", before.set),
        set_expression: is("supportsSetExpression", before.set_expression),
        terminate: is("supportsTerminateRequest", before.terminate),
        exceptions: is("supportsExceptionInfoRequest", before.exceptions),
        configuration: is("supportsConfigurationDoneRequest", before.configuration),
    }
}

/// The ids of the adapter's filters that stand for a choice of errors.
pub fn filters(offered: &[(String, String, bool)], errors: &Errors) -> Vec<String> {
    let says = |(id, label, _): &(String, String, bool), word: &str| {
        format!("{id} {label}").to_lowercase().contains(word)
    };
    let ids = |found: Vec<&(String, String, bool)>| {
        found.into_iter().map(|(id, ..)| id.clone()).collect::<Vec<_>>()
    };
    match errors {
        Errors::None => Vec::new(),
        Errors::Uncaught => {
            // Two filters that mean nearly the same would stop twice at one error.
            let found = ["uncaught", "unhandled"]
                .into_iter()
                .find_map(|word| offered.iter().find(|f| says(f, word)));
            ids(found.map_or_else(|| offered.iter().filter(|f| f.2).collect(), |f| vec![f]))
        }
        Errors::All => ids(offered.iter().collect()),
        // What is caught nowhere is what the console told of; what the program catches is passed by
        // cheaper unseen.
        Errors::Only(..) => {
            let found = filters(offered, &Errors::Uncaught);
            if found.is_empty() { ids(offered.iter().collect()) } else { found }
        }
    }
}

pub fn value(from: &Json, key: &str) -> Value {
    Value {
        shown: text(from, key).unwrap_or_default(),
        kind: text(from, "type").filter(|t| !t.is_empty()),
        reference: number(from, "variablesReference").unwrap_or(0),
        entries: count(from, "indexedVariables"),
        fields: count(from, "namedVariables"),
    }
}

pub fn variables(body: &Json) -> Vec<Variable> {
    let all = body.get("variables").and_then(Json::as_array).map_or(&[][..], Vec::as_slice);
    let one = |from: &Json| Variable {
        name: text(from, "name").unwrap_or_default(),
        value: value(from, "value"),
        expression: text(from, "evaluateName").filter(|e| !e.is_empty()),
        was: None,
    };
    all.iter().filter(|v| v.is_object()).take(PARTS).map(one).collect()
}

pub fn scopes(body: &Json) -> Vec<Scope> {
    let all = body.get("scopes").and_then(Json::as_array).map_or(&[][..], Vec::as_slice);
    let one = |from: &Json| {
        Some(Scope {
            name: text(from, "name")?,
            reference: number(from, "variablesReference").filter(|r| *r > 0)?,
            expensive: from.get("expensive").and_then(Json::as_bool).unwrap_or(false),
            count: count(from, "namedVariables")
                .map(|n| n + count(from, "indexedVariables").unwrap_or(0)),
        })
    };
    all.iter().filter_map(one).take(40).collect()
}

pub fn frames(body: &Json, own: impl Fn(&str) -> Option<std::sync::Arc<str>>) -> Vec<Frame> {
    let all = body.get("stackFrames").and_then(Json::as_array).map_or(&[][..], Vec::as_slice);
    let one = |from: &Json| {
        let source = from.get("source").unwrap_or(&Json::Null);
        let path = text(source, "path").or_else(|| text(source, "name"));
        let subtle = from.get("presentationHint").and_then(Json::as_str) == Some("label");
        let own = path.as_deref().filter(|_| !subtle).and_then(&own);
        let line = number(from, "line").and_then(|l| u32::try_from(l).ok()).unwrap_or(0);
        Some(Frame {
            id: number(from, "id")?,
            name: text(from, "name").unwrap_or_default(),
            path,
            own,
            line,
        })
    };
    all.iter().filter_map(one).take(STEPS).collect()
}

/// What went wrong, of an answer that says so.
pub fn failure(message: &Json) -> String {
    let error = message.pointer("/body/error");
    let format = error.and_then(|e| text(e, "format")).map(|format| {
        let variables = error.and_then(|e| e.get("variables")).and_then(Json::as_object);
        variables.into_iter().flatten().fold(format, |said, (name, value)| {
            said.replace(&format!("{{{name}}}"), value.as_str().unwrap_or(""))
        })
    });
    format
        .or_else(|| text(message, "message"))
        .unwrap_or_else(|| "it says not why".into())
        .lines()
        .next()
        .unwrap_or("")
        .to_owned()
}
