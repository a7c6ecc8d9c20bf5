//! Groups: entries that are the same mistake, counted, with what each run saw of them.

mod identity;
mod table;

pub use identity::{Identity, shape};
pub use table::{GroupId, GroupTable, GroupView, RunTally, Sighting, State};
