//! What one kind of telemetry is to the listener.

use super::wire::Schema;
use serde_json::Value;

/// One kind of what is sent.
pub(super) struct Signal {
    /// Where it is sent to.
    pub path: &'static str,
    /// What a request is called in the standard.
    pub request: &'static str,
    /// How it stands on the wire.
    pub schema: &'static Schema,
    /// The lines of a request in the standard's JSON form.
    pub lines: fn(&Value) -> String,
}
