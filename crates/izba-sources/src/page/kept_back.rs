//! Why a browser keeps an answer from a page (CORS; Fetch Standard, HTTP-CORS protocol): it says that
//! it does and not why, so the headers that the server sends are looked at.

use super::goings::server_of;
use super::served::is_here;
use serde_json::Value;
use std::collections::HashMap;

/// Servers that are asked for one load of a page, and answers to preflights that are kept.
const ASKED: usize = 32;
/// How long a server may take to answer, in seconds.
const PATIENCE: u64 = 3;

/// What a server says of who may read its answers, as far as it says so.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub(super) struct Says {
    status: u64,
    origin: Option<String>,
    methods: String,
}

/// What is known of who may read what.
pub(super) struct KeptBack {
    /// Where the page comes from.
    origin: String,
    /// What servers answered when the browser asked before a request, by address.
    before: HashMap<String, Says>,
    /// What servers answered to ours, by address.
    answers: HashMap<String, Option<Says>>,
    ask: fn(&str, &str) -> Option<Says>,
}

impl KeptBack {
    pub(super) fn new() -> KeptBack {
        KeptBack { origin: String::new(), before: HashMap::new(), answers: HashMap::new(), ask }
    }

    /// The page is loaded from an address.
    pub(super) fn starts(&mut self, page: &str) {
        self.origin = origin_of(page).unwrap_or_else(|| "null".to_owned());
        self.before.clear();
        self.answers.clear();
    }

    /// Whether an answer is that of a server whom the browser asks before the page's own request;
    /// then it is kept.
    pub(super) fn is_asked_before(&mut self, params: &Value) -> bool {
        let request = &params["request"];
        let Some(url) = request["url"].as_str().filter(|url| self.is_elsewhere(url)) else {
            return false;
        };
        if request["method"] != "OPTIONS" {
            return false;
        }
        let response = &params["response"];
        let header = |name: &str| {
            let headers = response["headers"].as_array().into_iter().flatten();
            let found = headers
                .filter(|h| h["name"].as_str().is_some_and(|n| n.eq_ignore_ascii_case(name)));
            found.filter_map(|h| h["value"]["value"].as_str()).next().map(str::to_owned)
        };
        let says = Says {
            status: response["status"].as_u64().unwrap_or(0),
            origin: header("access-control-allow-origin"),
            methods: header("access-control-allow-methods").unwrap_or_default(),
        };
        if self.before.len() < ASKED {
            self.before.insert(url.to_owned(), says);
        }
        true
    }

    /// Why the page may not have an answer that the browser did not hand over; `None` where that is
    /// not known to be so.
    pub(super) fn why(&mut self, params: &Value) -> Option<String> {
        let request = &params["request"];
        let url = request["url"].as_str().filter(|url| self.is_elsewhere(url))?;
        let method = request["method"].as_str().unwrap_or("GET");
        let why = match self.before.get(url) {
            Some(says) => self.why_before(says, method),
            None => {
                let says = self.says(url, method)?;
                Some(self.why_of(&says)).filter(|why| !why.is_empty())
            }
        };
        let why = why.unwrap_or_else(|| {
            // Methods are looked at; what else a request may need (a header, cookies) is not told.
            "its server does not allow all that this request has (Access-Control-Allow-Headers, \
             -Credentials)"
                .to_owned()
        });
        Some(format!(
            "the browser keeps the answer from the page: {why}; the page is {}",
            self.origin
        ))
    }

    fn why_before(&self, says: &Says, method: &str) -> Option<String> {
        if !(200..300).contains(&says.status) {
            let status = says.status;
            return Some(format!(
                "its server answers {status} to the question before it (OPTIONS)"
            ));
        }
        let why = self.why_of(says);
        if !why.is_empty() && says.origin.as_deref() != Some("*") {
            return Some(why);
        }
        let simple = ["GET", "HEAD", "POST"].contains(&method);
        let named = says.methods.split(',').any(|m| ["*", method].contains(&m.trim()));
        (!simple && !named)
            .then(|| format!("its server does not allow {method} (Access-Control-Allow-Methods)"))
    }

    /// Why an answer with these headers may not be read; nothing where it may.
    fn why_of(&self, says: &Says) -> String {
        match says.origin.as_deref() {
            None => {
                "its server names no page that may read it (no Access-Control-Allow-Origin)".into()
            }
            Some("*") => {
                "any page may read it (Access-Control-Allow-Origin: *), but none that sends \
                          cookies along"
                    .into()
            }
            Some(origin) if origin == self.origin => String::new(),
            Some(other) => {
                format!("its server lets only {other} read it (Access-Control-Allow-Origin)")
            }
        }
    }

    /// What a server of this machine says at an address: what a page asks by GET may be asked once
    /// more.
    fn says(&mut self, url: &str, method: &str) -> Option<Says> {
        if method != "GET" || !is_here(server_of(url)?.0) {
            return None;
        }
        if let Some(known) = self.answers.get(url) {
            return known.clone();
        }
        if self.answers.len() >= ASKED {
            return None;
        }
        let says = (self.ask)(url, &self.origin);
        self.answers.insert(url.to_owned(), says.clone());
        says
    }

    fn is_elsewhere(&self, url: &str) -> bool {
        origin_of(url).is_some_and(|origin| origin != self.origin)
    }
}

/// The origin of an address on a server (RFC 6454): scheme, host and port.
fn origin_of(url: &str) -> Option<String> {
    server_of(url)?;
    let (scheme, rest) = url.split_once("://")?;
    let place = rest.split(['/', '?', '#']).next()?.rsplit('@').next()?;
    let usual = if scheme == "https" { ":443" } else { ":80" };
    Some(format!("{scheme}://{}", place.strip_suffix(usual).unwrap_or(place)))
}

/// Asks a server as the page did.
fn ask(url: &str, origin: &str) -> Option<Says> {
    let asked = minreq::get(url).with_header("origin", origin).with_timeout(PATIENCE);
    let answer = asked.with_max_redirects(2).send_lazy().ok()?;
    let named =
        |(name, _): &&(String, String)| name.eq_ignore_ascii_case("access-control-allow-origin");
    Some(Says {
        status: answer.status_code.into(),
        origin: answer.headers.iter().find(named).map(|(_, origin)| origin.clone()),
        methods: String::new(),
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    fn kept() -> KeptBack {
        let ask = |url: &str, origin: &str| {
            assert_eq!(origin, "http://localhost:5173");
            let may = match url.rsplit('/').next()? {
                "none" => None,
                "other" => Some("https://quay.example".to_owned()),
                "any" => Some("*".to_owned()),
                "this" => Some(origin.to_owned()),
                _ => return None,
            };
            Some(Says { status: 200, origin: may, methods: String::new() })
        };
        let mut kept = KeptBack { ask, ..KeptBack::new() };
        kept.starts("http://localhost:5173/tickets?x");
        kept
    }

    fn asked(url: &str, method: &str) -> Value {
        json!({"request": {"url": url, "method": method}})
    }

    #[test]
    fn the_reason_is_told_from_what_the_server_says() {
        let mut kept = kept();
        for (path, wanted) in [
            ("none", Some("names no page that may read it")),
            ("other", Some("lets only https://quay.example read it")),
            ("any", Some("none that sends cookies along")),
            ("this", Some("not allow all that this request has")),
            ("gone", None),
        ] {
            let why = kept.why(&asked(&format!("http://127.0.0.1:8080/{path}"), "GET"));
            assert_eq!(
                why.as_deref().map(|w| w.contains(wanted.unwrap_or("?"))),
                wanted.map(|_| true)
            );
        }
        assert_eq!(kept.why(&asked("http://localhost:5173/none", "GET")), None, "its own server");
        assert_eq!(kept.why(&asked("http://127.0.0.1:8080/none", "PUT")), None, "not asked again");
        assert_eq!(kept.why(&asked("https://quay.example/none", "GET")), None, "nor elsewhere");
    }

    #[test]
    fn what_the_browser_asks_before_tells_why_the_request_was_not_made() {
        let mut kept = kept();
        let mut why = |status: u64, headers: &[(&str, &str)]| {
            let headers: Vec<Value> = headers
                .iter()
                .map(|(name, value)| json!({"name": name, "value": {"value": value}}))
                .collect();
            let mut told = asked("http://127.0.0.1:8080/a", "OPTIONS");
            told["response"] = json!({"status": status, "headers": headers});
            assert!(kept.is_asked_before(&told));
            kept.why(&asked("http://127.0.0.1:8080/a", "PUT")).unwrap_or_default()
        };
        let any = ("Access-Control-Allow-Origin", "*");
        assert!(why(405, &[]).contains("answers 405 to the question before it"));
        assert!(why(204, &[]).contains("names no page"));
        assert!(why(204, &[any]).contains("does not allow PUT"));
        let puts = ("access-control-allow-methods", "GET, PUT");
        assert!(why(204, &[any, puts]).contains("all that this request has"));
        let own = asked("http://localhost:5173/a", "OPTIONS");
        assert!(!kept.is_asked_before(&own), "the page's own server");
        assert!(!kept.is_asked_before(&asked("http://127.0.0.1:8080/a", "GET")));
    }
}
