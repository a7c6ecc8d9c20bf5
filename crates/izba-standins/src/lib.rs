//! The demo world Night Ferry: the programs that behave like the consoles of real projects, and the
//! project they run.
//!
//! Nothing here knows Izba, so that no stand-in can find a fault with the code that is to be shown
//! by it.

pub mod build;
pub mod cli;
mod clock;
pub mod curly;
pub mod engine;
mod http;
mod jvm;
pub mod loader;
pub mod page;
pub mod phone;
mod ports;
pub mod rude;
pub mod world;

pub use ports::free_address;

/// When the newest of the files below `folder` with one of these endings was changed; what cannot
/// be read counts as not there.
fn newest(folder: &std::path::Path, endings: &[&str]) -> Option<std::time::SystemTime> {
    let mut newest = None;
    let mut folders = vec![folder.to_owned()];
    while let Some(folder) = folders.pop() {
        for entry in std::fs::read_dir(folder).into_iter().flatten().flatten() {
            let path = entry.path();
            let Ok(meta) = entry.metadata() else { continue };
            if meta.is_dir() {
                // What the stand-ins write themselves is no change.
                if path.ends_with("logs") || path.ends_with("dist") {
                    continue;
                }
                // A renamed file changes its folder.
                newest = newest.max(meta.modified().ok());
                folders.push(path);
            } else if path.extension().is_some_and(|e| endings.iter().any(|w| e == *w)) {
                newest = newest.max(meta.modified().ok());
            }
        }
    }
    newest
}
