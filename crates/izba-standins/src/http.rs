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
    /// When the sender goes away or says nothing for ten seconds.
    pub(crate) fn read(connection: &TcpStream) -> io::Result<Request> {
        connection.set_read_timeout(Some(Duration::from_secs(10)))?;
        let mut lines = BufReader::new(connection.try_clone()?).take(64 * 1024).lines();
        let first = lines.next().transpose()?.unwrap_or_default();
        let target = first.split(' ').nth(1).unwrap_or("/").to_owned();
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
