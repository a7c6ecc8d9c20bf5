//! Groups: entries that are the same mistake, counted, with what each run saw of them.

mod follow;
mod id;
mod identity;
mod one_event;
mod order;
mod quiet;
mod row;
mod run;
mod sight;
mod table;
mod view;
mod wishes;

pub use crate::state::State;
pub use follow::Follow;
pub use id::GroupId;
pub use identity::{Identity, Likeness, SCHEME};
pub(crate) use quiet::lasting;
pub use quiet::{Exposure, Silence, Verdict};
pub use row::{GroupView, suspect_key};
pub use run::{Picture, RunSpan, Update};
pub use sight::{Gaps, Part, Recalled, RunTally};
pub use table::{GroupTable, RunNow, Sighting};
pub use view::SourceNow;
pub use wishes::{GroupBy, Split, Wish, Wishes};
