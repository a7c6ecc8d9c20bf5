//! Listeners over HTTP: one thread each, with bounds on the size of a request, the time it takes
//! and how many there are.

use crate::sink::Sink;
use crate::spool::{Event, SpoolWriter};
use crate::{Bell, SourceError};
use axum::Router;
use axum::body::Bytes;
use axum::extract::DefaultBodyLimit;
use axum::http::HeaderMap;
use axum::response::{IntoResponse, Response};
use axum::routing::post;
use izba_model::Stream;
use std::net::SocketAddr;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex};
use std::time::Duration;
use tokio::net::{TcpListener, TcpStream};
use tokio::sync::{OwnedSemaphorePermit, Semaphore};

/// How often an end that was asked for is noticed.
const LOOK: Duration = Duration::from_millis(100);
/// A request longer than this, in bytes, is refused.
pub(crate) const REQUEST: usize = 8 << 20;
/// Senders at a time; more of them wait.
const SENDERS: usize = 200;

/// What is made of a request: lines for the spool and an answer, or an answer alone.
pub(crate) type Taken = Result<(String, Response), Box<Response>>;

/// Takes what is sent by POST to `path` at `address` until `stop` is set.
///
/// # Errors
///
/// [`SourceError::System`] when the address cannot be used.
pub(crate) fn serve(
    address: SocketAddr,
    path: &'static str,
    spool: Arc<Mutex<SpoolWriter>>,
    bell: Bell,
    stop: Arc<AtomicBool>,
    take: fn(&HeaderMap, &Bytes) -> Taken,
) -> Result<SocketAddr, SourceError> {
    let listener = std::net::TcpListener::bind(address)
        .map_err(SourceError::system("listen at this address"))?;
    let bound = listener.local_addr().map_err(SourceError::system("listen at this address"))?;
    listener.set_nonblocking(true).map_err(SourceError::system("listen at this address"))?;
    let runtime = tokio::runtime::Builder::new_current_thread()
        .enable_all()
        .build()
        .map_err(SourceError::system("start a thread"))?;
    let sink = Sink::new(spool, bell);
    sink.append(&Event::Start, bound.to_string().as_bytes());
    let taking = sink.clone();
    let handle = move |headers: HeaderMap, body: Bytes| {
        let answer = match take(&headers, &body) {
            Ok((lines, answer)) => {
                if !lines.is_empty() {
                    taking.append(&Event::Bytes(Stream::Out), lines.as_bytes());
                }
                answer
            }
            Err(answer) => *answer,
        };
        std::future::ready(answer)
    };
    // A page elsewhere may send here only when it is told so first.
    let allowed = || async {
        (
            [
                ("access-control-allow-origin", "*"),
                ("access-control-allow-headers", "content-type"),
            ],
            "",
        )
            .into_response()
    };
    let router = Router::new()
        .route(path, post(handle).options(allowed))
        .layer(DefaultBodyLimit::max(REQUEST))
        .fallback(move || async move {
            (
                axum::http::StatusCode::NOT_FOUND,
                format!("this listener takes what is sent to {path}"),
            )
                .into_response()
        });
    let run = move || {
        runtime.block_on(async move {
            let Ok(listener) = TcpListener::from_std(listener) else { return };
            let bounded = Bounded { listener, senders: Arc::new(Semaphore::new(SENDERS)) };
            let ended = async move {
                while !stop.load(Ordering::Acquire) {
                    tokio::time::sleep(LOOK).await;
                }
            };
            tokio::select! {
                _ = axum::serve(bounded, router).into_future() => {}
                () = ended => {}
            }
        });
        sink.append(&Event::End { well: true }, b"is no longer listened to");
    };
    std::thread::Builder::new()
        .name("http".into())
        .spawn(run)
        .map_err(SourceError::system("start a thread"))?;
    Ok(bound)
}

/// A listener that lets only so many in at a time.
struct Bounded {
    listener: TcpListener,
    senders: Arc<Semaphore>,
}

impl axum::serve::Listener for Bounded {
    type Io = Admitted;
    type Addr = SocketAddr;

    async fn accept(&mut self) -> (Admitted, SocketAddr) {
        loop {
            let permit = self.senders.clone().acquire_owned().await;
            match (permit, self.listener.accept().await) {
                (Ok(permit), Ok((stream, address))) => {
                    return (Admitted { stream, _permit: permit }, address);
                }
                // Too many files are open, or the sender is gone already: a moment later it may be
                // better.
                _ => tokio::time::sleep(LOOK).await,
            }
        }
    }

    fn local_addr(&self) -> std::io::Result<SocketAddr> {
        self.listener.local_addr()
    }
}

/// A sender that was let in; its place is free again when it goes.
struct Admitted {
    stream: TcpStream,
    _permit: OwnedSemaphorePermit,
}

impl tokio::io::AsyncRead for Admitted {
    fn poll_read(
        mut self: std::pin::Pin<&mut Self>,
        cx: &mut std::task::Context<'_>,
        buf: &mut tokio::io::ReadBuf<'_>,
    ) -> std::task::Poll<std::io::Result<()>> {
        std::pin::Pin::new(&mut self.stream).poll_read(cx, buf)
    }
}

impl tokio::io::AsyncWrite for Admitted {
    fn poll_write(
        mut self: std::pin::Pin<&mut Self>,
        cx: &mut std::task::Context<'_>,
        buf: &[u8],
    ) -> std::task::Poll<std::io::Result<usize>> {
        std::pin::Pin::new(&mut self.stream).poll_write(cx, buf)
    }

    fn poll_flush(
        mut self: std::pin::Pin<&mut Self>,
        cx: &mut std::task::Context<'_>,
    ) -> std::task::Poll<std::io::Result<()>> {
        std::pin::Pin::new(&mut self.stream).poll_flush(cx)
    }

    fn poll_shutdown(
        mut self: std::pin::Pin<&mut Self>,
        cx: &mut std::task::Context<'_>,
    ) -> std::task::Poll<std::io::Result<()>> {
        std::pin::Pin::new(&mut self.stream).poll_shutdown(cx)
    }
}
