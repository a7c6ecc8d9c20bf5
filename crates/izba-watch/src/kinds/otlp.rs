//! otlp: senders of OpenTelemetry (logs, traces, metrics) to an address of ours.

use super::act::Act;
use super::kind::{Line, Open, Opened, SourceKind, address_of};
use izba_sources::SourceError;
use std::net::SocketAddr;

/// The kind of source for this: senders of OpenTelemetry to an address of ours.
pub static KIND: SourceKind = SourceKind {
    word: "otlp",
    what: "an address of this machine that takes OpenTelemetry: logs, traces, metrics",
    origin: |wanted, _| {
        let address = address_of(&wanted.what)?;
        Ok((format!("OpenTelemetry {}", wanted.what), Box::new(Otlp(address))))
    },
    acts: |wanted, _| Act::listen(&wanted.what),
};

/// Senders of OpenTelemetry to an address of ours.
#[derive(Debug)]
pub struct Otlp(pub SocketAddr);

impl Open for Otlp {
    fn open(self: Box<Self>, to: Line) -> Result<Opened, SourceError> {
        let who = to.who_may_send(self.0)?;
        izba_sources::take_telemetry(self.0, to.spool, to.bell, to.stop, who)?;
        Ok(Opened::by_itself())
    }
}
