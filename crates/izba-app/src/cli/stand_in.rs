use super::{Outcome, Shared};
#[derive(clap::Args, Debug)]
pub struct Args {}
pub fn run(_: &Shared, _: Args) -> Outcome {
    Ok(0)
}
pub fn open(_: &Shared) -> Outcome {
    Ok(0)
}
