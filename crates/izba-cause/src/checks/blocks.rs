//! blocks: blocks that end at another depth than they begin, in scripts that can be read: what is
//! meant is not what is written.

use super::check::{Check, Look, Remark, remark};
use izba_model::code::Clash;

/// The check.
pub static CHECK: Check =
    Check { id: "blocks", title: "End at another depth than they begin", look };

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
            let text =
                format!("what ends here begins at line {}, and stands at another depth", rung.from);
            found.push(remark(CHECK.id, file, line, 0.6, text).saw(
                &file.path,
                rung.from,
                format!("the {} opens here", rung.opener),
            ));
        }
    }
    found
}
