//! The whole program, driven as a user drives it: a file for each part of it.

mod commands;
mod demo;
mod keys;
mod listen;
mod live;
mod open;
mod page;
mod screen;
mod tmux;
mod views;
mod watch;
