//! Izba's face: command line and full-screen terminal. Everything it shows is computed in `izba-core`.

pub mod cli;
