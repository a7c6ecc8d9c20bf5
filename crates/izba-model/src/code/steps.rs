//! How many steps through trees a question may take: whoever asks something of a project that is made
//! of nothing but branches gets no answer in the end, but gets that soon.

use std::cell::Cell;

thread_local! {
    /// Steps that are left to this thread.
    static LEFT: Cell<u64> = const { Cell::new(u64::MAX) };
}

/// Runs `ask` with so many steps: each look at a node is one. Once they are used up, trees look
/// empty and the walk through them ends; what was found is then worth nothing, and `None` is given.
/// What was kept on the way for later questions is worth nothing either. Steps are counted, not
/// timed, so that the answer is the same on every machine.
pub fn within<T>(steps: u64, ask: impl FnOnce() -> T) -> Option<T> {
    // What is asked within a question is part of it.
    let outer = LEFT.get();
    let steps = steps.min(outer);
    LEFT.set(steps);
    let found = ask();
    let left = LEFT.get();
    LEFT.set(outer - (steps - left));
    (left > 0).then_some(found)
}

/// Runs what is kept for later questions, which none of them pays for.
pub(super) fn aside<T>(make: impl FnOnce() -> T) -> T {
    let outer = LEFT.replace(u64::MAX);
    let made = make();
    LEFT.set(outer);
    made
}

/// Whether there are any left.
pub(super) fn are_left() -> bool {
    LEFT.get() > 0
}

/// Takes one.
pub(super) fn take() {
    LEFT.set(LEFT.get().saturating_sub(1));
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_question_that_takes_too_long_has_no_answer_and_others_go_on() {
        let ask =
            |count: u64| move || (0..count).take_while(|_| are_left()).inspect(|_| take()).count();
        assert_eq!(within(10, ask(9)), Some(9));
        assert_eq!(within(10, ask(11)), None);
        assert_eq!(within(10, ask(9)), Some(9));
        // An inner question takes from the outer one.
        let inner = || (within(5, ask(1000)), within(100, ask(3)));
        assert_eq!(within(20, inner), Some((None, Some(3))));
        assert_eq!(within(7, inner), None);
        assert_eq!(within(10, || within(100, ask(50))), None);
        // What is kept for all is made whole.
        assert_eq!(within(10, || aside(ask(50))), Some(50));
    }
}
