//! Who may send to a listener over HTTP. Any page in the user's browser can make it send to an
//! address of this machine, so a page is let in only when it is one of this machine, when Izba opened
//! it, or when the user named it; and a name that is not this machine's is no address of ours (an
//! attack by DNS may make it lead here). Beyond the loopback everybody needs the token.

use super::Answer;
use hyper::{HeaderMap, StatusCode, Uri};
use std::collections::BTreeSet;
use std::io::Read;
use std::net::{IpAddr, SocketAddr};
use std::os::unix::fs::OpenOptionsExt;
use std::path::Path;
use std::sync::{Arc, Mutex};

/// Pages that Izba opened, by their origins.
static OPENED: Mutex<BTreeSet<String>> = Mutex::new(BTreeSet::new());
/// More of them are not remembered.
const OPENED_CAP: usize = 1_000;

/// Who may send to a listener.
#[derive(Debug, Clone, Default)]
pub struct Admission {
    /// What senders have to know, where the listener is reached from other machines.
    pub token: Option<Arc<str>>,
}

impl Admission {
    /// Whether a request is let in.
    ///
    /// # Errors
    ///
    /// The answer that says why not.
    pub(crate) fn admits(
        &self,
        bound: SocketAddr,
        headers: &HeaderMap,
        uri: &Uri,
    ) -> Result<(), Answer> {
        let text = |name: &str| headers.get(name).map(|v| v.to_str().unwrap_or("\u{fffd}"));
        let near = is_loopback(bound.ip());
        let host = uri.authority().map(|a| a.as_str()).or_else(|| text("host"));
        if near && !host.is_some_and(is_here) {
            let why = "this listener is reached as 127.0.0.1 or localhost only";
            return Err(Answer::text(StatusCode::MISDIRECTED_REQUEST, why).for_nobody());
        }
        if text("origin").is_some_and(|origin| !is_known_page(origin)) {
            let why = "this page may not send here: serve it from localhost, or open it with izba \
                       page";
            return Err(Answer::text(StatusCode::FORBIDDEN, why).for_nobody());
        }
        let given = text("authorization").and_then(|a| a.strip_prefix("Bearer "));
        let asked = uri
            .query()
            .and_then(|q| q.split('&').find_map(|pair| pair.strip_prefix("access_token=")));
        // OPTIONS comes without what the request itself will hold.
        match &self.token {
            Some(token) if given.or(asked) != Some(token) => {
                let why = "this listener needs a token: Izba tells it in the listener's lines";
                Err(Answer::text(StatusCode::UNAUTHORIZED, why)
                    .with("www-authenticate", "Bearer")
                    .for_nobody())
            }
            _ => Ok(()),
        }
    }

    /// What the user is told of how to send here, if it takes anything.
    pub(crate) fn told(&self, bound: SocketAddr) -> Option<String> {
        let token = self.token.as_ref()?;
        Some(format!(
            "Others reach {bound} too, so senders need the header: Authorization: Bearer {token} \
             (or ?access_token=… behind the path). It travels unencrypted: in a network that is not \
             yours, put TLS before it."
        ))
    }
}

/// Whether only programs of this machine reach an address (RFC 1122, RFC 4291), also when it is an
/// IPv4 address within an IPv6 one.
pub fn is_loopback(ip: IpAddr) -> bool {
    ip.to_canonical().is_loopback()
}

/// Whether an authority (`host`, `host:port`) is this machine's own.
fn is_here(authority: &str) -> bool {
    let host = match authority.strip_prefix('[').and_then(|rest| rest.split_once(']')) {
        Some((address, _)) => address,
        None => authority.split(':').next().unwrap_or_default(),
    };
    let host = host.to_ascii_lowercase();
    host == "localhost"
        || host.ends_with(".localhost")
        || host.parse::<IpAddr>().is_ok_and(is_loopback)
}

fn is_known_page(origin: &str) -> bool {
    let served_here = ["http://", "https://"]
        .iter()
        .any(|scheme| origin.strip_prefix(scheme).is_some_and(is_here));
    served_here || OPENED.lock().is_ok_and(|opened| opened.contains(origin))
}

/// Remembers that Izba opened a page: what it sends is taken.
pub(crate) fn page_opened(url: &str) {
    let Some((scheme, rest)) = url.split_once("://") else { return };
    let authority = rest.split(['/', '?', '#']).next().unwrap_or_default();
    // A file has no origin of its own: any page may claim to be none.
    if let Ok(mut opened) = OPENED.lock()
        && !authority.is_empty()
        && opened.len() < OPENED_CAP
    {
        opened.insert(format!("{scheme}://{authority}").to_lowercase());
    }
}

/// What senders from other machines have to know: made once for each store, and kept there for the
/// user alone.
///
/// # Errors
///
/// When it can neither be read nor made.
pub fn listen_token(store: &Path) -> std::io::Result<Arc<str>> {
    drawn_once(&store.join("listen-token"))
}

/// A number of 128 bits, drawn when it is asked for first and kept in a file for the user alone.
///
/// # Errors
///
/// When it can neither be read nor made.
pub fn drawn_once(path: &Path) -> std::io::Result<Arc<str>> {
    if let Ok(kept) = std::fs::read_to_string(path)
        && kept.len() >= 32
    {
        return Ok(kept.trim().into());
    }
    let mut random = [0; 16];
    std::fs::File::open("/dev/urandom")?.read_exact(&mut random)?;
    let token: String = random.iter().map(|byte| format!("{byte:02x}")).collect();
    let mut open = std::fs::OpenOptions::new();
    let file = open.write(true).create(true).truncate(true).mode(0o600).open(path)?;
    std::io::Write::write_all(&mut &file, token.as_bytes())?;
    Ok(token.into())
}

#[cfg(test)]
mod tests {
    use super::*;

    fn told(bound: &str, who: &Admission, headers: &[(&'static str, &str)], path: &str) -> String {
        let mut map = HeaderMap::new();
        for (name, value) in headers {
            map.insert(*name, value.parse().expect("a value"));
        }
        let bound = bound.parse().expect("an address");
        match who.admits(bound, &map, &path.parse().expect("a path")) {
            Ok(()) => "in".into(),
            Err(answer) => answer.response(None).status().as_str().to_owned(),
        }
    }

    #[test]
    fn only_pages_and_names_of_this_machine_are_let_in() {
        let near = Admission::default();
        let ask =
            |headers: &[(&'static str, &str)]| told("127.0.0.1:9", &near, headers, "/v1/logs");
        for host in ["127.0.0.1:9", "localhost", "LOCALHOST:9", "[::1]:9", "ferry.localhost"] {
            assert_eq!(ask(&[("host", host)]), "in", "{host}");
        }
        for host in ["elsewhere.example", "127.0.0.1.elsewhere.example", "localhost.example", ""] {
            assert_eq!(ask(&[("host", host)]), "421", "{host}");
        }
        assert_eq!(ask(&[]), "421", "no host at all");
        let page = |origin: &str| ask(&[("host", "localhost"), ("origin", origin)]);
        assert_eq!(page("http://localhost:8000"), "in");
        assert_eq!(page("https://elsewhere.example"), "403");
        assert_eq!(page("http://localhost.elsewhere.example"), "403");
        assert_eq!(page("null"), "403");
        page_opened("https://ferry.example/quay?x");
        assert_eq!(page("https://ferry.example"), "in");
        page_opened("file:///ferry/index.html");
        assert_eq!(page("file://"), "403");
    }

    #[test]
    fn beyond_this_machine_everybody_needs_the_token() {
        let store = tempfile::tempdir().expect("a folder");
        let token = listen_token(store.path()).expect("room");
        assert_eq!(listen_token(store.path()).expect("it is kept"), token);
        let who = Admission { token: Some(token.clone()) };
        let bearer = format!("Bearer {token}");
        let in_path = format!("/reports?a=1&access_token={token}");
        let ask = |headers: &[(&'static str, &str)], path| told("0.0.0.0:9", &who, headers, path);
        assert_eq!(ask(&[("host", "ferry.example")], "/v1/logs"), "401");
        assert_eq!(ask(&[("authorization", "Bearer x")], "/v1/logs"), "401");
        assert_eq!(ask(&[("authorization", &bearer)], "/v1/logs"), "in");
        assert_eq!(ask(&[], &in_path), "in");
        assert_eq!(ask(&[("authorization", &bearer), ("origin", "null")], "/v1/logs"), "403");
        let line = who.told("0.0.0.0:9".parse().expect("an address")).expect("it is told");
        assert!(line.contains(&bearer), "{line}");
    }
}
