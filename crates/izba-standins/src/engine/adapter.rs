//! The engine's debug adapter: speaks the Debug Adapter Protocol for the Lua inside, over standard
//! input and output or at an address. A thread of its own reads requests; those that look into a
//! stopped script are answered by the game's thread, which waits in the very line. A script that
//! never comes to an end of its turn is interrupted by a signal.

use mlua::{Function, Lua, Table, Thread, Value, ffi};
use nix::libc;
use nix::sys::signal::{SaFlags, SigAction, SigHandler, SigSet, Signal, sigaction};
use serde_json::{Value as Json, json};
use std::cell::{Cell, RefCell};
use std::collections::BTreeMap;
use std::io::{self, BufRead, BufReader, Read, Write};
use std::net::TcpListener;
use std::path::{Path, PathBuf};
use std::rc::Rc;
use std::sync::atomic::{AtomicBool, AtomicI64, AtomicPtr, AtomicU64, Ordering};
use std::sync::mpsc::{Receiver, Sender, channel};
use std::sync::{Arc, Condvar, Mutex};
use std::time::{Duration, Instant};

/// The adapter's part in Lua.
const SCRIPT: &str = include_str!("adapter.lua");

/// The longest request that is read, in bytes.
const LONGEST: usize = 4 << 20;

/// How long a script may take to the end of its turn before it is interrupted, once it shall stop.
const TURN: Duration = Duration::from_millis(300);

/// Where the adapter's `refresh` lies among the things that only we see.
const REFRESH: &str = "izba_refresh";

/// The Lua thread that runs now, for the signal; and the game's own one.
static RUNNING: AtomicPtr<ffi::lua_State> = AtomicPtr::new(std::ptr::null_mut());
static MAIN: AtomicPtr<ffi::lua_State> = AtomicPtr::new(std::ptr::null_mut());
/// The system thread that runs scripts.
static GAME: AtomicU64 = AtomicU64::new(0);

/// The signal arrived in the thread that runs scripts: whatever runs is looked at before its next
/// instruction. Setting a hook is the one thing that Lua allows in a signal handler.
extern "C" fn interrupted(_: libc::c_int) {
    let running = RUNNING.load(Ordering::Acquire);
    if !running.is_null() {
        // SAFETY: the pointer is of a Lua thread that this very system thread is running;
        // `lua_sethook` may be called then.
        unsafe {
            ffi::lua_sethook(
                running,
                Some(look_up),
                ffi::LUA_MASKCALL | ffi::LUA_MASKRET | ffi::LUA_MASKCOUNT,
                1,
            )
        };
    }
}

/// Between two instructions of the interrupted script: asks what is wanted.
unsafe extern "C-unwind" fn look_up(state: *mut ffi::lua_State, _: *mut ffi::lua_Debug) {
    // SAFETY: Lua calls this with its own state, with room for a few values.
    unsafe {
        ffi::lua_sethook(state, None, 0, 0);
        ffi::lua_getfield(state, ffi::LUA_REGISTRYINDEX, c"izba_refresh".as_ptr());
        if ffi::lua_isfunction(state, -1) == 0 || ffi::lua_pcall(state, 0, 0, 0) != 0 {
            ffi::lua_pop(state, 1);
        }
    }
}

/// A line at which to stop.
#[derive(Debug, Clone)]
struct Point {
    line: u32,
    condition: Option<String>,
    hits: Option<u32>,
    log: Option<String>,
}

#[derive(Debug, Default)]
struct Wanted {
    /// By script, as the game names it.
    points: BTreeMap<String, Vec<Point>>,
    errors: &'static str,
}

struct Shared {
    folder: PathBuf,
    attached: AtomicBool,
    stopped: AtomicBool,
    pausing: AtomicBool,
    ending: AtomicBool,
    changed: AtomicBool,
    wanted: Mutex<Wanted>,
    configured: (Mutex<bool>, Condvar),
    seq: AtomicI64,
    stops: AtomicU64,
    out: Mutex<Option<Box<dyn Write + Send>>>,
}

impl std::fmt::Debug for Shared {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str("Shared")
    }
}

impl Shared {
    fn send(&self, mut message: Json) {
        message["seq"] = self.seq.fetch_add(1, Ordering::AcqRel).into();
        let body = message.to_string();
        if let Ok(mut out) = self.out.lock()
            && let Some(out) = out.as_mut()
        {
            // Whoever went away hears nothing.
            let _ = write!(out, "Content-Length: {}\r\n\r\n{body}", body.len())
                .and_then(|()| out.flush());
        }
    }

    fn event(&self, event: &str, body: &Json) {
        self.send(json!({"type": "event", "event": event, "body": body}));
    }

    fn answer(&self, request: &Json, told: Result<Json, String>) {
        let mut message = json!({"type": "response", "request_seq": request["seq"], "command": request["command"], "success": told.is_ok()});
        match told {
            Ok(body) => message["body"] = body,
            Err(why) => {
                message["message"] = why.as_str().into();
                message["body"] = json!({"error": {"id": 1, "format": why}});
            }
        }
        self.send(message);
    }

    /// The script as the game names it.
    fn script(&self, path: &str) -> String {
        let folder = self.folder.canonicalize().unwrap_or_else(|_| self.folder.clone());
        let asked = Path::new(path).canonicalize().unwrap_or_else(|_| PathBuf::from(path));
        asked
            .strip_prefix(&folder)
            .map_or_else(|_| path.to_owned(), |p| p.to_string_lossy().into_owned())
    }
}

/// The engine's side of a debugging session.
#[derive(Debug)]
pub struct Adapter {
    shared: Arc<Shared>,
    requests: RefCell<Receiver<Json>>,
    /// How long scripts were stopped so far: the game's clock stood still.
    pub stood: Cell<Duration>,
}

impl Adapter {
    /// Serves at an address, or over standard input and output when `at` is `stdio`; then it waits
    /// until whoever asks is ready.
    ///
    /// # Errors
    ///
    /// A sentence when the address cannot be had.
    pub fn serve(at: &str, folder: &Path) -> Result<Rc<Adapter>, String> {
        let (to, requests) = channel();
        let shared = Arc::new(Shared {
            folder: folder.to_owned(),
            attached: AtomicBool::new(false),
            stopped: AtomicBool::new(false),
            pausing: AtomicBool::new(false),
            ending: AtomicBool::new(false),
            changed: AtomicBool::new(false),
            wanted: Mutex::new(Wanted { errors: "none", ..Wanted::default() }),
            configured: (Mutex::new(false), Condvar::new()),
            seq: AtomicI64::new(1),
            stops: AtomicU64::new(0),
            out: Mutex::new(None),
        });
        let heard = shared.clone();
        let thread = std::thread::Builder::new().name("adapter".into());
        if at == "stdio" {
            let serve = move || {
                listen(&heard, &to, io::stdin(), Box::new(io::stdout()));
                // Its output was theirs: nobody is left to play for.
                heard.ending.store(true, Ordering::Release);
            };
            thread.spawn(serve).map_err(|e| e.to_string())?;
            let (lock, ready) = &shared.configured;
            let mut is = lock.lock().map_err(|e| e.to_string())?;
            while !*is && !shared.ending.load(Ordering::Acquire) {
                is = ready.wait(is).map_err(|e| e.to_string())?;
            }
        } else {
            let listener = TcpListener::bind(at)
                .map_err(|e| format!("the debug adapter cannot listen at {at}: {e}"))?;
            let serve = move || {
                for stream in listener.incoming().flatten() {
                    let _ = stream.set_nodelay(true);
                    if let Ok(out) = stream.try_clone() {
                        listen(&heard, &to, stream, Box::new(out));
                    }
                }
            };
            thread.spawn(serve).map_err(|e| e.to_string())?;
        }
        Ok(Rc::new(Adapter {
            shared,
            requests: RefCell::new(requests),
            stood: Cell::new(Duration::ZERO),
        }))
    }

    /// Whether the game shall end.
    pub fn is_ending(&self) -> bool {
        self.shared.ending.load(Ordering::Acquire)
    }

    /// Whether something else is wanted than before.
    pub fn has_changed(&self) -> bool {
        self.shared.changed.load(Ordering::Acquire) || self.shared.pausing.load(Ordering::Acquire)
    }

    /// Says to whoever listens what the game printed.
    pub fn print(&self, category: &str, text: &str) {
        self.shared.event("output", &json!({"category": category, "output": text}));
    }

    /// A script was saved and read again.
    pub fn reread(&self, script: &str) {
        let path = self.shared.folder.join(script);
        self.shared.event("loadedSource", &json!({"reason": "changed", "source": {"name": script, "path": path.to_string_lossy()}}));
    }

    /// Tells the client that the game is over, with its exit code.
    pub fn over(&self, code: i32) {
        self.shared.event("exited", &json!({"exitCode": code}));
        self.shared.event("terminated", &json!({}));
    }

    /// The adapter's part in Lua: gives what `debug` can to it alone.
    pub fn load(
        self: &Rc<Adapter>,
        lua: &Lua,
        engine: &Table,
        handler: impl Fn() -> String + 'static,
    ) -> mlua::Result<Table> {
        let debug: Value = lua.globals().get("debug")?;
        lua.globals().set("debug", Value::Nil)?;
        let host = lua.create_table()?;
        type Asked = fn(&Shared) -> bool;
        let asked: [(&str, Asked); 4] = [
            ("changed", |s| s.changed.load(Ordering::Acquire) || s.pausing.load(Ordering::Acquire)),
            ("attached", |s| s.attached.load(Ordering::Acquire)),
            ("pausing", |s| s.pausing.swap(false, Ordering::AcqRel)),
            ("ending", |s| s.ending.load(Ordering::Acquire)),
        ];
        for (name, ask) in asked {
            let shared = self.shared.clone();
            host.set(name, lua.create_function(move |_, ()| Ok(ask(&shared)))?)?;
        }
        let shared = self.shared.clone();
        host.set("wanted", lua.create_function(move |lua, ()| wanted(lua, &shared))?)?;
        let shared = self.shared.clone();
        host.set(
            "note",
            lua.create_function(move |_, text: String| {
                shared.event(
                    "output",
                    &json!({"category": "console", "output": format!("{text}\n")}),
                );
                Ok(())
            })?,
        )?;
        host.set("handler", lua.create_function(move |_, ()| Ok(handler()))?)?;
        // SAFETY: the state is only read here.
        unsafe { lua.exec_raw::<()>((), |state| MAIN.store(state, Ordering::Release))? };
        RUNNING.store(MAIN.load(Ordering::Acquire), Ordering::Release);
        // SAFETY: it has no conditions.
        GAME.store(unsafe { libc::pthread_self() }, Ordering::Release);
        let action =
            SigAction::new(SigHandler::Handler(interrupted), SaFlags::SA_RESTART, SigSet::empty());
        // SAFETY: the handler does nothing but what may be done in one.
        unsafe { sigaction(Signal::SIGUSR1, &action) }
            .map_err(|e| mlua::Error::runtime(e.to_string()))?;
        host.set(
            "runs",
            lua.create_function(|_, routine: Option<Thread>| {
                let state = routine.map_or_else(
                    || MAIN.load(Ordering::Acquire),
                    |t| Value::Thread(t).to_pointer().cast_mut().cast(),
                );
                RUNNING.store(state, Ordering::Release);
                Ok(())
            })?,
        )?;
        let api: Rc<RefCell<Option<Table>>> = Rc::default();
        let (me, answers) = (self.clone(), api.clone());
        let stopped = lua.create_function(move |_, (reason, text): (String, Option<String>)| {
            let api = answers.borrow().clone();
            Ok(api.map_or("go", |api| me.wait(&api, &reason, text)))
        })?;
        host.set("stopped", stopped)?;
        let loaded: Table =
            lua.load(SCRIPT).set_name("@marsh-engine/adapter.lua").call((host, debug, engine))?;
        lua.set_named_registry_value(REFRESH, loaded.get::<Function>("refresh")?)?;
        *api.borrow_mut() = Some(loaded.clone());
        Ok(loaded)
    }

    /// Stopped: answers what is asked until it shall go on; says how.
    fn wait(&self, api: &Table, reason: &str, text: Option<String>) -> &'static str {
        let shared = &self.shared;
        if shared.ending.load(Ordering::Acquire) || !shared.attached.load(Ordering::Acquire) {
            return "go";
        }
        let begun = Instant::now();
        shared.stops.fetch_add(1, Ordering::AcqRel);
        shared.stopped.store(true, Ordering::Release);
        let mut told = json!({"reason": reason, "threadId": 1, "allThreadsStopped": true});
        if let Some(text) = text {
            told["text"] = text.into();
        }
        shared.event("stopped", &told);
        let requests = self.requests.borrow();
        let how = loop {
            let Ok(request) = requests.recv() else { break "go" };
            let moves = [
                ("continue", "go"),
                ("next", "over"),
                ("stepIn", "into"),
                ("stepOut", "out"),
                ("gone", "go"),
            ];
            if let Some((command, how)) = moves.into_iter().find(|(c, _)| request["command"] == *c)
            {
                shared.stopped.store(false, Ordering::Release);
                if command != "gone" {
                    shared.answer(&request, Ok(json!({"allThreadsContinued": true})));
                }
                break how;
            }
            shared.answer(
                &request,
                look(api, shared, &request).map_err(|e| {
                    let text = e.to_string();
                    let first = text.lines().next().unwrap_or("");
                    first.strip_prefix("runtime error: ").unwrap_or(first).to_owned()
                }),
            );
        };
        shared.stopped.store(false, Ordering::Release);
        self.stood.set(self.stood.get() + begun.elapsed());
        how
    }
}

fn wanted(lua: &Lua, shared: &Shared) -> mlua::Result<Value> {
    if !shared.changed.swap(false, Ordering::AcqRel) {
        return Ok(Value::Nil);
    }
    let (table, list) = (lua.create_table()?, lua.create_table()?);
    let Ok(wanted) = shared.wanted.lock() else { return Ok(Value::Nil) };
    for (file, points) in &wanted.points {
        for point in points {
            let one = lua.create_table()?;
            one.set("file", file.as_str())?;
            one.set("line", point.line)?;
            one.set("condition", point.condition.as_deref())?;
            one.set("hits", point.hits)?;
            one.set("log", point.log.as_deref())?;
            list.push(one)?;
        }
    }
    table.set("points", list)?;
    table.set("errors", wanted.errors)?;
    Ok(Value::Table(table))
}

/// One table of the adapter's Lua, whose keys are the protocol's, as JSON.
fn object(table: &Table) -> mlua::Result<Json> {
    let mut object = serde_json::Map::new();
    for pair in table.pairs::<String, Value>() {
        let (key, value) = pair?;
        let value = match value {
            Value::Boolean(b) => b.into(),
            Value::Integer(n) => n.into(),
            Value::Number(n) => n.into(),
            Value::String(s) => s.to_string_lossy().into(),
            _ => continue,
        };
        object.insert(key, value);
    }
    Ok(Json::Object(object))
}

fn list(table: &Table) -> mlua::Result<Vec<Json>> {
    table.sequence_values::<Table>().map(|t| object(&t?)).collect()
}

/// Answers what can only be told of a stopped script.
fn look(api: &Table, shared: &Shared, request: &Json) -> mlua::Result<Json> {
    let failed = |why: &str| mlua::Error::runtime(why);
    let arguments = &request["arguments"];
    let call = |name: &str| api.get::<Function>(name);
    let frame = arguments["frameId"].as_i64().unwrap_or(1);
    match request["command"].as_str().unwrap_or("") {
        "stackTrace" => {
            let frames = list(&call("frames")?.call::<Table>(())?)?;
            let one = |frame: &Json| {
                let script = frame["source"].as_str().unwrap_or("");
                let path = shared.folder.join(script);
                let source = json!({"name": script, "path": path.to_string_lossy()});
                json!({"id": frame["id"], "name": frame["name"], "line": frame["line"], "column": 1, "source": source})
            };
            Ok(
                json!({"stackFrames": frames.iter().map(one).collect::<Vec<_>>(), "totalFrames": frames.len()}),
            )
        }
        "scopes" => Ok(json!({"scopes": list(&call("scopes")?.call::<Table>(frame)?)?})),
        "variables" => {
            let rows = call("variables")?
                .call::<Option<Table>>(arguments["variablesReference"].as_i64().unwrap_or(0))?;
            Ok(
                json!({"variables": list(&rows.ok_or_else(|| failed("that value is not known any more"))?)?}),
            )
        }
        "evaluate" => {
            let text = arguments["expression"].as_str().unwrap_or("");
            let (row, why) =
                call("evaluate")?.call::<(Option<Table>, Option<String>)>((frame, text))?;
            row.map_or_else(|| Err(failed(&why.unwrap_or_default())), |row| object(&row))
        }
        "setVariable" => {
            let (owner, name, value) =
                (&arguments["variablesReference"], &arguments["name"], &arguments["value"]);
            let asked = (
                owner.as_i64().unwrap_or(0),
                name.as_str().unwrap_or(""),
                value.as_str().unwrap_or(""),
            );
            let (row, why) = call("set")?.call::<(Option<Table>, Option<String>)>(asked)?;
            row.map_or_else(|| Err(failed(&why.unwrap_or_default())), |row| object(&row))
        }
        "exceptionInfo" => {
            let error = call("error")?
                .call::<Option<Table>>(())?
                .ok_or_else(|| failed("it was no error that stopped it"))?;
            let error = object(&error)?;
            let mode = if error["caught"] == true { "always" } else { "userUnhandled" };
            Ok(
                json!({"exceptionId": error["kind"], "description": error["message"], "breakMode": mode}),
            )
        }
        other => Err(failed(&format!("the engine does not know “{other}”"))),
    }
}

/// Reads requests until whoever asks goes away.
fn listen(shared: &Arc<Shared>, to: &Sender<Json>, input: impl Read, out: Box<dyn Write + Send>) {
    if let Ok(mut slot) = shared.out.lock() {
        *slot = Some(out);
    }
    let mut input = BufReader::new(input);
    while let Some(request) = read(&mut input) {
        obey(shared, to, &request);
    }
    // Nobody looks any more: the game goes on by itself.
    shared.attached.store(false, Ordering::Release);
    if let Ok(mut wanted) = shared.wanted.lock() {
        *wanted = Wanted { errors: "none", ..Wanted::default() };
    }
    shared.changed.store(true, Ordering::Release);
    if let Ok(mut slot) = shared.out.lock() {
        *slot = None;
    }
    if shared.stopped.load(Ordering::Acquire) {
        let _ = to.send(json!({"command": "gone"}));
    }
    begin(shared);
}

fn begin(shared: &Shared) {
    let (lock, ready) = &shared.configured;
    if let Ok(mut is) = lock.lock() {
        *is = true;
        ready.notify_all();
    }
}

fn read(input: &mut impl BufRead) -> Option<Json> {
    let mut length = None;
    loop {
        let mut line = String::new();
        if input.take(8192).read_line(&mut line).ok()? == 0 {
            return None;
        }
        match line.trim() {
            "" if length.is_some() => break,
            line => {
                length = line
                    .split_once(':')
                    .filter(|(name, _)| name.eq_ignore_ascii_case("content-length"))
                    .and_then(|(_, n)| n.trim().parse().ok())
                    .or(length)
            }
        }
    }
    let mut body = vec![0u8; length.filter(|n| *n <= LONGEST)?];
    input.read_exact(&mut body).ok()?;
    serde_json::from_slice(&body).ok()
}

fn obey(shared: &Arc<Shared>, to: &Sender<Json>, request: &Json) {
    let arguments = &request["arguments"];
    let well = |body: Json| shared.answer(request, Ok(body));
    match request["command"].as_str().unwrap_or("") {
        "initialize" => well(json!({
            "supportsConfigurationDoneRequest": true, "supportsConditionalBreakpoints": true, "supportsHitConditionalBreakpoints": true,
            "supportsLogPoints": true, "supportsSetVariable": true, "supportsExceptionInfoRequest": true, "supportsTerminateRequest": true,
            "exceptionBreakpointFilters": [
                {"filter": "uncaught", "label": "Errors that no script catches", "default": true},
                {"filter": "all", "label": "All errors, those that scripts catch too"}
            ]
        })),
        "launch" | "attach" => {
            shared.attached.store(true, Ordering::Release);
            shared.changed.store(true, Ordering::Release);
            well(json!({}));
            shared.event("initialized", &json!({}));
            shared.event("thread", &json!({"reason": "started", "threadId": 1}));
        }
        "setBreakpoints" => {
            let path = arguments["source"]["path"].as_str().unwrap_or("");
            let script = shared.script(path);
            let text = std::fs::read_to_string(shared.folder.join(&script)).unwrap_or_default();
            let mut points = Vec::new();
            let mut told = Vec::new();
            for one in arguments["breakpoints"].as_array().into_iter().flatten() {
                let asked = one["line"].as_u64().and_then(|l| u32::try_from(l).ok()).unwrap_or(0);
                // A line without a statement is never reached: the next one that has one is meant.
                let is_code = |l: &str| {
                    !l.trim().is_empty()
                        && !l.trim().starts_with("--")
                        && !matches!(l.trim(), "end" | "else" | "}")
                };
                let line = text
                    .lines()
                    .enumerate()
                    .skip(asked.max(1) as usize - 1)
                    .take(40)
                    .find(|(_, l)| is_code(l))
                    .map(|(at, _)| at as u32 + 1);
                match line {
                    Some(line) => {
                        let said = |key: &str| {
                            one[key].as_str().map(str::to_owned).filter(|s| !s.trim().is_empty())
                        };
                        let hits = said("hitCondition").and_then(|h| {
                            h.trim_matches(|c: char| !c.is_ascii_digit()).parse().ok()
                        });
                        points.push(Point {
                            line,
                            condition: said("condition"),
                            hits,
                            log: said("logMessage"),
                        });
                        told.push(json!({"verified": true, "line": line}));
                    }
                    None => told
                        .push(json!({"verified": false, "message": "no statement stands there"})),
                }
            }
            if let Ok(mut wanted) = shared.wanted.lock() {
                wanted.points.insert(script, points);
            }
            shared.changed.store(true, Ordering::Release);
            well(json!({"breakpoints": told}));
        }
        "setExceptionBreakpoints" => {
            let chosen = |name: &str| {
                arguments["filters"].as_array().is_some_and(|f| f.iter().any(|f| f == name))
            };
            if let Ok(mut wanted) = shared.wanted.lock() {
                wanted.errors = if chosen("all") {
                    "all"
                } else if chosen("uncaught") {
                    "uncaught"
                } else {
                    "none"
                };
            }
            shared.changed.store(true, Ordering::Release);
            well(json!({}));
        }
        "configurationDone" => {
            well(json!({}));
            begin(shared);
        }
        "threads" => well(json!({"threads": [{"id": 1, "name": "game"}]})),
        "pause" => {
            well(json!({}));
            if !shared.stopped.load(Ordering::Acquire) {
                shared.pausing.store(true, Ordering::Release);
                let late = shared.clone();
                let interrupt = move || {
                    std::thread::sleep(TURN);
                    // A script that is still at its turn does not come by itself.
                    if late.pausing.load(Ordering::Acquire) && !late.ending.load(Ordering::Acquire)
                    {
                        let game = GAME.load(Ordering::Acquire);
                        if game != 0 {
                            // SAFETY: the game's thread lives as long as the process.
                            unsafe { libc::pthread_kill(game, libc::SIGUSR1) };
                        }
                    }
                };
                let _ = std::thread::Builder::new().name("interrupt".into()).spawn(interrupt);
            }
        }
        "terminate" | "disconnect" => {
            if request["command"] == "terminate" || arguments["terminateDebuggee"] == true {
                shared.ending.store(true, Ordering::Release);
            }
            well(json!({}));
            shared.attached.store(false, Ordering::Release);
            if shared.stopped.load(Ordering::Acquire) {
                let _ = to.send(json!({"command": "gone"}));
            }
            begin(shared);
        }
        _ if shared.stopped.load(Ordering::Acquire) => {
            let _ = to.send(request.clone());
        }
        _ => shared.answer(request, Err("the game is not stopped".into())),
    }
}
