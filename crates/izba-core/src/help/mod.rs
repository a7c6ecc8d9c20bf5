//! Help from others: the text that a stranger needs to help, and what is taken out of it before it
//! leaves.

mod redact;
mod request;

pub use redact::{Owner, Redacted, Taken, redact, redact_but};
pub use request::{Form, Little, Request, request, sentence};
