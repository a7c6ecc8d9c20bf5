//! What the engine thread owns.

use crate::collector::{Collector, Hearing};
use crate::heard::Heard;
use crate::maps::Maps;
use crate::orders::{Answer, Published, Sought};
use crate::sources::{Glob, WatchedSource};
use crate::told_page::ToldPage;
use crate::{cornered, detecting, filtering, keeping, noting, pausing, valuing, walking};
use arc_swap::ArcSwap;
use izba_console::read::Layout;
use izba_core::Engine;
use izba_model::Project;
use izba_sources::Bell;
use std::path::PathBuf;
use std::sync::Arc;
use std::sync::atomic::AtomicBool;
use std::sync::mpsc::Sender;
use std::time::Instant;

pub(crate) struct Finding {
    pub(crate) id: u64,
    pub(crate) sought: Sought,
    pub(crate) at: u64,
    pub(crate) up: bool,
    pub(crate) searched: u64,
}

pub(crate) struct Worker {
    pub(crate) engine: Engine,
    pub(crate) root: PathBuf,
    pub(crate) session: PathBuf,
    pub(crate) project: Arc<Project>,
    pub(crate) today: Arc<Project>,
    pub(crate) sources: Vec<WatchedSource>,
    /// What is watched from [`crate::Order::Rest`] on.
    pub(crate) later: Vec<crate::sources::Later>,
    /// Programs that run along with those.
    pub(crate) helpers: Vec<izba_sources::Running>,
    pub(crate) globs: Vec<Glob>,
    /// What the user taught.
    pub(crate) readers: Vec<Arc<Layout>>,
    pub(crate) bell: Bell,
    pub(crate) answers: Sender<Answer>,
    pub(crate) slot: Arc<ArcSwap<Published>>,
    pub(crate) troubles: Vec<String>,
    pub(crate) utc_offset: i32,
    pub(crate) finding: Option<Finding>,
    pub(crate) filtering: filtering::Filtering,
    pub(crate) keeping: keeping::Keeping,
    pub(crate) detecting: detecting::Detecting,
    pub(crate) pausing: pausing::Pausing,
    pub(crate) cornering: Option<cornered::Cornering>,
    pub(crate) trying: crate::trying::Trying,
    pub(crate) walking: Option<walking::Walking>,
    pub(crate) valuing: Option<valuing::Valuing>,
    pub(crate) noting: noting::Noting,
    pub(crate) past: Option<u32>,
    pub(crate) maps: Maps,
    /// When commands that start again on a save do so: a moment after the last of several saves.
    pub(crate) saved: Option<Instant>,
    pub(crate) again_on_save: bool,
    pub(crate) announced: Arc<AtomicBool>,
    /// Whether the code is looked into before anybody asks.
    pub(crate) ahead: bool,
    pub(crate) heard: Heard,
    /// Who is told what becomes of mistakes.
    pub(crate) collector: Option<Collector>,
    /// What the Izbas of others tell.
    pub(crate) hearing: Hearing,
    /// Whether the user was told that something is kept in memory only.
    pub(crate) aside: bool,
    /// The page of a program, where it tells its address.
    pub(crate) page: ToldPage,
    /// Whether several sources are opened at once: one that fails is a row then that says so.
    pub(crate) opens_many: bool,
    pub(crate) code: i32,
}
