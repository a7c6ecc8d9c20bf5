//! The Debug Adapter Protocol from the client's side, without any I/O: [`wire`] turns bytes into
//! messages and back, and a [`Session`] turns messages and what the user wants into requests and a
//! [`State`] to be shown.
//!
//! An adapter is a stranger: it may be slow, old, or wrong. Nothing that it sends can make a
//! session panic, grow without bound, or wait for ever; what it does wrong is told in sentences.

mod requests;
mod session;
mod state;
mod stops;
pub mod wire;

pub use session::{Begin, Out, Plan, Point, Session, Want, World};
pub use state::{Bound, Can, Errors, Frame, Phase, Raised, Scope, State, Stop, Value, Variable};
