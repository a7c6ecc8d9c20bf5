//! Ports of this machine for what is started in a moment.

use std::net::{Ipv4Addr, SocketAddr, TcpListener};
use std::sync::atomic::{AtomicU16, Ordering};

/// Ports that no system hands out by itself: those for outgoing connections begin at 32,768 (Linux)
/// or 49,152 (RFC 6335, section 6), and one of them may be gone before its program listens.
const FIRST: u16 = 20_000;
const COUNT: u16 = 12_000;

/// An address on this machine that nobody uses, another one at each call.
///
/// # Errors
///
/// When no port can be had.
pub fn free_address() -> std::io::Result<SocketAddr> {
    static CALLS: AtomicU16 = AtomicU16::new(0);
    // Programs that run at the same time begin far from each other.
    let begin = (std::process::id().wrapping_mul(977) % u32::from(COUNT)) as u16;
    let mut last = None;
    for _ in 0..COUNT {
        let step = CALLS.fetch_add(1, Ordering::Relaxed) % COUNT;
        let port = FIRST + (begin + step) % COUNT;
        match TcpListener::bind((Ipv4Addr::LOCALHOST, port)) {
            Ok(listener) => return listener.local_addr(),
            Err(error) => last = Some(error),
        }
    }
    Err(last.unwrap_or_else(|| std::io::ErrorKind::AddrInUse.into()))
}

#[cfg(test)]
mod tests {
    use super::free_address;

    #[test]
    fn no_two_addresses_are_one_and_none_is_the_systems_to_give() {
        let found: Vec<_> = (0..200).map(|_| free_address().expect("a port").port()).collect();
        let others: std::collections::BTreeSet<_> = found.iter().collect();
        assert_eq!(others.len(), found.len());
        assert!(found.iter().all(|p| *p < 32_768), "{found:?}");
    }
}
