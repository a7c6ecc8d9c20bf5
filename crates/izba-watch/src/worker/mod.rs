//! The engine thread: what it owns ([`state`]), how it goes on ([`turn`]), and what it does for one
//! thing each.

mod cornered;
mod filtering;
mod noting;
mod pausing;
mod rows;
mod sources;
mod state;
mod teaching;
mod telling;
mod trimming;
mod trying;
mod turn;
mod valuing;
mod walking;

pub(crate) use state::Worker;
