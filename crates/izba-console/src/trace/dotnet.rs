//! Steps of .NET and Mono: `Night.Gate.Open (System.Int32 n) [0x00007] in /p/Gate.cs:29` and `… in
//! /p/Gate.cs:line 29`.

use super::at_form::AtForm;
use izba_model::StackFrame;
use izba_model::pattern::Pattern;

pub(super) static FORM: AtForm = AtForm { id: "dotnet", step };

static STEP: Pattern = Pattern::new(concat!(
    r"^(?:\(wrapper [\w-]+\) )?(?P<method>[\w.<>`$+,/\[\]",
    r"|]+) ?\((?P<args>[^)]*)\)(?: ?\[0x[0-9a-f]+\])?(?: in (?P<file>.+?):(?:line",
    r" )?(?P<line>\d+))?\s*$"
));

fn step(text: &str) -> Option<StackFrame> {
    let found = STEP.found(text)?;
    // `at f (x.js:3:9)` has the same build; there the brackets hold a place.
    if crate::read::find_place(&found["args"], 0).is_some()
        || matches!(&found["args"], "native" | "<anonymous>")
        || found["args"].starts_with("node:")
        // An address with line and column, whatever it ends with: a page, `main.ts?t=3`.
        || found["args"].contains("://")
    {
        return None;
    }
    let file = found.name("file").map(|f| f.as_str().to_owned()).filter(|f| !f.starts_with('<'));
    let line = file.as_ref().and_then(|_| found["line"].parse().ok());
    Some(StackFrame {
        file,
        line,
        function: Some(found["method"].to_owned()),
        ..StackFrame::default()
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn an_address_in_brackets_is_a_place_and_no_argument() {
        for place in ["http://localhost:8000/:4:18", "https://localhost/main.ts?t=17:2:1"] {
            assert_eq!(step(&format!("HTMLButtonElement.onclick ({place})")), None);
            let read = super::super::at_frames::step(&format!("at onclick ({place})"));
            assert_eq!(read.and_then(|f| f.line), Some(if place.ends_with(":18") { 4 } else { 2 }));
        }
        let frame = step("Night.Gate.Open (System.Int32 n) [0x00007] in /p/Gate.cs:29");
        assert_eq!(frame.and_then(|f| f.line), Some(29));
    }
}
