//! blocks: blocks that end at another depth than they begin, in scripts that can be read: what is
//! meant is not what is written.

use super::check::{Check, Look, Remark, remark};
use izba_model::code::Clash;
use izba_model::{say, sayings};

sayings! {
    "blocks", Any, "../../words/checks/blocks.toml";
    OTHER_DEPTH = "other-depth",
    OPENS = "opens",
}

/// The check for this: blocks that end at another depth than they begin, in scripts that can be
/// read: what is meant is not what is written.
pub static CHECK: Check =
    Check { id: "blocks", kinds: KINDS, title: "End at another depth than they begin", look };

/// A script that is indented without care says nothing by it.
const CARELESS: usize = 3;

fn look(look: &Look<'_>) -> Vec<Remark> {
    let mut found = Vec::new();
    for file in look.index.code().filter(|f| !f.broken) {
        let slanted: Vec<_> = file.slanted.iter().filter(|r| r.clash == Clash::Slanted).collect();
        if slanted.len() > CARELESS {
            continue;
        }
        for rung in slanted {
            let line = rung.to.unwrap_or(rung.from);
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
