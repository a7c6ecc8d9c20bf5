//! What a page says, as lines of a console.

use izba_model::text::counted;
use serde_json::Value;

/// Lines for what the page's own ears heard.
pub(super) fn from_page(told: &Value) -> Option<String> {
    let text = |name: &str| told[name].as_str().unwrap_or_default();
    let message = text("message").trim_start_matches("Uncaught ");
    let stack = text("stack");
    let place = || match (text("url"), told["line"].as_u64()) {
        ("", _) | (_, None | Some(0)) => String::new(),
        (url, Some(line)) => {
            format!("\n    at {url}:{line}:{}", told["column"].as_u64().unwrap_or(1).max(1))
        }
    };
    let words = if stack.contains(message.split_once(": ").map_or(message, |(_, m)| m)) {
        stack.to_owned()
    } else {
        format!("{message}{}", place())
    };
    Some(match text("kind") {
        // A script that cannot be read has only the place that the event tells; what was read as
        // code or data by a script has the steps that led there.
        "error" if message.starts_with("SyntaxError") && !stack.contains("\n    at ") => {
            format!("[page error] {message}{}\n", place())
        }
        "error" => format!("[page error] {words}\n"),
        "rejection" => format!("[page error] nobody caught this promise: {words}\n"),
        // Failed loads are told by the network, with the status.
        "policy" => {
            let (level, forbids) = match told["only"].as_bool() {
                Some(true) => ("warning", "would forbid"),
                _ => ("error", "forbids"),
            };
            let code =
                if text("code").is_empty() { String::new() } else { format!(": {}", text("code")) };
            format!(
                "[page {level}] {} was not let in: the policy {message} {forbids} it{code}{}\n",
                text("blocked"),
                place()
            )
        }
        "socket" => {
            format!("[page error] the socket to {} failed{stack}\n", text("url"))
        }
        "left" => {
            let level = if text("level") == "error" { "error" } else { "note" };
            let count = told["count"].as_u64().filter(|n| *n > 0)?;
            format!(
                "[page {level}] {} of such a second were left out: the page says more than a \
                browser can pass on\n",
                counted(count, "more message", "more messages")
            )
        }
        _ => return None,
    })
}

/// Lines for a call of the page's console.
pub(super) fn from_console(params: &Value, words: &str) -> String {
    let level = match params["level"].as_str() {
        Some("error") => "error",
        Some("warn") => "warning",
        _ => "note",
    };
    let mut lines = format!("[page {level}] {words}\n");
    // An error that was printed tells its own steps.
    if level != "note" && !words.contains("\n    at ") {
        lines += &steps(&params["stackTrace"]);
    }
    lines
}

/// The steps of a trace as the browser tells it, a line each.
pub(super) fn steps(trace: &Value) -> String {
    // The first step is in our own script, which has no address.
    let ours = |f: &&Value| f["url"].as_str().unwrap_or_default().is_empty();
    let frames = trace["callFrames"].as_array().into_iter().flatten();
    let step = |frame: &Value| {
        let number = |name: &str| frame[name].as_u64().unwrap_or(0) + 1;
        let (function, url) =
            (frame["functionName"].as_str().unwrap_or(""), frame["url"].as_str().unwrap_or(""));
        let place = format!("{url}:{}:{}", number("lineNumber"), number("columnNumber"));
        match function {
            "" => format!("    at {place}\n"),
            function => format!("    at {function} ({place})\n"),
        }
    };
    frames.skip_while(ours).map(step).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    #[test]
    fn what_was_left_out_is_told_with_its_number_and_nothing_else_is() {
        let said =
            |count: u64| from_page(&json!({"kind": "left", "level": "note", "count": count}));
        assert_eq!(
            said(999_700).as_deref(),
            Some(
                "[page note] 999 700 more messages of such a second were left out: the page says \
                more than a browser can pass on\n"
            )
        );
        assert_eq!(said(0), None);
        assert_eq!(from_page(&json!({"kind": "anything", "count": 3})), None);
    }

    #[test]
    fn steps_in_our_own_script_are_not_told_and_those_of_the_page_are() {
        let frame = |name: &str, url: &str, line: u32| json!({"functionName": name, "url": url, "lineNumber": line, "columnNumber": 4});
        let said = |level: &str, frames: Vec<Value>| {
            let params = json!({"level": level, "stackTrace": {"callFrames": frames}});
            from_console(&params, "no wind")
        };
        let frames = || {
            let page = "http://localhost:8000/sail.js";
            vec![frame("warn", "", 60), frame("hoist", page, 11), frame("", page, 29)]
        };
        assert_eq!(
            said("warn", frames()),
            "[page warning] no wind\n    at hoist (http://localhost:8000/sail.js:12:5)\n    at \
            http://localhost:8000/sail.js:30:5\n"
        );
        assert_eq!(said("info", frames()), "[page note] no wind\n");
    }
}
