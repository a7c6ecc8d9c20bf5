//! The maps that a server sends with its scripts (ECMA-426): what a development server makes of a
//! script anew is told by the place that somebody wrote.
//!
//! A script is fetched once for each version, which is its whole address; only from the server of the
//! page itself, and only once it is named in a step.

use super::goings::server_of;
use data_encoding::BASE64_MIME_PERMISSIVE;
use izba_model::Bundle;
use std::collections::HashMap;
use std::io::Read;

/// Scripts that are kept, and the longest script or map that is read, in bytes.
const KEPT: usize = 200;
const LONGEST: usize = 16 << 20;
/// How long the server may take for one, in seconds.
const PATIENCE: u64 = 3;
/// How a script names its map, in one of its last lines.
const NAMES: [&str; 2] = ["//# sourceMappingURL=", "//@ sourceMappingURL="];

/// The maps of a page's scripts.
pub(super) struct Served {
    /// The page's address.
    page: String,
    /// What is known of each script's address.
    maps: HashMap<String, Option<Bundle>>,
    fetch: fn(&str) -> Option<String>,
}

impl Served {
    pub(super) fn of(page: &str) -> Served {
        Served { page: page.to_owned(), maps: HashMap::new(), fetch }
    }

    /// What was served before is served anew.
    pub(super) fn forget(&mut self) {
        self.maps.clear();
    }

    /// The same lines, with the written places of steps in scripts that have a map.
    pub(super) fn told(&mut self, lines: &str) -> String {
        let step = |line: &str| line.trim_start().starts_with("at ") && line.contains("://");
        if !lines.lines().any(step) {
            return lines.to_owned();
        }
        let mut out = String::with_capacity(lines.len());
        for line in lines.split_inclusive('\n') {
            match step(line).then(|| self.written(line)).flatten() {
                Some(written) => out.push_str(&written),
                None => out.push_str(line),
            }
        }
        out
    }

    /// A step by its written place.
    fn written(&mut self, step: &str) -> Option<String> {
        let begin = step.find("http")?;
        let end = begin + step[begin..].find([')', '\n', ' ']).unwrap_or(step.len() - begin);
        let mut parts = step[begin..end].rsplitn(3, ':');
        let (column, line) = (parts.next()?.parse().ok()?, parts.next()?.parse().ok()?);
        let url = parts.next()?;
        let server = server_of(url).filter(|s| server_of(&self.page).as_ref() == Some(s))?;
        let (path, line, column) = self.map(url)?.written(line, column)?;
        let scheme = url.split("://").next()?;
        let (host, port) = server;
        let host = if host.contains(':') { format!("[{host}]") } else { host.to_owned() };
        let place = format!("{scheme}://{host}:{port}/{path}:{line}:{column}");
        Some(format!("{}{place}{}", &step[..begin], &step[end..]))
    }

    fn map(&mut self, url: &str) -> Option<&Bundle> {
        if !self.maps.contains_key(url) {
            // What was installed is nobody's own here, and large.
            let installed = url.contains("/node_modules/") || url.contains("/@");
            let map = (!installed).then(|| self.look(url)).flatten();
            if self.maps.len() >= KEPT {
                self.maps.clear();
            }
            self.maps.insert(url.to_owned(), map);
        }
        self.maps.get(url)?.as_ref()
    }

    fn look(&self, url: &str) -> Option<Bundle> {
        let script = (self.fetch)(url)?;
        let path = url.split_once("://")?.1.split_once('/')?.1.split(['?', '#']).next()?;
        let named =
            script.lines().rev().take(20).find_map(|line| {
                NAMES.iter().find_map(|name| line.trim_start().strip_prefix(name))
            })?;
        let text = match named.trim().strip_prefix("data:") {
            Some(data) => {
                let (kind, data) = data.split_once(',')?;
                // Written out it is no map that any tool makes.
                kind.ends_with(";base64").then_some(())?;
                let bytes = BASE64_MIME_PERMISSIVE.decode(data.trim().as_bytes()).ok()?;
                String::from_utf8(bytes).ok()?
            }
            None => (self.fetch)(&beside(url, named.trim())?)?,
        };
        Some(Bundle::new(path.into(), text.into()))
    }
}

/// The address of what a script names, where that lies on its own server.
fn beside(url: &str, named: &str) -> Option<String> {
    let (scheme, rest) = url.split_once("://")?;
    let (host, path) = rest.split_once('/')?;
    if named.contains("://") || named.starts_with("//") {
        return None;
    }
    if let Some(from_root) = named.strip_prefix('/') {
        return Some(format!("{scheme}://{host}/{from_root}"));
    }
    let path = path.split(['?', '#']).next()?;
    let folder = path.rsplit_once('/').map_or("", |(folder, _)| folder);
    let slash = if folder.is_empty() { "" } else { "/" };
    Some(format!("{scheme}://{host}/{folder}{slash}{named}"))
}

/// Whether a host is this machine, as far as its name says.
pub(super) fn is_here(host: &str) -> bool {
    host == "localhost" || host.parse::<std::net::IpAddr>().is_ok_and(|ip| ip.is_loopback())
}

/// What the server of a page of this machine sends for an address.
fn fetch(url: &str) -> Option<String> {
    is_here(server_of(url)?.0).then_some(())?;
    let answer = minreq::get(url).with_timeout(PATIENCE).with_max_redirects(2).send_lazy().ok()?;
    if answer.status_code != 200 {
        return None;
    }
    let mut bytes = Vec::new();
    answer.take(LONGEST as u64 + 1).read_to_end(&mut bytes).ok()?;
    if bytes.len() > LONGEST {
        return None;
    }
    String::from_utf8(bytes).ok()
}

#[cfg(test)]
mod tests {
    use super::*;
    use data_encoding::BASE64;

    /// Column 1 of line 1 was written in line 1 of `quay.ts`, column 1 of line 3 in its line 2.
    const MAP: &str = r#"{"version":3,"sources":["quay.ts"],"names":[],"mappings":"AAAA;;AACA"}"#;

    fn served(url: &str) -> Option<String> {
        match url {
            "http://localhost:5173/src/quay.ts?t=1" => {
                let data = BASE64.encode(MAP.as_bytes());
                Some(format!("a\nb\nc\n//# sourceMappingURL=data:application/json;base64,{data}\n"))
            }
            "http://localhost:5173/src/deep/sail.js" => {
                Some("a\n//# sourceMappingURL=maps/sail.js.map\n".into())
            }
            "http://localhost:5173/src/deep/maps/sail.js.map" => {
                Some(MAP.replace("quay", "../sail"))
            }
            "http://localhost:5173/plain.js" => Some("a\nb\n".into()),
            _ => panic!("nobody asks for {url}"),
        }
    }

    fn ours() -> Served {
        Served { fetch: served, ..Served::of("http://localhost:5173/") }
    }

    #[test]
    fn steps_in_what_a_server_makes_are_told_by_their_written_places() {
        let mut ours = ours();
        let told = ours.told(
            "[page error] torn at http://localhost:5173/src/quay.ts?t=1:3:1\n    at moor \
            (http://localhost:5173/src/quay.ts?t=1:3:4)\n    at http://localhost:5173/plain.js:2:1\n    \
            at http://localhost:5173/src/deep/sail.js:1:9\n",
        );
        assert_eq!(
            told,
            "[page error] torn at http://localhost:5173/src/quay.ts?t=1:3:1\n    at moor \
            (http://localhost:5173/src/quay.ts:2:1)\n    at http://localhost:5173/plain.js:2:1\n    at \
            http://localhost:5173/src/sail.ts:1:1\n"
        );
        assert_eq!(ours.maps.len(), 3, "each is fetched once");
    }

    #[test]
    fn only_the_pages_own_server_is_asked_and_nothing_that_was_installed() {
        let lines = "    at http://localhost:9000/far.js:1:1\n    at https://ferry.example/a.js:1:1\n    at \
            http://localhost:5173/node_modules/x/y.js:1:1\n    at http://localhost:5173/@client:1:1\n    at \
            http://localhost:5173/quay.js\n";
        assert_eq!(ours().told(lines), lines);
    }

    #[test]
    fn a_map_beside_its_script_is_asked_of_the_same_server() {
        let at = |named| beside("http://h:1/a/b.js?v=2", named);
        assert_eq!(at("b.js.map").as_deref(), Some("http://h:1/a/b.js.map"));
        assert_eq!(at("/m/b.map").as_deref(), Some("http://h:1/m/b.map"));
        assert_eq!(at("//far/b.map"), None);
        assert_eq!(at("https://far/b.map"), None);
    }

    proptest::proptest! {
        /// Whatever a page says comes through, and its words are never touched.
        #[test]
        fn any_lines_come_through(lines in "(    at |[a-z]|:[0-9]|http://localhost:5173/|\\n|[(]|[)]|é){0,40}") {
            let mut served = Served { fetch: |_| None, ..Served::of("http://localhost:5173/") };
            proptest::prop_assert_eq!(served.told(&lines), lines);
        }
    }
}
