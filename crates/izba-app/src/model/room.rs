//! Rooms, and the four questions of the first one.

/// The questions that have a screen of their own.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Room {
    /// What to fix first, and the four questions about it.
    Now,
    /// Everything as it arrived.
    Lines,
    /// Groups over runs.
    Runs,
    /// What can be found wrong without running.
    Checks,
    /// The program, stopped.
    Pause,
    /// What the program prints under a name, over time.
    Values,
    /// What the user wrote about errors.
    Notes,
}

/// The four questions of room Now.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Question {
    /// When did it happen?
    When,
    /// What is wrong?
    What,
    /// Where is it?
    Where,
    /// Why?
    Why,
}

impl Question {
    /// In the order of Tab.
    pub const ALL: [Question; 4] = [Question::What, Question::Where, Question::Why, Question::When];

    /// The one `by` places further.
    pub fn step(self, by: usize) -> Question {
        let at = Question::ALL.iter().position(|q| *q == self).unwrap_or(0);
        Question::ALL[(at + by) % Question::ALL.len()]
    }
}
