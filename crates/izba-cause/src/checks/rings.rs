//! rings: files that bring one another in, in a ring.

use super::check::{Check, Look, Remark, remark};
use crate::suspect::{circle_words, circles, odd_arrow, rings};

/// The check.
pub static CHECK: Check = Check { id: "rings", title: "Need one another in a ring", look };

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
    for ring in rings(look.index, None) {
        let Some(odd) = odd_arrow(look.index, &ring, None).cloned() else { continue };
        let mut ring = ring;
        if let Some(at) = ring.iter().position(|a| *a == odd) {
            ring.rotate_left(at + 1);
        }
        let Some(file) = look.index.file(&odd.from) else { continue };
        let name = |path: &str| path.rsplit('/').next().unwrap_or(path).to_owned();
        let way: Vec<String> =
            ring.iter().map(|a| name(&a.from)).chain(ring.first().map(|a| name(&a.from))).collect();
        let mut one =
            remark(CHECK.id, file, odd.line, 0.8, format!("a ring of files: {}", way.join(" → ")));
        for arrow in &ring {
            one = one.saw(&arrow.from, arrow.line, format!("brings in {}", name(&arrow.to)));
        }
        one = one.saw(
            &odd.from,
            odd.line,
            "this arrow is the cheapest to cut: the others are leant on more",
        );
        one.ring = ring;
        found.push(one);
    }
    for file in look.index.data() {
        // A route may go round; what needs or drives another must not.
        for (_, ring) in circles(file).into_iter().filter(|(key, _)| LEANS.contains(key)) {
            let Some(last) = ring.last() else { continue };
            let mut one = remark(
                CHECK.id,
                file,
                last.line,
                0.8,
                format!("a circle of names: {}", circle_words(&ring)),
            );
            for arrow in &ring {
                one = one.saw(
                    &file.path,
                    arrow.line,
                    format!("{} leads to {}", arrow.from, arrow.to),
                );
            }
            one.ring = ring;
            found.push(one);
        }
    }
    found
}
