//! Whether a line raises an error of the program's own, and under which conditions it is reached.

use izba_model::code::{At, FileFacts, Kind};

/// What has to hold so that this line is reached: the conditions of the `if`s around it, innermost
/// first.
pub fn conditions<'a>(file: &'a FileFacts, line: u32) -> impl Iterator<Item = At<'a>> {
    let inner = file.tree.on_line(line).last();
    inner
        .into_iter()
        .flat_map(|n| n.ancestors().take_while(|a| !a.is(Kind::Func)))
        .filter(|a| a.is(Kind::If))
        .filter_map(|a| a.child(0))
}

/// Whether a line raises an error or warning of the program's own.
pub fn raises(file: &FileFacts, line: u32) -> bool {
    let by_call = |n: At<'_>| {
        n.is(Kind::Call)
            && n.child(0).is_none_or(|c| !c.is(Kind::Index))
            && matches!(
                n.last_name(),
                Some("error" | "fail" | "panic" | "fatal" | "warn" | "warning")
            )
    };
    file.tree.on_line(line).any(|n| n.is(Kind::Throw) || by_call(n))
}
