//! A listener for syslog (RFC 5424): messages over TCP (RFC 6587: one a line, or with their length
//! before them) and over UDP (RFC 5426: one a datagram). Every sender's lines stay whole; what is
//! too much is dropped and counted.

use crate::sink::Sink;
use crate::spool::{Event, SpoolWriter};
use crate::{Bell, SourceError};
use izba_model::Stream;
use std::io::{ErrorKind, Read};
use std::net::{SocketAddr, TcpListener, TcpStream, UdpSocket};
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
use std::sync::{Arc, Mutex};
use std::time::{Duration, Instant};

/// How often an end that was asked for is noticed.
const LOOK: Duration = Duration::from_millis(100);
/// How often lost datagrams are counted.
const LOOK_LOST: Duration = Duration::from_secs(1);
/// Senders at one time; further ones are turned away.
const SENDERS: usize = 200;
/// A message longer than this, in bytes, is cut into lines of this length.
const MESSAGE: usize = 256 * 1024;

/// Listens at `address`, over TCP and UDP, until `stop` is set. The run begins with the first
/// message.
///
/// # Errors
///
/// [`SourceError::System`] when the address cannot be used: it is taken, or not this machine's.
pub fn listen(
    address: SocketAddr,
    spool: Arc<Mutex<SpoolWriter>>,
    bell: Bell,
    stop: Arc<AtomicBool>,
) -> Result<SocketAddr, SourceError> {
    let failed = || SourceError::system("listen at this address");
    let tcp = TcpListener::bind(address).map_err(failed())?;
    // Port 0 takes a free one, and both have to be reached under the same number.
    let bound = tcp.local_addr().map_err(failed())?;
    let udp = UdpSocket::bind(bound).map_err(failed())?;
    tcp.set_nonblocking(true).map_err(failed())?;
    udp.set_read_timeout(Some(LOOK)).map_err(failed())?;
    let sink = Sink::new(spool, bell);
    sink.append(&Event::Start, bound.to_string().as_bytes());
    let (lines, ends) = (sink.clone(), stop.clone());
    let datagrams = move || {
        let mut buffer = vec![0u8; 64 * 1024];
        let (mut lost, mut looked) = (0, Instant::now());
        while !ends.load(Ordering::Acquire) {
            if let Ok((count, _)) = udp.recv_from(&mut buffer) {
                tell(&lines, &buffer[..count]);
            }
            if looked.elapsed() >= LOOK_LOST {
                looked = Instant::now();
                let now = lost_datagrams(bound.port());
                if now > lost {
                    let more = now - lost;
                    tell(
                        &lines,
                        format!(
                            "<12>1 - - izba - - - {more} datagrams came faster than they could \
                            be read and are lost, {now} in all"
                        )
                        .as_bytes(),
                    );
                    lost = now;
                }
            }
        }
    };
    std::thread::Builder::new()
        .name("syslog udp".into())
        .spawn(datagrams)
        .map_err(SourceError::system("start a thread"))?;
    let senders = Arc::new(AtomicUsize::new(0));
    let accept = move || {
        while !stop.load(Ordering::Acquire) {
            match tcp.accept() {
                Ok((sender, from)) => {
                    if senders.fetch_add(1, Ordering::AcqRel) >= SENDERS {
                        senders.fetch_sub(1, Ordering::AcqRel);
                        // Closing tells the sender; the console tells the user.
                        tell(
                            &sink,
                            format!(
                                "<12>1 - - izba - - - {from} was turned away: {SENDERS} senders \
                            are connected already"
                            )
                            .as_bytes(),
                        );
                        continue;
                    }
                    let (sink, stop, there) = (sink.clone(), stop.clone(), senders.clone());
                    let read = move || {
                        receive(sender, &sink, &stop);
                        there.fetch_sub(1, Ordering::AcqRel);
                    };
                    if std::thread::Builder::new().name("syslog tcp".into()).spawn(read).is_err() {
                        senders.fetch_sub(1, Ordering::AcqRel);
                    }
                }
                Err(_) => std::thread::sleep(LOOK),
            }
        }
        sink.append(&Event::End { well: true }, b"is no longer listened to");
    };
    std::thread::Builder::new()
        .name("syslog".into())
        .spawn(accept)
        .map_err(SourceError::system("start a thread"))?;
    Ok(bound)
}

/// Datagrams for a port of this machine that the system dropped because nobody took them in time:
/// the last column of its own table, which counts since the port was opened.
fn lost_datagrams(port: u16) -> u64 {
    let wanted = format!(":{port:04X}");
    let tables =
        ["/proc/net/udp", "/proc/net/udp6"].map(|t| std::fs::read_to_string(t).unwrap_or_default());
    let rows = tables
        .iter()
        .flat_map(|t| t.lines().skip(1))
        .map(|row| row.split_whitespace().collect::<Vec<_>>());
    rows.filter(|row| row.get(1).is_some_and(|local| local.ends_with(&wanted)))
        .filter_map(|row| row.last()?.parse::<u64>().ok())
        .sum()
}

/// Hands on a message as a line of its own; line breaks inside it become lines of the same message.
fn tell(sink: &Sink, message: &[u8]) {
    let message = message.strip_suffix(b"\n").unwrap_or(message);
    if !message.is_empty() {
        let mut line = message.to_vec();
        line.push(b'\n');
        sink.append(&Event::Bytes(Stream::Out), &line);
    }
}

/// Reads one sender to its end. What stands unfinished then is a message too.
fn receive(mut sender: TcpStream, sink: &Sink, stop: &AtomicBool) {
    if sender.set_nonblocking(false).and_then(|()| sender.set_read_timeout(Some(LOOK))).is_err() {
        return;
    }
    let (mut pending, mut buffer) = (Vec::new(), vec![0u8; 16 * 1024]);
    while !stop.load(Ordering::Acquire) {
        match sender.read(&mut buffer) {
            Ok(0) => break,
            Ok(count) => {
                pending.extend_from_slice(&buffer[..count]);
                let used = whole_messages(&pending, |message| tell(sink, message));
                pending.drain(..used);
                if pending.len() > MESSAGE {
                    tell(sink, &std::mem::take(&mut pending));
                }
            }
            Err(e)
                if matches!(
                    e.kind(),
                    ErrorKind::WouldBlock | ErrorKind::TimedOut | ErrorKind::Interrupted
                ) => {}
            Err(_) => break,
        }
    }
    tell(sink, &pending);
}

/// Hands on all whole messages of what a sender sent (RFC 6587: one a line, or with their length
/// before them); how many bytes they take up.
pub fn whole_messages(bytes: &[u8], mut each: impl FnMut(&[u8])) -> usize {
    let mut at = 0;
    loop {
        let rest = &bytes[at..];
        let digits = rest.iter().take(7).take_while(|b| b.is_ascii_digit()).count();
        // A length, a space, and a message that begins as messages do.
        let counted = digits > 0
            && rest.get(digits) == Some(&b' ')
            && rest.get(digits + 1).is_none_or(|b| *b == b'<');
        if counted {
            let length = rest[..digits].iter().fold(0usize, |n, b| n * 10 + usize::from(b - b'0'));
            let Some(message) = rest.get(digits + 1..digits + 1 + length) else { return at };
            each(message);
            at += digits + 1 + length;
            continue;
        }
        let Some(end) = rest.iter().position(|b| *b == b'\n') else { return at };
        each(&rest[..end]);
        at += end + 1;
    }
}

#[cfg(test)]
mod tests {
    use super::whole_messages;

    #[test]
    fn messages_are_cut_by_lines_and_by_lengths_and_the_rest_waits() {
        let cut = |bytes: &[u8]| {
            let mut found = Vec::new();
            let used =
                whole_messages(bytes, |m| found.push(String::from_utf8_lossy(m).into_owned()));
            (found, used)
        };
        assert_eq!(cut(b"<1>a\n<2>b\n<3>c"), (vec!["<1>a".into(), "<2>b".into()], 10));
        assert_eq!(cut(b"5 <1>a\n4 <2>b<3>"), (vec!["<1>a\n".into(), "<2>b".into()], 13));
        assert_eq!(cut(b"9 <1>a"), (vec![], 0));
        assert_eq!(cut(b"12 boats\n"), (vec!["12 boats".into()], 9));
    }
}
