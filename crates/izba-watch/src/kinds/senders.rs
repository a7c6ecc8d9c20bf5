//! syslog and lines: senders of messages or of lines to an address of ours; which of the two a
//! sender speaks is seen from what it sends.

use super::act::Act;
use super::kind::{Line, Open, Opened, SourceKind, address_of};
use izba_sources::SourceError;
use std::net::SocketAddr;

/// Senders of syslog messages (RFC 5424), over TCP and UDP.
pub static SYSLOG: SourceKind = SourceKind {
    word: "syslog",
    what: "an address of this machine that takes syslog: 127.0.0.1:5514",
    origin: |wanted, _| {
        let address = address_of(&wanted.what)?;
        Ok((format!("syslog {}", wanted.what), Box::new(Senders(address))))
    },
    acts: |wanted, _| Act::listen(&wanted.what),
};

/// Senders of plain lines, over TCP.
pub static LINES: SourceKind = SourceKind {
    word: "lines",
    what: "an address of this machine that takes lines or JSON lines",
    origin: |wanted, _| {
        let address = address_of(&wanted.what)?;
        Ok((format!("lines {}", wanted.what), Box::new(Senders(address))))
    },
    acts: |wanted, _| Act::listen(&wanted.what),
};

/// Senders of lines or syslog messages to an address of ours.
#[derive(Debug)]
pub struct Senders(pub SocketAddr);

impl Open for Senders {
    fn open(self: Box<Self>, to: Line) -> Result<Opened, SourceError> {
        izba_sources::listen(self.0, to.spool, to.bell, to.stop)?;
        Ok(Opened::by_itself())
    }
}
