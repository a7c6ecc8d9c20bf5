//! Izba's face: command line and full-screen terminal. Everything it shows is computed in
//! `izba-core`.

pub mod cli;
pub mod command_error;
pub mod command_words;
pub mod editor;
pub mod keymap;
pub mod linear;
pub mod model;
mod parts;
pub mod planted;
pub mod rooms;
pub mod screen;
pub mod settings;
mod sheets;
pub mod shell;
pub mod teach;
pub mod theme;
pub mod tour;
pub mod turn;
