//! What stands before a line's sentence: columns, and levels in compound columns.

use super::loose::level;
use super::prefix::{Prefix, columns_of};

/// Takes time, level, tags and object off the front of `text`, as far as they can be told by their
/// shape.
pub fn split_prefix(text: &str) -> Prefix {
    let prefix = columns_of(text);
    match prefix.level {
        Some(_) => prefix,
        None => level(text, &prefix).unwrap_or(prefix),
    }
}
