//! What the engine thread is asked for, what it answers, and what it publishes.

use crate::collector::Telling;
use crate::request::{self, Packed};
use crate::rows::LineRow;
use crate::{Code, CornerFor, CornerView, Past, PauseOrder, PauseView, ValuesView};
use izba_console::paths::Folded;
use izba_console::read::Layout;
use izba_core::LineRef;
use izba_core::class::Class;
use izba_core::notes::Note;
use izba_core::{GroupBy, GroupId, Phrase, RunMark, Snapshot, Wish};
use izba_files::Saved;
use izba_model::{Millis, Project};
use izba_store::KeptNote;
use std::path::PathBuf;
use std::sync::Arc;

/// What the screen shows, at one moment.
#[derive(Debug, Clone)]
pub struct Published {
    /// The engine's snapshot.
    pub snapshot: Snapshot,
    /// The project's files as they are now.
    pub today: Arc<Project>,
    /// Whether a program that Izba started runs.
    pub running: bool,
    /// Whether there is a command to run again.
    pub can_run_again: bool,
    /// Bytes that have arrived and are not read yet.
    pub backlog: u64,
    /// What went wrong with a source or the disk, in sentences.
    pub troubles: Vec<String>,
    /// What the user decided about each source, in the order of the snapshot's.
    pub sources: Vec<SourceState>,
    /// Patterns of files that none fits yet.
    pub awaited: Vec<String>,
    /// The address of a page that a program told and nobody watches.
    pub page_told: Option<String>,
    /// Whether the first page that a program tells will be watched.
    pub page_awaited: bool,
    /// Filters that are kept under a name, with their phrases.
    pub filters: Vec<(String, String)>,
    /// The run that is looked at, when it is one of an earlier session.
    pub past: Option<u32>,
    /// What is known of the code, and who did it.
    pub code: Arc<Code>,
    /// What Izba remarks about the code and the user knows already.
    pub known: Arc<std::collections::BTreeSet<String>>,
    /// Paths that were printed on purpose, folded; `None` while nobody asked for them.
    pub paths: Option<Arc<Folded>>,
    /// Values that are printed; `None` while nobody asked for them.
    pub values: Option<Arc<ValuesView>>,
    /// What the user wrote about errors, here and in other projects, the newest first.
    pub notes: Arc<Vec<KeptNote>>,
    /// The error that is being cornered, or was last.
    pub corner: Option<Arc<CornerView>>,
    /// Whether the edits of new errors are tried without being asked for.
    pub tries_alone: bool,
    /// The program under a debug adapter, and where it shall stop.
    pub pause: Arc<PauseView>,
    /// How it goes with telling a collector, where there is one.
    pub telling: Option<Telling>,
    /// What the Izbas of others told.
    pub class: Arc<Class>,
}

/// What the user decided about a source.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct SourceState {
    /// How it was named, and what for.
    pub phrase: String,
    /// Whether it is held: what arrives is kept and not read yet.
    pub held: bool,
    /// Whether it was taken away: nothing more is taken in.
    pub taken: bool,
    /// Bytes that arrived and are not read yet.
    pub backlog: u64,
    /// How its lines are divided; what the user taught first.
    pub layouts: Vec<Arc<Layout>>,
}

/// What is looked for in lines.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Sought {
    /// Words in lower case that all have to stand in a line.
    Words(Vec<String>),
    /// The first line of an error or a warning, but not of this group.
    Error(Option<GroupId>),
}

/// Which lines are let through.
#[derive(Debug, Clone, Default)]
pub struct Sieve {
    /// Those that this fits; without it all.
    pub phrase: Option<Arc<Phrase>>,
    /// Of each error and warning the first line only.
    pub firsts: bool,
}

/// What the engine thread is asked for.
#[derive(Debug)]
pub enum Order {
    /// Something was appended to a spool.
    Wake,
    /// Something was found out about the code.
    Detected,
    /// Look into the code before anybody asks: somebody looks on from elsewhere.
    LookInto,
    /// Start the command again.
    Again,
    /// Whether commands that are started here start again when an own file is saved.
    RunOnSave(bool),
    /// End the program.
    Stop,
    /// Send this to the program, as if typed.
    Type(String),
    /// Read these rows.
    Window {
        /// First row.
        from: u64,
        /// How many.
        count: u64,
    },
    /// Look for a text from a row on, downwards or upwards. A newer search replaces it.
    Find {
        /// Number of the search.
        id: u64,
        /// What is looked for.
        sought: Sought,
        /// Where to begin: downwards that row itself, upwards the one above it.
        from: u64,
        /// Upwards.
        up: bool,
    },
    /// Stop looking.
    FindNothing,
    /// Read the lines that are let through, around a row: so many above it, and so many from it on.
    Matching {
        /// Number of the request; a newer one replaces it.
        id: u64,
        /// Which lines are let through.
        sieve: Sieve,
        /// Where to begin.
        from: u64,
        /// Wanted above.
        up: usize,
        /// Wanted from there on.
        down: usize,
    },
    /// Count the lines that a phrase fits, and those that come.
    Count {
        /// Number of the count; a newer one replaces it.
        id: u64,
        /// What has to hold.
        phrase: Arc<Phrase>,
    },
    /// Neither read nor count lines by a phrase any more.
    FilterNothing,
    /// Follow a wish, and say this of it.
    Wish(Vec<Wish>, String),
    /// Take the last wish back.
    Undo,
    /// What the rows of groups stand for.
    GroupBy(GroupBy),
    /// A run begins here, for these sources; none means all.
    FromHere(Option<usize>),
    /// Make a run of an earlier session ready to be opened: of this source, with this number.
    OpenRun(String, u32),
    /// Tell the row of a line.
    RowOf(LineRef),
    /// Ask for the first row that arrived at this time or later.
    RowAt(Millis),
    /// An own file was saved.
    Saved(Saved),
    /// Watch one more source, as somebody typed it.
    Add(String),
    /// Hold this source still, or let it go on.
    HoldSource(usize),
    /// Watch this source no longer; what it said stays.
    TakeAway(usize),
    /// Write the sources to the project's file.
    Keep,
    /// Who speaks in this line of the source is the user's, or is not any more.
    Mine(usize, String),
    /// Read lines of this source like this from now on, those that arrived too, and keep the
    /// reader.
    Teach(usize, Arc<Layout>),
    /// Say what reading lines of this source like this would change.
    TryLesson {
        /// Number of the request.
        id: u64,
        /// Index of the source.
        source: usize,
        /// How its lines would be read.
        layout: Arc<Layout>,
    },
    /// Look for paths that were printed on purpose, from now on too.
    Paths,
    /// Look for values, from now on too, and for those that differ before this group.
    Values(Option<GroupId>),
    /// Write a request for help for a group.
    Tell(GroupId),
    /// Pack the request for a group with its log and these own files.
    Pack(GroupId, Arc<request::Telling>, Vec<String>),
    /// Write the picture of the page into a file that was taken when a group's error struck.
    Picture(GroupId),
    /// Make a note about a group ready to be written, or the one that is there.
    Note(GroupId),
    /// Keep a note, over the file it was read from.
    KeepNote(Box<Note>, Option<PathBuf>),
    /// Take a note away; its file stays beside, under a name that is not read.
    DropNote(PathBuf),
    /// Put the note back that was taken away last.
    BringNoteBack,
    /// Read the notes again: they may have been changed in an editor.
    ReadNotes,
    /// Find something out about an error by running copies.
    Corner(GroupId, CornerFor),
    /// Corner no longer; what is known by then stays.
    StopCorner,
    /// Keep the little program that still shows it.
    KeepCorner,
    /// Try the edits of new errors in copies by themselves, in this project, or no longer; it is kept
    /// for the next time.
    TryAlone(bool),
    /// Pause a program, and look into it.
    Pause(PauseOrder),
    /// Watch the sources that were to come later too.
    Rest,
    /// Say what went wrong, as `izba read` does, now that no more comes.
    Sum {
        /// As JSON, one object on a line for each mistake; else as text.
        json: bool,
    },
    /// End.
    Quit,
}

/// What the engine thread answers.
#[derive(Debug, Clone)]
pub enum Answer {
    /// A new snapshot lies in the slot.
    Published,
    /// The rows asked for.
    Window {
        /// The row asked for.
        from: u64,
        /// The rows, in order.
        rows: Vec<LineRow>,
    },
    /// A row that holds the text, or none down to the end; rows looked through so far.
    Found {
        /// Number of the search.
        id: u64,
        /// The row that holds all words.
        row: Option<u64>,
        /// Whether the search is over.
        done: bool,
        /// Rows looked through.
        searched: u64,
    },
    /// Lines that a phrase fits, in order; whether there may be more that were asked for.
    Matching {
        /// Number of the request.
        id: u64,
        /// The rows.
        rows: Vec<LineRow>,
        /// Whether all that was asked for is there, or there is no more.
        done: bool,
    },
    /// What a lesson would change.
    Tried {
        /// Number of the request.
        id: u64,
        /// What it would be.
        tried: crate::teaching::Tried,
    },
    /// How many lines a phrase fits so far.
    Counted {
        /// Number of the count.
        id: u64,
        /// So many.
        matched: u64,
        /// Of so many that were looked at.
        looked: u64,
    },
    /// A run of an earlier session is ready to be opened.
    Past(Box<Past>),
    /// The row of the line asked about.
    Row(u64),
    /// Something went wrong; one sentence.
    Trouble(String),
    /// A request is packed.
    Packed(Box<Packed>),
    /// A picture of a page lies in this file; when it was taken.
    Picture(PathBuf, Millis),
    /// A note ready to be written, and the file it came from.
    Note(Box<Note>, Option<PathBuf>),
    /// A request for help.
    Telling(Arc<request::Telling>),
    /// The program stopped, and its stop is in the snapshot.
    Stopped,
    /// What went wrong, as `izba read` says it.
    Sum(Found),
}

/// What went wrong in all that was watched.
#[derive(Debug, Clone, Default)]
pub struct Found {
    /// As text or as JSON lines.
    pub text: String,
    /// Whether an error is among it.
    pub failed: bool,
}

/// Whether all sources have ended and all they said is read.
pub fn is_over(published: &Published) -> bool {
    published.backlog == 0
        && !published.running
        && published.snapshot.sources.iter().all(|s| matches!(s.mark, RunMark::Ended { .. }))
}
