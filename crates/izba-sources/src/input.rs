//! Standard input, as in `cmd 2>&1 | izba`.

use crate::sink::Sink;
use crate::spool::{Event, SpoolWriter};
use crate::utf8::ToUtf8;
use crate::{Bell, SourceError};
use izba_model::Stream;
use std::io::{ErrorKind, Read};
use std::sync::atomic::AtomicBool;
use std::sync::{Arc, Mutex};

/// Copies standard input to the spool until it ends. The thread ends with the process.
///
/// # Errors
///
/// When no thread can be started.
pub fn read_input(
    mut input: impl Read + Send + 'static,
    spool: Arc<Mutex<SpoolWriter>>,
    bell: Bell,
) -> Result<(), SourceError> {
    let sink = Sink::new(spool, bell);
    std::thread::Builder::new()
        .name("input".into())
        .spawn(move || {
            sink.append(&Event::Start, b"standard input");
            let (mut buffer, mut text) = (vec![0u8; 64 * 1024], ToUtf8::default());
            loop {
                match input.read(&mut buffer) {
                    Ok(0) => break sink.append(&Event::End { well: true }, b"ended"),
                    Ok(count) => sink.append_in_turn(
                        &Event::Bytes(Stream::Out),
                        &text.feed(&buffer[..count]),
                        &AtomicBool::new(false),
                    ),
                    Err(e) if e.kind() == ErrorKind::Interrupted => {}
                    Err(e) => {
                        break sink.append(
                            &Event::End { well: false },
                            format!("could not be read any more: {e}").as_bytes(),
                        );
                    }
                }
            }
        })
        .map(drop)
        .map_err(SourceError::system("start a thread"))
}
