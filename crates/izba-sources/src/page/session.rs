//! A session with a browser over W3C WebDriver BiDi: asked, and listened to.

use super::driver::Driver;
use super::talk::{LOOK, PATIENCE, PRELOAD, broken, missing};
use crate::SourceError;
use crate::spool::RECORD_CAP;
use data_encoding::BASE64;
use serde_json::{Value, json};
use std::collections::VecDeque;
use std::io::ErrorKind;
use std::net::{SocketAddr, TcpStream};
use std::time::{Duration, Instant};
use tungstenite::stream::MaybeTlsStream;
use tungstenite::{Message, WebSocket};

/// What is listened to.
const EVENTS: [&str; 7] = [
    "log.entryAdded",
    "script.message",
    // Of a worker that is a module nothing is told once its answer is there.
    "network.responseStarted",
    "network.responseCompleted",
    "network.fetchError",
    "browsingContext.navigationStarted",
    "browsingContext.contextDestroyed",
];

/// How long a page may take to be drawn.
const PICTURE: Duration = Duration::from_secs(3);

/// How a browser is opened.
const ARGUMENTS: [&str; 8] = [
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--no-default-browser-check",
    "--disable-sync",
    // Over a pipe: when the driver is gone, however that came, the browser ends too.
    "--remote-debugging-pipe",
    "--disable-background-networking",
    "--disable-component-update",
];

/// A session. Dropping it ends driver and browser.
pub(super) struct Session {
    socket: WebSocket<MaybeTlsStream<TcpStream>>,
    base: String,
    id: String,
    /// The page that is watched, as the browser calls it.
    page: String,
    commands: u64,
    /// Events that came while an answer was waited for.
    waiting: VecDeque<Value>,
    /// Ends browser and driver with the session; declared last, so dropped last.
    _driver: Driver,
}

impl Session {
    /// Opens a browser, with a window or without, or joins the one that waits for debuggers.
    ///
    /// # Errors
    ///
    /// When it does not come.
    pub(super) fn open(
        driver: Driver,
        join: Option<SocketAddr>,
        window: bool,
    ) -> Result<Session, SourceError> {
        let base = format!("http://127.0.0.1:{}", driver.port);
        let mut args = ARGUMENTS.to_vec();
        if !window {
            args.push("--headless=new");
        }
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
            commands: 0,
            waiting: VecDeque::new(),
            _driver: driver,
        })
    }

    /// Subscribes to what is told, and goes to the page; in a browser that was joined a page that
    /// is open there is left as it is. Gives what the browser calls the page.
    pub(super) fn watch(&mut self, url: &str, joined: bool) -> Result<String, SourceError> {
        self.ask("session.subscribe", json!({"events": EVENTS}))?;
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
            self.waiting.push_back(json!({"method": "browsingContext.navigationStarted", "params": {"context": page, "url": url}}));
            return Ok(self.page.clone());
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
        self.go_to(url)?;
        Ok(self.page.clone())
    }

    /// Goes to an address with the page.
    pub(super) fn go_to(&mut self, url: &str) -> Result<(), SourceError> {
        let params = json!({"context": self.page, "url": url, "wait": "none"});
        self.ask("browsingContext.navigate", params).map(drop)
    }

    /// Loads the page again, past what the browser has kept of it.
    pub(super) fn reload(&mut self) -> Result<(), SourceError> {
        let params = json!({"context": self.page, "wait": "none"});
        self.ask("browsingContext.reload", params).map(drop)
    }

    /// How the page looks, as PNG, or as JPEG where that is too large to be kept.
    ///
    /// # Errors
    ///
    /// When the page does not draw, or the browser is gone.
    pub(super) fn picture(&mut self) -> Result<Vec<u8>, SourceError> {
        for format in [json!({"type": "image/png"}), json!({"type": "image/jpeg", "quality": 0.5})]
        {
            let params = json!({"context": self.page, "origin": "viewport", "format": format});
            let answer = self.ask_within("browsingContext.captureScreenshot", params, PICTURE)?;
            let data = answer["data"].as_str().unwrap_or_default();
            let bytes = BASE64.decode(data.as_bytes()).map_err(broken)?;
            if !bytes.is_empty() && bytes.len() <= RECORD_CAP as usize {
                return Ok(bytes);
            }
        }
        Err(missing("the page is too large for a picture"))
    }

    fn ask(&mut self, method: &str, params: Value) -> Result<Value, SourceError> {
        self.ask_within(method, params, PATIENCE)
    }

    fn ask_within(
        &mut self,
        method: &str,
        params: Value,
        patience: Duration,
    ) -> Result<Value, SourceError> {
        self.commands += 1;
        let id = self.commands;
        self.socket
            .send(Message::text(json!({"id": id, "method": method, "params": params}).to_string()))
            .map_err(broken)?;
        let begun = Instant::now();
        while begun.elapsed() < patience {
            let Some(message) = self.receive()? else { continue };
            if message["id"].as_u64() != Some(id) {
                self.waiting.push_back(message);
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
    ///
    /// # Errors
    ///
    /// When the browser is gone.
    pub(super) fn next(&mut self) -> Result<Option<Value>, SourceError> {
        match self.waiting.pop_front() {
            Some(event) => Ok(Some(event)),
            None => self.receive(),
        }
    }

    /// Has the browser ended; whatever is left goes with the driver.
    pub(super) fn end(&mut self) {
        let session = format!("{}/session/{}", self.base, self.id);
        let _ = minreq::delete(session).with_timeout(3).send();
    }
}

/// Whether there is a display on which a window can be seen.
pub(super) fn has_display() -> bool {
    ["WAYLAND_DISPLAY", "DISPLAY"]
        .iter()
        .any(|name| std::env::var_os(name).is_some_and(|value| !value.is_empty()))
}
