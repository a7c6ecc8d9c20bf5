//! x
pub fn run(_: &[String]) -> crate::Outcome {
    Ok(())
}
