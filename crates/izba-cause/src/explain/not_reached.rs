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
    UNASKED_MEANS = "unasked-means",
    EVAL = "eval",
    EVAL_MEANS = "eval-means",
    EVAL_ADVICE = "eval-advice",
    INLINE_MEANS = "inline-means",
    INLINE_STYLE = "inline-style",
    INLINE_STYLE_ADVICE = "inline-style-advice",
    INLINE_HANDLER = "inline-handler",
    INLINE_HANDLER_ADVICE = "inline-handler-advice",
    INLINE_SCRIPT = "inline-script",
    INLINE_SCRIPT_ADVICE = "inline-script-advice",
    BARRED = "barred",
    BARRED_NOTE = "barred-note",
    UNNAMED_MEANS = "unnamed-means",
    ANOTHER_MEANS = "another-means",
    COOKIES_MEANS = "cookies-means",
    COOKIES_ADVICE = "cookies-advice",
    BEFORE_MEANS = "before-means",
    BEFORE_ADVICE = "before-advice",
    METHOD_MEANS = "method-means",
    METHOD_ADVICE = "method-advice",
    MORE_MEANS = "more-means",
    MORE_ADVICE = "more-advice",
    NAMES_ADVICE = "names-advice",
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
    /// The browser did not ask.
    Unasked,
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
    ("the browser does not ask for it", Why::Unasked),
    ("the socket to", Why::Socket),
    ("WebSocket connection", Why::Socket),
];

pub(super) fn explain(case: &Case<'_>) -> Explanation {
    let address = case.fact("address").or(case.fact("other"));
    let at: Slot = address.map_or_else(|| say!(THE_SERVER).fill(), Fill::fill);
    let said = |short: Saying, note: Saying| {
        Explanation::new(case.at_place(&short), &short, &note).at(case.entry.token)
    };
    if let (Some(why), Some(page), Some(_)) = (case.fact("why"), case.fact("other"), address) {
        return barred(said(say!(BARRED, at), say!(BARRED_NOTE)), why, page);
    }
    if let Some(directive) = case.fact("scope") {
        let written = match address {
            Some("Eval") => Some([say!(EVAL), say!(EVAL_MEANS, directive), say!(EVAL_ADVICE)]),
            Some("inline") => Some(inline(directive)),
            _ => None,
        };
        if let Some([short, means, advice]) = written {
            return said(short, say!(POLICY_NOTE)).means(&means).advises(&advice);
        }
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
        (Why::Unasked, _) => said(say!(KEPT, at), say!(FETCH_NOTE)).means(&say!(UNASKED_MEANS)),
        (Why::Kept, _) => said(say!(KEPT, at), say!(KEPT_NOTE))
            .means(&say!(KEPT_MEANS))
            .advises(&say!(KEPT_ADVICE)),
        (Why::Untold, _) => said(say!(FETCH), say!(FETCH_NOTE)).means(&say!(FETCH_MEANS)),
    }
}

/// What it means that the answer is kept from a page: each of the reasons that a server's headers
/// give is mended in another way.
fn barred(said: Explanation, why: &str, page: &str) -> Explanation {
    let between = |from: &str, to: &str| {
        why.split_once(from).and_then(|(_, rest)| rest.split(to).next()).unwrap_or("").to_owned()
    };
    if why.contains("names no page") {
        return said.means(&say!(UNNAMED_MEANS, page)).advises(&say!(NAMES_ADVICE, page));
    }
    if why.contains("lets only ") {
        let only = between("lets only ", " ");
        return said.means(&say!(ANOTHER_MEANS, page, only)).advises(&say!(NAMES_ADVICE, page));
    }
    if why.contains("cookies") {
        return said.means(&say!(COOKIES_MEANS)).advises(&say!(COOKIES_ADVICE, page));
    }
    if why.contains("question before it") {
        let status = Slot::words(between("answers ", " "));
        return said.means(&say!(BEFORE_MEANS, status)).advises(&say!(BEFORE_ADVICE, page));
    }
    match between("does not allow ", " (").as_str() {
        method @ ("PUT" | "PATCH" | "DELETE") => {
            said.means(&say!(METHOD_MEANS, method)).advises(&say!(METHOD_ADVICE, method))
        }
        _ => said.means(&say!(MORE_MEANS)).advises(&say!(MORE_ADVICE)),
    }
}

/// What is said of code or a style that stands in the page itself.
fn inline(directive: &str) -> [Saying; 3] {
    let means = say!(INLINE_MEANS, directive);
    if directive.starts_with("style") {
        [say!(INLINE_STYLE), means, say!(INLINE_STYLE_ADVICE)]
    } else if directive.ends_with("-attr") {
        [say!(INLINE_HANDLER), means, say!(INLINE_HANDLER_ADVICE)]
    } else {
        [say!(INLINE_SCRIPT), means, say!(INLINE_SCRIPT_ADVICE)]
    }
}

/// The port of an address, which may be all that it says.
fn port(address: &str) -> Slot {
    Fill::fill(address.rsplit(':').next().unwrap_or(address))
}
