//! A page in a real browser, served by a small server of this test: whatever goes wrong in it is told
//! once, with the place that it has; a server that is not there yet is waited for.

use izba_model::Stream;
use izba_sources::{Event, PageAt, SpoolReader, SpoolWriter, WatchedPage, open_page};
use std::collections::HashMap;
use std::io::{BufRead, BufReader, Write};
use std::net::{SocketAddr, TcpListener, TcpStream};
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex, mpsc};
use std::time::{Duration, Instant};

const BOUND: Duration = Duration::from_secs(60);

/// What is served: paths with what is answered, head and body.
type Files = HashMap<&'static str, (&'static str, String)>;

/// A server that answers until the test is over.
fn serve(listener: TcpListener, files: Files) -> SocketAddr {
    let address = listener.local_addr().expect("an address");
    let files = Arc::new(files);
    std::thread::spawn(move || {
        for stream in listener.incoming().flatten() {
            let files = files.clone();
            std::thread::spawn(move || answer(stream, &files));
        }
    });
    address
}

fn answer(mut stream: TcpStream, files: &Files) {
    let mut lines = BufReader::new(&stream).lines().map_while(Result::ok);
    let Some(first) = lines.next() else { return };
    lines.by_ref().take_while(|l| !l.is_empty()).for_each(drop);
    drop(lines);
    let path = first.split(' ').nth(1).unwrap_or("/").split('?').next().unwrap_or("/");
    let head = |status: &str, more: &str, body: &str| {
        format!(
            "HTTP/1.1 {status}\r\ncontent-length: {}\r\nconnection: close\r\n{more}\r\n{body}",
            body.len()
        )
    };
    let said = match files.get(path) {
        Some((more, body)) => head("200 OK", &format!("{more}\r\n"), body),
        None => head("404 Not Found", "content-type: text/html\r\n", "<h1>not here</h1>"),
    };
    let _ = stream.write_all(said.as_bytes());
}

/// A page that is watched, and what it said so far.
struct Page {
    _folder: tempfile::TempDir,
    reader: SpoolReader,
    rung: mpsc::Receiver<()>,
    stop: Arc<AtomicBool>,
    page: Option<WatchedPage>,
    told: Vec<(Event, String)>,
}

impl Page {
    fn open(url: String) -> Page {
        let folder = tempfile::tempdir().expect("a temporary folder");
        let path = folder.path().join("x.seg");
        let writer = Arc::new(Mutex::new(SpoolWriter::create(&path).expect("a new file")));
        let reader = SpoolReader::open(&path).expect("it was made");
        let (ring, rung) = mpsc::channel();
        let stop = Arc::new(AtomicBool::new(false));
        let at = PageAt { url, join: None, headless: true };
        let bell = Arc::new(move || ring.send(()).unwrap_or_default());
        let page = open_page(at, writer, bell, stop.clone()).expect("a thread");
        Page { _folder: folder, reader, rung, stop, page: Some(page), told: Vec::new() }
    }

    /// Reads until `enough` is true of what was told.
    #[track_caller]
    fn wait(&mut self, what: &str, enough: impl Fn(&Page) -> bool) {
        let begun = Instant::now();
        loop {
            while let Some(record) = self.reader.next_record().expect("whole records") {
                self.told.push((record.event, String::from_utf8_lossy(&record.bytes).into_owned()));
            }
            if enough(self) {
                return;
            }
            assert!(begun.elapsed() < BOUND, "waited in vain for {what}: {}", self.text());
            let _ = self.rung.recv_timeout(Duration::from_millis(100));
        }
    }

    fn text(&self) -> String {
        let bytes = self.told.iter().filter(|(e, _)| *e == Event::Bytes(Stream::Out));
        bytes.map(|(_, t)| t.as_str()).collect()
    }

    fn starts(&self) -> usize {
        self.told.iter().filter(|(e, _)| *e == Event::Start).count()
    }

    fn reload(&self) {
        self.page.as_ref().expect("it is there").reload.store(true, Ordering::Release);
    }
}

impl Drop for Page {
    fn drop(&mut self) {
        self.stop.store(true, Ordering::Release);
        if let Some(page) = self.page.take() {
            let _ = page.closing.join();
        }
    }
}

const HTML: &str = "content-type: text/html";
const SCRIPT: &str = "content-type: text/javascript";

fn listener() -> TcpListener {
    TcpListener::bind("127.0.0.1:0").expect("a port")
}

/// A page with one mistake of each kind, and another server that it asks.
fn with_mistakes(elsewhere: SocketAddr) -> Files {
    let page = format!(
        "<!doctype html>\n<img src=\"none.png\">\n<script src=\"http://{elsewhere}/far.js\"></script>\n<script>\n\
        null.inline;\n</script>\n<script src=\"parse.js\"></script>\n<script src=\"gone.js\"></script>\n\
        <script type=\"module\" src=\"module.js\"></script>\n<script>\nfetch('http://{elsewhere}/data.json');\n\
        </script>\n<button onclick=\"nobody()\"></button>\n<script>document.querySelector('button').click()\
        </script>\n<script src=\"more.js\"></script>\n"
    );
    let parse = "const text = 'no json';\nJSON.parse(text);\n";
    let more = "fetch('page.html').then((r) => r.json());\nnew Worker('nowork.js');\nnew Worker('worker.js');new Worker('page.html?w',{type:'module'});\n\
        new WebSocket('ws://127.0.0.1:1/');\nconsole.error(new Error('printed'));\n\
        console.error('boats', { quay: { all: [1, { seats: 2 }] } });\nsetTimeout(() => Promise.reject({ code: 4 }));\n\
        function deep(n) { if (n === 0) throw new Error('deep'); deep(n - 1); }\nsetTimeout(() => deep(20));\n\
        new Function('a b');\n";
    Files::from([
        ("/", (HTML, page)),
        ("/parse.js", (SCRIPT, parse.to_owned())),
        ("/more.js", (SCRIPT, more.to_owned())),
        ("/page.html", (HTML, "<h1>a page</h1>".to_owned())),
        ("/worker.js", (SCRIPT, "const tide = 1;\nnull.worker;\n".to_owned())),
        ("/module.js", (SCRIPT, "await fetch('none').then((r) => r.json());\n".to_owned())),
    ])
}

#[test]
fn whatever_goes_wrong_in_a_page_is_told_once_with_its_place() {
    let far = (SCRIPT, "throw new Error('from afar');\n".to_owned());
    let data = ("content-type: application/json", "{}".to_owned());
    let elsewhere = serve(listener(), Files::from([("/far.js", far), ("/data.json", data)]));
    let here = serve(listener(), with_mistakes(elsewhere));
    let mut page = Page::open(format!("http://{here}/"));
    // Each with the step that has to be told right below it.
    let wanted = [
        (
            "none.png was not loaded: the server answers 404".to_owned(),
            format!("http://{here}/:2:21"),
        ),
        ("[page error] Error: from afar".to_owned(), format!("http://{elsewhere}/far.js:1:7")),
        ("(reading 'inline')".to_owned(), format!("http://{here}/:5:6")),
        ("\"no json\" is not valid JSON".to_owned(), "JSON.parse (<anonymous>)".to_owned()),
        ("gone.js was not loaded: the server answers 404".to_owned(), format!("http://{here}/:8:")),
        (
            format!("is not valid JSON (http://{here}/none answered 404 with text/html)"),
            format!("http://{here}/module.js:1:35"),
        ),
        ("data.json was not loaded: ".to_owned(), format!("http://{here}/:11:1")),
        ("this promise: TypeError: Failed to fetch".to_owned(), format!("http://{here}/:11:1")),
        ("ReferenceError: nobody is not".to_owned(), format!("onclick (http://{here}/:13:")),
        (
            format!("is not valid JSON (http://{here}/page.html answered 200 with text/html)"),
            format!("http://{here}/more.js:1:34"),
        ),
        ("nowork.js was not loaded: the server answers 404".to_owned(), String::new()),
        (
            "page.html?w was not loaded: the server answers with a page of HTML".to_owned(),
            String::new(),
        ),
        ("(reading 'worker')".to_owned(), format!("http://{here}/worker.js:2:6")),
        ("the socket to ws://127.0.0.1:1/ failed".to_owned(), format!("http://{here}/more.js:4:1")),
        ("[page error] Error: printed".to_owned(), format!("http://{here}/more.js:5:15")),
        ("boats {quay: {all: [1, {…}]}}".to_owned(), format!("http://{here}/more.js:6:9")),
        ("this promise: {code: 4}".to_owned(), format!("http://{here}/more.js:7:")),
        ("[page error] Error: deep".to_owned(), "deep (".to_owned()),
        ("Unexpected identifier 'b'".to_owned(), "new Function (<anonymous>)".to_owned()),
    ];
    page.wait("all of it", |p| wanted.iter().all(|(words, _)| p.text().contains(words)));
    // What is told twice comes within a moment.
    let last = "is not valid JSON (";
    page.wait("the end", |p| p.text().matches(last).count() == 2);
    // How the page looked then is kept.
    let pictured = |p: &Page| p.told.iter().any(|(e, b)| *e == Event::Picture && b.contains("PNG"));
    page.wait("a picture", pictured);
    let text = page.text();
    let lines: Vec<&str> = text.lines().collect();
    for (words, step) in &wanted {
        let at: Vec<usize> = (0..lines.len()).filter(|n| lines[*n].contains(words)).collect();
        assert_eq!(at.len(), 1, "{words} is told once:\n{text}");
        let below = lines.get(at[0] + 1).copied().unwrap_or("");
        assert!(below.contains(step.as_str()), "{step} below {words}:\n{text}");
    }
    assert_eq!(text.matches("    at deep (").count(), 21, "all steps:\n{text}");
    let errors = lines.iter().filter(|l| l.starts_with("[page error]")).count();
    assert_eq!(errors, wanted.len() + 1, "beside them the answer to module.js's fetch:\n{text}");
}

#[test]
fn a_server_that_is_not_there_yet_is_waited_for_and_the_page_is_loaded_again_when_asked() {
    let reserved = listener();
    let here = reserved.local_addr().expect("an address");
    drop(reserved);
    let mut page = Page::open(format!("http://{here}/"));
    let waits = |p: &Page| {
        p.told.iter().any(|(e, t)| *e == Event::End { well: true } && t.contains("waits"))
    };
    page.wait("that it waits", waits);
    assert_eq!(page.starts(), 0);
    let script = (HTML, "<script>console.error('count ' + (sessionStorage.n = +(sessionStorage.n || 0) + 1))</script>".to_owned());
    let listener = TcpListener::bind(here).expect("the port is free");
    serve(listener, Files::from([("/", script)]));
    page.wait("the page", |p| p.text().contains("count 1"));
    page.reload();
    page.wait("it again", |p| p.text().contains("count 2"));
    assert_eq!(page.starts(), 2, "each load is a run");
}

#[test]
fn what_a_policy_bars_is_told_once_with_who_wanted_it() {
    let policy = "content-type: text/html\r\n\
        content-security-policy: script-src 'self'; style-src 'self'; connect-src 'self'";
    let elsewhere = serve(listener(), Files::from([("/far.js", (SCRIPT, "1;\n".to_owned()))]));
    let page = format!(
        "<!doctype html>\n<script>\nnull.never;\n</script>\n<script src=\"http://{elsewhere}/far.js\">\
        </script>\n<script src=\"asks.js\"></script>\n<p style=\"color: teal\">Eel</p>\n"
    );
    let asks = format!("fetch('http://{elsewhere}/tide');\neval('2');\n");
    let here =
        serve(listener(), Files::from([("/", (policy, page)), ("/asks.js", (SCRIPT, asks))]));
    let mut page = Page::open(format!("http://{here}/"));
    // What is barred, and who wanted it.
    let wanted = [
        ("script-src-elem", format!("http://{here}/:2")),
        ("/far.js", format!("http://{here}/:5")),
        ("/tide", format!("http://{here}/asks.js:1")),
        ("eval", format!("http://{here}/asks.js:2")),
        ("style-src-attr", format!("http://{here}/:7")),
    ];
    page.wait("all of it", |p| wanted.iter().all(|(words, _)| p.text().contains(words)));
    let text = page.text();
    for (words, place) in &wanted {
        let told = text.split("[page ").filter(|t| t.contains(words) && t.contains(place));
        assert_eq!(told.count(), 1, "{words} with {place}:\n{text}");
    }
    assert!(!text.contains("never"), "what is barred does not run:\n{text}");
}

#[test]
fn a_place_in_what_a_server_made_is_told_as_it_was_written() {
    let made = "export function Harbour() {\n  null.moor;\n}\nHarbour();\n\
        //# sourceMappingURL=Harbour.tsx.map\n";
    // Its lines are the fourth and those below it of what was written, the second four columns in.
    let map =
        r#"{"version":3,"sources":["Harbour.tsx"],"names":[],"mappings":"AAGA;EACI;AACJ;AACA"}"#;
    let page = "<script type=\"module\" src=\"/src/Harbour.tsx?t=1763900000123\"></script>\n";
    let here = serve(
        listener(),
        Files::from([
            ("/", (HTML, page.to_owned())),
            ("/src/Harbour.tsx", (SCRIPT, made.to_owned())),
            ("/src/Harbour.tsx.map", ("content-type: application/json", map.to_owned())),
        ]),
    );
    let mut page = Page::open(format!("http://{here}/"));
    page.wait("the error", |p| p.text().contains("(reading 'moor')"));
    let text = page.text();
    assert!(text.contains("/src/Harbour.tsx:5:"), "{text}");
    assert!(text.contains("/src/Harbour.tsx:7:"), "what called it:\n{text}");
}

#[test]
fn a_module_that_is_put_in_place_of_another_is_told_before_what_it_says_and_is_no_new_run() {
    let page = "<script type=\"module\">\nimport './sail.js';\n\
        setTimeout(() => import('./sail.js?t=1763900000123'), 100);\n</script>\n";
    let sail = "console.log('hoisted', import.meta.url.split('/').pop());\n";
    let files = [("/", (HTML, page.to_owned())), ("/sail.js", (SCRIPT, sail.to_owned()))];
    let here = serve(listener(), Files::from(files));
    let mut page = Page::open(format!("http://{here}/"));
    page.wait("both", |p| p.text().matches("hoisted").count() == 2);
    let told: Vec<String> = page
        .told
        .iter()
        .filter_map(|(event, text)| match event {
            Event::Start => Some("starts".to_owned()),
            Event::Update => Some(format!("reads {} anew", text.rsplit('/').next()?)),
            Event::Bytes(_) => Some(text.trim_end().to_owned()),
            _ => None,
        })
        .collect();
    let wanted = [
        "starts",
        "[page note] hoisted sail.js",
        "reads sail.js?t=1763900000123 anew",
        "[page note] hoisted sail.js?t=1763900000123",
    ];
    assert_eq!(told, wanted);
}
