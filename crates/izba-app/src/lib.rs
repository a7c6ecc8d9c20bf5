//! Izba's face: command line and full-screen terminal. Everything it shows is computed in
//! `izba-core`.

pub mod cli;
pub mod command_error;
pub mod editor;
pub mod keymap;
pub mod model;
pub mod pausing;
pub mod shell;
pub mod teach;
pub mod theme;
pub mod tour;
pub mod update;
pub mod view;
