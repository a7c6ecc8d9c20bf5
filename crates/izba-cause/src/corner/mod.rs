//! Cornering: which statements, and which entries of the data that a run begins with, must be there
//! for an error to appear. Parts are taken away as the code's structure divides it, and what is
//! left is tried again: delta debugging (Zeller and Hildebrandt, 2002), level by level down the
//! syntax tree (Misherghi and Su, 2006).
//!
//! Nothing runs here. A [`Search`] says what to leave out next and is told whether the same error
//! came; [`Pieces`] turn what is left out into the text of a file. Lines keep their numbers, so
//! that the error stays where it was.

mod needs;
mod search;

pub use crate::hunks::{Hunk, hunks, with_hunks};
pub use izba_model::code::{Group, Piece, Pieces};
pub use needs::needs;
pub use search::{Search, Unit};
