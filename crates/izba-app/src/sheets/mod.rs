//! What lies over a room: each sheet with how it looks and what its keys do.

pub mod corner;
pub mod draw;
pub mod overlay;
pub mod overlay_keys;
pub mod pack;
pub mod paths;
pub mod prints;
#[expect(clippy::module_inception, reason = "sheets of sources and of teaching")]
pub mod sheets;
pub mod sheets_keys;
pub mod tell;
