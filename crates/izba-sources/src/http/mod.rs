//! Listeners over HTTP (RFC 9110, 9112): one thread each, with bounds on everything that a sender
//! decides: how long its head and its body are and how long they take, how many senders and how many
//! bytes there are at a time, how many parts a body has. Who may send is decided in `admission.rs`.

mod admission;
mod answer;

pub(crate) use admission::page_opened;
pub use admission::{Admission, drawn_once, is_loopback, listen_token};
pub(crate) use answer::Answer;

use crate::sink::Sink;
use crate::spool::{Event, SpoolWriter};
use crate::{Bell, SourceError};
use http_body_util::{BodyExt, Full, Limited};
use hyper::body::{Bytes, Incoming};
use hyper::server::conn::http1;
use hyper::service::service_fn;
use hyper::{HeaderMap, Method, Request, Response, StatusCode};
use hyper_util::rt::{TokioIo, TokioTimer};
use izba_model::Stream;
use serde_json::Value;
use std::convert::Infallible;
use std::net::SocketAddr;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex};
use std::time::Duration;
use tokio::net::{TcpListener, TcpStream};
use tokio::sync::Semaphore;
use tokio::time::timeout;

/// How often an end that was asked for is noticed.
const LOOK: Duration = Duration::from_millis(100);
/// What a sender gets for the head of a request, also before it begins the next one.
const HEAD: Duration = Duration::from_secs(5);
/// What it gets for the body.
const BODY: Duration = Duration::from_secs(10);
/// What one connection gets in all.
const CONNECTION: Duration = Duration::from_secs(600);
/// A head longer than this, in bytes, is refused.
const HEAD_CAP: usize = 16 << 10;
/// A body longer than this, in bytes, is refused.
const BODY_CAP: usize = 4 << 20;
/// Bytes of all bodies that are taken at a time.
const IN_FLIGHT: usize = 16 << 20;
/// Connections at a time; more are turned away.
const SENDERS: usize = 200;
/// Objects of a body in JSON.
const OBJECTS: usize = 40_000;
/// Values of a body in JSON.
const VALUES: usize = 300_000;

/// What is made of a request: lines for the spool and an answer, or an answer alone.
pub(crate) type Taken = Result<(String, Answer), Answer>;

/// A listener: what it takes, and from whom.
pub(crate) struct Listener {
    /// What is sent by POST to one of these paths is taken.
    pub paths: Vec<&'static str>,
    /// From whom.
    pub who: Admission,
    /// What is made of a request to a path.
    pub take: fn(&str, &HeaderMap, &Bytes) -> Taken,
}

/// Takes what is sent to `address` until `stop` is set.
///
/// # Errors
///
/// [`SourceError::System`] when the address cannot be used.
pub(crate) fn serve(
    address: SocketAddr,
    listener: Listener,
    spool: Arc<Mutex<SpoolWriter>>,
    bell: Bell,
    stop: Arc<AtomicBool>,
) -> Result<SocketAddr, SourceError> {
    let failed = || SourceError::system("listen at this address");
    let socket = std::net::TcpListener::bind(address).map_err(failed())?;
    let bound = socket.local_addr().map_err(failed())?;
    socket.set_nonblocking(true).map_err(failed())?;
    let runtime = tokio::runtime::Builder::new_current_thread()
        .enable_all()
        .build()
        .map_err(SourceError::system("start a thread"))?;
    let sink = Sink::new(spool, bell);
    sink.append(&Event::Start, bound.to_string().as_bytes());
    if let Some(told) = listener.who.told(bound) {
        sink.append(&Event::Bytes(Stream::Out), format!("{told}\n").as_bytes());
    }
    let door = Arc::new(Door { listener, bound, sink, room: Semaphore::new(IN_FLIGHT >> 10) });
    let run = move || {
        let sink = door.sink.clone();
        runtime.block_on(async move {
            let Ok(socket) = TcpListener::from_std(socket) else { return };
            accept(socket, door, &stop).await;
        });
        sink.append(&Event::End { well: true }, b"is no longer listened to");
    };
    std::thread::Builder::new()
        .name("http".into())
        .spawn(run)
        .map_err(SourceError::system("start a thread"))?;
    Ok(bound)
}

/// What all connections share.
struct Door {
    listener: Listener,
    bound: SocketAddr,
    sink: Sink,
    /// Room for bodies, in KiB.
    room: Semaphore,
}

/// Lets senders in until `stop` is set; those that are in then are cut off.
async fn accept(socket: TcpListener, door: Arc<Door>, stop: &AtomicBool) {
    let senders = Arc::new(Semaphore::new(SENDERS));
    while !stop.load(Ordering::Acquire) {
        let stream = match timeout(LOOK, socket.accept()).await {
            Err(_) => continue,
            Ok(Ok((stream, _))) => stream,
            Ok(Err(_)) => {
                // Too many files are open, or the sender is gone already: a moment later it may be
                // better.
                tokio::time::sleep(LOOK).await;
                continue;
            }
        };
        match senders.clone().try_acquire_owned() {
            Ok(place) => {
                let door = door.clone();
                tokio::spawn(async move {
                    let _place = place;
                    let _ = timeout(CONNECTION, connection(stream, door)).await;
                });
            }
            Err(_) => turn_away(&stream),
        }
    }
}

/// Says that there is no place, without reading anything.
fn turn_away(stream: &TcpStream) {
    let busy = b"HTTP/1.1 503 Service Unavailable\r\nretry-after: 1\r\ncontent-length: \
        0\r\nconnection: close\r\n\r\n";
    let _ = stream.try_write(busy);
}

async fn connection(stream: TcpStream, door: Arc<Door>) {
    let handle = service_fn(move |request| {
        let door = door.clone();
        async move { Ok::<_, Infallible>(door.answer(request).await) }
    });
    // How a connection ends is the sender's business.
    let _ = http1::Builder::new()
        .timer(TokioTimer::new())
        .header_read_timeout(HEAD)
        .max_header_size(HEAD_CAP)
        .serve_connection(TokioIo::new(stream), handle)
        .await;
}

impl Door {
    async fn answer(&self, request: Request<Incoming>) -> Response<Full<Bytes>> {
        let origin = request.headers().get("origin").cloned();
        let answer = match self.taken(request).await {
            Ok(answer) | Err(answer) => answer,
        };
        answer.response(origin)
    }

    async fn taken(&self, request: Request<Incoming>) -> Result<Answer, Answer> {
        let (paths, who) = (&self.listener.paths, &self.listener.who);
        who.admits(self.bound, request.headers(), request.uri())?;
        if !paths.contains(&request.uri().path()) {
            let why = format!("this listener takes what is sent to {}", paths.join(", "));
            return Err(Answer::text(StatusCode::NOT_FOUND, why));
        }
        match *request.method() {
            Method::POST => {}
            // A page elsewhere may send here only when it is told so first.
            Method::OPTIONS => return Ok(Answer::status(StatusCode::NO_CONTENT)),
            _ => {
                let why = "what is taken here is sent by POST";
                return Err(Answer::text(StatusCode::METHOD_NOT_ALLOWED, why)
                    .with("allow", "POST, OPTIONS"));
            }
        }
        let (head, body) = request.into_parts();
        let length = head
            .headers
            .get("content-length")
            .and_then(|v| v.to_str().ok()?.parse::<usize>().ok())
            .unwrap_or(BODY_CAP);
        if length > BODY_CAP {
            return Err(Answer::too_large(format!("a body has at most {BODY_CAP} bytes")));
        }
        let kib = u32::try_from(length.div_ceil(1024)).unwrap_or(u32::MAX);
        let _room = self.room.try_acquire_many(kib).map_err(|_| Answer::later())?;
        let whole = timeout(BODY, Limited::new(body, BODY_CAP).collect()).await;
        let whole = whole.map_err(|_| Answer::status(StatusCode::REQUEST_TIMEOUT).closing())?;
        let body = match whole {
            Ok(body) => body.to_bytes(),
            Err(e) if e.is::<http_body_util::LengthLimitError>() => {
                return Err(Answer::too_large(format!("a body has at most {BODY_CAP} bytes")));
            }
            Err(_) => return Err(Answer::status(StatusCode::BAD_REQUEST).closing()),
        };
        let (lines, answer) = (self.listener.take)(head.uri.path(), &head.headers, &body)?;
        if !lines.is_empty() {
            self.sink.append(&Event::Bytes(Stream::Out), lines.as_bytes());
        }
        Ok(answer)
    }
}

/// The JSON of a body, of which each value takes many times its length in memory: so many of them
/// that it would not fit are refused before they are read.
///
/// # Errors
///
/// The answer that says why not.
pub(crate) fn json_of(body: &[u8]) -> Result<Value, Answer> {
    let count = |sign: u8| memchr::memchr_iter(sign, body).count();
    if count(b'{') > OBJECTS || count(b',') + count(b'[') > VALUES {
        let why = format!("a body has at most {OBJECTS} objects; send fewer at a time");
        return Err(Answer::too_large(why));
    }
    serde_json::from_slice(body)
        .map_err(|_| Answer::text(StatusCode::BAD_REQUEST, "the body is not JSON"))
}
