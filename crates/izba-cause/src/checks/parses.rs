//! parses: every place at which a script or data file cannot be read, after the best repair of
//! those before it.

use super::check::{Check, Look, Remark, remark};
use izba_model::code::FileFacts;
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
pub static CHECK: Check = Check { id: "parses", kinds: KINDS, title: "Can't be read", look };

fn look(look: &Look<'_>) -> Vec<Remark> {
    let mut found = Vec::new();
    for file in look.index.files().iter().filter(|f| !may_be_dialect(look, f)) {
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

/// Whether it may be the grammar here that does not know all of a language, where the language's
/// own parser cannot be asked: nothing that is one sign lets the script be read, or many of its
/// language cannot be.
fn may_be_dialect(look: &Look<'_>, file: &FileFacts) -> bool {
    if !file.language.is_code() || !file.language.parse_only.is_empty() {
        return false;
    }
    let one_sign = matches!(file.faults.as_slice(), [only] if only.mended.is_some());
    let alike = || look.index.code().filter(|f| f.language == file.language);
    let broken = alike().filter(|f| f.broken).count();
    !one_sign || broken > 2 && broken * 10 > alike().count()
}
