//! The one door for words to people: nothing else writes to the standard streams (`clippy.toml`), and
//! whatever goes through here holds nothing that a terminal obeys.
#![expect(clippy::disallowed_methods, reason = "here they lead")]

use crate::command_error::CommandError;
use izba_model::Stream;
use izba_model::text::{SafeText, decode, printable, printable_json};
use std::io::{IsTerminal, Write};

/// Whether there is a terminal to draw on: not one that can only write lines (`TERM=dumb`).
pub fn has_screen() -> bool {
    std::io::stdout().is_terminal() && std::env::var_os("TERM").is_none_or(|t| t != "dumb")
}

/// Whether somebody looks on while a command works.
pub fn is_watched() -> bool {
    std::io::stderr().is_terminal()
}

/// Writes to standard output, with nothing that a terminal obeys; a reader that went away is a
/// quiet end.
pub fn print(text: &str) {
    write(Stream::Out, printable(text).as_bytes());
}

/// Writes JSON to standard output: nothing that a terminal obeys, and nothing is lost.
pub fn print_json(json: &str) {
    write(Stream::Out, printable_json(json).as_bytes());
}

/// Writes what is either JSON or text.
pub fn print_as(json: bool, text: &str) {
    if json { print_json(text) } else { print(text) }
}

/// Says something beside the answer, on standard error: one sentence on a line.
pub fn say(sentence: &str) {
    write(Stream::Err, format!("izba: {}\n", SafeText::new(sentence)).as_bytes());
}

/// Says several lines on standard error.
pub fn say_lines(text: &str) {
    write(Stream::Err, printable(text).as_bytes());
}

/// Draws how far something is over what stood there, on standard error; an empty text clears it.
pub fn say_progress(text: &str) {
    let (text, back) = (SafeText::new(text), if text.is_empty() { "\r" } else { "" });
    write(Stream::Err, format!("\r{:70}{back}", text.as_str()).as_bytes());
}

/// Says why a command ended.
pub fn say_error(error: &CommandError) {
    say(&error.text);
    if let Some(hint) = &error.hint {
        say_lines(&format!("      {hint}\n"));
    }
}

/// Passes on what a program printed. To a terminal nothing goes that it obeys.
pub fn pass_on(stream: Stream, bytes: &[u8]) {
    let terminal = match stream {
        Stream::Out => std::io::stdout().is_terminal(),
        _ => std::io::stderr().is_terminal(),
    };
    if !terminal {
        return write(stream, bytes);
    }
    let mut text = String::new();
    for line in bytes.split_inclusive(|b| *b == b'\n') {
        let (body, end) = match line.strip_suffix(b"\n") {
            Some(body) => (body, "\n"),
            None => (line, ""),
        };
        text += &printable(&decode(body));
        text += end;
    }
    write(stream, text.as_bytes());
}

/// The one place that writes to the standard streams; whoever reads them may be gone.
fn write(stream: Stream, bytes: &[u8]) {
    let mut out: Box<dyn Write> = match stream {
        Stream::Out => Box::new(std::io::stdout().lock()),
        _ => Box::new(std::io::stderr().lock()),
    };
    let _ = out.write_all(bytes).and_then(|()| out.flush());
}
