//! A web page in a real browser, over W3C WebDriver BiDi: what its console says, what nobody
//! caught, what was not loaded.
//!
//! The installed driver starts the browser. What the page says becomes lines of a console of ours;
//! a script that runs before those of the page tells what the protocol leaves out (the place of a
//! script that cannot be read, the words of a rejected promise). Each navigation of the page is a
//! run.

mod lines;

use crate::command::apart;
use crate::sink::Sink;
use crate::spool::{Event, SpoolWriter};
use crate::{Bell, SourceError};
use izba_model::Stream;
use lines::{from_console, from_page};
use nix::sys::signal::Signal;
use serde_json::{Value, json};
use std::collections::HashMap;
use std::io::{BufRead, BufReader, ErrorKind};
use std::net::{SocketAddr, TcpStream};
use std::process::{Child, Command, Stdio};
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex};
use std::time::{Duration, Instant};
use tungstenite::stream::MaybeTlsStream;
use tungstenite::{Message, WebSocket};

/// How often an end that was asked for is noticed.
const LOOK: Duration = Duration::from_millis(100);
/// How long driver and browser may take to be there.
const PATIENCE: Duration = Duration::from_secs(30);
/// Names of the driver, the likeliest first.
const DRIVERS: [&str; 2] = ["chromedriver", "/usr/lib/chromium/chromedriver"];

/// Runs before the page's own scripts: tells what goes wrong in it, as JSON through a channel, and
/// bounds what it prints.
const PRELOAD: &str = include_str!("preload.js");

/// How long after a browser went away another one is started, at first and at most.
const AGAIN: [Duration; 2] = [Duration::from_secs(1), Duration::from_secs(30)];
/// A browser that was there for so long went away for a reason of its own.
const LONG_LIFE: Duration = Duration::from_secs(300);

/// Opens `url` in a browser of its own, or in the one that waits for debuggers at `join`, and
/// watches it until `stop` is set. A browser that goes away is started, or looked for, again.
///
/// # Errors
///
/// [`SourceError::System`] when driver or browser is not there or does not start; nothing is left
/// running then.
pub fn open_page(
    url: &str,
    join: Option<SocketAddr>,
    spool: Arc<Mutex<SpoolWriter>>,
    bell: Bell,
    stop: Arc<AtomicBool>,
) -> Result<std::thread::JoinHandle<()>, SourceError> {
    let open = move |url: &str| -> Result<Session, SourceError> {
        let mut session = Session::open(Driver::start()?, join)?;
        session.watch(url, join.is_some())?;
        Ok(session)
    };
    let (url, mut session) = (url.to_owned(), open(url)?);
    crate::http::page_opened(&url);
    let sink = Sink::new(spool, bell);
    let watching = move || {
        let mut goings = Goings::new();
        while !stop.load(Ordering::Acquire) {
            match session.next() {
                Ok(Some(event)) => {
                    if let Some(said) = session.told(&event) {
                        match said {
                            Said::Navigated(url) => sink.append(&Event::Start, url.as_bytes()),
                            Said::Lines(lines) => {
                                sink.append(&Event::Bytes(Stream::Out), lines.as_bytes())
                            }
                        }
                    }
                }
                Ok(None) => {}
                Err(_) => {
                    sink.append(
                        &Event::End { well: false },
                        b"ended: the browser went away; another one is opened",
                    );
                    let Some(next) = goings.again(&stop, || open(&url)) else { return };
                    session = next;
                }
            }
        }
        session.end();
        sink.append(&Event::End { well: true }, b"was closed");
    };
    std::thread::Builder::new()
        .name("page".into())
        .spawn(watching)
        .map_err(SourceError::system("start a thread"))
}

/// When a browser came, and how long to wait once it is gone: one that goes away again and again is
/// opened ever more rarely.
struct Goings {
    came: Instant,
    pause: Duration,
}

impl Goings {
    fn new() -> Goings {
        Goings { came: Instant::now(), pause: AGAIN[0] }
    }

    /// How long to wait now that a browser that lived so long went away.
    fn pause_after(&mut self, lived: Duration) -> Duration {
        let [least, most] = AGAIN;
        let pause = if lived >= LONG_LIFE { least } else { self.pause };
        self.pause = (pause * 2).min(most);
        pause
    }

    /// Tries until it works; `None` when the end was asked for.
    fn again(
        &mut self,
        stop: &AtomicBool,
        open: impl Fn() -> Result<Session, SourceError>,
    ) -> Option<Session> {
        let mut lived = self.came.elapsed();
        loop {
            let (begun, pause) = (Instant::now(), self.pause_after(lived));
            while begun.elapsed() < pause {
                if stop.load(Ordering::Acquire) {
                    return None;
                }
                std::thread::sleep(LOOK);
            }
            if let Ok(session) = open() {
                self.came = Instant::now();
                return Some(session);
            }
            lived = Duration::ZERO;
        }
    }
}

/// The driver's process; it and the browser end with it.
struct Driver {
    process: Child,
    port: u16,
}

impl Driver {
    fn start() -> Result<Driver, SourceError> {
        let mut failure = None;
        for name in DRIVERS {
            let mut command = Command::new(name);
            command
                .arg("--port=0")
                .stdin(Stdio::null())
                .stdout(Stdio::piped())
                .stderr(Stdio::null());
            // Of a hang-up it takes no notice; when Izba is gone, the browser's pipe ends it.
            apart(&mut command, Signal::SIGTERM);
            match command.spawn() {
                Ok(mut process) => {
                    let said = BufReader::new(
                        process.stdout.take().ok_or_else(|| missing("the driver says nothing"))?,
                    );
                    // Its words go on; somebody has to read them, or it stops at a full pipe.
                    let (port, found) = std::sync::mpsc::channel();
                    let read = move || {
                        for line in said.lines().map_while(Result::ok) {
                            let number = line
                                .rsplit("on port ")
                                .next()
                                .and_then(|n| n.trim_end_matches('.').parse::<u16>().ok());
                            if let Some(number) =
                                number.filter(|n| *n > 0 && line.contains("on port "))
                            {
                                let _ = port.send(number);
                            }
                        }
                    };
                    std::thread::Builder::new()
                        .name("driver".into())
                        .spawn(read)
                        .map_err(SourceError::system("start a thread"))?;
                    let mut driver = Driver { process, port: 0 };
                    driver.port = found
                        .recv_timeout(PATIENCE)
                        .map_err(|_| missing("the driver did not say on which port it listens"))?;
                    return Ok(driver);
                }
                Err(e) => failure = Some(e),
            }
        }
        Err(SourceError::System {
            doing: "start chromedriver, which opens the page (Debian packages chromium and \
                chromium-driver)",
            cause: failure.unwrap_or_else(|| ErrorKind::NotFound.into()),
        })
    }
}

impl Drop for Driver {
    fn drop(&mut self) {
        let group = nix::unistd::Pid::from_raw(self.process.id().cast_signed());
        let _ = nix::sys::signal::killpg(group, Signal::SIGTERM);
        let begun = Instant::now();
        while begun.elapsed() < Duration::from_secs(3)
            && matches!(self.process.try_wait(), Ok(None))
        {
            std::thread::sleep(Duration::from_millis(20));
        }
        let _ = nix::sys::signal::killpg(group, Signal::SIGKILL);
        let _ = self.process.wait();
    }
}

fn missing(what: &'static str) -> SourceError {
    SourceError::System { doing: "open the page", cause: std::io::Error::other(what) }
}

fn broken(cause: impl std::fmt::Display) -> SourceError {
    SourceError::System {
        doing: "talk to the browser",
        cause: std::io::Error::other(cause.to_string()),
    }
}

/// What an event of the browser means for the console.
enum Said {
    Navigated(String),
    Lines(String),
}

struct Session {
    socket: WebSocket<MaybeTlsStream<TcpStream>>,
    base: String,
    id: String,
    page: String,
    /// The address of the page.
    address: String,
    commands: u64,
    /// Events that came while an answer was waited for.
    waiting: Vec<Value>,
    /// Addresses that were told as not loaded, so that the same failure is told once.
    failed: Vec<String>,
    /// Errors that one side has told and the other not yet, by their words: the browser's log
    /// (above nought) or the page itself.
    told: HashMap<String, i32>,
    /// Ends browser and driver with the session; declared last, so dropped last.
    _driver: Driver,
}

impl Session {
    fn open(driver: Driver, join: Option<SocketAddr>) -> Result<Session, SourceError> {
        let base = format!("http://127.0.0.1:{}", driver.port);
        let mut args = vec![
            "--headless=new",
            "--disable-gpu",
            "--disable-quic",
            "--no-first-run",
            "--disable-sync",
            // Over a pipe: when the driver is gone, however that came, the browser ends too.
            "--remote-debugging-pipe",
            "--disable-background-networking",
            "--disable-component-update",
        ];
        if nix::unistd::geteuid().is_root() {
            // The browser refuses to guard itself when root starts it.
            args.push("--no-sandbox");
        }
        let options = match join {
            Some(address) => json!({"debuggerAddress": address.to_string()}),
            None => json!({"args": args}),
        };
        let wanted = json!({"capabilities": {"alwaysMatch": {"webSocketUrl": true, "goog:chromeOptions": options}}});
        let answer = minreq::post(format!("{base}/session"))
            .with_header("content-type", "application/json")
            .with_body(wanted.to_string())
            .with_timeout(PATIENCE.as_secs())
            .send()
            .map_err(broken)?;
        let answer: Value =
            serde_json::from_str(answer.as_str().map_err(broken)?).map_err(broken)?;
        let value = &answer["value"];
        let (Some(id), Some(address)) =
            (value["sessionId"].as_str(), value["capabilities"]["webSocketUrl"].as_str())
        else {
            return Err(broken(value["message"].as_str().unwrap_or("it opened no session")));
        };
        let (socket, _) = tungstenite::connect(address).map_err(broken)?;
        if let MaybeTlsStream::Plain(stream) = socket.get_ref() {
            stream.set_read_timeout(Some(LOOK)).map_err(broken)?;
        }
        Ok(Session {
            socket,
            base,
            id: id.to_owned(),
            page: String::new(),
            address: String::new(),
            commands: 0,
            waiting: Vec::new(),
            failed: Vec::new(),
            told: HashMap::new(),
            _driver: driver,
        })
    }

    /// Subscribes to what is told, and goes to the page; in a browser that was joined a page that
    /// is open there is left as it is.
    fn watch(&mut self, url: &str, joined: bool) -> Result<(), SourceError> {
        url.clone_into(&mut self.address);
        let events = [
            "log.entryAdded",
            "script.message",
            "network.responseCompleted",
            "network.fetchError",
            "browsingContext.navigationStarted",
        ];
        self.ask("session.subscribe", json!({"events": events}))?;
        let channel = json!([{"type": "channel", "value": {"channel": "izba"}}]);
        self.ask(
            "script.addPreloadScript",
            json!({"functionDeclaration": PRELOAD, "arguments": channel}),
        )?;
        let tree = self.ask("browsingContext.getTree", json!({}))?;
        let contexts = tree["contexts"].as_array().cloned().unwrap_or_default();
        let there = contexts.iter().find(|c| {
            joined
                && c["url"]
                    .as_str()
                    .is_some_and(|u| u.trim_end_matches('/') == url.trim_end_matches('/'))
        });
        if let Some(page) = there.and_then(|c| c["context"].as_str()) {
            self.page = page.to_owned();
            self.waiting.push(json!({"method": "browsingContext.navigationStarted", "params": {"context": page, "url": url}}));
            return Ok(());
        }
        self.page = if joined {
            let made = self.ask("browsingContext.create", json!({"type": "tab"}))?;
            made["context"].as_str().ok_or_else(|| missing("the browser opens no tab"))?.to_owned()
        } else {
            contexts
                .first()
                .and_then(|c| c["context"].as_str())
                .ok_or_else(|| missing("the browser has no page"))?
                .to_owned()
        };
        let page = self.page.clone();
        self.ask("browsingContext.navigate", json!({"context": page, "url": url, "wait": "none"}))?;
        Ok(())
    }

    fn ask(&mut self, method: &str, params: Value) -> Result<Value, SourceError> {
        self.commands += 1;
        let id = self.commands;
        self.socket
            .send(Message::text(json!({"id": id, "method": method, "params": params}).to_string()))
            .map_err(broken)?;
        let begun = Instant::now();
        while begun.elapsed() < PATIENCE {
            let Some(message) = self.receive()? else { continue };
            if message["id"].as_u64() != Some(id) {
                self.waiting.push(message);
            } else if message["type"] == "error" {
                return Err(broken(message["message"].as_str().unwrap_or("it refused")));
            } else {
                return Ok(message["result"].clone());
            }
        }
        Err(missing("the browser did not answer"))
    }

    fn receive(&mut self) -> Result<Option<Value>, SourceError> {
        match self.socket.read() {
            Ok(Message::Text(text)) => Ok(serde_json::from_str(&text).ok()),
            Ok(Message::Close(_)) => Err(missing("the browser was closed")),
            Ok(_) => Ok(None),
            Err(tungstenite::Error::Io(e))
                if matches!(e.kind(), ErrorKind::WouldBlock | ErrorKind::TimedOut) =>
            {
                Ok(None)
            }
            Err(e) => Err(broken(e)),
        }
    }

    /// The next event, if there is one within a moment.
    fn next(&mut self) -> Result<Option<Value>, SourceError> {
        if self.waiting.is_empty() { self.receive() } else { Ok(Some(self.waiting.remove(0))) }
    }

    fn told(&mut self, event: &Value) -> Option<Said> {
        let params = &event["params"];
        let text = |value: &Value| value.as_str().unwrap_or_default().to_owned();
        let lines = match event["method"].as_str()? {
            "browsingContext.navigationStarted" => {
                let ours = params["context"].as_str() == Some(&self.page);
                self.failed.clear();
                return ours.then(|| Said::Navigated(text(&params["url"])));
            }
            "script.message" if params["channel"] == "izba" => {
                let told: Value = serde_json::from_str(params["data"]["value"].as_str()?).ok()?;
                // Of a script from elsewhere, as all are in a page that was opened as a file, the
                // page hears no more than this.
                let message =
                    told["message"].as_str().unwrap_or_default().trim_start_matches("Uncaught ");
                if message == "Script error." || self.is_told(message, -1) {
                    return None;
                }
                from_page(&told)?
            }
            // What nobody caught is told by the page itself, with its place; where the page hears
            // nothing, the log does.
            "log.entryAdded" if params["type"] == "javascript" => {
                let message = params["text"].as_str().unwrap_or_default();
                let message = message
                    .trim_start_matches("Uncaught ")
                    .trim_start_matches("(in promise) ")
                    .trim_start_matches("Uncaught ");
                let placed =
                    params["stackTrace"]["callFrames"].as_array().is_some_and(|f| !f.is_empty());
                if !placed || !self.address.starts_with("file:") || self.is_told(message, 1) {
                    return None;
                }
                from_console(params, message)
            }
            "log.entryAdded" => from_console(params, params["text"].as_str().unwrap_or_default()),
            "network.responseCompleted" => {
                let status = params["response"]["status"].as_u64().filter(|s| *s >= 400)?;
                self.first_failure(&text(&params["response"]["url"]))?;
                format!(
                    "[page error] {} was not loaded: the server answers {status}\n",
                    text(&params["response"]["url"])
                )
            }
            "network.fetchError" => {
                self.first_failure(&text(&params["request"]["url"]))?;
                format!(
                    "[page error] {} was not loaded: {}\n",
                    text(&params["request"]["url"]),
                    text(&params["errorText"])
                )
            }
            _ => return None,
        };
        Some(Said::Lines(lines))
    }

    /// Whether the other side has told an error of these words already; else this side (1 or -1)
    /// has now.
    fn is_told(&mut self, message: &str, side: i32) -> bool {
        if self.told.len() > 1_000 {
            self.told.clear();
        }
        let told = self.told.entry(message.to_owned()).or_default();
        let there = *told * side < 0;
        *told += side;
        there
    }

    /// `None` when that address was told as not loaded already.
    fn first_failure(&mut self, url: &str) -> Option<()> {
        if self.failed.iter().any(|f| f == url) {
            return None;
        }
        if self.failed.len() < 1_000 {
            self.failed.push(url.to_owned());
        }
        Some(())
    }

    fn end(&mut self) {
        // The driver ends the browser when its session is deleted; whatever is left goes with the
        // driver.
        let session = format!("{}/session/{}", self.base, self.id);
        let _ = minreq::delete(session).with_timeout(3).send();
    }
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
}
