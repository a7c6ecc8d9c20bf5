//! reports: browsers that send reports to an address of ours.

use super::act::Act;
use super::kind::{Line, Open, Opened, SourceKind, address_of};
use izba_sources::SourceError;
use std::net::SocketAddr;

/// The kind of source for this: browsers that send reports to an address of ours.
pub static KIND: SourceKind = SourceKind {
    word: "reports",
    what: "an address of this machine that takes a browser's reports",
    origin: |wanted, _| {
        let address = address_of(&wanted.what)?;
        Ok((format!("reports {}", wanted.what), Box::new(Reports(address))))
    },
    acts: |wanted, _| Act::listen(&wanted.what),
};

/// Browsers that send reports to an address of ours.
#[derive(Debug)]
pub struct Reports(pub SocketAddr);

impl Open for Reports {
    fn open(self: Box<Self>, to: Line) -> Result<Opened, SourceError> {
        let who = to.who_may_send(self.0)?;
        izba_sources::take_reports(self.0, to.spool, to.bell, to.stop, who)?;
        Ok(Opened::by_itself())
    }
}
