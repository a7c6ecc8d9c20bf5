//! The demo world Night Ferry: the programs that behave like the consoles of real projects, and the project they run.
//!
//! Nothing here knows Izba, so that no stand-in can find a fault with the code that is to be shown by it.

pub mod cli;
pub mod engine;
pub mod rude;
pub mod world;
