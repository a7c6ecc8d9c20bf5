//! Messages on the wire: a header that tells the length, an empty line, JSON (“Base Protocol” of
//! the specification).

use serde_json::Value;

/// The longest message that is taken, in bytes.
pub const LONGEST: usize = 32 << 20;
/// The longest header.
const HEADER: usize = 4 << 10;
/// At most so much is kept that is no message at all.
const JUNK: usize = 64 << 10;

/// One thing found among the bytes.
#[derive(Debug, Clone, PartialEq)]
pub enum Piece {
    /// A message.
    Message(Value),
    /// Text that stood where a message should begin; programs that share the adapter's output print
    /// such.
    Text(String),
    /// A message that is none; the next one can still be read.
    Broken(String),
    /// Nothing that follows can be understood.
    Lost(String),
}

/// Takes bytes as they come and gives messages.
#[derive(Debug, Default)]
pub struct Decoder {
    buffer: Vec<u8>,
    lost: bool,
}

const NAME: &[u8] = b"content-length:";

fn find_header(bytes: &[u8]) -> Option<usize> {
    bytes.windows(NAME.len()).position(|w| w.eq_ignore_ascii_case(NAME))
}

/// The end of the header's lines: where they end, and where the body begins.
fn end_of_header(bytes: &[u8]) -> Option<(usize, usize)> {
    for (at, byte) in bytes.iter().enumerate() {
        if *byte == b'\n' {
            match &bytes[at + 1..] {
                [b'\n', ..] => return Some((at, at + 2)),
                [b'\r', b'\n', ..] => return Some((at, at + 3)),
                _ => {}
            }
        }
    }
    None
}

impl Decoder {
    /// Adds bytes that arrived; whole messages can be taken out then.
    pub fn feed(&mut self, bytes: &[u8]) {
        if !self.lost {
            self.buffer.extend_from_slice(bytes);
        }
    }

    /// The next piece, if a whole one is there.
    pub fn piece(&mut self) -> Option<Piece> {
        if self.lost || self.buffer.is_empty() {
            return None;
        }
        let Some(begin) = find_header(&self.buffer) else {
            if self.buffer.len() > JUNK {
                return Some(self.lose(format!(
                    "it sent {} bytes that are no message of the protocol",
                    self.buffer.len()
                )));
            }
            return None;
        };
        if begin > 0 {
            let text: Vec<u8> = self.buffer.drain(..begin).collect();
            let text = String::from_utf8_lossy(&text).trim_end_matches(['\r', '\n']).to_owned();
            if !text.trim().is_empty() {
                return Some(Piece::Text(text));
            }
        }
        let Some((end, body)) = end_of_header(&self.buffer[..self.buffer.len().min(HEADER)]) else {
            return (self.buffer.len() >= HEADER)
                .then(|| self.lose("a header of it does not end".into()));
        };
        let header = String::from_utf8_lossy(&self.buffer[NAME.len()..end]).into_owned();
        let told = header.lines().next().unwrap_or("").trim();
        let Ok(length) = told.parse::<usize>() else {
            return Some(
                self.lose(format!("a header of it tells “{}” as a length", cut(told, 40))),
            );
        };
        if length > LONGEST {
            return Some(self.lose(format!(
                "a message of it would be {length} bytes long, more than Izba takes"
            )));
        }
        if self.buffer.len() < body + length {
            return None;
        }
        let text: Vec<u8> = self.buffer.drain(..body + length).skip(body).collect();
        Some(match serde_json::from_slice::<Value>(&text) {
            Ok(message @ Value::Object(_)) => Piece::Message(message),
            Ok(_) => Piece::Broken("a message of it is no JSON object".into()),
            Err(why) => Piece::Broken(format!("a message of it is no JSON: {why}")),
        })
    }

    fn lose(&mut self, why: String) -> Piece {
        self.lost = true;
        self.buffer = Vec::new();
        Piece::Lost(why)
    }
}

/// A message with its header.
pub fn encode(message: &Value) -> Vec<u8> {
    let body = message.to_string();
    let mut bytes = format!("Content-Length: {}\r\n\r\n", body.len()).into_bytes();
    bytes.extend_from_slice(body.as_bytes());
    bytes
}

/// The first `most` bytes of a text, cut between characters, with an ellipsis where something is
/// left out.
pub fn cut(text: &str, most: usize) -> String {
    if text.len() <= most {
        return text.to_owned();
    }
    let mut at = most;
    while !text.is_char_boundary(at) {
        at -= 1;
    }
    format!("{}…", &text[..at])
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;
    use serde_json::json;

    fn pieces(bytes: &[u8], step: usize) -> Vec<Piece> {
        let mut decoder = Decoder::default();
        let mut found = Vec::new();
        for chunk in bytes.chunks(step.max(1)) {
            decoder.feed(chunk);
            while let Some(piece) = decoder.piece() {
                found.push(piece);
            }
        }
        found
    }

    proptest! {
        #[test]
        fn messages_come_back_however_they_are_cut(step in 1usize..40, names in prop::collection::vec("\\PC{0,20}", 1..5)) {
            let messages: Vec<Value> = names.iter().enumerate().map(|(seq, name)| json!({"seq": seq, "type": "event", "event": name})).collect();
            let bytes: Vec<u8> = messages.iter().flat_map(encode).collect();
            let expected: Vec<Piece> = messages.into_iter().map(Piece::Message).collect();
            prop_assert_eq!(pieces(&bytes, step), expected);
        }

        #[test]
        fn no_bytes_harm_the_decoder(bytes in prop::collection::vec(any::<u8>(), 0..400), step in 1usize..60) {
            let mut with_header = b"Content-Length: 5\r\n\r\n".to_vec();
            with_header.extend_from_slice(&bytes);
            let (found, later) = (pieces(&bytes, step), pieces(&with_header, step));
            prop_assert!(found.len() <= bytes.len() + 1 && later.len() <= with_header.len() + 1);
        }
    }

    #[test]
    fn what_is_wrong_is_said() {
        let said = |bytes: &[u8]| format!("{:?}", pieces(bytes, 7));
        insta::assert_snapshot!(said(b"hello\r\nContent-Length: 2\r\n\r\n{}"), @r#"[Text("hello"), Message(Object {})]"#);
        insta::assert_snapshot!(said(b"Content-Length: two\r\n\r\n{}"), @r#"[Lost("a header of it tells “two” as a length")]"#);
        insta::assert_snapshot!(said(b"content-length: 3\nX: y\n\n[1]Content-Length: 2\r\n\r\n{}"), @r#"[Broken("a message of it is no JSON object"), Message(Object {})]"#);
        insta::assert_snapshot!(said(b"Content-Length: 999999999999\r\n\r\n"), @r#"[Lost("a message of it would be 999999999999 bytes long, more than Izba takes")]"#);
    }
}
