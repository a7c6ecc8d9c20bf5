//! What may lie over a room: one state for each sheet.

use super::pause::BreakSheet;
use crate::teach::Teach;
use izba_core::GroupId;
use izba_model::claim::Fix;
use ratatui_textarea::TextArea;
use std::sync::Arc;
use tui_input::Input;

macro_rules! overlays {
    ($($(#[$doc:meta])* $name:ident($state:ty)),* $(,)?) => {
        /// What lies over the room.
        #[derive(Debug, Clone)]
        pub enum Overlay {
            $($(#[$doc])* $name($state),)*
        }

        $(impl From<$state> for Overlay {
            fn from(state: $state) -> Overlay {
                Overlay::$name(state)
            }
        })*
    };
}

overlays! {
    /// A breakpoint, as it shall be.
    Break(BreakSheet),
    /// Many whose Izbas tell here.
    Class(ClassSheet),
    /// Two runs of a source side by side.
    Compare(CompareSheet),
    /// What is left of the error that is cornered.
    Corner(CornerSheet),
    /// What shall be drawn, and how.
    Draw(DrawSheet),
    /// The exact edit, before it is made.
    Fix(FixSheet),
    /// The number of a line to go to.
    GoTo(GoToSheet),
    /// Help for the room.
    Help(HelpSheet),
    /// A name for the filter.
    Name(NameSheet),
    /// A note that is being written.
    Note(Box<NoteSheet>),
    /// What is packed with a request for help.
    Pack(PackSheet),
    /// All commands.
    Palette(PaletteSheet),
    /// Paths that were printed on purpose.
    Paths(PathsSheet),
    /// Prints that stand in the source.
    Prints(PrintsSheet),
    /// Leaving while a program runs?
    Quit(QuitSheet),
    /// An answer for the program.
    Reply(ReplySheet),
    /// A new value.
    SetValue(SetValueSheet),
    /// What the user sets once for all projects.
    Settings(SettingsSheet),
    /// What is watched, or could be.
    Sources(Sources),
    /// How a line is read.
    Teach(Teach),
    /// A request for help.
    Tell(TellSheet),
    /// An expression to be watched.
    Watch(WatchSheet),
    /// What the words of the chosen error mean.
    Words(WordsSheet),
}

/// The exact edit of a suspect, before it is made.
#[derive(Debug, Clone)]
pub struct FixSheet {
    /// The edit that is shown.
    pub fix: Fix,
    /// The suspect's edit alone; `fix` may hold it in other places of the file too.
    pub own: Fix,
    /// The text of its file that was looked at.
    pub text: Arc<str>,
    /// Whether its suspect is likely.
    pub likely: bool,
}

/// Two runs of a source side by side.
#[derive(Debug, Clone)]
pub struct CompareSheet {
    /// The source, as its index in the snapshot.
    pub source: usize,
    /// Number of the earlier run.
    pub earlier: u32,
    /// Number of the later run.
    pub later: u32,
    /// Rows scrolled away above.
    pub scroll: usize,
}

/// Many whose Izbas tell here, scrolled by so many rows.
#[derive(Debug, Clone)]
pub struct ClassSheet(pub usize);

/// What is left of the error that is cornered, scrolled by so many rows.
#[derive(Debug, Clone)]
pub struct CornerSheet(pub usize);

/// The number of a line to go to, as it is typed.
#[derive(Debug, Clone, Default)]
pub struct GoToSheet(pub Input);

/// Help for the room, scrolled by so many rows.
#[derive(Debug, Clone)]
pub struct HelpSheet(pub usize);

/// Settings: the chosen row.
#[derive(Debug, Clone)]
pub struct SettingsSheet(pub usize);

/// A name for the filter, as it is typed.
#[derive(Debug, Clone, Default)]
pub struct NameSheet(pub Input);

/// The palette: what was typed, and the commands that fit it.
#[derive(Debug, Clone, Default)]
pub struct PaletteSheet {
    /// What is typed.
    pub input: Input,
    /// Which of those that fit is chosen.
    pub chosen: usize,
}

/// Paths that were printed on purpose: the chosen row.
#[derive(Debug, Clone)]
pub struct PathsSheet(pub usize);

/// Prints that stand in the source: the chosen row.
#[derive(Debug, Clone)]
pub struct PrintsSheet(pub usize);

/// Leaving while a program runs?
#[derive(Debug, Clone)]
pub struct QuitSheet;

/// An answer for the program, as it is typed.
#[derive(Debug, Clone, Default)]
pub struct ReplySheet(pub Input);

/// A sheet on which a value of the stopped program gets another one.
#[derive(Debug, Clone)]
pub struct SetValueSheet {
    /// Reference of the value that it is a part of, as the adapter gave it.
    pub owner: i64,
    /// Its name.
    pub name: String,
    /// What is typed.
    pub input: Input,
}

/// A request for help, to be read before it leaves.
#[derive(Debug, Clone)]
pub struct TellSheet {
    /// The request.
    pub telling: Arc<izba_watch::request::Telling>,
    /// Whether it is shown as plain text.
    pub plain: bool,
    /// Rows scrolled away above.
    pub scroll: usize,
    /// Which of what was taken out is chosen.
    pub chosen: Option<usize>,
}

impl TellSheet {
    /// A request as it is shown first.
    pub fn of(telling: Arc<izba_watch::request::Telling>) -> TellSheet {
        TellSheet { telling, plain: false, scroll: 0, chosen: None }
    }
}

/// An expression to be watched, as it is typed.
#[derive(Debug, Clone)]
pub struct WatchSheet(pub Input);

/// What the words of the chosen error mean, scrolled by so many rows.
#[derive(Debug, Clone)]
pub struct WordsSheet(pub usize);

/// The sheet on which a drawing and its form are chosen.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct DrawSheet {
    /// The chosen drawing, by its place in the registry.
    pub chosen: usize,
    /// Dark on white.
    pub paper: bool,
}

/// A note that is being written.
#[derive(Debug, Clone)]
pub struct NoteSheet {
    /// What it is about.
    pub head: izba_core::notes::Head,
    /// The file that it is written over, when it was read from one.
    pub path: Option<std::path::PathBuf>,
    /// Its text, with a line of tags above.
    pub area: TextArea<'static>,
    /// What it was before.
    pub before: String,
}

/// What is packed with a request for help.
#[derive(Debug, Clone)]
pub struct PackSheet {
    /// The error.
    pub group: GroupId,
    /// The request.
    pub telling: Arc<izba_watch::request::Telling>,
    /// Own files, those on the way to the error first.
    pub files: Vec<Arc<str>>,
    /// Which of them go along.
    pub chosen: std::collections::BTreeSet<usize>,
    /// The chosen file, from 0 in `files`.
    pub row: usize,
    /// What came of it.
    pub packed: Option<Arc<izba_watch::request::Packed>>,
}

/// The sheet of sources: what is watched, and what could be.
#[derive(Debug, Clone, Default)]
pub struct Sources {
    /// The chosen row: a source, or, while there is none, an offer.
    pub chosen: usize,
    /// What is typed to add one more.
    pub adding: Option<Input>,
}
