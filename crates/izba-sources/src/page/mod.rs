//! A web page in a real browser, over W3C WebDriver BiDi: what its console says, what nobody
//! caught, what was not loaded.
//!
//! The installed driver starts the browser. What the page says becomes lines of a console of ours;
//! a script that runs before those of the page tells what the protocol leaves out (the place of a
//! script that cannot be read, the words of a rejected promise). Each navigation of the page is a
//! run. A server that is not there yet is waited for.

mod camera;
mod driver;
mod goings;
mod heard;
mod kept_back;
mod lines;
mod served;
mod session;
mod talk;

use crate::sink::Sink;
use crate::spool::{Event, SpoolWriter};
use crate::{Bell, SourceError};
use camera::Camera;
use driver::Driver;
use goings::{Goings, is_up, server_of};
use heard::{Ears, Said};
use izba_model::Stream;
use served::Served;
use session::{Session, has_display};
use std::net::SocketAddr;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex};
use std::time::Instant;
use talk::LOOK;

/// Which page is opened, and in which browser.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct PageAt {
    /// Its address.
    pub url: String,
    /// The browser that waits for debuggers here; else one of its own.
    pub join: Option<SocketAddr>,
    /// Without a window, even where there is a display.
    pub headless: bool,
}

/// A page that is watched, as it is asked for something.
#[derive(Debug)]
pub struct WatchedPage {
    /// Ends once the page is closed, after the end was asked for.
    pub closing: std::thread::JoinHandle<()>,
    /// Set to have the page loaded again; a browser that was closed is opened again.
    pub reload: Arc<AtomicBool>,
}

/// Watches a page until `stop` is set; at once, and in a thread of its own: its server is waited for,
/// then a browser is opened. What hinders that is told as how its run ended, and tried again.
///
/// # Errors
///
/// [`SourceError::System`] when no thread can be started.
pub fn open_page(
    page: PageAt,
    spool: Arc<Mutex<SpoolWriter>>,
    bell: Bell,
    stop: Arc<AtomicBool>,
) -> Result<WatchedPage, SourceError> {
    crate::http::page_opened(&page.url);
    let reload = Arc::new(AtomicBool::new(false));
    let watching = Watching { page, sink: Sink::new(spool, bell), stop, reload: reload.clone() };
    let closing = std::thread::Builder::new()
        .name("page".into())
        .spawn(move || watching.go_on())
        .map_err(SourceError::system("start a thread"))?;
    Ok(WatchedPage { closing, reload })
}

/// A page while it is watched.
struct Watching {
    page: PageAt,
    sink: Sink,
    stop: Arc<AtomicBool>,
    reload: Arc<AtomicBool>,
}

/// Why a browser is not listened to any more.
enum Gone {
    /// The end was asked for.
    Asked,
    /// The user closed the page.
    Closed,
    /// It went away by itself.
    Away,
}

impl Watching {
    fn stops(&self) -> bool {
        self.stop.load(Ordering::Acquire)
    }

    fn ends(&self, well: bool, how: &str) {
        self.sink.append(&Event::End { well }, how.as_bytes());
    }

    fn go_on(&self) {
        let mut goings = Goings::new();
        while self.wait_for_server() {
            match self.open() {
                Ok((mut session, mut ears)) => {
                    goings.came();
                    let gone = self.listen(&mut session, &mut ears);
                    session.end();
                    match gone {
                        Gone::Asked => break,
                        Gone::Closed => {
                            self.ends(true, "was closed; a opens it again");
                            if !self.wait_for_reload() {
                                return;
                            }
                            continue;
                        }
                        Gone::Away => {
                            self.ends(false, "ended: the browser went away; another one is opened")
                        }
                    }
                }
                Err(error) => {
                    self.ends(false, &format!("could not be opened: {}", error.sentence()))
                }
            }
            if !goings.wait(&self.stop) {
                break;
            }
        }
        self.ends(true, "was closed");
    }

    /// Waits until somebody answers where the page is; `false` when the end was asked for.
    fn wait_for_server(&self) -> bool {
        let Some(server) = server_of(&self.page.url) else { return !self.stops() };
        let mut told = false;
        while !self.stops() {
            if is_up(server) {
                return true;
            }
            if !told {
                told = true;
                self.ends(true, "waits: its server is not there yet");
            }
            std::thread::sleep(LOOK);
        }
        false
    }

    /// Waits until the page is asked for again; `false` when the end was asked for.
    fn wait_for_reload(&self) -> bool {
        while !self.stops() {
            if self.reload.swap(false, Ordering::AcqRel) {
                return true;
            }
            std::thread::sleep(LOOK);
        }
        self.ends(true, "was closed");
        false
    }

    fn open(&self) -> Result<(Session, Ears), SourceError> {
        let PageAt { url, join, headless } = &self.page;
        let mut session = Session::open(Driver::start()?, *join, !headless && has_display())?;
        let page = session.watch(url, join.is_some())?;
        // What was asked for before it was there is done by its coming.
        self.reload.store(false, Ordering::Release);
        Ok((session, Ears::of(page)))
    }

    /// Listens until there is nothing more to be heard.
    fn listen(&self, session: &mut Session, ears: &mut Ears) -> Gone {
        let mut served = Served::of(&self.page.url);
        let mut camera = Camera::default();
        let says = |served: &mut Served, camera: &mut Camera, lines: &str| {
            if lines.contains("[page error]") {
                camera.struck(Instant::now());
            }
            if !lines.is_empty() {
                self.sink.append(&Event::Bytes(Stream::Out), served.told(lines).as_bytes());
            }
        };
        let gone = loop {
            if self.stops() {
                break Gone::Asked;
            }
            if self.reload.swap(false, Ordering::AcqRel) {
                // Its server may have been started again with it.
                if !self.wait_for_server() {
                    break Gone::Asked;
                }
                if session.reload().is_err() {
                    break Gone::Away;
                }
            }
            let Ok(event) = session.next() else { break Gone::Away };
            match event.and_then(|event| ears.hear(&event)) {
                Some(Said::Navigated(url)) => {
                    says(&mut served, &mut camera, &ears.rest());
                    camera.starts();
                    served.forget();
                    self.sink.append(&Event::Start, url.as_bytes());
                }
                Some(Said::Anew(address)) => {
                    says(&mut served, &mut camera, &ears.rest());
                    self.sink.append(&Event::Update, address.as_bytes());
                }
                Some(Said::Lines(lines)) => says(&mut served, &mut camera, &lines),
                Some(Said::Closed) => break Gone::Closed,
                None => {}
            }
            while let Some(lines) = ears.due() {
                says(&mut served, &mut camera, &lines);
            }
            if camera.is_due(Instant::now()) {
                match session.picture() {
                    Ok(picture) => self.sink.append(&Event::Picture, &picture),
                    Err(_) => camera.failed(),
                }
            }
        };
        says(&mut served, &mut camera, &ears.rest());
        gone
    }
}
