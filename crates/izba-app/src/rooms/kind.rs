//! What a room is: its name and keys, and what it does with what happens while it is open. All that
//! knows rooms asks this, so that one more room is a folder and a line.

use crate::keymap::Action;
use crate::model::{Model, Room};
use crate::parts::effect::Effect;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use tui_input::Input;

/// One room. What a room has nothing of its own for stands as in [`PLAIN`].
pub struct RoomKind {
    /// Which.
    pub room: Room,
    /// Its name in the bar.
    pub name: &'static str,
    /// What opens it.
    pub action: Action,
    /// What it shows, in a sentence, for help.
    pub about: &'static str,
    /// Opens it.
    pub open: fn(&mut Model) -> Vec<Effect>,
    /// Does what the user wants there.
    pub act: fn(&mut Model, Action) -> Vec<Effect>,
    /// Actions that mean something else there than elsewhere.
    pub own: &'static [Action],
    /// Actions of all rooms that nothing comes of there.
    pub silent: &'static [Action],
    /// Whether going back takes the filter phrase away first.
    pub back_clears_phrase: fn(&Model) -> bool,
    /// What text is typed into there, if any is.
    pub input: fn(&mut Model) -> Option<&mut Input>,
    /// A key while text is typed there; `None` when none is.
    pub on_typing: fn(&mut Model, &str) -> Option<Vec<Effect>>,
    /// Whether what is new is shown there though the screen is held.
    pub is_lively: bool,
    /// Puts the list in order after news.
    pub sort: fn(&mut Model, new_run: bool),
    /// What follows from news.
    pub on_news: fn(&mut Model, News) -> Vec<Effect>,
    /// A click at column and row.
    pub on_click: fn(&mut Model, u16, u16) -> Vec<Effect>,
    /// The mouse at column and row with its button down, and at last let go.
    pub on_drag: fn(&mut Model, u16, u16, bool) -> Vec<Effect>,
    /// The wheel over column and row.
    pub on_wheel: fn(&mut Model, Action, u16, u16) -> Vec<Effect>,
    /// What of it would be copied: a sentence, a line, a place, a value.
    pub copies: fn(&Model) -> Option<String>,
    /// The drawing that fits.
    pub drawing: fn(&Model) -> &'static str,
    /// Draws it.
    pub draw: fn(&Model, Rect, &mut Buffer),
    /// Whether the filter phrase is told above the keys.
    pub tells_phrase: bool,
    /// What the arrows do, if anything.
    pub arrows: fn(&Model) -> Option<&'static str>,
    /// The keys that help there, with other words than the table has where they are not empty.
    pub hints: fn(&Model) -> Vec<(Action, String)>,
}

/// What came with a new snapshot.
#[derive(Debug, Clone, Copy)]
pub struct News {
    /// More lines.
    pub grew: bool,
    /// More sightings: lines that were read may know their group by now.
    pub regrouped: bool,
}

/// A room that does nothing.
pub const PLAIN: RoomKind = RoomKind {
    room: Room::Now,
    name: "",
    action: Action::RoomNow,
    about: "",
    open: |_| Vec::new(),
    act: |_, _| Vec::new(),
    own: &[],
    silent: &[],
    back_clears_phrase: |_| true,
    input: |_| None,
    on_typing: |_, _| None,
    is_lively: false,
    sort: crate::parts::list::sort_list,
    on_news: |_, _| Vec::new(),
    on_click: |_, _, _| Vec::new(),
    on_drag: |_, _, _, _| Vec::new(),
    on_wheel: |_, _, _, _| Vec::new(),
    copies: |_| None,
    drawing: |_| "when",
    draw: |_, _, _| {},
    tells_phrase: true,
    arrows: |_| Some("choose"),
    hints: |_| Vec::new(),
};

/// Keys with the words of the table, or others.
pub fn hints(keys: &[(Action, &str)]) -> Vec<(Action, String)> {
    keys.iter().map(|(action, words)| (*action, (*words).to_owned())).collect()
}
