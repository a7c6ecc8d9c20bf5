//! What a kind of source is, and what opening one gives.

use super::act::Act;
use crate::debugged::Debugged;
use izba_sources::{Admission, Bell, Command, Running, SourceError, SpoolWriter};
use std::collections::BTreeMap;
use std::net::SocketAddr;
use std::path::{Path, PathBuf};
use std::sync::atomic::AtomicBool;
use std::sync::{Arc, Mutex};
use std::thread::JoinHandle;

/// A kind of source: how it is named, opened and told to others.
pub struct SourceKind {
    /// The word that names it, in `izba.toml` and where it is typed.
    pub word: &'static str,
    /// What stands behind the word.
    pub what: &'static str,
    /// Where the bytes of one come from, and its name; in the project's folder.
    pub origin: fn(&Wanted, &Path) -> Found,
    /// What one would do that a stranger may not do unasked.
    pub acts: fn(&Wanted, &Path) -> Vec<Act>,
}

/// A name for a source and where its bytes come from, or a sentence on why there is none.
pub type Found = Result<(String, Origin), String>;

impl PartialEq for SourceKind {
    fn eq(&self, other: &SourceKind) -> bool {
        self.word == other.word
    }
}

impl std::fmt::Debug for SourceKind {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(self.word)
    }
}

/// One source as somebody named it.
#[derive(Debug, Clone, PartialEq)]
pub struct Wanted {
    /// What people call it; else what it is.
    pub name: Option<String>,
    /// Its kind.
    pub kind: &'static SourceKind,
    /// The command, file or address.
    pub what: String,
    /// Start the command again when an own file is saved.
    pub again_on_save: bool,
    /// Names of the apps, loggers or processes in it that are the user's; empty when all are.
    pub own: Vec<String>,
    /// The folder in which a command runs, within the project; else the project's own.
    pub folder: Option<PathBuf>,
    /// Variables that a command gets.
    pub environment: BTreeMap<String, String>,
    /// Plain pipes instead of a terminal of its own for a command.
    pub pipes: bool,
    /// A text in lines that tell of an action of the user, so that a silence is measured by what
    /// was tried.
    pub action: Option<String>,
    /// A debug adapter, so that the command can be paused: a command line, or the address at which
    /// the program itself listens.
    pub adapter: Option<String>,
    /// What the adapter is told when it starts the program, beyond what it is told anyway.
    pub launch: toml::Table,
}

impl Wanted {
    /// A source without a name.
    pub fn new(kind: &'static SourceKind, what: impl Into<String>) -> Wanted {
        Wanted {
            name: None,
            kind,
            what: what.into(),
            again_on_save: false,
            own: Vec::new(),
            folder: None,
            environment: BTreeMap::new(),
            pipes: false,
            action: None,
            adapter: None,
            launch: toml::Table::new(),
        }
    }

    /// Where its bytes come from, and its name.
    ///
    /// # Errors
    ///
    /// A sentence, when it cannot be opened as it is named.
    pub fn origin(&self, root: &Path) -> Result<(String, Origin), String> {
        let (name, origin) = (self.kind.origin)(self, root)?;
        Ok((self.name.clone().unwrap_or(name), origin))
    }

    /// What it would do that a stranger may not do unasked.
    pub fn acts(&self, root: &Path) -> Vec<Act> {
        (self.kind.acts)(self, root)
    }
}

/// Where the bytes of a source come from.
pub type Origin = Box<dyn Open>;

/// Something that can be opened as a source.
pub trait Open: std::fmt::Debug + Send {
    /// Opens it: from now on its bytes go to the spool.
    ///
    /// # Errors
    ///
    /// When it cannot be started, read or listened to.
    fn open(self: Box<Self>, to: Line) -> Result<Opened, SourceError>;

    /// The pattern of files that are watched as they appear, where it is no source of its own.
    fn pattern(&self) -> Option<String> {
        None
    }
}

/// Where the bytes go, and how it is told and stopped.
pub struct Line {
    /// Where its bytes are put.
    pub spool: Arc<Mutex<SpoolWriter>>,
    /// Told when something arrived.
    pub bell: Bell,
    /// Set when it shall end.
    pub stop: Arc<AtomicBool>,
    /// The folder of everything that is kept.
    pub store: PathBuf,
}

impl Line {
    /// Who may send to a listener at this address: beyond this machine, who knows the token.
    ///
    /// # Errors
    ///
    /// When there has to be one and none can be made.
    pub fn who_may_send(&self, address: SocketAddr) -> Result<Admission, SourceError> {
        if izba_sources::is_loopback(address.ip()) {
            return Ok(Admission::default());
        }
        let doing = "make the token that senders need";
        let failed = |cause| SourceError::System { doing, cause };
        Ok(Admission { token: Some(izba_sources::listen_token(&self.store).map_err(failed)?) })
    }
}

/// What is kept of an open source.
#[derive(Default)]
pub struct Opened {
    /// The command, to start it again.
    pub command: Option<Command>,
    /// The program that runs.
    pub running: Option<Running>,
    /// How it is paused.
    pub debugged: Option<Box<Debugged>>,
    /// What has something to put away at the end, such as a browser.
    pub closing: Option<JoinHandle<()>>,
    /// Set to have it loaded again, where that can be done.
    pub reload: Option<Arc<AtomicBool>>,
}

impl Opened {
    /// Of a source that goes on by itself until it is told to stop.
    pub fn by_itself() -> Opened {
        Opened::default()
    }
}

/// The address that somebody named.
///
/// # Errors
///
/// A sentence, when it is none.
pub fn address_of(what: &str) -> Result<SocketAddr, String> {
    what.parse().map_err(|_| format!("“{what}” is no address; one looks like 127.0.0.1:5514"))
}
