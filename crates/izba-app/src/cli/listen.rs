//! `izba listen`: watches what other programs send over the network of this machine.

use super::aloud::Aloud;
use super::shared::{Outcome, Shared};
use crate::command_error::CommandError;
use izba_sources::Store;
#[cfg(feature = "otlp")]
use izba_watch::kinds::Otlp;
use izba_watch::kinds::{Origin, Reports, Senders};
use std::net::SocketAddr;

#[derive(clap::Args, Debug)]
#[command(
    after_help = "Examples:\n  izba listen --syslog 127.0.0.1:5514\n  izba listen --otlp 127.0.0.1:4318 \
        --lines 127.0.0.1:5170\n  logger --server 127.0.0.1 --port 5514 --tcp --rfc5424 'no \
        rope'\n  izba listen --otlp 0.0.0.0:4318     a class: each of the others starts theirs with --tell\n\nOnly this machine can reach an address that begins with 127; to let others \
        in, name an address of the network."
)]
pub struct Args {
    /// Take syslog messages (RFC 5424) at this address, over TCP and UDP
    #[arg(long, value_name = "ADDR")]
    syslog: Vec<SocketAddr>,
    /// Take OpenTelemetry (OTLP over HTTP, protobuf or JSON: logs, traces, metrics) at this address
    #[cfg(feature = "otlp")]
    #[arg(long, value_name = "ADDR")]
    otlp: Vec<SocketAddr>,
    /// Take the reports that browsers send (Reporting API) at this address, path /reports
    #[arg(long, value_name = "ADDR")]
    reports: Vec<SocketAddr>,
    /// Take lines at this address, over TCP and UDP: text, or a JSON object on each
    #[arg(long, value_name = "ADDR")]
    lines: Vec<SocketAddr>,
    #[command(flatten)]
    aloud: Aloud,
}

pub fn run(shared: &Shared, args: &Args) -> Outcome {
    let named = |kind: &str, addresses: &[SocketAddr], origin: fn(SocketAddr) -> Origin| {
        addresses.iter().map(|a| (format!("{kind} {a}"), origin(*a))).collect::<Vec<_>>()
    };
    let mut sources = named("syslog", &args.syslog, |a| Box::new(Senders(a)));
    #[cfg(feature = "otlp")]
    sources.extend(named("OpenTelemetry", &args.otlp, |a| Box::new(Otlp(a))));
    sources.extend(named("reports", &args.reports, |a| Box::new(Reports(a))));
    sources.extend(named("lines", &args.lines, |a| Box::new(Senders(a))));
    if sources.is_empty() {
        return Err(CommandError::wrong_use(
            "there is no address to listen at",
            "name one: izba listen --syslog 127.0.0.1:5514",
        ));
    }
    let watching = args.aloud.endless("what others send")?;
    let session = Store::new_session(shared.store.clone())?;
    watching.watch(shared.setup(session, sources))
}
