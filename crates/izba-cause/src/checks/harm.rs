//! Which rings of files do harm: whatever file of the ring is loaded first, something is asked of
//! it before it is there. A ring whose files use one another only later, inside functions, works.

use crate::suspect::Arrow;
use izba_model::code::{At, FileFacts, Flag, How, Index, Kind};
use izba_model::dialect::Rings;

/// Whether a ring breaks loading, by whichever of its files it is entered.
///
/// `entered` says through which files of the ring others come in; all of them where none does.
pub(super) fn breaks(index: &Index, ring: &[Arrow], entered: impl Fn(&str) -> bool) -> bool {
    let any = ring.iter().any(|a| entered(&a.from));
    let mut entries = ring.iter().enumerate().filter(|(_, a)| !any || entered(&a.from)).peekable();
    entries.peek().is_some()
        && entries.all(|(at, out)| {
            // The arrow that leads back to the file that is still being loaded.
            let back = &ring[(at + ring.len() - 1) % ring.len()];
            let (Some(entry), Some(by)) = (index.file(&out.from), index.file(&back.from)) else {
                return false;
            };
            asked_too_soon(index, entry, out.line, by, back.line)
        })
}

/// Whether `by`, loaded at line `stands` of `entry`, asks at its line `line` for something that
/// `entry` makes further down.
fn asked_too_soon(
    index: &Index,
    entry: &FileFacts,
    stands: u32,
    by: &FileFacts,
    line: u32,
) -> bool {
    let written = by.line(line).unwrap_or_default();
    match by.language.rings {
        Rings::Refused => true,
        Rings::Unfinished => {
            let taken: Vec<&str> = bound(by, line).collect();
            if written.trim_start().starts_with("from ") {
                taken.iter().any(|name| {
                    made_below(entry, name, stands) && !is_script_of(index, entry, name)
                })
            } else {
                taken.iter().any(|module| {
                    members_on_loading(by, module).any(|name| made_below(entry, name, stands))
                })
            }
        }
        Rings::Handed if written.contains("require(") => {
            let below = |name: &str| handed_below(entry, name, stands);
            let whole = handed_below(entry, "exports", stands);
            let taken: Vec<&str> = bound(by, line).collect();
            if written.contains('{') {
                // Its parts are taken out at once.
                taken.iter().any(|name| whole || below(name))
            } else {
                taken.iter().any(|module| {
                    whole && uses(by, module, line) || members_on_loading(by, module).any(below)
                })
            }
        }
        // Imports come first, and functions before everything else.
        Rings::Handed => bound(by, line).any(|name| {
            on_loading(by, name).any(|n| n.line() != line)
                && made(entry, name).any(|n| !n.is(Kind::Func))
        }),
        Rings::Harmless => false,
    }
}

/// Whether a name is that of a script in the folder that `entry` stands for: it is loaded then.
fn is_script_of(index: &Index, entry: &FileFacts, name: &str) -> bool {
    let folder = entry.path.rsplit_once('/').map_or("", |(folder, _)| folder);
    index.code().any(|f| {
        f.path
            .strip_prefix(folder)
            .map(|rest| rest.trim_start_matches('/'))
            .and_then(|rest| rest.strip_prefix(name))
            .is_some_and(|rest| rest.starts_with(['.', '/']))
    })
}

/// The names that an import at a line gives.
fn bound(file: &FileFacts, line: u32) -> impl Iterator<Item = &str> {
    file.tree
        .on_line(line)
        .filter(|n| n.is(Kind::Name) && n.defines() == Some(How::Import))
        .filter_map(At::text)
}

/// What makes a name where the file itself is loaded, not inside a function or class.
fn made<'f>(file: &'f FileFacts, name: &'f str) -> impl Iterator<Item = At<'f>> {
    file.tree.named(name).filter(|n| n.defines().is_some() && !n.has(Flag::Member) && outermost(*n))
}

fn made_below(file: &FileFacts, name: &str, line: u32) -> bool {
    made(file, name).map(At::line).min().is_some_and(|first| first > line)
}

/// Whether a name is given to what the file hands out, below a line.
fn handed_below(file: &FileFacts, name: &str, line: u32) -> bool {
    let handed = file.tree.named(name).filter(|n| {
        n.is(Kind::Field)
            && n.defines() == Some(How::Assigned)
            && n.child(0).and_then(At::last_name).is_some_and(|o| matches!(o, "module" | "exports"))
    });
    handed.map(At::line).min().is_some_and(|first| first > line)
}

/// Where a name stands in code that runs as the file is loaded.
fn on_loading<'f>(file: &'f FileFacts, name: &'f str) -> impl Iterator<Item = At<'f>> {
    file.tree.named(name).filter(|n| n.is(Kind::Name) && n.defines().is_none() && outermost(*n))
}

/// The members that are asked of a module as the file is loaded.
fn members_on_loading<'f>(file: &'f FileFacts, module: &'f str) -> impl Iterator<Item = &'f str> {
    on_loading(file, module)
        .filter_map(|n| n.parent().filter(|p| p.is(Kind::Field) && p.child(0) == Some(n)))
        .filter_map(At::text)
}

fn uses(file: &FileFacts, name: &str, but: u32) -> bool {
    file.tree.named(name).any(|n| n.is(Kind::Name) && n.line() != but)
}

fn outermost(node: At<'_>) -> bool {
    let function =
        if node.is(Kind::Func) { node.parent().and_then(At::function) } else { node.function() };
    function.is_none()
}
