//! The stand-in engine: runs a scene of objects whose scripts are real Lua, and talks as engines do.
//!
//! It loads `scene.json`, gives each object its script, and calls `begin` once and `tick` many times a second; cues call
//! other handlers at their time. An error in a handler is told and the game goes on; a fatal one ends it.

mod scene;

use mlua::{Function, Lua, LuaOptions, StdLib, Table, Value};
use scene::{Cue, Scene};
use std::cell::RefCell;
use std::collections::HashMap;
use std::io::{self, Write};
use std::path::{Path, PathBuf};
use std::rc::Rc;
use std::time::{Duration, Instant};

/// How to run a scene.
#[derive(Debug, Clone)]
pub struct Settings {
    /// The project's folder.
    pub folder: PathBuf,
    /// The scene file in it.
    pub scene: String,
    /// Ticks a second.
    pub rate: u32,
    /// Ends after so long; never when `None`.
    pub seconds: Option<f64>,
}

/// The engine's own Lua: calls handlers and collects the steps of an error.
const PRELUDE: &str = include_str!("prelude.lua");

/// Exit code of a game that a script ended with `fatal`.
const FATAL: i32 = 3;

struct Console {
    start: Instant,
    closed: bool,
}

impl Console {
    fn say(&mut self, level: &str, who: &str, text: &str) {
        let line = format!("{:8.3} | {level:<5} | {who} | {text}\n", self.start.elapsed().as_secs_f64());
        let grave = matches!(level, "error" | "fatal" | "warn");
        let written = if grave { io::stderr().lock().write_all(line.as_bytes()) } else { io::stdout().lock().write_all(line.as_bytes()) };
        self.closed |= written.and_then(|()| io::stdout().flush()).is_err();
    }

    fn step(&mut self, text: &str) {
        self.closed |= writeln!(io::stderr().lock(), "         from {text}").is_err();
    }
}

/// Runs the scene until it ends; returns the exit code of the game.
///
/// # Errors
///
/// A sentence when the scene cannot be read at all.
pub fn run(settings: &Settings) -> Result<i32, String> {
    let path = settings.folder.join(&settings.scene);
    let text = std::fs::read_to_string(&path).map_err(|e| format!("cannot read the scene {}: {e}", settings.scene))?;
    let console = Rc::new(RefCell::new(Console { start: Instant::now(), closed: false }));
    let say = |level: &str, who: &str, text: &str| console.borrow_mut().say(level, who, text);
    say("note", "engine", &format!("marsh engine 0.3, {} ticks a second", settings.rate));
    let scene: Scene = match serde_json::from_str(&text) {
        Ok(scene) => scene,
        Err(e) => {
            say("fatal", "engine", &format!("{}:{}: the scene cannot be read: {e}", settings.scene, e.line()));
            return Ok(FATAL);
        }
    };
    say("note", "engine", &format!("scene “{}”, {} objects, {} cues", scene.title, scene.objects.len(), scene.cues.len()));
    say("note", "sound", "opening the default device");
    say("warn", "sound", "no device answers; sounds are played silently");
    say("note", "sound", "mixer ready, 0 of 16 channels in use");
    match play(settings, &scene, &console) {
        Ok(code) => Ok(code),
        Err(e) => {
            say("fatal", "engine", &first_line(&e.to_string()));
            Ok(FATAL)
        }
    }
}

struct Object {
    name: String,
    table: Table,
}

fn play(settings: &Settings, scene: &Scene, console: &Rc<RefCell<Console>>) -> mlua::Result<i32> {
    let lua = Lua::new_with(StdLib::ALL_SAFE, LuaOptions::default())?;
    let host = lua.create_table()?;
    let current = Rc::new(RefCell::new("engine".to_owned()));
    for level in ["print", "warn"] {
        let (console, current) = (console.clone(), current.clone());
        let says = lua.create_function(move |_, text: String| {
            console.borrow_mut().say(level, &current.borrow(), &text);
            Ok(())
        })?;
        host.set(level, says)?;
    }
    let fatal = Rc::new(RefCell::new(false));
    {
        let (console, current, fatal) = (console.clone(), current.clone(), fatal.clone());
        let failed = lua.create_function(move |lua, (message, ends): (String, bool)| {
            let mut console = console.borrow_mut();
            console.say(if ends { "fatal" } else { "error" }, &current.borrow(), &first_line(&message));
            let handler = current.borrow().rsplit('.').next().unwrap_or("").to_owned();
            for step in steps(lua, &handler) {
                console.step(&step);
            }
            *fatal.borrow_mut() |= ends;
            Ok(())
        })?;
        host.set("failed", failed)?;
    }
    let call: Function = lua.load(PRELUDE).set_name("@marsh-engine/loop.lua").call(host)?;
    let objects = load_objects(&lua, settings, scene, console)?;
    let tell = |who: &str, handler: &str| *current.borrow_mut() = format!("{who}.{handler}");
    for object in &objects {
        tell(&object.name, "begin");
        call.call::<()>((object.table.clone(), "begin", Value::Nil))?;
    }
    console.borrow_mut().say("note", "engine", "the game begins");
    let step = Duration::from_secs_f64(1.0 / f64::from(settings.rate.max(1)));
    let begun = Instant::now();
    let mut ticks = 0u32;
    loop {
        let now = begun.elapsed();
        if console.borrow().closed {
            return Ok(0);
        }
        if settings.seconds.is_some_and(|s| now.as_secs_f64() >= s) {
            console.borrow_mut().say("note", "engine", "the game ends");
            return Ok(0);
        }
        let game = f64::from(ticks) * step.as_secs_f64();
        for object in &objects {
            tell(&object.name, "tick");
            call.call::<()>((object.table.clone(), "tick", step.as_secs_f64()))?;
        }
        for cue in scene.cues.iter().filter(|c| c.is_due(game, step.as_secs_f64())) {
            run_cue(cue, &objects, &call, &tell, console)?;
        }
        if *fatal.borrow() {
            console.borrow_mut().say("note", "engine", "the game cannot go on");
            return Ok(FATAL);
        }
        ticks += 1;
        std::thread::sleep((step * ticks).saturating_sub(begun.elapsed()));
    }
}

/// The steps that led to the error that is being told, from the fault outwards.
///
/// A function without a name is the handler, which the engine calls by itself.
fn steps(lua: &Lua, handler: &str) -> Vec<String> {
    let step = |level: usize| {
        lua.inspect_stack(level, |at| {
            let source = at.source();
            let file = source.source.map(|s| s.trim_start_matches('@').to_owned()).filter(|_| source.what != "C");
            let called = if source.what == "main" { "the main part" } else { handler };
            let name = at.names().name.map_or_else(|| called.to_owned(), |n| n.into_owned());
            Some((file?, at.current_line()?, name))
        })
    };
    let told = (0..64).map_while(step).flatten().skip_while(|(file, ..)| file.starts_with("marsh-engine/"));
    told.map(|(file, line, name)| format!("{file}:{line} in {name}")).collect()
}

fn run_cue(cue: &Cue, objects: &[Object], call: &Function, tell: &dyn Fn(&str, &str), console: &Rc<RefCell<Console>>) -> mlua::Result<()> {
    let Some(object) = objects.iter().find(|o| o.name == cue.on) else {
        console.borrow_mut().say("warn", "engine", &format!("a cue calls {} on {}, which is not in the scene", cue.call, cue.on));
        return Ok(());
    };
    tell(&object.name, &cue.call);
    call.call::<()>((object.table.clone(), cue.call.as_str(), Value::Nil))
}

fn load_objects(lua: &Lua, settings: &Settings, scene: &Scene, console: &Rc<RefCell<Console>>) -> mlua::Result<Vec<Object>> {
    let mut scripts: HashMap<&str, Option<Table>> = HashMap::new();
    let mut objects = Vec::new();
    for described in &scene.objects {
        let name = format!("{}#{}", described.kind, described.id);
        if !scripts.contains_key(described.script.as_str()) {
            let loaded = load_script(lua, &settings.folder, &described.script);
            if let Err(message) = &loaded {
                console.borrow_mut().say("error", "engine", message);
            }
            scripts.insert(&described.script, loaded.ok());
        }
        let Some(class) = scripts.get(described.script.as_str()).and_then(Option::clone) else {
            console.borrow_mut().say("warn", "engine", &format!("{name} is left out: its script was not loaded"));
            continue;
        };
        let table = lua.create_table()?;
        for (key, value) in &described.with {
            table.set(key.as_str(), to_lua(lua, value)?)?;
        }
        table.set("id", described.id)?;
        let meta = lua.create_table()?;
        meta.set("__index", class)?;
        table.set_metatable(Some(meta))?;
        objects.push(Object { name, table });
    }
    Ok(objects)
}

fn load_script(lua: &Lua, folder: &Path, script: &str) -> Result<Table, String> {
    let text = std::fs::read_to_string(folder.join(script)).map_err(|_| format!("cannot open {script}: no such file"))?;
    let value = lua.load(&text).set_name(format!("@{script}")).eval::<Value>().map_err(|e| match &e {
        mlua::Error::SyntaxError { message, .. } => first_line(message),
        mlua::Error::RuntimeError(message) => first_line(message),
        other => first_line(&other.to_string()),
    })?;
    match value {
        Value::Table(class) => Ok(class),
        _ => Err(format!("{script} gives back no object: does it end with “return”?")),
    }
}

fn to_lua(lua: &Lua, value: &serde_json::Value) -> mlua::Result<Value> {
    use serde_json::Value as Json;
    Ok(match value {
        Json::Null => Value::Nil,
        Json::Bool(b) => Value::Boolean(*b),
        Json::Number(n) => n.as_i64().map_or_else(|| Value::Number(n.as_f64().unwrap_or(0.0)), Value::Integer),
        Json::String(s) => Value::String(lua.create_string(s)?),
        Json::Array(items) => {
            let table = lua.create_table()?;
            for (at, item) in items.iter().enumerate() {
                table.set(at + 1, to_lua(lua, item)?)?;
            }
            Value::Table(table)
        }
        Json::Object(fields) => {
            let table = lua.create_table()?;
            for (key, item) in fields {
                table.set(key.as_str(), to_lua(lua, item)?)?;
            }
            Value::Table(table)
        }
    })
}

fn first_line(text: &str) -> String {
    text.lines().next().unwrap_or("").to_owned()
}
