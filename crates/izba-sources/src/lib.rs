//! Where bytes come from: commands, files, standard input; the spool they are written to first.
//!
//! A source only appends what arrived to its spool and rings a bell. Whoever reads the spool may
//! lag, and the program that writes is never held up by it.

mod adapter;
mod cleared;
mod command;
mod connect;
mod error;
mod follow;
mod http;
mod input;
mod interpreter;
mod left_behind;
mod listen;
#[cfg(feature = "otlp")]
mod otlp;
mod outbox;
mod page;
mod parse_only;
mod reports;
mod sink;
mod spool;
mod starts;
mod store;
mod trial;
mod utf8;

pub use adapter::{Adapter, Reach};
pub use command::{Command, CommandSpec, Running};
pub use connect::connect;
pub use error::{SourceError, plain_io};
pub use follow::follow;
pub use http::{Admission, drawn_once, is_loopback, listen_token};
pub use input::read_input;
pub use interpreter::find_interpreter;
pub use listen::{listen, whole_messages};
#[cfg(feature = "otlp")]
pub use otlp::{lines_of_export, take_telemetry};
pub use outbox::{Outbox, Told, collector};
pub use page::{PageAt, WatchedPage, open_page};
pub use parse_only::accepts;
pub use reports::take_reports;
pub use spool::{
    Event, Gap, Hear, Record, SEALED, SpoolReader, SpoolWriter, aside_folder, now, put_away, seal,
};
pub use store::{STORE_BUDGET, Segment, Store, aside_told, config_folder};
pub use trial::{COPIED, Copied, Program, TryEnd};
pub use utf8::ToUtf8;

use std::sync::Arc;

/// Rung after something was appended to a spool. Ringing twice before anyone looks is the same as
/// ringing once.
pub type Bell = Arc<dyn Fn() + Send + Sync>;
