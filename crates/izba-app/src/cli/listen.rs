//! `izba listen`: watches what other programs send over the network of this machine.

use super::{Outcome, Shared, has_screen};
use crate::command_error::CommandError;
use crate::watch::{Origin, Setup};
use izba_sources::Store;
use std::net::SocketAddr;

#[derive(clap::Args, Debug)]
#[command(
    after_help = "Examples:\n  izba listen --syslog 127.0.0.1:5514\n  logger --server 127.0.0.1 --port 5514 --tcp --rfc5424 'no rope'\n\nOnly this machine can reach an address that begins with 127; to let others in, name an address of the network."
)]
pub struct Args {
    /// Take syslog messages (RFC 5424) at this address, over TCP and UDP
    #[arg(long, required = true, value_name = "ADDR")]
    syslog: Vec<SocketAddr>,
}

pub fn run(shared: &Shared, args: &Args) -> Outcome {
    if !has_screen() {
        return Err(CommandError::wrong_use(
            "listen needs a terminal to draw on",
            "without one, let the sender write a file and use: izba read FILE…",
        ));
    }
    let session = Store::open(shared.store.clone())?.session()?;
    let sources = args.syslog.iter().map(|address| (format!("syslog {address}"), Origin::Syslog(*address))).collect();
    crate::shell::open(Setup::new(shared.root(), session, sources))
}
