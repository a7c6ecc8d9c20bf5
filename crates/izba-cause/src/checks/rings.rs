//! rings: files that bring one another in, in a ring.

use super::check::{Check, Look, Remark, remark};
use super::harm;
use crate::suspect::{Leaning, circle_words, circles, odd_arrow, rings};
use izba_model::{say, sayings};

sayings! {
    "rings", Any, "../../words/checks/rings.toml";
    OF_FILES = "of-files",
    BRINGS_IN = "brings-in",
    CHEAPEST = "cheapest",
    OF_NAMES = "of-names",
    LEADS_TO = "leads-to",
}

/// The check for this: files that bring one another in, in a ring.
pub static CHECK: Check =
    Check { id: "rings", kinds: KINDS, title: "Files that need each other", look };

/// Keys under which data says what a record leans on.
const LEANS: &[&str] = &[
    "needs",
    "requires",
    "require",
    "depends",
    "depends_on",
    "dependsOn",
    "dependencies",
    "after",
    "parent",
    "extends",
    "base",
    "drives",
    "uses",
    "includes",
    "include",
];

fn look(look: &Look<'_>) -> Vec<Remark> {
    let mut found = Vec::new();
    let rings = rings(look.index, None);
    let leaning = Leaning::of(look.index);
    for ring in rings {
        let within = ring.iter().map(|a| a.from.as_ref());
        if !harm::breaks(look.index, &ring, |path| leaning.from_outside(path, within.clone())) {
            continue;
        }
        let Some(odd) = odd_arrow(&leaning, &ring, None).cloned() else { continue };
        let mut ring = ring;
        if let Some(at) = ring.iter().position(|a| *a == odd) {
            ring.rotate_left(at + 1);
        }
        let Some(file) = look.index.file(&odd.from) else { continue };
        let name = |path: &str| path.rsplit('/').next().unwrap_or(path).to_owned();
        let way: Vec<String> =
            ring.iter().map(|a| name(&a.from)).chain(ring.first().map(|a| name(&a.from))).collect();
        let mut one = remark(file, odd.line, 0.8, say!(OF_FILES, ring = way.join(" → ")));
        for arrow in &ring {
            one = one.saw(&arrow.from, arrow.line, say!(BRINGS_IN, other = name(&arrow.to)));
        }
        one = one.saw(&odd.from, odd.line, say!(CHEAPEST));
        one.ring = ring;
        found.push(one);
    }
    for file in look.index.data() {
        // A route may go round; what needs or drives another must not.
        for (_, ring) in circles(file).into_iter().filter(|(key, _)| LEANS.contains(key)) {
            let Some(last) = ring.last() else { continue };
            let mut one = remark(file, last.line, 0.8, say!(OF_NAMES, ring = circle_words(&ring)));
            for arrow in &ring {
                one = one.saw(
                    &file.path,
                    arrow.line,
                    say!(LEADS_TO, name = arrow.from, other = arrow.to),
                );
            }
            one.ring = ring;
            found.push(one);
        }
    }
    found
}
