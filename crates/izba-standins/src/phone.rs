//! The stand-in phone: a device that serves its log over TCP as RFC 5424 messages, one a line. Most
//! of it is the business of other apps. Ours opens its screens one after another; when it crashes,
//! the device starts it again under another process id. The device goes away now and then and comes
//! back, and sends what was said meanwhile. It can print its log in columns instead.

use crate::clock::Clock;
use crate::curly::{self, Frame, Language, Machine, Raised, Value};
use crate::http;
use crate::jvm::{self, outside};
use crate::newest;
use serde::Deserialize;
use std::collections::VecDeque;
use std::fs;
use std::io::Write;
use std::net::{SocketAddr, TcpListener, TcpStream};
use std::path::PathBuf;
use std::rc::Rc;
use std::sync::{Arc, Condvar, Mutex};
use std::time::Duration;

/// How to run the phone.
#[derive(Debug, Clone)]
pub struct Settings {
    /// The folder of the app.
    pub folder: PathBuf,
    /// Where the log is served; without it, it is printed in columns, as tools print it that follow a
    /// device.
    pub listen: Option<SocketAddr>,
    /// Where the app answers the timetable page over HTTP, if it does.
    pub service: Option<SocketAddr>,
    /// Ends after so many seconds; never when `None`.
    pub seconds: Option<f64>,
    /// Doesn't wait, and ends once its log was fetched.
    pub hurried: bool,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Manifest {
    app: String,
    sources: Vec<String>,
    data: String,
    screens: Vec<Screen>,
    service: String,
}

#[derive(Deserialize, Default)]
#[serde(deny_unknown_fields)]
struct Screen {
    show: Option<String>,
    form: Option<String>,
    with: Option<String>,
}

/// Severities of RFC 5424.
#[derive(Clone, Copy)]
enum Severity {
    Critical = 2,
    Error = 3,
    Warning = 4,
    Notice = 5,
    Info = 6,
    Debug = 7,
}

/// What was said and is not fetched yet.
struct Log {
    lines: Mutex<(VecDeque<String>, bool)>,
    rings: Condvar,
    /// At most so many lines are kept; a device has little room.
    room: usize,
}

/// One voice on the device.
struct Voice {
    log: Arc<Log>,
    clock: Clock,
    turn: u64,
    /// Prints what is said, in columns.
    prints: bool,
}

/// Prints a line in columns: month, day and time, process and thread, a letter, who speaks. Whoever
/// doesn't listen any more is no matter.
fn print_row(date: &str, severity: Severity, app: &str, pid: u32, text: &str) {
    let letter = match severity {
        Severity::Critical => 'F',
        Severity::Error => 'E',
        Severity::Warning => 'W',
        Severity::Notice | Severity::Info => 'I',
        Severity::Debug => 'D',
    };
    let (day, time) = (&date[5..10], &date[11..23]);
    let row = format!("{day} {time} {pid:>5} {pid:>5} {letter} {app:<8}: {text}\n");
    let mut out = std::io::stdout().lock();
    let _ = out.write_all(row.as_bytes()).and_then(|()| out.flush());
}

impl Voice {
    fn say(&mut self, severity: Severity, app: &str, pid: u32, id: &str, text: &str) {
        if self.prints {
            print_row(&self.clock.date(), severity, app, pid, text);
            return;
        }
        let line = format!(
            "<{}>1 {} reedphone {app} {pid} {id} - {text}\n",
            8 + severity as u8,
            self.clock.date()
        );
        if let Ok(mut lines) = self.log.lines.lock() {
            while lines.0.len() >= self.log.room {
                lines.0.pop_front();
            }
            lines.0.push_back(line);
        }
        self.log.rings.notify_all();
    }

    /// Lets the other apps talk.
    fn others(&mut self, lines: u64) {
        const OTHERS: &[(&str, u32, Severity, &str)] = &[
            ("sys.power", 211, Severity::Info, "battery 64 %, not charging"),
            ("tide-radio", 3020, Severity::Info, "next bulletin in 14 min"),
            ("sys.net", 198, Severity::Debug, "cell 3 of 5, signal -87 dBm"),
            ("marsh-birds", 2877, Severity::Warning, "picture cache is 91 % full"),
            ("sys.view", 205, Severity::Debug, "frame took 21 ms"),
            ("weather-cock", 3101, Severity::Error, "the forecast was not fetched: no answer"),
            ("sys.sensors", 187, Severity::Debug, "light 3 lx"),
            ("lantern-widget", 2950, Severity::Info, "drawn again"),
            ("sys.power", 211, Severity::Notice, "the screen is dimmed"),
            ("step-log", 2790, Severity::Info, "4120 steps today"),
            ("sys.net", 198, Severity::Info, "time server answers in 41 ms"),
        ];
        for _ in 0..lines {
            let (app, pid, severity, text) = OTHERS[(self.turn % OTHERS.len() as u64) as usize];
            self.turn += 1 + self.turn % 3;
            self.say(severity, app, pid, "-", text);
        }
    }
}

/// Runs the phone until it is ended; returns its exit code.
///
/// # Errors
///
/// A sentence when an address cannot be used.
pub fn run(settings: &Settings) -> Result<i32, String> {
    let listener = settings.listen.map(|at| {
        TcpListener::bind(at).map_err(|e| format!("the phone cannot be reached at {at}: {e}"))
    });
    let listener = listener.transpose()?;
    let prints = listener.is_none();
    let log = Arc::new(Log { lines: Mutex::default(), rings: Condvar::new(), room: 20_000 });
    if let Some(address) = settings.service {
        serve_tickets(settings, address, log.clone())?;
    }
    if settings.hurried {
        let mut voice = Voice { log: log.clone(), clock: Clock::new(true), turn: 0, prints };
        evening(settings, &mut voice, 4310);
        let Some(listener) = listener else { return Ok(0) };
        let half = log.lines.lock().map_or(0, |l| l.0.len()) / 2;
        // Half of it is told, then the device goes away; the rest is told when it is back.
        for share in [half, usize::MAX] {
            let (client, _) =
                listener.accept().map_err(|e| format!("nobody fetches the log: {e}"))?;
            tell(&client, &log, share);
        }
        return Ok(0);
    }
    if let (Some(listener), Some(address)) = (listener, settings.listen) {
        let sender = log.clone();
        std::thread::spawn(move || attach(listener, address, &sender));
    }
    let mut voice = Voice { log: log.clone(), clock: Clock::new(false), turn: 0, prints };
    let mut pid = 4310;
    let begun = std::time::Instant::now();
    loop {
        let seen = newest(&settings.folder, &["kt", "xml", "json"]);
        evening(settings, &mut voice, pid);
        // The app rests until it is installed anew, or the player has had a while.
        for _ in 0..120 {
            voice.others(4);
            voice.clock.wait(0.5);
            if settings.seconds.is_some_and(|s| begun.elapsed().as_secs_f64() >= s) {
                return Ok(0);
            }
            if newest(&settings.folder, &["kt", "xml", "json"]) != seen {
                break;
            }
        }
        pid += 40;
    }
}

/// Attaches and detaches the device for ever.
fn attach(listener: TcpListener, address: SocketAddr, log: &Log) {
    let mut listener = Some(listener);
    loop {
        let Some(open) = listener.take().or_else(|| TcpListener::bind(address).ok()) else {
            std::thread::sleep(Duration::from_millis(200));
            continue;
        };
        let Ok((client, _)) = open.accept() else { continue };
        let (until, mut there) = (std::time::Instant::now() + Duration::from_secs(45), true);
        while there && std::time::Instant::now() < until {
            there = tell(&client, log, usize::MAX);
            if there && log.lines.lock().is_ok_and(|l| l.0.is_empty()) {
                let waited = log
                    .lines
                    .lock()
                    .map(|lines| log.rings.wait_timeout(lines, Duration::from_millis(300)).is_ok());
                drop(waited);
            }
        }
        // Unplugged for a moment: nobody can connect meanwhile.
        drop((client, open));
        std::thread::sleep(Duration::from_secs(3));
    }
}

/// Sends at most `most` lines that wait; `false` once nobody listens.
fn tell(mut client: &TcpStream, log: &Log, most: usize) -> bool {
    for _ in 0..most {
        let Some(line) = log.lines.lock().ok().and_then(|mut l| l.0.pop_front()) else { break };
        if client.write_all(line.as_bytes()).is_err() {
            if let Ok(mut lines) = log.lines.lock() {
                lines.0.push_front(line);
            }
            return false;
        }
    }
    true
}

struct App {
    manifest: Manifest,
    machine: Machine,
}

/// Reads the app as it is now.
fn install(settings: &Settings) -> Result<App, String> {
    let read = |name: &str| {
        fs::read_to_string(settings.folder.join(name)).map_err(|_| format!("there is no {name}"))
    };
    let manifest: Manifest = serde_json::from_str(&read("manifest.json")?)
        .map_err(|e| format!("manifest.json, line {}: {e}", e.line()))?;
    let mut classes = Vec::new();
    for source in &manifest.sources {
        let found = curly::parse(&format!("phone/{source}"), &read(source)?, Language::Kotlin);
        classes
            .extend(found.map_err(|p| {
                format!("error: {}:{}:{}: {}", p.file, p.line, p.column, p.message)
            })?);
    }
    Ok(App { manifest, machine: Machine::new(Language::Kotlin, classes) })
}

/// The steps below whatever the device calls in an app.
fn below() -> Vec<Frame> {
    let reed = |class: &str, method: &str, line| {
        outside(
            &format!("reed.{class}"),
            method,
            &format!("{}.kt", class.rsplit('.').next().unwrap_or(class)),
            line,
        )
    };
    vec![
        reed("screen.Stage", "show", 311),
        reed("screen.Stage", "turn", 188),
        reed("app.Host", "screenOpened", 64),
        reed("app.Loop", "next", 142),
        reed("app.Loop", "run", 97),
        outside("java.lang.reflect.Method", "invoke", "Method.java", 568),
        reed("boot.Child", "main", 40),
    ]
}

/// Opens all screens of the app once; after a crash the next process goes on with the next screen.
fn evening(settings: &Settings, voice: &mut Voice, first_pid: u32) {
    voice.others(6);
    let mut pid = first_pid;
    let mut app = match install(settings) {
        Ok(app) => app,
        Err(why) => {
            voice.say(
                Severity::Error,
                "sys.install",
                233,
                "-",
                &format!("ferry-tickets is not installed: {why}"),
            );
            return;
        }
    };
    let name = app.manifest.app.clone();
    voice.say(Severity::Info, &name, pid, "start", "ferry-tickets 1.4 starts");
    for screen in std::mem::take(&mut app.manifest.screens) {
        for _ in 0..15 {
            voice.others(11);
            voice.clock.wait(0.1);
        }
        let shown = screen.show.as_ref().or(screen.form.as_ref()).cloned().unwrap_or_default();
        voice.say(Severity::Info, &name, pid, "screen", &format!("opens {shown}"));
        let opened = match &screen.form {
            Some(form) => open_form(settings, &app, form),
            None => open_screen(settings, &mut app, &shown, screen.with.as_deref())
                .map_err(Crash::Raised),
        };
        for said in app.machine.take_said() {
            voice.say(Severity::Info, &name, pid, "out", &said);
        }
        let Err(crash) = opened else { continue };
        match crash {
            Crash::Raised(raised) => {
                voice.say(
                    Severity::Critical,
                    &name,
                    pid,
                    "crash",
                    "ferry-tickets has crashed on thread main",
                );
                for line in jvm::trace(&raised) {
                    voice.say(Severity::Critical, &name, pid, "crash", &line);
                }
            }
            Crash::Reason(reason) => dump(voice, &name, pid, &reason),
        }
        voice.say(
            Severity::Notice,
            "sys.apps",
            201,
            "-",
            &format!("process {pid} ({name}) has ended, signal 6"),
        );
        pid += 3 + u32::from(shown.len() as u8 % 5);
        voice.others(9);
        voice.clock.wait(1.0);
        voice.say(Severity::Info, &name, pid, "start", "ferry-tickets 1.4 starts");
    }
    voice.others(20);
}

enum Crash {
    Raised(Rc<Raised>),
    Reason(String),
}

fn open_screen(
    settings: &Settings,
    app: &mut App,
    class: &str,
    with: Option<&str>,
) -> Result<(), Rc<Raised>> {
    let mut given = Vec::new();
    if with.is_some() {
        let text = fs::read_to_string(settings.folder.join(&app.manifest.data)).unwrap_or_default();
        given.push(Value::from_json(&serde_json::from_str(&text).unwrap_or_default()));
    }
    let ran = app
        .machine
        .make(class, Vec::new())
        .and_then(|screen| app.machine.call(&screen, "show", given));
    ran.map(drop).map_err(|raised| {
        let below = below();
        let cause = jvm::called_from(&raised, &below);
        let message = format!("the screen {class} cannot be shown");
        jvm::raised("reed.screen.ScreenException", &message, below[1..].to_vec(), Some(cause))
    })
}

fn open_form(settings: &Settings, app: &App, form: &str) -> Result<(), Crash> {
    let text = fs::read_to_string(settings.folder.join(form))
        .map_err(|_| Crash::Reason(format!("there is no form {form}")))?;
    let read = roxmltree::Document::parse(&text)
        .map_err(|e| Crash::Reason(format!("the form {form} cannot be read: {e}")))?;
    let class = read.root_element().attribute("for").unwrap_or_default();
    for part in read.root_element().descendants() {
        for (what, attribute) in [("field", "bind"), ("handler", "call")] {
            if let Some(name) =
                part.attribute(attribute).filter(|name| !app.machine.has_member(class, name))
            {
                return Err(Crash::Reason(format!(
                    "the form {form} asks {class} for the {what} {name}, which it does not have"
                )));
            }
        }
    }
    Ok(())
}

/// A long dump; one sentence in it is the reason, and its end says nothing.
fn dump(voice: &mut Voice, app: &str, pid: u32, reason: &str) {
    let mut say = |text: &str| voice.say(Severity::Critical, app, pid, "dump", text);
    say("======== state of a process that gave up ========");
    say(&format!("process {pid}, app {app}, 41 threads, 118 MB"));
    say("build reed-12.4.1-r3, uptime 4 d 11 h");
    say(&format!("reason: {reason}"));
    for bank in 0..6 {
        let words: Vec<String> = (0..4)
            .map(|w| format!("{:016x}", (bank * 4 + w + 1) as u64 * 0x01f3_58d7_a1c9_0b35))
            .collect();
        say(&format!("  r{:02} {}", bank * 4, words.join(" ")));
    }
    for (depth, place) in [
        "libreed_form.so",
        "libreed_form.so",
        "libreed_screen.so",
        "libreed_screen.so",
        "libreed_app.so",
        "libc.so",
    ]
    .iter()
    .enumerate()
    {
        say(&format!("  #{depth:02} pc {:08x} {place}", 0x0004_1c20 + depth * 0x1d4));
    }
    for thread in ["main", "render", "io-1", "io-2", "timer", "collector"] {
        say(&format!("  thread {thread}: {}", if thread == "main" { "gave up" } else { "waits" }));
    }
    say("  open files: 37, sockets: 4, timers: 2");
    say("======== end of state ========");
    say("the process ends with signal 6");
}

/// Answers the timetable page: `GET /tickets/next?number=N`.
fn serve_tickets(settings: &Settings, address: SocketAddr, log: Arc<Log>) -> Result<(), String> {
    let server = TcpListener::bind(address)
        .map_err(|e| format!("the app cannot answer at {address}: {e}"))?;
    let settings = settings.clone();
    std::thread::spawn(move || {
        let mut voice = Voice {
            log,
            clock: Clock::new(settings.hurried),
            turn: 0,
            prints: settings.listen.is_none(),
        };
        for connection in server.incoming().flatten() {
            let Ok(request) = http::Request::read(&connection) else { continue };
            let (status, text) = answer(&settings, &mut voice, &request);
            let open =
                ["Access-Control-Allow-Origin: *", "Content-Type: text/plain; charset=UTF-8"];
            // A page that went away needs no answer.
            let _ = http::answer(&connection, status, &open, text.as_bytes());
        }
    });
    Ok(())
}

fn answer(
    settings: &Settings,
    voice: &mut Voice,
    request: &http::Request,
) -> (&'static str, String) {
    let asked = request.target.rsplit_once("number=");
    let number = asked.and_then(|(_, n)| n.parse().ok()).unwrap_or(0);
    // The trace id of W3C Trace Context, which ties what two consoles say.
    let parent = request.header("traceparent").unwrap_or("");
    let trace = parent.split('-').nth(1).unwrap_or("none").to_owned();
    let mut app = match install(settings) {
        Ok(app) => app,
        Err(why) => return ("503 Service Unavailable", why),
    };
    let (name, service) = (app.manifest.app.clone(), app.manifest.service.clone());
    let done = app
        .machine
        .make(&service, Vec::new())
        .and_then(|s| app.machine.call(&s, "next", vec![Value::Int(number)]));
    match done {
        Ok(value) => {
            voice.say(
                Severity::Info,
                &name,
                4290,
                "service",
                &format!("ticket {number} was given, trace {trace}"),
            );
            ("200 OK", value.spoken())
        }
        Err(raised) => {
            let raised = jvm::called_from(&raised, &below()[3..]);
            voice.say(
                Severity::Error,
                &name,
                4290,
                "service",
                &format!("ticket {number} could not be given, trace {trace}"),
            );
            for line in jvm::trace(&raised) {
                voice.say(Severity::Error, &name, 4290, "service", &line);
            }
            let said = format!("ticket {number} could not be given: {}", raised.sentence());
            ("500 Internal Server Error", said)
        }
    }
}
