//! A class of two hundred who tell at once: until all stand on the screen, in how much memory, beside
//! a small server in Python that takes the same requests and writes their bodies to a file.

use super::live::izba;
use super::report::{Report, percentile, thousands};
use super::terminal::{Terminal, memory};
use std::io::{Read, Write};
use std::net::{SocketAddr, TcpListener, TcpStream};
use std::path::Path;
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

const SENDERS: usize = 200;
/// Requests of each sender, a record each.
const REQUESTS: usize = 20;
const BOUND: Duration = Duration::from_secs(60);

/// Takes what is posted and writes it to a file.
const SERVER: &str = "import http.server, socketserver, sys
kept = open('kept', 'ab')
class H(http.server.BaseHTTPRequestHandler):
    def do_POST(self):
        kept.write(self.rfile.read(int(self.headers['content-length'])) + b'\\n')
        self.send_response(200)
        self.send_header('content-length', '0')
        self.end_headers()
    def log_message(self, *a): pass
class S(socketserver.ThreadingMixIn, http.server.HTTPServer):
    request_queue_size = 256
S(('127.0.0.1', int(sys.argv[1])), H).serve_forever()
";

pub fn run(folder: &Path, report: &mut Report) -> Result<(), String> {
    let failed = |e: std::io::Error| e.to_string();
    let (ours, theirs) = (free().map_err(failed)?, free().map_err(failed)?);
    let (izba, at) = (izba(), ours.to_string());
    let mut terminal = Terminal::start(folder, &[&izba, "listen", "--otlp", &at], |_| {})?;
    terminal.wait("the listener", BOUND, |t| t.contains("watching"))?;
    let begun = Instant::now();
    let mut answers = tell(ours)?;
    let told = begun.elapsed();
    terminal.keys("@");
    let all = format!("{SENDERS} senders were heard");
    terminal.wait("the class", BOUND, |t| t.contains(&all))?;
    let shown = begun.elapsed();
    let most = memory(terminal.pid(), "VmHWM");
    terminal.end();

    std::fs::write(folder.join("server.py"), SERVER).map_err(failed)?;
    let port = theirs.port().to_string();
    let mut server = Command::new("python3")
        .args(["server.py", &port])
        .current_dir(folder)
        .stderr(Stdio::null())
        .spawn()
        .map_err(|e| format!("python3: {e}"))?;
    let beside = wait_for(theirs).and_then(|()| {
        let begun = Instant::now();
        tell(theirs).map(|answers| (begun.elapsed(), answers))
    });
    let _ = server.kill();
    let _ = server.wait();
    let (plain, mut theirs) = beside?;
    report.row(
        &format!(
            "a class of {SENDERS} who tell {} changes at once: all taken in, all on the screen",
            thousands((SENDERS * REQUESTS) as u64)
        ),
        &format!("{:.1} s, {:.1} s", told.as_secs_f64(), shown.as_secs_f64()),
    );
    report.row(
        "the same requests to a small server in Python that writes them to a file",
        &format!("{:.1} s: {:.2}", plain.as_secs_f64(), told.as_secs_f64() / plain.as_secs_f64()),
    );
    report.row(
        "an answer to one of them, 99th percentile, here and there; largest memory here",
        &format!(
            "{:.0} ms, {:.0} ms; {most:.0} MB",
            percentile(&mut answers, 99),
            percentile(&mut theirs, 99)
        ),
    );
    Ok(())
}

/// An address that nobody has.
fn free() -> std::io::Result<SocketAddr> {
    TcpListener::bind("127.0.0.1:0")?.local_addr()
}

fn wait_for(address: SocketAddr) -> Result<(), String> {
    let begun = Instant::now();
    while TcpStream::connect(address).is_err() {
        if begun.elapsed() > BOUND {
            return Err("the server did not come up".into());
        }
        std::thread::sleep(Duration::from_millis(20));
    }
    Ok(())
}

/// All senders tell at once; milliseconds until each answer.
fn tell(address: SocketAddr) -> Result<Vec<f64>, String> {
    let one = |sender: usize| -> Result<Vec<f64>, String> {
        let mut waited = Vec::new();
        for turn in 0..REQUESTS {
            let body = body(sender, turn);
            let begun = Instant::now();
            post(address, &body).map_err(|e| format!("sender {sender}: {e}"))?;
            waited.push(begun.elapsed().as_secs_f64() * 1e3);
        }
        Ok(waited)
    };
    let all: Vec<Result<Vec<f64>, String>> = std::thread::scope(|scope| {
        let senders: Vec<_> = (0..SENDERS).map(|s| scope.spawn(move || one(s))).collect();
        senders.into_iter().map(|s| s.join().unwrap_or_else(|_| Err("lost".into()))).collect()
    });
    Ok(all.into_iter().collect::<Result<Vec<_>, _>>()?.concat())
}

/// One of seven mistakes, met and got rid of in turns.
fn body(sender: usize, turn: usize) -> String {
    let mistake = (sender + turn / 2) % 7;
    let change = if turn.is_multiple_of(2) { "met" } else { "gone" };
    let severity = if turn.is_multiple_of(2) { 17 } else { 9 };
    let text =
        |key: &str, value: &str| serde_json::json!({"key": key, "value": {"stringValue": value}});
    serde_json::json!({"resourceLogs": [{
        "resource": {"attributes": [text("service.instance.id", &format!("sender-{sender}"))]},
        "scopeLogs": [{"scope": {"name": "izba"}, "logRecords": [{
            "severityNumber": severity,
            "body": {"stringValue": format!("attempt to index a nil value (field 'rope{mistake}')")},
            "attributes": [
                text("izba.mistake", &format!("{mistake:016x}")),
                text("izba.change", change),
                text("izba.says", &format!("`rope{mistake}` has no value here")),
                text("code.file.path", "quay.lua"),
            ],
        }]}],
    }]})
    .to_string()
}

fn post(address: SocketAddr, body: &str) -> std::io::Result<()> {
    let mut stream = TcpStream::connect(address)?;
    let head = format!(
        "POST /v1/logs HTTP/1.1\r\nHost: {address}\r\nContent-Type: application/json\r\n\
         Content-Length: {}\r\nConnection: close\r\n\r\n",
        body.len()
    );
    stream.write_all(head.as_bytes())?;
    stream.write_all(body.as_bytes())?;
    let mut answer = String::new();
    stream.read_to_string(&mut answer)?;
    let status = answer.split(' ').nth(1).unwrap_or_default();
    if status == "200" { Ok(()) } else { Err(std::io::Error::other(format!("answered {status}"))) }
}
