//! What is kept beyond a session: the ledger of runs, what the user decided, and the project's
//! files as they were.
//!
//! The database holds only what can be made again from the runs' own files: their bytes and the
//! card beside them ([`RunCard`]). What the user decided cannot be made again; it stands in a
//! journal of its own, a line for each decision, synced at once.

mod card;
mod error;
mod files;
mod journal;
mod ledger;
mod notes;
mod schema;
mod trust;

pub use card::RunCard;
pub use error::StoreError;
pub use files::{Files, hash};
pub use journal::Journal;
pub use ledger::{Cell, Grid, GridRow, Ledger, Progress, RunRow};
pub use notes::{KeptNote, Notes, SHARED};
pub use trust::{Trust, Trusted};
