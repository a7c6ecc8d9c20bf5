//! Learns the order of suspects from programs whose guilty line is known; `cargo xtask learn` starts
//! it, and what it writes is `crates/izba-cause/words/order.toml`. Izba itself does not use it.

pub mod cases;
pub mod ferry;
pub mod fit;
pub mod record;
pub mod tables;
