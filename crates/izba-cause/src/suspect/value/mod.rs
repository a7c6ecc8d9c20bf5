//! Which values an expression may have: followed backwards from where it is read to everything that
//! was ever put there, in code and data, and worked out forwards again through what the program does
//! with it. Every value knows where it was written, so that the one that does not fit can be shown.
//!
//! Programs of beginners are closed: what they work on stands in them or lies beside them. Where a
//! value comes from outside, or by a way that is not known here, the answer says that it lost track.

mod calls;
mod doc;
mod eval;
mod kept;
mod library;
mod members;
mod names;
mod opened;
mod pure;
mod val;

pub(crate) use calls::callable_name;
pub(crate) use eval::Eval;
pub(crate) use members::{
    Written, is_nearly_of_lists, is_of_lists, is_of_numbers, is_of_texts, written,
};
pub(crate) use names::{is_property, object_of};
pub(crate) use pure::{compare, count};

pub(crate) use val::{Missed, Val, Vals, What};
