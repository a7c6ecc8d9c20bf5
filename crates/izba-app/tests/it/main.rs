//! The whole program, driven as a user drives it: a file for each part of it.

mod checks;
mod commands;
mod corner;
mod demo;
mod draw;
mod faults;
mod keys;
mod ledger;
mod listen;
mod live;
mod machine;
mod notes;
mod open;
mod page;
mod paths;
mod pause;
mod runs;
mod sarif;
mod screen;
mod sheets;
mod stranger;
mod tell;
mod tmux;
mod values;
mod views;
mod watch;
