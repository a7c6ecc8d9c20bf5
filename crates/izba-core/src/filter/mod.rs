//! Filtering: whether a phrase holds for a group or a line, and what fits while one is typed.

mod complete;
mod fits;

pub use crate::phrase::{Phrase, Problem, WORDS};
pub use complete::{Offer, offers};
pub use fits::{Around, LineFacts};
