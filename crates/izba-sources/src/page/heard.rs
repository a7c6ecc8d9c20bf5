//! What the events of a browser mean for the console: each error once, by whoever tells it best.
//!
//! What nobody caught is told twice: by the page itself, with all its steps, and by the browser's log.
//! Either may miss it: the page hears little of scripts from elsewhere, the log has fewer steps. So
//! what the log says waits for a moment whether the page says it too.

use super::kept_back::KeptBack;
use super::lines::{from_console, from_page, steps};
use serde_json::Value;
use std::collections::{HashMap, HashSet, VecDeque};
use std::time::{Duration, Instant};

/// How long what one side said waits for the other.
const BETTER: Duration = Duration::from_millis(400);
/// Scripts and style sheets of a page whose addresses are known.
const READ: usize = 20_000;
/// How late the page may tell what the log told already, on a machine that is busy.
const LATE: Duration = Duration::from_secs(10);
/// What is kept of addresses and errors that were told.
const KEPT: usize = 1_000;

/// What an event of the browser means.
pub(super) enum Said {
    /// The page goes to an address.
    Navigated(String),
    /// It said something.
    Lines(String),
    /// It has read what is at an address anew, and stays as it is.
    Anew(String),
    /// It was closed.
    Closed,
}

/// What was heard of a page so far.
pub(super) struct Ears {
    /// The page, as the browser calls it.
    page: String,
    /// Requests that were answered with a refusal: that they fail besides is the same.
    refused: HashSet<String>,
    /// Errors that the page has told and the log not yet, by their words, and how many.
    told: HashMap<String, u32>,
    /// Errors that were told as the log tells them, when: the page may yet.
    logged: VecDeque<(Instant, String)>,
    /// What one side said and waits for the other.
    waiting: Vec<Waiting>,
    /// What the page knows of errors that only the log will tell, if nobody catches them: their words,
    /// and these with steps and what they are about.
    known: VecDeque<(String, String)>,
    /// Which answers the page may not have, and why.
    kept_back: KeptBack,
    /// The address of each script and style sheet that was read last, by its name without a version.
    read: HashMap<String, String>,
}

/// What one side said.
struct Waiting {
    since: Instant,
    /// Whether the page said it.
    by_page: bool,
    words: String,
    /// The line for it, and the lines for its steps.
    line: String,
    steps: String,
}

impl Ears {
    pub(super) fn of(page: String) -> Ears {
        let (refused, told) = (HashSet::new(), HashMap::new());
        Ears {
            page,
            refused,
            told,
            logged: VecDeque::new(),
            waiting: Vec::new(),
            known: VecDeque::new(),
            kept_back: KeptBack::new(),
            read: HashMap::new(),
        }
    }

    /// What an event means; `None` where it means nothing, or nothing yet.
    pub(super) fn hear(&mut self, event: &Value) -> Option<Said> {
        let params = &event["params"];
        let ours = params["context"].as_str() == Some(&self.page);
        let lines = match event["method"].as_str()? {
            "browsingContext.navigationStarted" => {
                if !ours {
                    return None;
                }
                self.refused.clear();
                self.told.clear();
                self.logged.clear();
                self.known.clear();
                self.read.clear();
                self.kept_back.starts(params["url"].as_str().unwrap_or_default());
                return Some(Said::Navigated(text(&params["url"])));
            }
            "browsingContext.contextDestroyed" => return ours.then_some(Said::Closed),
            "script.message" if params["channel"] == "izba" => {
                let told: Value = serde_json::from_str(params["data"]["value"].as_str()?).ok()?;
                self.page_says(&told)?
            }
            "log.entryAdded" if params["type"] == "javascript" => self.log_says(params)?,
            "log.entryAdded" => from_console(params, params["text"].as_str().unwrap_or_default()),
            "network.responseStarted" | "network.responseCompleted"
                if self.kept_back.is_asked_before(params) =>
            {
                return None;
            }
            "network.responseStarted" | "network.responseCompleted" => {
                let begins = event["method"] == "network.responseStarted";
                let Some(why) = refusal(params) else {
                    let anew = (ours && !begins).then(|| self.read_anew(params)).flatten();
                    return anew.map(Said::Anew);
                };
                // Told when it begins, and where too many are kept when it ends.
                let request = text(&params["request"]["request"]);
                let full = self.refused.len() >= KEPT;
                if self.refused.contains(&request) || begins && full {
                    return None;
                }
                if !full {
                    self.refused.insert(request);
                }
                not_loaded(params, &why)
            }
            "network.fetchError" => {
                let request = params["request"]["request"].as_str().unwrap_or_default();
                if self.refused.contains(request) {
                    return None;
                }
                let error = params["errorText"].as_str().unwrap_or_default();
                if error.is_empty() {
                    return self.not_asked(params).map(Said::Lines);
                }
                // So a browser says it that has an answer and keeps it.
                let kept = if error == KEPT_BACK { self.kept_back.why(params) } else { None };
                not_loaded(params, kept.as_deref().unwrap_or(error))
            }
            _ => return None,
        };
        Some(Said::Lines(lines))
    }

    /// What one side said so long ago that the other will not say it any more.
    pub(super) fn due(&mut self) -> Option<String> {
        if self.waiting.first()?.since.elapsed() < BETTER {
            return None;
        }
        let waited = self.waiting.remove(0);
        if waited.by_page {
            self.is_told(waited.words);
        } else {
            if self.logged.len() >= KEPT {
                self.logged.pop_front();
            }
            self.logged.push_back((Instant::now(), waited.words));
        }
        Some(waited.line + &waited.steps)
    }

    /// What still waits when nothing more will be said.
    pub(super) fn rest(&mut self) -> String {
        self.waiting.drain(..).map(|w| w.line + &w.steps).collect()
    }

    /// That the page told it, and the log may yet.
    fn is_told(&mut self, words: String) {
        if self.told.len() > KEPT {
            self.told.clear();
        }
        *self.told.entry(words).or_default() += 1;
    }

    fn page_says(&mut self, told: &Value) -> Option<String> {
        let message = bare(told["message"].as_str().unwrap_or_default());
        // Of a script from elsewhere, as all are in a page that was opened as a file, the page hears
        // no more than this.
        if message == "Script error." {
            return None;
        }
        if told["kind"] == "about" {
            let all = text(&told["stack"]);
            // The log may have been quicker.
            if let Some(at) = self.waiting.iter().position(|w| !w.by_page && w.words == message) {
                self.waiting.remove(at);
                return Some(uncaught(&all));
            }
            // What the page caught itself is never asked for: the oldest makes room.
            if self.known.len() >= KEPT {
                self.known.pop_front();
            }
            self.known.push_back((message.to_owned(), all));
            return None;
        }
        let line = from_page(told)?;
        if told["kind"] == "policy" {
            let words = barred(told["blocked"].as_str().unwrap_or_default());
            // The request that was not made tells better who wanted it.
            let at = self.waiting.iter().position(|w| w.words == words);
            let steps = at.map(|at| self.waiting.remove(at).steps);
            if at.is_none() && self.refused.len() < KEPT {
                self.refused.insert(words);
            }
            return Some(line + steps.as_deref().filter(|_| stepless(told)).unwrap_or_default());
        }
        if !matches!(told["kind"].as_str(), Some("error" | "rejection")) {
            return Some(line);
        }
        let stepless = !line.contains(STEP);
        let logged = |w: &Waiting| !w.by_page && same(&w.words, message);
        if let Some(at) = self.waiting.iter().position(logged) {
            // What the page says of it is said better, but for its steps perhaps.
            let log = self.waiting.remove(at);
            return Some(if stepless { line + &log.steps } else { line });
        }
        self.logged.retain(|(when, _)| when.elapsed() < LATE);
        if let Some(at) = self.logged.iter().position(|(_, words)| same(words, message)) {
            self.logged.remove(at);
            return None;
        }
        if stepless && self.waiting.len() < KEPT {
            self.wait(true, message, line, String::new());
            return None;
        }
        self.is_told(message.to_owned());
        Some(line)
    }

    fn log_says(&mut self, params: &Value) -> Option<String> {
        let message = bare(params["text"].as_str().unwrap_or_default());
        let known = self.told.iter_mut().find(|(words, n)| **n > 0 && same(message, words));
        if let Some((_, count)) = known {
            *count -= 1;
            return None;
        }
        let found = steps(&params["stackTrace"]);
        if let Some(at) = self.known.iter().position(|(words, _)| words == message) {
            let (_, all) = self.known.remove(at).unwrap_or_default();
            return Some(uncaught(&all));
        }
        if let Some(at) = self.waiting.iter().position(|w| w.by_page && same(message, &w.words)) {
            return Some(self.waiting.remove(at).line + &found);
        }
        let line = format!("[page error] {message}\n");
        if self.waiting.len() >= KEPT {
            return Some(line + &found);
        }
        // An error that tells its own steps needs no others.
        let found = if message.contains(STEP) { String::new() } else { found };
        self.wait(false, message, line, found);
        None
    }

    /// The address of a script or style sheet that was read before in another version: what a build
    /// server puts in its place while the page goes on.
    fn read_anew(&mut self, params: &Value) -> Option<String> {
        matches!(params["request"]["destination"].as_str()?, "script" | "style").then_some(())?;
        let address = params["request"]["url"].as_str()?;
        let name = without_version(address);
        if self.read.len() >= READ && !self.read.contains_key(&name) {
            return None;
        }
        let before = self.read.insert(name, address.to_owned())?;
        (before != address).then(|| address.to_owned())
    }

    /// What the browser did not even ask for: the page's policy may say why, before or behind it.
    fn not_asked(&mut self, params: &Value) -> Option<String> {
        let words = barred(params["request"]["url"].as_str().unwrap_or_default());
        if self.refused.remove(&words) {
            return None;
        }
        let lines = not_loaded(params, "the browser does not ask for it");
        if self.waiting.len() >= KEPT {
            return Some(lines);
        }
        let (line, steps) = lines.split_once('\n').unwrap_or((&lines, ""));
        self.wait(false, &words, format!("{line}\n"), steps.to_owned());
        None
    }

    fn wait(&mut self, by_page: bool, words: &str, line: String, steps: String) {
        let (since, words) = (Instant::now(), words.to_owned());
        self.waiting.push(Waiting { since, by_page, words, line, steps });
    }
}

/// How it is kept that a policy or the browser bars an address.
fn barred(address: &str) -> String {
    format!("barred {address}")
}

/// Whether the page tells no place of what it tells.
fn stepless(told: &Value) -> bool {
    told["line"].as_u64().is_none_or(|line| line == 0)
}

/// What the browser says of a request whose answer it keeps from the page; and of others.
const KEPT_BACK: &str = "net::ERR_FAILED";

/// How a step begins.
const STEP: &str = "\n    at ";

/// Why an answer is none: its status, or that it is of another kind than was asked for.
fn refusal(params: &Value) -> Option<String> {
    let response = &params["response"];
    if let Some(status) = response["status"].as_u64().filter(|s| *s >= 400) {
        return Some(format!("the server answers {status}"));
    }
    let wanted = match params["request"]["destination"].as_str()? {
        "script" | "worker" | "sharedworker" => "a script",
        "style" => "a style sheet",
        _ => return None,
    };
    let html = response["mimeType"].as_str()?.starts_with("text/html");
    html.then(|| format!("the server answers with a page of HTML, and not with {wanted}"))
}

/// A line for what was not loaded, and one for who asked for it.
fn not_loaded(params: &Value, why: &str) -> String {
    let request = &params["request"];
    let url = request["url"].as_str().unwrap_or_default();
    let asked = &request["goog:resourceInitiator"];
    let by = steps(&asked["stack"]);
    let number = |name: &str| asked[name].as_u64().map_or(1, |n| n + 1);
    let by = match asked["url"].as_str().filter(|_| by.is_empty()) {
        Some(page) if asked["lineNumber"].is_u64() => {
            format!("    at {page}:{}:{}\n", number("lineNumber"), number("columnNumber"))
        }
        _ => by,
    };
    format!("[page error] {url} was not loaded: {why}\n{by}")
}

/// An address without the parts of its query that only say which version is asked for: a time, or the
/// digest of what is there.
fn without_version(address: &str) -> String {
    let (path, query) = address.split_once('?').unwrap_or((address, ""));
    let is_version = |part: &&str| {
        let (_, value) = part.split_once('=').unwrap_or(("", part));
        value.len() >= 8
            && value.contains(|c: char| c.is_ascii_digit())
            && value.chars().all(|c| c.is_ascii_hexdigit())
    };
    let kept: Vec<&str> = query.split('&').filter(|p| !p.is_empty() && !is_version(p)).collect();
    format!("{path}?{}", kept.join("&"))
}

/// A line for a promise that nobody caught.
fn uncaught(words: &str) -> String {
    format!("[page error] nobody caught this promise: {words}\n")
}

fn text(value: &Value) -> String {
    value.as_str().unwrap_or_default().to_owned()
}

/// The words of an error without what the browser says of how it came.
fn bare(message: &str) -> &str {
    let mut message = message;
    for begin in ["Uncaught ", "(in promise) ", "Uncaught "] {
        message = message.strip_prefix(begin).unwrap_or(message);
    }
    message
}

/// Whether what the log says is what the page says: the log may tell of how it came, or of the whole
/// error with its steps.
fn same(log: &str, page: &str) -> bool {
    log == page
        || log.strip_prefix(page).is_some_and(|rest| rest.starts_with('\n'))
        // A value that is no error is told by the log as what it is, and by the page as it looks.
        || log.starts_with("[object ") && page.contains('{')
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    fn page(kind: &str, message: &str) -> Value {
        let told = json!({"kind": kind, "message": message, "stack": "", "url": "http://localhost/sail.js", "line": 3, "column": 1});
        json!({"method": "script.message", "params": {"channel": "izba", "data": {"value": told.to_string()}}})
    }

    fn log(message: &str) -> Value {
        json!({"method": "log.entryAdded", "params": {"type": "javascript", "level": "error", "text": message, "stackTrace": {"callFrames": [{"url": "http://localhost/sail.js", "functionName": "", "lineNumber": 2, "columnNumber": 0}]}}})
    }

    fn lines(said: Option<Said>) -> Option<String> {
        match said? {
            Said::Lines(lines) => Some(lines),
            _ => None,
        }
    }

    #[test]
    fn what_both_tell_is_told_once_and_what_one_tells_too() {
        let mut ears = Ears::of("tab".into());
        // The page first.
        let told = lines(ears.hear(&page("error", "Uncaught TypeError: no wind"))).expect("told");
        assert!(told.contains("TypeError: no wind"), "{told}");
        assert!(ears.hear(&log("TypeError: no wind")).is_none());
        assert_eq!(ears.rest(), "");
        // The log first.
        assert!(ears.hear(&log("Uncaught (in promise) Error: torn")).is_none());
        assert!(ears.hear(&page("rejection", "Error: torn")).is_some());
        assert_eq!(ears.rest(), "");
        // The log alone, twice.
        assert!(ears.hear(&log("SyntaxError: odd")).is_none());
        assert!(ears.hear(&log("SyntaxError: odd")).is_none());
        assert_eq!(ears.due(), None, "the page may still tell it better");
        assert_eq!(ears.rest().matches("[page error] SyntaxError: odd\n    at ").count(), 2);
        // The log alone for a while, and then the page after all.
        assert!(ears.hear(&log("Error: late")).is_none());
        ears.waiting.iter_mut().for_each(|w| w.since -= BETTER);
        assert!(ears.due().is_some_and(|told| told.contains("Error: late")));
        assert!(ears.hear(&page("error", "Uncaught Error: late")).is_none(), "it is told");
        assert!(ears.hear(&page("error", "Uncaught Error: late")).is_some(), "this is another");
    }

    #[test]
    fn steps_that_one_side_has_are_told_with_the_words_of_the_other() {
        let stepless = |kind: &str, message: &str| {
            let told = json!({"kind": kind, "message": message, "stack": ""});
            json!({"method": "script.message", "params": {"channel": "izba", "data": {"value": told.to_string()}}})
        };
        let wanted = "[page error] nobody caught this promise: {code: 4}\n    at http://localhost/sail.js:3:1\n";
        let mut ears = Ears::of("tab".into());
        assert!(ears.hear(&stepless("rejection", "{code: 4}")).is_none());
        assert_eq!(lines(ears.hear(&log("[object Object]"))).as_deref(), Some(wanted));
        assert!(ears.hear(&log("[object Object]")).is_none());
        assert_eq!(lines(ears.hear(&stepless("rejection", "{code: 4}"))).as_deref(), Some(wanted));
        assert_eq!(ears.rest(), "");
    }

    #[test]
    fn what_the_page_knows_of_an_answer_is_told_once_nobody_catches_it() {
        let mut ears = Ears::of("tab".into());
        let said = "SyntaxError: odd (http://localhost/fares answered 404 with text/html)\n    at load \
            (http://localhost/sail.js:4:9)";
        let told = json!({"kind": "about", "message": "SyntaxError: odd", "stack": said});
        let about = json!({"method": "script.message", "params": {"channel": "izba", "data": {"value": told.to_string()}}});
        assert!(ears.hear(&about).is_none());
        let wanted = format!("[page error] nobody caught this promise: {said}\n");
        let mut log = log("Uncaught (in promise) SyntaxError: odd");
        log["params"]["stackTrace"] = Value::Null;
        assert_eq!(lines(ears.hear(&log)), Some(wanted));
        assert!(ears.hear(&log).is_none());
        assert_eq!(ears.rest(), "[page error] SyntaxError: odd\n", "the next one is another");
    }

    #[test]
    fn what_a_policy_bars_is_told_once_in_whichever_order_it_is_heard() {
        let far = "http://far.example/a.js";
        let told = json!({"kind": "policy", "message": "script-src", "blocked": far, "line": 0});
        let policy = json!({"method": "script.message", "params": {"channel": "izba", "data": {"value": told.to_string()}}});
        let mut fails = request(1, "network.fetchError", json!({"errorText": ""}));
        fails["params"]["request"]["url"] = far.into();
        let wanted =
            format!("[page error] {far} was not let in: the policy script-src forbids it\n");
        let step = "    at http://localhost/:8:1\n";
        let mut ears = Ears::of("tab".into());
        assert!(ears.hear(&fails).is_none());
        assert_eq!(lines(ears.hear(&policy)), Some(format!("{wanted}{step}")));
        assert_eq!(lines(ears.hear(&policy)).as_deref(), Some(wanted.as_str()));
        assert!(ears.hear(&fails).is_none());
        assert_eq!(ears.rest(), "");
        // Without a policy it is told too.
        assert!(ears.hear(&fails).is_none());
        assert!(ears.rest().contains("was not loaded: the browser does not ask for it"));
    }

    fn request(id: u32, method: &str, more: Value) -> Value {
        let asked = json!({"type": "parser", "url": "http://localhost/", "lineNumber": 7, "columnNumber": 0});
        let mut params = json!({"request": {"request": id.to_string(), "url": "http://localhost/sail.js", "destination": "script", "goog:resourceInitiator": asked}});
        if let (Some(params), Value::Object(more)) = (params.as_object_mut(), more) {
            params.extend(more);
        }
        json!({"method": method, "params": params})
    }

    #[test]
    fn a_script_of_another_version_is_read_anew_and_another_part_of_one_file_is_not() {
        let mut ears = Ears::of("tab".into());
        let mut anew = |address: &str, kind: &str| {
            let asked = json!({"request": address, "url": address, "destination": kind});
            let answer = json!({"status": 200, "mimeType": "text/javascript"});
            let params = json!({"context": "tab", "request": asked, "response": answer});
            let event = json!({"method": "network.responseCompleted", "params": params});
            matches!(ears.hear(&event), Some(Said::Anew(told)) if told == address)
        };
        let sail = "http://localhost/sail.js";
        assert!(!anew(sail, "script") && !anew(sail, "script"));
        assert!(!anew("http://localhost/sail.js?part&type=style", "script"), "another part of it");
        assert!(anew("http://localhost/sail.js?t=1763900000123", "script"));
        assert!(!anew("http://localhost/sail.js?t=1763900000123", "script"));
        assert!(anew("http://localhost/sail.js?t=1763900000999", "script"));
        assert!(anew("http://localhost/sail.js?part&type=style&t=1763900000999", "script"));
        assert!(!anew("http://localhost/fares.json", ""));
        assert!(!anew("http://localhost/fares.json?t=1763900000123", ""), "data is no code");
    }

    #[test]
    fn each_load_that_fails_is_told_once_with_who_asked_for_it() {
        let mut ears = Ears::of("tab".into());
        let answer = |id, status: u32, kind: &str| {
            request(
                id,
                "network.responseCompleted",
                json!({"response": {"status": status, "mimeType": kind}}),
            )
        };
        let fails =
            |id| request(id, "network.fetchError", json!({"errorText": "net::ERR_ABORTED"}));
        let told = lines(ears.hear(&answer(1, 404, "text/html"))).expect("told");
        assert_eq!(
            told,
            "[page error] http://localhost/sail.js was not loaded: the server answers 404\n    at \
            http://localhost/:8:1\n"
        );
        assert!(ears.hear(&fails(1)).is_none(), "it is the same");
        // Of a worker that is a module only the beginning is told.
        let mut begins = answer(6, 200, "text/html");
        begins["method"] = "network.responseStarted".into();
        assert!(lines(ears.hear(&begins)).is_some_and(|told| told.contains("a page of HTML")));
        assert!(ears.hear(&answer(6, 200, "text/html")).is_none(), "it is told");
        assert!(ears.hear(&fails(2)).is_some() && ears.hear(&fails(3)).is_some());
        assert!(ears.hear(&answer(4, 200, "text/javascript")).is_none());
        let html = lines(ears.hear(&answer(5, 200, "text/html"))).expect("told");
        assert!(html.contains("a page of HTML, and not with a script"), "{html}");
        let go = |to: &str| json!({"method": "browsingContext.navigationStarted", "params": {"context": to, "url": "http://localhost/"}});
        assert!(ears.hear(&go("frame")).is_none(), "another frame is not the page");
        assert!(matches!(ears.hear(&go("tab")), Some(Said::Navigated(_))));
    }
}
