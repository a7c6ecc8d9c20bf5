//! Who did it, and what it means: an error is explained ([`explain`]), and followed backwards
//! through code and data to those who may be guilty ([`suspect`]); what is wrong without running
//! ([`checks`]); what to look at when nothing happens ([`silence`]); how to corner an error
//! ([`corner`]); and what a stopped program shows ([`pause`]).
//!
//! Everything here sees facts of code only (`izba_model::code`), so it holds for all languages.
//! Nothing opens a file, asks the clock, starts a thread or knows a terminal.

pub mod checks;
pub mod corner;
pub mod explain;
mod hunks;
pub mod pause;
mod seen;
pub mod silence;
pub mod suspect;
#[cfg(test)]
mod wording;

pub use explain::Explanation;
