//! Groups: entries that are the same mistake, counted, with what each run saw of them.

mod follow;
mod identity;
mod order;
mod quiet;
mod run;
mod sight;
mod table;
mod view;
mod wishes;

pub use crate::state::State;
pub use follow::Follow;
pub use identity::{Identity, Likeness, SCHEME};
pub use quiet::{Exposure, Silence, Verdict};
pub use run::RunSpan;
pub use sight::{Gaps, Part, Recalled, RunTally};
pub use table::{GroupId, GroupTable, RunNow, Sighting};
pub use view::{GroupView, SourceNow};
pub use wishes::{GroupBy, Split, Wish, Wishes};
