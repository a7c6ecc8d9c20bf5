//! What a program prints under a name, followed over time: numbers and states, found by the shape of the messages with nothing to
//! set up. A long series is thinned so that its peaks stay.

mod find;
mod series;

pub use find::{Told, told};
pub use series::{Bucket, Errors, Kept, Series, Store, number};
