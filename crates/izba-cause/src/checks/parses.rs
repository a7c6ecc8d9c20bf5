//! parses: every place at which a script or data file cannot be read, after the best repair of
//! those before it.

use super::check::{Check, Look, Remark, remark};
use izba_model::{say, sayings};

sayings! {
    "parses", Syntax, "../../words/checks/parses.toml";
    FAULT = "fault",
    NOTICED = "noticed",
    GOES_WRONG = "goes-wrong",
    READ_AS = "read-as",
}

/// The check for this: every place at which a script or data file cannot be read, after the best
/// repair of those before it.
pub static CHECK: Check = Check { id: "parses", kinds: KINDS, title: "Cannot be read", look };

fn look(look: &Look<'_>) -> Vec<Remark> {
    let mut found = Vec::new();
    for file in look.index.files() {
        for fault in &file.faults {
            let mut one =
                remark(file, fault.line, fault.confidence, say!(FAULT, fault = fault.what));
            one.to_line = fault.to_line;
            one.stops = true;
            for (line, saw) in &fault.seen {
                one = one.saw(&file.path, *line, saw.clone());
            }
            if fault.noticed != fault.line {
                one = one.saw(
                    &file.path,
                    fault.noticed,
                    if fault.noticed > fault.line { say!(NOTICED) } else { say!(GOES_WRONG) },
                );
            }
            if let Some(mended) = &fault.mended {
                one = one.saw(&file.path, fault.line, say!(READ_AS, text = mended.trim()));
            }
            found.push(one);
        }
    }
    found
}
