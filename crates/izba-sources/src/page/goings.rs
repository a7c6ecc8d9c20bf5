//! When a browser comes and goes: how long to wait before another one is opened, and for a server that
//! is not there yet.

use super::talk::LOOK;
use std::net::{TcpStream, ToSocketAddrs};
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::{Duration, Instant};

/// How long after a browser went away another one is started, at first and at most.
const AGAIN: [Duration; 2] = [Duration::from_secs(1), Duration::from_secs(30)];
/// A browser that was there for so long went away for a reason of its own.
const LONG_LIFE: Duration = Duration::from_secs(300);
/// How long a server may take to answer that it is there.
const KNOCK: Duration = Duration::from_secs(1);

/// When a browser came: one that goes away again and again is opened ever more rarely.
pub(super) struct Goings {
    came: Instant,
    pause: Duration,
}

impl Goings {
    pub(super) fn new() -> Goings {
        Goings { came: Instant::now(), pause: AGAIN[0] }
    }

    /// That a browser is there now.
    pub(super) fn came(&mut self) {
        self.came = Instant::now();
    }

    /// Waits as long as it is wise now that a browser went away, or did not come; `false` when the
    /// end was asked for.
    pub(super) fn wait(&mut self, stop: &AtomicBool) -> bool {
        let (begun, pause) = (Instant::now(), self.pause_after(self.came.elapsed()));
        self.came = Instant::now();
        while begun.elapsed() < pause {
            if stop.load(Ordering::Acquire) {
                return false;
            }
            std::thread::sleep(LOOK);
        }
        true
    }

    /// How long to wait now that a browser that lived so long went away.
    fn pause_after(&mut self, lived: Duration) -> Duration {
        let [least, most] = AGAIN;
        let pause = if lived >= LONG_LIFE { least } else { self.pause };
        self.pause = (pause * 2).min(most);
        pause
    }
}

/// The server of a page, where it has one: its host and port.
pub(super) fn server_of(url: &str) -> Option<(&str, u16)> {
    let (scheme, rest) = url.split_once("://")?;
    let usual = match scheme {
        "http" => 80,
        "https" => 443,
        _ => return None,
    };
    let place = rest.split(['/', '?', '#']).next()?;
    let place = place.rsplit('@').next()?;
    let (host, port) = match place.rsplit_once(':').filter(|(h, _)| !h.ends_with(':')) {
        Some((host, port)) if !port.ends_with(']') => (host, port.parse().ok()?),
        _ => (place, usual),
    };
    Some((host.trim_matches(['[', ']']), port))
}

/// Whether somebody listens there. One beyond this machine may be reached in another way (by a proxy
/// of the browser), so that is not asked.
pub(super) fn is_up((host, port): (&str, u16)) -> bool {
    let Ok(addresses) = (host, port).to_socket_addrs() else { return true };
    let mut here = addresses.filter(|a| a.ip().is_loopback()).peekable();
    here.peek().is_none() || here.any(|a| TcpStream::connect_timeout(&a, KNOCK).is_ok())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_browser_that_goes_away_again_and_again_is_opened_ever_more_rarely() {
        let mut goings = Goings::new();
        let short = Duration::from_secs(90);
        let pauses: Vec<u64> = (0..7).map(|_| goings.pause_after(short).as_secs()).collect();
        assert_eq!(pauses, [1, 2, 4, 8, 16, 30, 30]);
        assert_eq!(goings.pause_after(LONG_LIFE).as_secs(), 1);
        assert_eq!(goings.pause_after(short).as_secs(), 2);
    }

    #[test]
    fn the_server_of_a_page_is_known_by_its_address() {
        assert_eq!(server_of("http://localhost:5173/quay?x=1:2"), Some(("localhost", 5173)));
        assert_eq!(server_of("http://localhost?x"), Some(("localhost", 80)));
        assert_eq!(server_of("https://ferry.example#top"), Some(("ferry.example", 443)));
        assert_eq!(server_of("http://[::1]:8000/"), Some(("::1", 8000)));
        assert_eq!(server_of("http://[::1]/"), Some(("::1", 80)));
        assert_eq!(server_of("file:///ferry/index.html"), None);
        assert_eq!(server_of("http://localhost:tide/"), None);
    }

    #[test]
    fn a_server_here_is_up_when_it_listens_and_one_elsewhere_is_not_asked() {
        let server = std::net::TcpListener::bind("127.0.0.1:0").expect("a port");
        let port = server.local_addr().expect("an address").port();
        assert!(is_up(("127.0.0.1", port)));
        drop(server);
        assert!(!is_up(("127.0.0.1", port)));
        assert!(is_up(("no-such-host.invalid", 80)));
    }
}
