//! What rooms and sheets are put together from: effects, the editor, the list of groups, typed
//! text, and the pen that writes into cells.

pub mod edit;
pub mod effect;
pub mod input;
pub mod list;
pub mod pen;
pub mod said;
pub mod sheet;
