//! connect: a device that serves its log at an address.

use super::act::Act;
use super::kind::{Line, Open, Opened, SourceKind, address_of};
use izba_sources::SourceError;
use std::net::SocketAddr;

/// The kind of source for this: a device that serves its log at an address.
pub static KIND: SourceKind = SourceKind {
    word: "connect",
    what: "an address at which a device serves its log",
    origin: |wanted, _| {
        let address = address_of(&wanted.what)?;
        Ok((wanted.what.clone(), Box::new(Address(address))))
    },
    acts: |wanted, _| Act::connect(&wanted.what, "read what a device sends from"),
};

/// A device that serves its console at an address.
#[derive(Debug)]
pub struct Address(pub SocketAddr);

impl Open for Address {
    fn open(self: Box<Self>, to: Line) -> Result<Opened, SourceError> {
        izba_sources::connect(self.0, to.spool, to.bell, to.stop)?;
        Ok(Opened::by_itself())
    }
}
