//! not-reached: a request gets no answer, or none that may be used; or a port is taken.

use super::{Case, Explanation};
use izba_model::claim::{Fill, Saying, Slot};
use izba_model::{say, sayings};

sayings! {
    "explain.not-reached", Any, "../../words/explain/not-reached.toml";
    REFUSED = "refused",
    REFUSED_NAMELESS = "refused-nameless",
    REFUSED_NAMELESS_MEANS = "refused-nameless-means",
    REFUSED_NOTE = "refused-note",
    SOCKET = "socket",
    SOCKET_NOTE = "socket-note",
    SOCKET_MEANS = "socket-means",
    REFUSED_MEANS = "refused-means",
    REFUSED_ADVICE = "refused-advice",
    UNKNOWN = "unknown",
    UNKNOWN_NOTE = "unknown-note",
    UNKNOWN_MEANS = "unknown-means",
    UNKNOWN_ADVICE = "unknown-advice",
    LATE = "late",
    LATE_NOTE = "late-note",
    LATE_MEANS = "late-means",
    KEPT = "kept",
    KEPT_NOTE = "kept-note",
    KEPT_MEANS = "kept-means",
    KEPT_ADVICE = "kept-advice",
    POLICY = "policy",
    POLICY_NOTE = "policy-note",
    POLICY_MEANS = "policy-means",
    POLICY_ADVICE = "policy-advice",
    FETCH = "fetch",
    FETCH_NOTE = "fetch-note",
    FETCH_MEANS = "fetch-means",
    REFUSES = "refuses",
    REFUSES_NOTE = "refuses-note",
    KNOWS_MEANS = "knows-means",
    BROKEN_MEANS = "broken-means",
    BROKEN_ADVICE = "broken-advice",
    OTHER_MEANS = "other-means",
    TAKEN = "taken",
    TAKEN_NAMELESS = "taken-nameless",
    TAKEN_NOTE = "taken-note",
    TAKEN_MEANS = "taken-means",
    TAKEN_ADVICE = "taken-advice",
    THE_SERVER = "the-server",
}

/// What became of a request, by the words that runtimes and browsers have for it.
#[derive(Clone, Copy)]
enum Why {
    Refused,
    /// A socket was not opened; why is not told.
    Socket,
    Unknown,
    Late,
    /// The answer is kept from the page, as far as the browser tells.
    Kept,
    /// Nothing is said of why.
    Untold,
    Taken,
}

/// Parts of what is said, each with what it means; the first that is there counts.
const TOLD_BY: &[(&str, Why)] = &[
    ("EADDRINUSE", Why::Taken),
    ("already in use", Why::Taken),
    ("already taken", Why::Taken),
    ("Only one usage of each socket", Why::Taken),
    ("is in use", Why::Taken),
    ("CONNECTION_REFUSED", Why::Refused),
    ("ECONNREFUSED", Why::Refused),
    ("onnection refused", Why::Refused),
    ("actively refused", Why::Refused),
    ("ConnectionRefused", Why::Refused),
    ("NAME_NOT_RESOLVED", Why::Unknown),
    ("ENOTFOUND", Why::Unknown),
    ("EAI_AGAIN", Why::Unknown),
    ("UnknownHost", Why::Unknown),
    ("name resolution", Why::Unknown),
    ("service not known", Why::Unknown),
    ("servname provided", Why::Unknown),
    ("TIMED_OUT", Why::Late),
    ("ETIMEDOUT", Why::Late),
    ("imed out", Why::Late),
    ("Timeout", Why::Late),
    ("net::ERR_FAILED", Why::Kept),
    ("the socket to", Why::Socket),
    ("WebSocket connection", Why::Socket),
];

pub(super) fn explain(case: &Case<'_>) -> Explanation {
    let address = case.fact("address").or(case.fact("other"));
    let at: Slot = address.map_or_else(|| say!(THE_SERVER).fill(), Fill::fill);
    let said = |short: Saying, note: Saying| {
        Explanation::new(case.at_place(&short), &short, &note).at(case.entry.token)
    };
    if let Some(directive) = case.fact("scope") {
        return said(say!(POLICY, at), say!(POLICY_NOTE))
            .means(&say!(POLICY_MEANS, directive, at))
            .advises(&say!(POLICY_ADVICE, directive));
    }
    if let Some(status) = case.fact("status") {
        let status = Slot::words(status);
        let said = said(say!(REFUSES, at, status), say!(REFUSES_NOTE, status));
        return match case.fact("status").and_then(|s| s.parse().ok()) {
            Some(401 | 403 | 407) => said.means(&say!(KNOWS_MEANS)),
            Some(500..) => said.means(&say!(BROKEN_MEANS)).advises(&say!(BROKEN_ADVICE)),
            _ => said.means(&say!(OTHER_MEANS)),
        };
    }
    let whole =
        format!("{} {}", case.entry.root_kind.as_deref().unwrap_or(""), case.entry.root_message);
    let why = TOLD_BY.iter().find(|(words, _)| whole.contains(words)).map_or(Why::Untold, |w| w.1);
    match (why, address) {
        (Why::Taken, address) => {
            let short = match address {
                Some(address) => say!(TAKEN, at = port(address)),
                None => say!(TAKEN_NAMELESS),
            };
            said(short, say!(TAKEN_NOTE)).means(&say!(TAKEN_MEANS)).advises(&say!(TAKEN_ADVICE))
        }
        (Why::Refused, None) => said(say!(REFUSED_NAMELESS), say!(REFUSED_NOTE))
            .means(&say!(REFUSED_NAMELESS_MEANS))
            .advises(&say!(REFUSED_ADVICE)),
        (Why::Socket, _) => said(say!(SOCKET, at), say!(SOCKET_NOTE))
            .means(&say!(SOCKET_MEANS))
            .advises(&say!(REFUSED_ADVICE)),
        (Why::Refused, _) => said(say!(REFUSED, at), say!(REFUSED_NOTE))
            .means(&say!(REFUSED_MEANS, at))
            .advises(&say!(REFUSED_ADVICE)),
        (Why::Unknown, _) => said(say!(UNKNOWN, at), say!(UNKNOWN_NOTE))
            .means(&say!(UNKNOWN_MEANS, at))
            .advises(&say!(UNKNOWN_ADVICE)),
        (Why::Late, _) => said(say!(LATE, at), say!(LATE_NOTE)).means(&say!(LATE_MEANS, at)),
        (Why::Kept, _) => said(say!(KEPT, at), say!(KEPT_NOTE))
            .means(&say!(KEPT_MEANS))
            .advises(&say!(KEPT_ADVICE)),
        (Why::Untold, _) => said(say!(FETCH), say!(FETCH_NOTE)).means(&say!(FETCH_MEANS)),
    }
}

/// The port of an address, which may be all that it says.
fn port(address: &str) -> Slot {
    Fill::fill(address.rsplit(':').next().unwrap_or(address))
}
