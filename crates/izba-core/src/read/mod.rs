//! From bytes to lines: one splitter for each source, and the prefix that many consoles put before their sentence.

mod prefix;
mod splitter;

pub use prefix::{Prefix, find_place, split_prefix};
pub use splitter::{Checkpoint, LINE_CAP, RawLine, Splitter, Stream};
