//! The page that a program serves, where it tells its address: it is offered, or watched at once where
//! the user said so.

use crate::kinds::Wanted;
use izba_model::pattern::Pattern;
use izba_model::text::decode;

/// So many bytes of all that programs print in a session are looked through: a server says where it is
/// when it begins.
const LOOKED_AT: usize = 256 << 10;

/// An address of this machine, as servers print it.
static ADDRESS: Pattern = Pattern::new(
    r"(?P<scheme>https?)://(?P<host>localhost|127\.0\.0\.1|0\.0\.0\.0|\[::1?\])(?P<port>:\d{1,5})?(?P<path>/[\w./~%-]*)?",
);

/// What is known of the page of a program.
#[derive(Debug, Default)]
pub(crate) struct ToldPage {
    /// The source that is opened once an address is told.
    pub(crate) auto: Option<Wanted>,
    /// The address that was told and is not watched.
    pub(crate) told: Option<String>,
    /// Whether there was an address: the first one counts.
    found: bool,
    looked_at: usize,
    /// What was printed of a line that had no end yet.
    rest: Vec<u8>,
}

impl ToldPage {
    /// Where what is watched is known from the beginning, nothing is offered.
    pub(crate) fn none() -> ToldPage {
        ToldPage { found: true, ..ToldPage::default() }
    }

    /// Looks through what a program prints; gives the first address.
    pub(crate) fn hear(&mut self, bytes: &[u8]) -> Option<String> {
        if self.found || self.looked_at > LOOKED_AT {
            return None;
        }
        self.looked_at += bytes.len();
        self.rest.extend_from_slice(bytes);
        let end = memchr::memrchr(b'\n', &self.rest)? + 1;
        let lines: Vec<u8> = self.rest.drain(..end).collect();
        let address = lines.split(|b| *b == b'\n').find_map(|line| address_in(&decode(line)));
        self.found = address.is_some();
        address
    }
}

/// The first address of this machine in a line.
fn address_in(line: &str) -> Option<String> {
    let found = ADDRESS.captures(line)?;
    let part = |name: &str| found.name(name).map_or("", |m| m.as_str());
    // What listens at every address is asked at this machine's own.
    let host = match part("host") {
        "0.0.0.0" | "[::]" => "127.0.0.1",
        host => host,
    };
    let path = part("path").trim_end_matches('.');
    let path = if path.is_empty() { "/" } else { path };
    Some(format!("{}://{host}{}{path}", part("scheme"), part("port")))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn the_address_that_a_server_prints_is_found_however_it_is_dressed() {
        for (line, address) in [
            (
                "  \u{1b}[32m➜\u{1b}[39m  Local:   \u{1b}[36mhttp://127.0.0.1:\u{1b}[1m5173\u{1b}[22m/\u{1b}[39m",
                "http://127.0.0.1:5173/",
            ),
            (
                "Serving HTTP on 0.0.0.0 port 8000 (http://0.0.0.0:8000/) ...",
                "http://127.0.0.1:8000/",
            ),
            ("listening on http://localhost:3000.", "http://localhost:3000/"),
            ("ready: https://[::1]:8443/app/index.html, go", "https://[::1]:8443/app/index.html"),
        ] {
            assert_eq!(address_in(&decode(line.as_bytes())).as_deref(), Some(address), "{line}");
        }
        for line in ["see https://ferry.example/help", "ws://localhost:9229/x", "port 8000"] {
            assert_eq!(address_in(line), None);
        }
    }

    #[test]
    fn the_first_address_counts_and_a_line_may_come_in_parts() {
        let mut told = ToldPage::default();
        assert_eq!(told.hear(b"ready\nat http://local"), None);
        assert_eq!(told.hear(b"host:5173/").as_deref(), None);
        assert_eq!(told.hear(b"\n").as_deref(), Some("http://localhost:5173/"));
        assert_eq!(told.hear(b"and http://localhost:9000/\n"), None);
    }

    proptest! {
        /// Whatever a program prints is looked through within its bound.
        #[test]
        fn any_bytes_are_looked_through(parts in prop::collection::vec(prop::collection::vec(any::<u8>(), 0..200), 0..8)) {
            let mut told = ToldPage::default();
            for part in parts {
                let _ = told.hear(&part);
            }
            prop_assert!(told.rest.len() <= LOOKED_AT + 200);
        }
    }
}
