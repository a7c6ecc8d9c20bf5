//! Izba's face: command line and full-screen terminal. Everything it shows is computed in
//! `izba-core`.

pub mod cli;
pub mod command_error;
pub mod cornering;
pub mod drawing;
pub mod editor;
pub mod guilty;
pub mod keymap;
pub mod model;
pub mod pausing;
pub mod readers;
pub mod shell;
mod side_by_side;
pub mod teach;
pub mod telling;
pub mod theme;
pub mod tour;
pub mod update;
pub mod view;
pub mod wanted;
pub mod watch;
