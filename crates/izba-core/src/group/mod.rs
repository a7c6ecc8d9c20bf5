//! Groups: entries that are the same mistake, counted, with what each run saw of them.

mod follow;
mod identity;
mod order;
mod quiet;
mod sight;
mod table;
mod view;
mod wishes;

pub use follow::Follow;
pub use identity::{Identity, Likeness, SCHEME};
pub use quiet::{Exposure, Silence, Verdict};
pub use sight::{Gaps, Part, Recalled, RunTally};
pub use table::{GroupId, GroupTable, RunNow, Sighting};
pub use view::{GroupView, SourceNow, State};
pub use wishes::{GroupBy, Split, Wish, Wishes};
