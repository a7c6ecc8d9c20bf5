//! Just enough HTTP/1.1 for the demo's page and phone: one request for each connection.

use std::io::{self, BufRead, BufReader, Read, Write};
use std::net::TcpStream;
use std::time::Duration;

/// What somebody asks for.
pub(crate) struct Request {
    /// Path and query, as they stand in the first line.
    pub(crate) target: String,
    /// Names in small letters, with their values.
    headers: Vec<(String, String)>,
}

impl Request {
    /// Reads the head of a request; a head longer than 64 KiB ends there.
    ///
    /// # Errors
    ///
    /// When the sender goes away without asking for anything, or says nothing for ten seconds.
    pub(crate) fn read(connection: &TcpStream) -> io::Result<Request> {
        connection.set_read_timeout(Some(Duration::from_secs(10)))?;
        let mut lines = BufReader::new(connection.try_clone()?).take(64 * 1024).lines();
        let first = lines.next().transpose()?.unwrap_or_default();
        // Somebody who only looked whether anybody answers has asked for nothing.
        let nothing = || io::Error::from(io::ErrorKind::InvalidData);
        let target = first.split(' ').nth(1).ok_or_else(nothing)?.to_owned();
        let mut headers = Vec::new();
        for line in lines {
            let line = line?;
            let Some((name, value)) = line.split_once(':') else { break };
            headers.push((name.trim().to_ascii_lowercase(), value.trim().to_owned()));
        }
        Ok(Request { target, headers })
    }

    /// The value of a header, by its name in small letters.
    pub(crate) fn header(&self, name: &str) -> Option<&str> {
        self.headers.iter().find(|(n, _)| n == name).map(|(_, value)| value.as_str())
    }
}

/// Answers and lets the sender close; `headers` are whole lines.
///
/// # Errors
///
/// When the sender went away.
pub(crate) fn answer(
    mut connection: &TcpStream,
    status: &str,
    headers: &[&str],
    body: &[u8],
) -> io::Result<()> {
    let mut head = format!("HTTP/1.1 {status}\r\nContent-Length: {}\r\n", body.len());
    headers.iter().for_each(|line| head += &format!("{line}\r\n"));
    write!(connection, "{head}Connection: close\r\n\r\n")?;
    connection.write_all(body)
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::net::TcpListener;

    /// What is made of these bytes when they arrive.
    fn read(bytes: &[u8]) -> io::Result<Request> {
        let server = TcpListener::bind("127.0.0.1:0")?;
        let mut sender = TcpStream::connect(server.local_addr()?)?;
        sender.write_all(bytes)?;
        drop(sender);
        Request::read(&server.accept()?.0)
    }

    #[test]
    fn a_request_is_its_target_and_headers_and_a_look_is_none() {
        let asked = read(b"GET /tickets/next?number=3 HTTP/1.1\r\nTraceParent: 00-ab\r\n\r\n");
        let asked = asked.expect("a request");
        assert_eq!(asked.target, "/tickets/next?number=3");
        assert_eq!(asked.header("traceparent"), Some("00-ab"));
        assert_eq!(asked.header("host"), None);
        assert!(read(b"").is_err() && read(b"nonsense\r\n").is_err());
    }
}
