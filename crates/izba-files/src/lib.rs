//! The files of a project on disk. They are a stranger's: a name may lead to a pipe, a device, a
//! file without end or a folder of millions. So all of them are opened by [`open`] or read by
//! [`read`], and folders are walked by one walk; what those do not let in, nothing here reads.

mod libraries;
mod ordinary;
mod owner;
mod project;
mod versions;
mod walk;
mod watcher;

pub use ordinary::{SETTINGS_CAP, open, read, read_text};
pub use owner::others_wrote;
pub use project::{FoundMap, find_maps, find_root, read_maps, scan, scan_file};
pub use versions::{told_versions, versions};
pub use watcher::{Saved, Watch, watch_saves};
