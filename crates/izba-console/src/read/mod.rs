//! From bytes to lines: one splitter for each source, and the prefix that many consoles put before
//! their sentence.

pub mod layout;
mod loose;
mod prefix;
mod quick;
mod setting;
mod signs;
mod split;
mod splitter;
mod walk;

pub use layout::{Layout, Layouts};
pub(crate) use prefix::place_at_start;
pub use prefix::{FoundPlace, Prefix, find_place};
pub(crate) use quick::may_matter;
pub use quick::{Hit, Scan};
pub use setting::{Reading, Setting};
pub(crate) use signs::{is_sign, many};
pub use split::split_prefix;
pub use splitter::{Checkpoint, LINE_CAP, LineSink, RawLine, Splitter};
pub(crate) use walk::Signs;
