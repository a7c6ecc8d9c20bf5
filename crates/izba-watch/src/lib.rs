//! One watched project without any screen: its sources are opened, what they say is read on the
//! engine thread, kept, looked into, paused and cornered. It publishes immutable snapshots and
//! takes orders; a terminal, a command, a server and tests all use it in the same way.

pub mod collector;
mod cornered;
pub mod cornering;
pub mod debugged;
mod detecting;
pub mod drawing;
mod filtering;
pub mod fixing;
pub mod guilty;
mod heard;
mod keeping;
pub mod kinds;
mod leave;
mod maps;
mod noting;
mod orders;
pub mod pace;
mod pausing;
pub mod readers;
mod records;
pub mod request;
mod rows;
pub mod sharing;
pub mod side_by_side;
mod sources;
pub mod teaching;
mod telling;
mod told_page;
mod trimmed;
pub mod trust;
mod trying;
mod unread;
mod valuing;
mod walking;
pub mod wanted;
mod watch;
mod worker;

pub use cornered::{Corner, CornerFor, CornerView};
pub use detecting::Code;
pub use heard::Heard;
pub use keeping::{Keeping, KeptRun, Past, before_run, decided, earlier_runs, kept_run};
pub use orders::{Answer, Found, Order, Published, Sieve, Sought, SourceState, is_over};
pub use pausing::{BreakRow, PauseOrder, PauseView, Stops};
pub use records::feed_record;
pub use rows::LineRow;
pub use sources::Later;
pub use valuing::{Differing, ValuesView};
pub use watch::{Ender, Setup, Watch};
