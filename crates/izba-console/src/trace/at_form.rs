//! The parts that all languages share whose steps begin with `at`: the exception's own line, and
//! what a form of step is.

use izba_model::StackFrame;
use izba_model::pattern::Pattern;

/// One language's form of step.
#[derive(Debug)]
pub(super) struct AtForm {
    /// Id shown as the reader of the entry.
    pub id: &'static str,
    /// Reads the text after `at `.
    pub step: fn(&str) -> Option<StackFrame>,
}

static HEAD: Pattern = Pattern::new(concat!(
    r#"^(?P<lead>Exception in thread "[^"]*" |(?:\[ERROR\] FATAL )?UNHANDLED EXCEPTION: |Unhandled [Ee]xception[.:] |Uncaught (?:\(in promise\) )?)?"#,
    r"(?P<kind>(?:[A-Za-z_$][\w$]*\.)*[A-Z_$][\w$]*(?:Error|Exception|Throwable",
    r"|Fault|Rejection)|(?:[a-z][\w$]*\.){2,}[A-Z][\w$]*",
    r"|(?:[A-Za-z_$][\w$]*\.)+(?:Error|Exception|Throwable)|Error)",
    r"(?: \[(?:(?P<code>[A-Z][A-Z0-9_]+)|\w+)\])?(?:: (?P<message>.*)|:?)$"
));
/// An exception line taken apart.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) struct Head {
    pub kind: String,
    pub code: Option<String>,
    pub message: String,
    pub lead: bool,
}

pub(super) fn read_head(text: &str) -> Option<Head> {
    let found = HEAD.found(text.trim_end())?;
    Some(Head {
        kind: found["kind"].to_owned(),
        code: found.name("code").map(|c| c.as_str().to_owned()),
        message: found.name("message").map_or(String::new(), |m| m.as_str().trim().to_owned()),
        lead: found.name("lead").is_some(),
    })
}
