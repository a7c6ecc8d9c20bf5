//! What room Pause remembers.

use super::room::Room;
use izba_cause::pause::Breakpoint;
use std::collections::BTreeSet;
use tui_input::Input;

/// A pane of room Pause.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum PausePane {
    /// The values.
    #[default]
    Values,
    /// The source.
    Source,
    /// The steps that led here.
    Steps,
}

impl PausePane {
    /// The pane after it; behind the last comes the first.
    pub fn next(self) -> PausePane {
        match self {
            PausePane::Values => PausePane::Source,
            PausePane::Source => PausePane::Steps,
            PausePane::Steps => PausePane::Values,
        }
    }
}

/// A breakpoint as it shall be.
#[derive(Debug, Clone, Default)]
pub struct BreakSheet {
    /// Path relative to the project.
    pub file: String,
    /// Line, from 1, in the file as it is now.
    pub line: u32,
    /// The key of the breakpoint that it changes.
    pub key: Option<String>,
    /// The field that is typed into: the line, the condition, the count, the text.
    pub field: usize,
    /// Stops only where this holds.
    pub condition: Input,
    /// Stops only after so many times.
    pub hits: Input,
    /// Writes this instead of stopping.
    pub log: Input,
}

impl BreakSheet {
    /// The field that is typed into, if it takes text.
    pub fn input(&mut self) -> Option<&mut Input> {
        match self.field {
            1 => Some(&mut self.condition),
            2 => Some(&mut self.hits),
            3 => Some(&mut self.log),
            _ => None,
        }
    }

    /// For a breakpoint that is there.
    pub fn of(key: &str, breakpoint: &Breakpoint, line: u32) -> BreakSheet {
        let text = |t: &Option<String>| Input::new(t.clone().unwrap_or_default());
        BreakSheet {
            file: breakpoint.file.clone(),
            line,
            key: Some(key.to_owned()),
            field: 0,
            condition: text(&breakpoint.condition),
            hits: Input::new(breakpoint.hits.map_or(String::new(), |n| n.to_string())),
            log: text(&breakpoint.log),
        }
    }
}

/// A list as a table.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct TableState {
    /// Where its rows are found.
    pub path: String,
    /// What it shows.
    pub title: String,
    /// The column by which it is ordered: 0 is the order of the list.
    pub sort: usize,
    /// The chosen row of the table, from 0.
    pub row: usize,
    /// Columns of the table scrolled away on the left.
    pub column: usize,
}

/// What room Pause remembers while it is not on the screen.
#[derive(Debug, Clone, Default)]
pub struct PauseState {
    /// The pane that has the keys.
    pub pane: PausePane,
    /// The chosen row of the values, or, while the program runs, of the breakpoints.
    pub row: usize,
    /// What the user chose among the values, by its path: rows that come above it do not take its
    /// place.
    pub chosen: Option<String>,
    /// The chosen line of the source; `None` while that is the one where it stopped.
    pub line: Option<u32>,
    /// Rows that were opened, by their paths.
    pub open: BTreeSet<String>,
    /// Rows that are open by themselves and were closed.
    pub closed: BTreeSet<String>,
    /// Values that were asked for, with the stop.
    pub asked: BTreeSet<(u64, i64)>,
    /// The list that is shown as a table.
    pub table: Option<TableState>,
    /// Words that a row of the table has to hold.
    pub filter: Input,
    /// Whether they are being typed.
    pub typing: bool,
    /// The room from which it was opened.
    pub from: Option<Room>,
    /// The stop that was looked at last.
    pub stop: u64,
}
