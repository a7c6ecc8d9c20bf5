//! The stand-in web page: a static server, and a visitor's page that loads its scripts over HTTP
//! and runs them in a real JavaScript engine with a small document around it. What the page says
//! and what the server answers goes to one console.

mod bundle;
mod map;

use crate::clock::Clock;
use crate::http;
use rquickjs::context::EvalOptions;
use rquickjs::{CatchResultExt, CaughtError, Context, Ctx, Function, Object, Runtime, Value};
use serde::Deserialize;
use std::cell::RefCell;
use std::collections::BTreeMap;
use std::fs;
use std::io::{self, Write};
use std::net::{SocketAddr, TcpListener, TcpStream};
use std::path::{Path, PathBuf};
use std::rc::Rc;
use std::sync::atomic::{AtomicU64, Ordering};
use std::sync::{Arc, Mutex};
use std::time::Duration;

/// How to run the page.
#[derive(Debug, Clone)]
pub struct Settings {
    /// The folder of the page.
    pub folder: PathBuf,
    /// Where it is served.
    pub listen: SocketAddr,
    /// Where the ticket app on the phone answers.
    pub tickets: SocketAddr,
    /// One bundle instead of plain scripts.
    pub bundled: bool,
    /// Ends after so many seconds; never when `None`.
    pub seconds: Option<f64>,
    /// Doesn't wait.
    pub hurried: bool,
}

const DOCUMENT: &str = include_str!("dom.js");

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Deed {
    at: f64,
    click: String,
}

/// The console of page and server.
#[derive(Clone)]
struct Console(Arc<Mutex<Clock>>);

impl Console {
    fn say(&self, who: &str, level: &str, text: &str) {
        let Ok(clock) = self.0.lock() else { return };
        let line = format!("{} [{who} {level}] {}\n", clock.time(), text.trim_end());
        // A reader that went away is noticed by the terminal.
        let _ = io::stdout().lock().write_all(line.as_bytes()).and_then(|()| io::stdout().flush());
    }

    fn wait(&self, seconds: f64) {
        // Others may speak meanwhile, so the clock is not held.
        let hurried = self.0.lock().is_ok_and(|mut clock| clock.hurry(seconds));
        if !hurried {
            std::thread::sleep(Duration::from_secs_f64(seconds));
        }
    }
}

/// Runs server and page until they are ended; returns the exit code.
///
/// # Errors
///
/// A sentence when the address cannot be used, or there is no page.
pub fn run(settings: &Settings) -> Result<i32, String> {
    let console = Console(Arc::new(Mutex::new(Clock::new(settings.hurried))));
    let server = TcpListener::bind(settings.listen)
        .map_err(|e| format!("the page cannot be served at {}: {e}", settings.listen))?;
    let address = server.local_addr().map_err(|e| format!("the server has no address: {e}"))?;
    console.say("server", "note", &format!("serves the timetable at http://{address}/"));
    for (name, entry) in bundles(&settings.folder)? {
        match bundle::bundle(&settings.folder, &entry, &name) {
            Ok(made) => {
                for ring in &made.rings {
                    console.say(
                        "bundle",
                        "warning",
                        &format!("modules in a ring: {}", ring.join(" > ")),
                    );
                }
                write_bundle(&settings.folder, &name, &made)
                    .map_err(|e| format!("web/{name} cannot be written: {e}"))?;
                console.say(
                    "bundle",
                    "note",
                    &format!("{name} from {entry}: {} bytes", made.script.len()),
                );
            }
            Err(why) => console.say("bundle", "error", &format!("{name} is not made: web/{why}")),
        }
    }
    let (folder, voice) = (settings.folder.clone(), console.clone());
    std::thread::spawn(move || {
        for connection in server.incoming().flatten() {
            let (folder, voice) = (folder.clone(), voice.clone());
            // A visitor that went away needs no answer.
            std::thread::spawn(move || drop(serve(&folder, &voice, connection)));
        }
    });
    visit(settings, address, &console)
}

fn bundles(folder: &Path) -> Result<BTreeMap<String, String>, String> {
    let text = fs::read_to_string(folder.join("bundles.json"))
        .map_err(|e| format!("cannot read web/bundles.json: {e}"))?;
    serde_json::from_str(&text)
        .map_err(|e| format!("web/bundles.json:{}: this is no list of bundles: {e}", e.line()))
}

fn write_bundle(folder: &Path, name: &str, made: &bundle::Bundle) -> io::Result<()> {
    let path = folder.join(name);
    if let Some(parent) = path.parent() {
        fs::create_dir_all(parent)?;
    }
    fs::write(&path, &made.script)?;
    fs::write(folder.join(format!("{name}.map")), &made.map)
}

/// Answers one request and closes. A thread for each connection and no connection kept: browsers
/// open several at once, and each of them has to be answered however busy the machine is.
fn serve(folder: &Path, console: &Console, connection: TcpStream) -> io::Result<()> {
    let request = http::Request::read(&connection)?;
    let path = request.target.split('?').next().unwrap_or("/").trim_start_matches('/').to_owned();
    let path = if path.is_empty() { "index.html".to_owned() } else { path };
    let outside =
        Path::new(&path).components().any(|c| !matches!(c, std::path::Component::Normal(_)));
    let read = if outside {
        Err(io::Error::from(io::ErrorKind::NotFound))
    } else {
        fs::read(folder.join(&path))
    };
    let (status, body) = match read {
        Ok(bytes) => {
            console.say("server", "note", &format!("200 {path}, {} bytes", bytes.len()));
            ("200 OK", bytes)
        }
        Err(_) => {
            console.say(
                "server",
                "warning",
                &format!("404 {path}: there is no such file under web/"),
            );
            ("404 Not Found", b"not found".to_vec())
        }
    };
    let kind = match path.rsplit('.').next() {
        Some("html") => "text/html; charset=utf-8",
        Some("js") => "text/javascript; charset=utf-8",
        Some("json" | "map") => "application/json",
        _ => "text/plain; charset=utf-8",
    };
    http::answer(&connection, status, &[&format!("Content-Type: {kind}")], &body)
}

/// Gets a text over HTTP; status 0 when nobody answers.
fn get(url: &str, headers: &[(String, String)]) -> (u16, String) {
    let asked = headers
        .iter()
        .fold(minreq::get(url), |request, (name, value)| request.with_header(name, value));
    match asked.with_timeout(5).send() {
        Ok(answer) => (answer.status_code, answer.as_str().unwrap_or_default().to_owned()),
        Err(_) => (0, String::new()),
    }
}

/// Opens the page, does what the visitor does, and stays.
fn visit(settings: &Settings, address: SocketAddr, console: &Console) -> Result<i32, String> {
    let origin = format!("http://{address}/");
    let (_, html) = get(&origin, &[]);
    let deeds: Vec<Deed> = match fs::read_to_string(settings.folder.join("visit.json")) {
        Ok(text) => serde_json::from_str(&text).map_err(|e| {
            format!("web/visit.json:{}: the visitor cannot follow it: {e}", e.line())
        })?,
        Err(_) => Vec::new(),
    };
    let document = tl::parse(&html, tl::ParserOptions::default())
        .map_err(|e| format!("index.html cannot be read: {e}"))?;
    let parser = document.parser();
    let (mut elements, mut scripts) = (Vec::new(), Vec::new());
    for tag in document.nodes().iter().filter_map(|n| n.as_tag()) {
        let attribute =
            |name: &str| tag.attributes().get(name).flatten().map(|v| v.as_utf8_str().into_owned());
        if let Some(id) = attribute("id") {
            elements.push(vec![tag.name().as_utf8_str().into_owned(), id]);
        }
        if tag.name().as_utf8_str() == "script" {
            scripts.push((attribute("src"), tag.inner_text(parser).into_owned()));
        }
    }
    if settings.bundled {
        scripts = bundle_scripts(settings, scripts, console)?;
    }
    let failed = |e: rquickjs::Error| format!("the page cannot be opened: {e}");
    let runtime = Runtime::new().map_err(failed)?;
    runtime.set_memory_limit(256 << 20);
    let rejected: Rc<RefCell<Vec<String>>> = Rc::default();
    let note = rejected.clone();
    runtime.set_host_promise_rejection_tracker(Some(Box::new(move |_, _, reason, handled| {
        let said = sentence(&reason);
        if handled {
            note.borrow_mut().retain(|r| *r != said);
        } else {
            note.borrow_mut().push(said);
        }
    })));
    // A script that never ends would be a page that never answers.
    let begun = Rc::new(RefCell::new(std::time::Instant::now()));
    let watched = begun.clone();
    runtime.set_interrupt_handler(Some(Box::new(move || {
        watched.borrow().elapsed() > Duration::from_secs(10)
    })));
    let context = Context::full(&runtime).map_err(failed)?;
    let page =
        Page { console, origin: &origin, runtime: &runtime, context: &context, rejected, begun };
    context
        .with(|ctx| page.prepare(&ctx, settings, elements))
        .map_err(|e| format!("the page cannot be opened: {e}"))?;
    for (at, (source, inner)) in scripts.iter().enumerate() {
        match source {
            Some(source) => {
                let url = format!("{origin}{source}");
                match get(&url, &[]) {
                    (200, text) => page.script(&url, &text),
                    (status, _) => console.say(
                        "page",
                        "error",
                        &format!("the script {url} was not loaded: the server answers {status}"),
                    ),
                }
            }
            None => page.script(&format!("{origin}index.html#{}", at + 1), inner),
        }
    }
    page.drive("load", None);
    let (mut seconds, step) = (0.0, 0.1);
    loop {
        for deed in deeds.iter().filter(|d| d.at <= seconds && seconds < d.at + step) {
            console.say("page", "note", &format!("the visitor clicks {}", deed.click));
            page.drive("click", Some(&deed.click));
        }
        page.drive("turn", None);
        if settings.seconds.is_some_and(|s| seconds >= s) {
            console.say("page", "note", "the visitor leaves");
            return Ok(0);
        }
        console.wait(step);
        seconds += step;
    }
}

/// Joins the plain scripts of the page into one, with its map.
fn bundle_scripts(
    settings: &Settings,
    scripts: Vec<(Option<String>, String)>,
    console: &Console,
) -> Result<Vec<(Option<String>, String)>, String> {
    let folder = &settings.folder;
    let (plain, others): (Vec<_>, Vec<_>) =
        scripts.into_iter().partition(|(s, _)| s.as_ref().is_some_and(|s| !s.starts_with("dist/")));
    let found: Vec<String> =
        plain.iter().filter_map(|(s, _)| s.clone()).filter(|s| folder.join(s).exists()).collect();
    let entry = "dist/page.js";
    let imports: String = found.iter().map(|s| format!("import \"../{s}\";\n")).collect();
    fs::create_dir_all(folder.join("dist"))
        .and_then(|()| fs::write(folder.join(entry), imports))
        .map_err(|e| format!("web/{entry} cannot be written: {e}"))?;
    let name = "dist/page.min.js";
    match bundle::bundle(folder, entry, name) {
        Ok(made) => write_bundle(folder, name, &made)
            .map_err(|e| format!("web/{name} cannot be written: {e}"))?,
        Err(why) => console.say("bundle", "error", &format!("{name} is not made: web/{why}")),
    }
    Ok([(Some(name.to_owned()), String::new())].into_iter().chain(others).collect())
}

struct Page<'a> {
    console: &'a Console,
    origin: &'a str,
    runtime: &'a Runtime,
    context: &'a Context,
    rejected: Rc<RefCell<Vec<String>>>,
    begun: Rc<RefCell<std::time::Instant>>,
}

impl Page<'_> {
    fn prepare(
        &self,
        ctx: &Ctx<'_>,
        settings: &Settings,
        elements: Vec<Vec<String>>,
    ) -> rquickjs::Result<()> {
        let host = Object::new(ctx.clone())?;
        host.set("elements", elements)?;
        host.set("ticketService", format!("http://{}", settings.tickets))?;
        let console = self.console.clone();
        host.set(
            "say",
            Function::new(ctx.clone(), move |level: String, text: String| {
                console.say("page", &level, &text)
            })?,
        )?;
        let begun = std::time::Instant::now();
        host.set("now", Function::new(ctx.clone(), move || begun.elapsed().as_millis() as f64)?)?;
        let (origin, traces) = (self.origin.to_owned(), AtomicU64::new(0x51a3));
        let fetch = move |url: String, headers: BTreeMap<String, String>| {
            let url = if url.contains("://") { url } else { format!("{origin}{url}") };
            let mut headers: Vec<(String, String)> = headers.into_iter().collect();
            // W3C Trace Context: the server can tell which request was which.
            let trace = u128::from(traces.fetch_add(1, Ordering::Relaxed)) << 64 | 0x7ea1;
            headers
                .push(("traceparent".into(), format!("00-{trace:032x}-{:016x}-01", trace as u64)));
            let (status, text) = get(&url, &headers);
            vec![status.to_string(), text]
        };
        host.set("fetchWords", Function::new(ctx.clone(), fetch)?)?;
        let console = self.console.clone();
        let guarded = move |ctx: Ctx<'_>, run: Function<'_>| {
            if let Err(error) = run.call::<_, Value<'_>>(()).catch(&ctx) {
                console.say("page", "error", &caught(&error));
            }
        };
        host.set("guarded", Function::new(ctx.clone(), guarded)?)?;
        let adapt: Function<'_> = ctx.eval(
            "(host) => { host.fetch = (url, headers) => { const [status, text] = \
                host.fetchWords(url, headers); return [Number(status), text]; }; }",
        )?;
        adapt.call::<_, ()>((host.clone(),))?;
        let open: Function<'_> = ctx.eval_with_options(DOCUMENT, named("page/document.js"))?;
        open.call::<_, ()>((host.clone(),))?;
        ctx.globals().set("drivePage", host.get::<_, Object<'_>>("drive")?)
    }

    fn script(&self, url: &str, text: &str) {
        *self.begun.borrow_mut() = std::time::Instant::now();
        self.context.with(|ctx| {
            if let Err(error) = ctx.eval_with_options::<Value<'_>, _>(text, named(url)).catch(&ctx)
            {
                self.console.say("page", "error", &caught(&error));
            }
        });
        self.settle();
    }

    fn drive(&self, what: &str, with: Option<&str>) {
        *self.begun.borrow_mut() = std::time::Instant::now();
        self.context.with(|ctx| {
            let driven = ctx
                .globals()
                .get::<_, Object<'_>>("drivePage")
                .and_then(|d| d.get::<_, Function<'_>>(what))
                .and_then(|f| match with {
                    Some(with) => f.call::<_, Value<'_>>((with,)),
                    None => f.call::<_, Value<'_>>(()),
                });
            match driven.catch(&ctx) {
                Ok(found) if found.as_bool() == Some(false) => {
                    self.console.say("page", "note", "there is nothing to click under that name")
                }
                Ok(_) => {}
                Err(error) => self.console.say("page", "error", &caught(&error)),
            }
        });
        self.settle();
    }

    /// Runs what promises still have to do, and tells those that nobody caught.
    fn settle(&self) {
        while matches!(self.runtime.execute_pending_job(), Ok(true) | Err(_)) {}
        for reason in self.rejected.borrow_mut().drain(..) {
            self.console.say("page", "error", &format!("nobody caught this promise: {reason}"));
        }
    }
}

fn named(file: &str) -> EvalOptions {
    let mut options = EvalOptions::default();
    options.filename = Some(file.to_owned());
    options.strict = false;
    options
}

fn caught(error: &CaughtError<'_>) -> String {
    match error {
        CaughtError::Exception(e) => sentence(e.as_object().as_value()),
        CaughtError::Value(value) => sentence(value),
        CaughtError::Error(e) => e.to_string(),
    }
}

/// Name and message of what was thrown, and its steps below.
fn sentence(thrown: &Value<'_>) -> String {
    let Some(object) = thrown.as_object() else {
        return thrown.as_string().and_then(|s| s.to_string().ok()).map_or_else(
            || format!("{:?} was thrown", thrown.type_name()),
            |s| format!("“{s}” was thrown"),
        );
    };
    let part = |name: &str| object.get::<_, Option<String>>(name).ok().flatten();
    match part("message") {
        Some(message) => {
            let kind = part("name").unwrap_or_else(|| "Error".into());
            format!("{kind}: {message}\n{}", part("stack").unwrap_or_default())
        }
        None => "an object without a message was thrown".into(),
    }
}
