//! A server of the Language Server Protocol (3.17) on what Izba knows: what is found wrong in the
//! files as they are typed, and, while a program is watched elsewhere or by the server itself, its
//! errors at the line that is guilty, with their edits.
//!
//! The server owns no program and no screen. It reads the project, and looks on at sessions of the
//! same user through their sockets ([`izba_watch::sharing`]).

mod acts;
mod place;
mod root;
mod server;
mod shown;
mod tell;
mod told;

pub use server::{Options, Served, serve};
