//! What the user can ask for, whichever key or command asks it.

/// What the user can ask for, whichever key or command asks it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Action {
    /// One up.
    Up,
    /// One down.
    Down,
    /// A screenful up.
    PageUp,
    /// A screenful down.
    PageDown,
    /// To the beginning.
    First,
    /// To the end.
    Last,
    /// Into what is chosen.
    Deeper,
    /// Back out.
    Back,
    /// The next of the four questions.
    NextQuestion,
    /// The question before.
    PreviousQuestion,
    /// Room Now.
    RoomNow,
    /// Room Lines.
    RoomLines,
    /// A pane to the full screen and back.
    Zoom,
    /// From a group to its lines, from a line to its group.
    Across,
    /// Look for a text.
    Find,
    /// Room Lines: the beginnings of long lines again.
    LeftPart,
    /// Room Lines: what stands further on in long lines.
    RightPart,
    /// Room Lines: long lines over several rows, to their ends, or one row each again.
    Wrap,
    /// Room Lines: of each error its first line only, or all its lines again.
    FoldErrors,
    /// Room Lines: tell the chosen line's mistake below it, or no longer.
    OpenHere,
    /// Room Lines: the next error or warning.
    NextError,
    /// Room Lines: the error or warning before.
    PreviousError,
    /// Room Now: to Why and back.
    Why,
    /// Room Now: the moment before, in When.
    MomentEarlier,
    /// Room Now: the moment after, in When.
    MomentLater,
    /// Room Now: a stretch of time that narrows all else begins at the moment of When.
    StretchFrom,
    /// Room Now: it ends there.
    StretchTo,
    /// Room Now: a shorter stretch of time in When.
    Nearer,
    /// Room Now: a longer stretch of time in When.
    Farther,
    /// Copies what is chosen: a line, a sentence, a place.
    Copy,
    /// Type a filter phrase.
    Filter,
    /// Show for a moment what is filtered out or set aside.
    Peek,
    /// Set a group aside, or take it back.
    Mute,
    /// Set aside whatever the filter lets through.
    MuteFiltered,
    /// Keep the filter under a name.
    KeepFilter,
    /// Call a group fixed, or no longer.
    Fixed,
    /// Tell the parts of a group apart, or no longer.
    Split,
    /// Count a group with another one.
    Join,
    /// What the rows stand for.
    GroupBy,
    /// Take back what was decided last.
    Undo,
    /// A run begins here.
    FromHere,
    /// Room Runs.
    RoomRuns,
    /// Room Checks.
    RoomChecks,
    /// Room Pause.
    RoomPause,
    /// Stop the program now.
    PauseNow,
    /// Let it go on.
    GoOn,
    /// To the next line.
    Over,
    /// Into the call.
    Into,
    /// Back to the caller.
    Out,
    /// Until the handler begins again.
    OneTick,
    /// To the chosen line.
    RunHere,
    /// A breakpoint at the line that is shown.
    Breakpoint,
    /// Stop just before the chosen error next time.
    StopBefore,
    /// Narrow the program down to what the chosen error needs.
    Corner,
    /// Room Values.
    RoomValues,
    /// Draw the chosen series beside others.
    Beside,
    /// Pin the chosen series to room Now, or no longer.
    Pin,
    /// Read the values off at an earlier moment.
    ReadEarlier,
    /// At a later one.
    ReadLater,
    /// To the value that differs before the chosen error.
    Differing,
    /// The prints in the source.
    Prints,
    /// Room Notes.
    RoomNotes,
    /// Write a note about the chosen error.
    Note,
    /// Draw what is shown.
    Draw,
    /// A shorter stretch of time.
    Closer,
    /// A longer one.
    Wider,
    /// The stretch before.
    EarlierStretch,
    /// The stretch after.
    LaterStretch,
    /// Tell others: a request for help.
    Tell,
    /// See how the page looked.
    Picture,
    /// The paths that were printed on purpose.
    Paths,
    /// Stop when the chosen error happens again.
    StopAgain,
    /// At which errors to stop.
    StopsAt,
    /// Watch an expression.
    WatchValue,
    /// Change the chosen value.
    SetValue,
    /// The chosen value as a table, or the table by another column.
    AsTable,
    /// The next pane of room Pause.
    NextPane,
    /// A suspect is innocent.
    RuleOut,
    /// What the words mean.
    Words,
    /// The run before.
    Earlier,
    /// The run after.
    Later,
    /// The runs of the next source.
    NextSource,
    /// Two runs side by side.
    Compare,
    /// To a line by its number.
    GoTo,
    /// All commands by name.
    Palette,
    /// Open the editor at the place.
    Edit,
    /// Run the program again.
    Again,
    /// Stop the program.
    Stop,
    /// Answer the program's question.
    Reply,
    /// Hold the screen still, or let it go on.
    Hold,
    /// Let the terminal's own mouse select text.
    SelectText,
    /// Show the exact edit that would fix the chosen mistake, and make it.
    MakeEdit,
    /// In the demo: begin or leave the guided tour.
    Tour,
    /// What is watched; add, hold, take away.
    Sources,
    /// Who else met these mistakes, where the Izbas of others tell.
    Class,
    /// Say that who speaks in the chosen line is mine.
    Mine,
    /// How the chosen line is read, and teach it.
    Teach,
    /// What the user sets once for all projects.
    Settings,
    /// Help for this room.
    Help,
    /// Leave.
    Quit,
    /// What a newcomer presses to stop something.
    Interrupt,
}
