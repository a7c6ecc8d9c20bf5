//! parses: every place at which a script or data file cannot be read, after the best repair of
//! those before it.

use super::check::{Check, Look, Remark, remark};

/// The check.
pub static CHECK: Check = Check { id: "parses", title: "Cannot be read", look };

fn look(look: &Look<'_>) -> Vec<Remark> {
    let mut found = Vec::new();
    for file in look.index.files() {
        for fault in &file.faults {
            let mut one = remark(CHECK.id, file, fault.line, fault.confidence, fault.what.clone());
            one.to_line = fault.to_line;
            one.stops = true;
            for (line, saw) in &fault.seen {
                one = one.saw(&file.path, *line, saw.clone());
            }
            if fault.noticed != fault.line {
                one = one.saw(
                    &file.path,
                    fault.noticed,
                    if fault.noticed > fault.line {
                        "it is noticed only here".to_owned()
                    } else {
                        "reading goes wrong from here on".to_owned()
                    },
                );
            }
            if let Some(mended) = &fault.mended {
                one = one.saw(
                    &file.path,
                    fault.line,
                    format!("it can be read as: {}", mended.trim()),
                );
            }
            found.push(one);
        }
    }
    found
}
