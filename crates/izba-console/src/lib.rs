//! From the bytes of a console to reports: lines ([`read`]), what they wear before their sentence
//! ([`read::layout`]), and which of them belong together and what they say ([`trace`]). Reports of
//! tests that stand in a file are read too ([`report`]).
//!
//! Nothing here opens a file, asks the clock, starts a thread or knows a terminal.

mod dress;
pub mod learn;
pub mod paths;
pub mod read;
pub mod report;
pub mod trace;

pub use learn::KeptLine;
pub use read::{Checkpoint, RawLine, Reading, Setting, Splitter};
