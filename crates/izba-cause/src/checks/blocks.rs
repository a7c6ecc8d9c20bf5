//! blocks: blocks that end at another depth than they begin, in scripts that can be read: what is
//! meant is not what is written.

use super::check::{Check, Look, Remark, remark};
use izba_model::code::{At, Clash, FileFacts, Kind};
use izba_model::{say, sayings};

sayings! {
    "blocks", Any, "../../words/checks/blocks.toml";
    OTHER_DEPTH = "other-depth",
    OPENS = "opens",
}

/// The check for this: blocks that end at another depth than they begin, in scripts that can be
/// read: what is meant is not what is written.
pub static CHECK: Check =
    Check { id: "blocks", kinds: KINDS, title: "Indented differently than they are closed", look };

/// A script that is indented without care says nothing by it.
const CARELESS: usize = 3;

fn look(look: &Look<'_>) -> Vec<Remark> {
    let mut found = Vec::new();
    for file in look.index.code().filter(|f| !f.broken) {
        let slanted: Vec<_> = file.slanted.iter().filter(|r| r.clash == Clash::Slanted).collect();
        if slanted.len() > CARELESS || mixes_tabs(file) {
            continue;
        }
        for rung in slanted {
            let line = rung.to.unwrap_or(rung.from);
            // How lists and arguments are broken over lines is a matter of taste.
            if matches!(rung.opener.as_ref(), "(" | "[") {
                continue;
            }
            // A brace that stands deeper is set under what it closes; one further out belongs to the
            // block around it, as it looks.
            let from = begins(file, rung.from);
            let set_under = rung.opener.as_ref() == "{" && indent(file, line) > indent(file, from);
            if set_under
                || indent(file, line) == indent(file, from)
                || heads_above(file, from, line)
            {
                continue;
            }
            let text = say!(OTHER_DEPTH, line = rung.from);
            found.push(remark(file, line, 0.6, text).saw(
                &file.path,
                rung.from,
                say!(OPENS, name = rung.opener),
            ));
        }
    }
    found
}

/// How far in a line begins, in signs.
fn indent(file: &FileFacts, line: u32) -> usize {
    let text = file.line(line).unwrap_or_default();
    text.len() - text.trim_start().len()
}

/// Whether tabs and spaces both indent it: how far in a line stands is then another thing for each
/// reader.
fn mixes_tabs(file: &FileFacts) -> bool {
    let lines = |sign: char| file.text.lines().filter(|l| l.starts_with(sign)).count();
    lines('\t') > 0 && lines(' ') > 0
}

/// The line on which the statement begins whose last line opens a block at `line`: the brackets
/// that end there were opened further up.
fn begins(file: &FileFacts, line: u32) -> u32 {
    let mut open = 0i32;
    for at in (1..=line).rev() {
        for sign in file.line(at).unwrap_or_default().bytes().rev() {
            let (opens, shuts) = (matches!(sign, b'(' | b'['), matches!(sign, b')' | b']'));
            open += i32::from(shuts) - i32::from(opens && (at < line || open > 0));
        }
        if open <= 0 {
            return at;
        }
    }
    line
}

/// Whether the block that opens at `from` belongs to something that begins above, as far out as
/// the block's end: a head of several lines.
fn heads_above(file: &FileFacts, from: u32, to: u32) -> bool {
    let out = indent(file, to);
    let head = |n: At<'_>| matches!(n.kind(), Kind::Func | Kind::Class | Kind::Other);
    file.tree
        .on_line(from)
        .filter_map(|n| n.ancestors().find(|up| head(*up) && up.line() < from))
        .any(|head| {
            // Where its own block opens above, it is no head of this one.
            let mut lines = (head.line()..from).filter_map(|l| file.line(l));
            let near = indent(file, head.line()) == out && head.line() + HEAD >= from;
            near && !lines.any(|l| l.contains('{'))
        })
}

/// Lines of a head at most.
const HEAD: u32 = 8;
