//! A console that is served at an address: it is fetched over TCP, and fetched again when the
//! device comes back.

use crate::sink::Sink;
use crate::spool::{Event, SpoolWriter};
use crate::{Bell, SourceError};
use izba_model::Stream;
use std::io::{ErrorKind, Read};
use std::net::{SocketAddr, TcpStream};
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex};
use std::time::Duration;

/// How often a device that is not there is looked for, and how often an end that was asked for is
/// noticed.
const LOOK: Duration = Duration::from_millis(200);

/// Fetches what `address` serves until `stop` is set. A device that is not there yet, or goes away,
/// is waited for; each time it answers a run begins.
///
/// # Errors
///
/// When no thread can be started.
pub fn connect(
    address: SocketAddr,
    spool: Arc<Mutex<SpoolWriter>>,
    bell: Bell,
    stop: Arc<AtomicBool>,
) -> Result<std::thread::JoinHandle<()>, SourceError> {
    let sink = Sink::new(spool, bell);
    let look = move || {
        let mut buffer = vec![0u8; 64 * 1024];
        while !stop.load(Ordering::Acquire) {
            let Ok(mut device) = TcpStream::connect_timeout(&address, LOOK) else {
                std::thread::sleep(LOOK);
                continue;
            };
            // On the own machine a connection may get the very number that it looks for as its own,
            // and so meet itself.
            let itself = device.local_addr().is_ok_and(|own| own == address);
            if itself || device.set_read_timeout(Some(LOOK)).is_err() {
                drop(device);
                std::thread::sleep(LOOK);
                continue;
            }
            sink.append(&Event::Start, address.to_string().as_bytes());
            while !stop.load(Ordering::Acquire) {
                match device.read(&mut buffer) {
                    Ok(0) => break,
                    Ok(count) => sink.append(&Event::Bytes(Stream::Out), &buffer[..count]),
                    Err(e)
                        if matches!(
                            e.kind(),
                            ErrorKind::WouldBlock | ErrorKind::TimedOut | ErrorKind::Interrupted
                        ) => {}
                    Err(_) => break,
                }
            }
            sink.append(&Event::End { well: true }, b"went away");
        }
    };
    std::thread::Builder::new()
        .name("connect".into())
        .spawn(look)
        .map_err(SourceError::system("start a thread"))
}
