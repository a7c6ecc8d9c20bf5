//! The number of a group.

use serde::Serialize;

/// Number of a group within one engine.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize)]
pub struct GroupId(pub u32);
