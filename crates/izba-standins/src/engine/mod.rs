//! The stand-in engine: runs a scene of objects whose scripts are real Lua, and talks as engines
//! do.
//!
//! It loads a scene, gives each object its script, and calls `begin` once and `tick` many times a
//! second; cues and a scripted player call other handlers at their time. An error in a handler is
//! told and the game goes on; a fatal one ends it. A script that is saved while the game runs is
//! read again.

mod adapter;
mod console;
mod noise;
mod scene;

use adapter::Adapter;
pub use console::Form;
use console::{Console, Step};
use mlua::{Function, Lua, LuaOptions, StdLib, Table, Value};
use noise::Noise;
use scene::{Deed, Described, Scene, tick_of};
use std::cell::RefCell;
use std::collections::BTreeMap;
use std::path::{Path, PathBuf};
use std::rc::Rc;
use std::time::{Duration, Instant, SystemTime};

/// How to run a scene.
#[derive(Debug, Clone)]
pub struct Settings {
    /// The project's folder.
    pub folder: PathBuf,
    /// The scene file in it.
    pub scene: String,
    /// Ticks a second.
    pub rate: u32,
    /// Ends after so many seconds of game time; never when `None`.
    pub seconds: Option<f64>,
    /// A file in the folder that says what the player does.
    pub play: Option<String>,
    /// Begins the random numbers of scripts and of the engine's own noise.
    pub seed: u64,
    /// The form of what is printed.
    pub form: Form,
    /// Runs as fast as it can; times told are those of the game.
    pub hurried: bool,
    /// Where its debug adapter is reached: an address, or `stdio`; nowhere when `None`.
    pub adapter: Option<String>,
}

impl Settings {
    /// A scene in `folder` as it is usually run.
    pub fn new(folder: PathBuf) -> Settings {
        Settings {
            folder,
            scene: "scene.json".into(),
            rate: 30,
            seconds: None,
            play: None,
            seed: 1,
            form: Form::Lines,
            hurried: false,
            adapter: None,
        }
    }
}

/// The engine's own Lua.
const PRELUDE: &str = include_str!("prelude.lua");

/// Exit code of a game that a script ended with `fatal`.
const FATAL: i32 = 3;

/// Seconds of game time between two looks at the scripts' files.
const LOOK: f64 = 0.5;

/// Runs the scene until it ends; returns the exit code of the game.
///
/// # Errors
///
/// A sentence when the scene or the player's file cannot be read at all.
pub fn run(settings: &Settings) -> Result<i32, String> {
    let read = |name: &str, what: &str| {
        std::fs::read_to_string(settings.folder.join(name))
            .map_err(|e| format!("cannot read the {what} {name}: {e}"))
    };
    let text = read(&settings.scene, "scene")?;
    let deeds: Vec<Deed> = match &settings.play {
        Some(play) => serde_json::from_str(&read(play, "player's file")?)
            .map_err(|e| format!("{play}:{}: the player cannot follow it: {e}", e.line()))?,
        None => Vec::new(),
    };
    let adapter =
        settings.adapter.as_deref().map(|at| Adapter::serve(at, &settings.folder)).transpose()?;
    let mut console = Console::new(settings.form);
    if settings.adapter.as_deref() == Some("stdio") {
        console.adapter = adapter.clone();
    }
    console.game_time = settings.hurried.then_some(0.0);
    console.say(
        "note",
        "engine",
        &format!("marsh engine 0.4, {} ticks a second, seed {}", settings.rate, settings.seed),
    );
    let scene: Scene = match serde_json::from_str(&text) {
        Ok(scene) => scene,
        Err(e) => {
            console.say(
                "fatal",
                "engine",
                &format!("{}:{}: the scene cannot be read: {e}", settings.scene, e.line()),
            );
            return Ok(FATAL);
        }
    };
    console.say(
        "note",
        "engine",
        &format!(
            "scene “{}”, {} objects, {} cues",
            scene.title,
            scene.objects.len(),
            scene.cues.len()
        ),
    );
    Noise::opening(&mut console);
    let console = Rc::new(RefCell::new(console));
    let played = Game::new(settings, &scene, console.clone(), adapter.clone())
        .and_then(|mut game| game.play(&deeds));
    let code = played.unwrap_or_else(|e| {
        console.borrow_mut().say("fatal", "engine", first_line(&e.to_string()));
        FATAL
    });
    if let Some(adapter) = adapter {
        adapter.over(code);
    }
    Ok(code)
}

struct Game<'a> {
    settings: &'a Settings,
    scene: &'a Scene,
    console: Rc<RefCell<Console>>,
    lua: Lua,
    engine: Table,
    fatal: Rc<RefCell<bool>>,
    /// The scripts of the scene with the time of their last change; `None` while one could not be
    /// loaded.
    scripts: BTreeMap<&'a str, (Option<SystemTime>, bool)>,
    /// Objects that stand in the scene, by their place in its file.
    placed: Vec<bool>,
    /// The debug adapter, with its part in Lua.
    adapter: Option<(Rc<Adapter>, Table)>,
}

impl<'a> Game<'a> {
    fn new(
        settings: &'a Settings,
        scene: &'a Scene,
        console: Rc<RefCell<Console>>,
        adapter: Option<Rc<Adapter>>,
    ) -> mlua::Result<Game<'a>> {
        let lua = match &adapter {
            // SAFETY: what is unsafe of the libraries is `debug` alone; the adapter's own Lua gets
            // it, and no script does.
            Some(_) => unsafe {
                Lua::unsafe_new_with(StdLib::ALL_SAFE | StdLib::DEBUG, LuaOptions::default())
            },
            None => Lua::new_with(StdLib::ALL_SAFE, LuaOptions::default())?,
        };
        let fatal = Rc::new(RefCell::new(false));
        let current = Rc::new(RefCell::new(("engine".to_owned(), String::new())));
        let host = host(&lua, settings, &console, &fatal, &current)?;
        let engine: Table = lua.load(PRELUDE).set_name("@marsh-engine/loop.lua").call(host)?;
        let adapter = match adapter {
            Some(adapter) => {
                let api = adapter.load(&lua, &engine, move || current.borrow().1.clone())?;
                engine.get::<Function>("looked_at")?.call::<()>(&api)?;
                Some((adapter, api))
            }
            None => None,
        };
        lua.load(format!("math.randomseed({})", settings.seed)).exec()?;
        let pictures = lua.create_table()?;
        for (name, picture) in &scene.pictures {
            let described = lua.create_table()?;
            described.set("size", vec![picture.size.0, picture.size.1])?;
            described.set("opaque", picture.opaque)?;
            described.set("solid", picture.solid)?;
            pictures.set(name.as_str(), described)?;
        }
        engine.get::<Function>("drawn")?.call::<()>((scene.layers.clone(), pictures))?;
        let placed = vec![false; scene.objects.len()];
        Ok(Game {
            settings,
            scene,
            console,
            lua,
            engine,
            fatal,
            scripts: BTreeMap::new(),
            placed,
            adapter,
        })
    }

    fn say(&self, level: &str, who: &str, text: &str) {
        self.console.borrow_mut().say(level, who, text);
    }

    fn play(&mut self, deeds: &[Deed]) -> mlua::Result<i32> {
        let new = self.place_objects()?;
        self.begin(new)?;
        self.say("note", "engine", "the game begins");
        let rate = f64::from(self.settings.rate.max(1));
        let step = 1.0 / rate;
        let mut noise = Noise::new(self.settings.seed);
        let (begun, tick) = (Instant::now(), self.engine.get::<Function>("tick")?);
        for ticks in 0u32.. {
            let now = f64::from(ticks) * step;
            if self.settings.hurried {
                self.console.borrow_mut().game_time = Some(now);
            }
            if self.console.borrow().closed {
                return Ok(0);
            }
            if self.settings.seconds.is_some_and(|s| now >= s) {
                self.say("note", "engine", "the game ends");
                return Ok(0);
            }
            if let Some((adapter, api)) = &self.adapter {
                if adapter.is_ending() {
                    self.say("note", "engine", "the game is ended");
                    return Ok(0);
                }
                if adapter.has_changed() {
                    api.get::<Function>("refresh")?.call::<()>(())?;
                }
            }
            tick.call::<()>(step)?;
            for cue in self.scene.cues.iter().filter(|c| c.is_due(ticks, rate)) {
                if !self
                    .engine
                    .get::<Function>("call")?
                    .call::<bool>((cue.on.as_str(), cue.call.as_str()))?
                {
                    self.say(
                        "warn",
                        "engine",
                        &format!(
                            "a cue calls {} on {}, which is not in the scene",
                            cue.call, cue.on
                        ),
                    );
                }
            }
            for deed in deeds.iter().filter(|d| tick_of(d.at, rate) == u64::from(ticks)) {
                self.act(deed)?;
            }
            noise.at(ticks, rate, &mut self.console.borrow_mut());
            if *self.fatal.borrow() {
                self.say("note", "engine", "the game cannot go on");
                return Ok(FATAL);
            }
            if !self.settings.hurried {
                if u64::from(ticks).is_multiple_of(tick_of(LOOK, rate).max(1)) {
                    self.read_again()?;
                }
                // While a script is stopped the game's time stands still.
                let stood = self
                    .adapter
                    .as_ref()
                    .map_or(Duration::ZERO, |(adapter, _)| adapter.stood.get());
                std::thread::sleep(
                    (Duration::from_secs_f64(f64::from(ticks + 1) * step) + stood)
                        .saturating_sub(begun.elapsed()),
                );
            }
        }
        Ok(0)
    }

    fn act(&self, deed: &Deed) -> mlua::Result<()> {
        if let Some(name) = &deed.touch {
            self.say("note", "player", &format!("touches {name}"));
            if !self.engine.get::<Function>("touch")?.call::<bool>(name.as_str())? {
                self.say("note", "player", &format!("there is no {name} to touch"));
            }
        }
        if let Some(name) = &deed.look {
            let seen = self.engine.get::<Function>("sees")?.call::<bool>(name.as_str())?;
            self.say(
                "note",
                "player",
                &if seen {
                    format!("looks for {name} and sees it")
                } else {
                    format!("looks for {name} and sees nothing")
                },
            );
        }
        Ok(())
    }

    /// Puts objects whose scripts load into the scene; gives those that were not there before.
    fn place_objects(&mut self) -> mlua::Result<Vec<Table>> {
        let (mut new, scene) = (Vec::new(), self.scene);
        for (at, described) in scene.objects.iter().enumerate() {
            let name = format!("{}#{}", described.kind, described.id);
            if !self.scripts.contains_key(described.script.as_str()) {
                let loaded = self.load(&described.script)?;
                self.scripts.insert(
                    &described.script,
                    (changed(&self.settings.folder.join(&described.script)), loaded),
                );
            }
            if self.scripts[described.script.as_str()].1 {
                if !self.placed[at] {
                    self.placed[at] = true;
                    let object = self.object(described)?;
                    new.push(
                        self.engine
                            .get::<Function>("place")?
                            .call((object, described.script.as_str()))?,
                    );
                }
            } else {
                self.say(
                    "warn",
                    "engine",
                    &format!("{name} is left out: its script was not loaded"),
                );
            }
        }
        Ok(new)
    }

    fn begin(&self, objects: Vec<Table>) -> mlua::Result<()> {
        let begin: Function = self.engine.get("begin")?;
        objects.into_iter().try_for_each(|object| begin.call(object))
    }

    /// Reads scripts again that were saved since.
    fn read_again(&mut self) -> mlua::Result<()> {
        let mut any = false;
        for script in self.scripts.keys().copied().collect::<Vec<_>>() {
            let now = changed(&self.settings.folder.join(script));
            if self.scripts[script].0 == now {
                continue;
            }
            let loaded = self.load(script)?;
            if loaded {
                self.say("note", "engine", &format!("{script} was saved and is read again"));
                if let Some((adapter, _)) = &self.adapter {
                    adapter.reread(script);
                }
            }
            any |= loaded;
            let before = self.scripts[script].1;
            self.scripts.insert(script, (now, loaded || before));
        }
        if any {
            let new = self.place_objects()?;
            self.begin(new)?;
        }
        Ok(())
    }

    /// Loads a script and hands its class to the engine; what is wrong with it is told.
    fn load(&self, script: &str) -> mlua::Result<bool> {
        match load_class(&self.lua, &self.settings.folder, script) {
            Ok(class) => {
                self.engine.get::<Function>("class")?.call::<()>((script, class)).map(|()| true)
            }
            Err(message) => {
                self.say("error", "engine", &message);
                Ok(false)
            }
        }
    }

    fn object(&self, described: &Described) -> mlua::Result<Table> {
        let table = self.lua.create_table()?;
        for (key, value) in &described.with {
            table.set(key.as_str(), to_lua(&self.lua, value)?)?;
        }
        table.set("kind", described.kind.as_str())?;
        table.set("id", described.id)?;
        table.set("picture", described.picture.as_deref())?;
        table.set("layer", described.layer.as_deref())?;
        table.set("visible", described.visible)?;
        table.set("x", described.at.0)?;
        table.set("y", described.at.1)?;
        let handlers: BTreeMap<&str, &str> =
            described.handlers.iter().map(|(k, v)| (k.as_str(), v.as_str())).collect();
        table.set("handlers", handlers)?;
        Ok(table)
    }
}

/// Of so many ticks that fail one is followed by a warning.
const STILL: u32 = 15;

/// What the engine's own Lua may ask of the engine.
fn host(
    lua: &Lua,
    settings: &Settings,
    console: &Rc<RefCell<Console>>,
    fatal: &Rc<RefCell<bool>>,
    current: &Rc<RefCell<(String, String)>>,
) -> mlua::Result<Table> {
    let host = lua.create_table()?;
    let who = |current: &RefCell<(String, String)>| {
        let (object, handler) = &*current.borrow();
        if handler.is_empty() { object.clone() } else { format!("{object}.{handler}") }
    };
    let (voice, whose) = (console.clone(), current.clone());
    let say = lua.create_function(move |_, (level, text): (String, String)| {
        voice.borrow_mut().say(&level, &who(&whose), &text);
        Ok(())
    })?;
    host.set("say", say)?;
    let (voice, whose) = (console.clone(), current.clone());
    let walked = lua.create_function(move |lua, text: String| {
        let path = steps(lua, &whose.borrow().1);
        voice.borrow_mut().tell("note", &who(&whose), &text, &path);
        Ok(())
    })?;
    host.set("steps", walked)?;
    let (voice, whose, fatal) = (console.clone(), current.clone(), fatal.clone());
    let still: RefCell<BTreeMap<String, u32>> = RefCell::default();
    let failed = lua.create_function(move |lua, (message, ends): (String, bool)| {
        let path = steps(lua, &whose.borrow().1);
        voice.borrow_mut().tell(
            if ends { "fatal" } else { "error" },
            &who(&whose),
            first_line(&message),
            &path,
        );
        // What fails at every turn is not drawn any more either: the engine says so now and then.
        if whose.borrow().1 == "tick" {
            let mut still = still.borrow_mut();
            let times = still.entry(who(&whose)).or_default();
            *times += 1;
            if times.is_multiple_of(STILL) {
                voice.borrow_mut().say(
                    "warn",
                    &who(&whose),
                    "it is drawn as it was: its tick does not get to its end",
                );
            }
        }
        *fatal.borrow_mut() |= ends;
        Ok(())
    })?;
    host.set("failed", failed)?;
    let set = current.clone();
    host.set(
        "who",
        lua.create_function(move |_, names: (String, String)| {
            *set.borrow_mut() = names;
            Ok(())
        })?,
    )?;
    let whose = current.clone();
    host.set("whose", lua.create_function(move |_, ()| Ok(whose.borrow().clone()))?)?;
    let folder = settings.folder.clone();
    host.set(
        "text",
        lua.create_function(move |_, path: String| {
            Ok(std::fs::read_to_string(folder.join(path)).ok())
        })?,
    )?;
    Ok(host)
}

/// The steps that led here, from the fault outwards.
///
/// A function without a name is the handler, which the engine calls by itself.
fn steps(lua: &Lua, handler: &str) -> Vec<Step> {
    let step = |level: usize| {
        lua.inspect_stack(level, |at| {
            let source = at.source();
            let file = source
                .source
                .map(|s| s.trim_start_matches('@').to_owned())
                .filter(|_| source.what != "C");
            let called = if source.what == "main" { "the main part" } else { handler };
            let name = at.names().name.map_or_else(|| called.to_owned(), |n| n.into_owned());
            Some(Step { file: file?, line: at.current_line()?, name })
        })
    };
    (0..64)
        .map_while(step)
        .flatten()
        .skip_while(|step| step.file.starts_with("marsh-engine/"))
        .collect()
}

fn changed(path: &Path) -> Option<SystemTime> {
    std::fs::metadata(path).and_then(|m| m.modified()).ok()
}

fn load_class(lua: &Lua, folder: &Path, script: &str) -> Result<Table, String> {
    let text = std::fs::read_to_string(folder.join(script))
        .map_err(|_| format!("cannot open {script}: no such file"))?;
    let value =
        lua.load(&text).set_name(format!("@{script}")).eval::<Value>().map_err(|e| match &e {
            mlua::Error::SyntaxError { message, .. } | mlua::Error::RuntimeError(message) => {
                first_line(message).to_owned()
            }
            other => {
                let text = other.to_string();
                first_line(text.strip_prefix("runtime error: ").unwrap_or(&text)).to_owned()
            }
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
        Json::Number(n) => {
            n.as_i64().map_or_else(|| Value::Number(n.as_f64().unwrap_or(0.0)), Value::Integer)
        }
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

fn first_line(text: &str) -> &str {
    text.lines().next().unwrap_or("")
}
