//! What lies over a room: each sheet with how it looks and what its keys do. One more is its file
//! here, its state in [`Overlay`], and its line below.

mod class;
mod compare;
mod corner;
pub mod draw;
mod fix;
mod go_to;
mod help;
mod name;
pub mod pack;
mod palette;
mod paths;
mod prints;
mod quit;
mod reply;
mod set_value;
mod settings;
pub mod sources;
pub mod teach;
mod tell;
mod watch;
mod words;

use crate::keymap::Action;
use crate::model::{Model, Overlay};
use crate::parts::effect::Effect;
use crate::parts::sheet::Sheet;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;

macro_rules! sheets {
    ($($name:ident),* $(,)?) => {
        /// Draws the sheet, if there is one.
        pub fn draw(model: &Model, area: Rect, buf: &mut Buffer) {
            match &model.overlay {
                $(Some(Overlay::$name(state)) => Sheet::draw(state, model, area, buf),)*
                None => {}
            }
        }

        /// A sign that was typed or pasted into the sheet.
        pub fn typed(overlay: &mut Overlay, sign: char) {
            match overlay { $(Overlay::$name(state) => Sheet::typed(state, sign),)* }
        }

        /// Whether the wheel scrolls the sheet.
        pub fn scrolls(overlay: &Overlay) -> bool {
            match overlay { $(Overlay::$name(state) => wheel(state),)* }
        }

        /// Whether a click beside the sheet closes it.
        pub fn closes_by_click(overlay: &Overlay) -> bool {
            match overlay { $(Overlay::$name(state) => click(state),)* }
        }

        /// A key while a sheet lies over the room.
        pub fn on_key(model: &mut Model, key: &str) -> Vec<Effect> {
            match model.overlay.take() {
                $(Some(Overlay::$name(state)) => key_of(state, model, key),)*
                None => Vec::new(),
            }
        }
    };
}

sheets! {
    Break, Class, Compare, Corner, Draw, Fix, GoTo, Help, Name, Note, Pack, Palette, Paths, Prints, Quit, Reply,
    SetValue, Settings, Sources, Teach, Tell, Watch, Words,
}

fn wheel<S: Sheet>(_: &S) -> bool {
    S::WHEEL
}

fn click<S: Sheet>(_: &S) -> bool {
    S::CLICK_CLOSES
}

fn key_of<S: Sheet>(sheet: S, model: &mut Model, key: &str) -> Vec<Effect> {
    match key {
        _ if S::CLOSED_BY.contains(&key) => Vec::new(),
        "Ctrl+C" if S::INTERRUPTS => vec![Effect::Act(Action::Interrupt)],
        _ => sheet.on_key(model, key),
    }
}
