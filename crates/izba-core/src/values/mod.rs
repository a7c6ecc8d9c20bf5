//! What a program prints under a name, followed over time: numbers and states, found by the shape
//! of the messages with nothing to set up. A long series is thinned so that its peaks stay.

mod asked;
mod before;
mod find;
mod prints;
mod series;
mod time;

pub use before::{Before, Differs, How, LOOKS, before};
pub use find::{Told, told};
pub use prints::{Print, printed_by, prints};
pub use series::{Bucket, Errors, Kept, PIN, Series, Store, number, pin_key};
