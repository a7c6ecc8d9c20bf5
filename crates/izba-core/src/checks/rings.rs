//! rings: files that bring one another in, in a ring.

use super::{Check, Look, Remark, remark};
use crate::suspect::{odd_arrow, rings};

/// The check.
pub static CHECK: Check = Check { id: "rings", title: "Need one another in a ring", look };

fn look(look: &Look<'_>) -> Vec<Remark> {
    let mut found = Vec::new();
    for ring in rings(look.index, None) {
        let Some(odd) = odd_arrow(look.index, &ring, None).cloned() else { continue };
        let mut ring = ring;
        if let Some(at) = ring.iter().position(|a| *a == odd) {
            ring.rotate_left(at + 1);
        }
        let Some(file) = look.index.file(&odd.from) else { continue };
        let name = |path: &str| path.rsplit('/').next().unwrap_or(path).to_owned();
        let way: Vec<String> = ring.iter().map(|a| name(&a.from)).chain(ring.first().map(|a| name(&a.from))).collect();
        let mut one = remark(CHECK.id, file, odd.line, 0.8, format!("a ring of files: {}", way.join(" → ")));
        for arrow in &ring {
            one = one.saw(&arrow.from, arrow.line, format!("brings in {}", name(&arrow.to)));
        }
        one = one.saw(&odd.from, odd.line, "this arrow is the cheapest to cut: the others are leant on more");
        one.ring = ring;
        found.push(one);
    }
    found
}
