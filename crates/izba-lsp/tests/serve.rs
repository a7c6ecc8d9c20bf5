//! The server, talked to as an editor talks: what it tells while files are typed, while a program is
//! watched elsewhere, and how it ends.

use izba_lsp::{Options, Served, serve};
use izba_sources::{Command, CommandSpec, Store};
use izba_watch::{Order, Setup, Watch};
use lsp_server::{Connection, Message, Notification, Request, RequestId};
use serde_json::{Value, json};
use std::path::{Path, PathBuf};
use std::thread::JoinHandle;
use std::time::{Duration, Instant};

const BOUND: Duration = Duration::from_secs(60);

/// An editor with a folder open.
struct Editor {
    folder: tempfile::TempDir,
    connection: Connection,
    server: Option<JoinHandle<Result<Served, String>>>,
    requests: i32,
    /// The newest diagnostics of each file.
    told: std::collections::BTreeMap<String, Vec<Value>>,
    said: Vec<Value>,
}

impl Editor {
    fn open(files: &[(&str, &str)], client: Value) -> Editor {
        let folder = tempfile::tempdir().expect("a temporary folder");
        let root = folder.path().join("ferry");
        for (path, text) in files {
            let path = root.join(path);
            std::fs::create_dir_all(path.parent().expect("a folder")).expect("room");
            std::fs::write(path, text).expect("room");
        }
        let (connection, theirs) = Connection::memory();
        let store = Some(folder.path().join("store"));
        let options = Options { store, folder: None };
        let server = std::thread::spawn(move || serve(&theirs, options));
        let mut editor = Editor {
            folder,
            connection,
            server: Some(server),
            requests: 0,
            told: Default::default(),
            said: Vec::new(),
        };
        let mut params = json!({
            "workspaceFolders": [{ "uri": editor.uri(""), "name": "ferry" }],
            "capabilities": {},
        });
        params["capabilities"] = client;
        editor.ask("initialize", params);
        editor.note("initialized", json!({}));
        editor
    }

    fn root(&self) -> PathBuf {
        self.folder.path().join("ferry").canonicalize().expect("it is there")
    }

    fn uri(&self, file: &str) -> String {
        format!("file://{}", self.root().join(file).display()).trim_end_matches('/').to_owned()
    }

    fn note(&self, method: &str, params: Value) {
        let note = Notification { method: method.into(), params };
        self.connection.sender.send(note.into()).expect("it listens");
    }

    #[track_caller]
    fn ask(&mut self, method: &str, params: Value) -> Value {
        self.requests += 1;
        let id = RequestId::from(self.requests);
        let request = Request { id: id.clone(), method: method.into(), params };
        self.connection.sender.send(request.into()).expect("it listens");
        let begun = Instant::now();
        while begun.elapsed() < BOUND {
            match self.connection.receiver.recv_timeout(Duration::from_millis(100)) {
                Ok(Message::Response(response)) if response.id == id => {
                    return match response.error {
                        Some(error) => json!({ "error": error.code, "says": error.message }),
                        None => response.result.unwrap_or_default(),
                    };
                }
                Ok(message) => self.hear(message),
                Err(_) => {}
            }
        }
        panic!("{method} is not answered");
    }

    fn hear(&mut self, message: Message) {
        let Message::Notification(note) = message else { return };
        if note.method == "textDocument/publishDiagnostics" {
            let uri = note.params["uri"].as_str().unwrap_or("").to_owned();
            let file = uri.rsplit("/ferry/").next().unwrap_or("").to_owned();
            let all = note.params["diagnostics"].as_array().cloned().unwrap_or_default();
            self.told.insert(file, all);
        } else {
            self.said.push(json!({ "method": note.method, "params": note.params }));
        }
    }

    /// Waits until `enough` is true of what is told of a file; gives it.
    #[track_caller]
    fn wait(&mut self, file: &str, what: &str, enough: impl Fn(&[Value]) -> bool) -> Vec<Value> {
        let begun = Instant::now();
        loop {
            let told = self.told.get(file).cloned().unwrap_or_default();
            if enough(&told) {
                return told;
            }
            assert!(begun.elapsed() < BOUND, "waited in vain for {what}: {:?}", self.told);
            if let Ok(message) = self.connection.receiver.recv_timeout(Duration::from_millis(100)) {
                self.hear(message);
            }
        }
    }

    fn type_in(&self, file: &str, text: &str) {
        let document =
            json!({ "uri": self.uri(file), "languageId": "", "version": 1, "text": text });
        self.note("textDocument/didOpen", json!({ "textDocument": document }));
    }

    #[track_caller]
    fn actions(&mut self, file: &str, told: &Value) -> Vec<Value> {
        let params = json!({
            "textDocument": { "uri": self.uri(file) },
            "range": told["range"],
            "context": { "diagnostics": [told] },
        });
        let found = self.ask("textDocument/codeAction", params);
        found.as_array().cloned().unwrap_or_default()
    }

    #[track_caller]
    fn end(mut self) -> Served {
        assert_eq!(self.ask("shutdown", Value::Null), Value::Null);
        assert_eq!(self.ask("textDocument/hover", json!({}))["error"], -32600);
        self.note("exit", Value::Null);
        let server = self.server.take().expect("it runs");
        server.join().expect("no panic").expect("a conversation")
    }

    /// Watches a program of the project elsewhere, as the screen does.
    fn watch(&self, words: &[&str]) -> Watch {
        let command = Command::new(CommandSpec {
            words: words.iter().map(Into::into).collect(),
            folder: self.root(),
            environment: Vec::new(),
            pipes: true,
            inherit_input: false,
        });
        let store = Store::open(Some(self.folder.path().join("store"))).expect("room");
        let session = store.session().expect("room");
        let command = Box::new(command.expect("it is there"));
        let setup = Setup::new(self.root(), session, vec![("quay".into(), command)]);
        Watch::start(setup).expect("it starts")
    }
}

fn line_of(told: &Value) -> u64 {
    told["range"]["start"]["line"].as_u64().expect("a line")
}

#[test]
fn what_cannot_be_read_is_told_while_it_is_typed_with_its_edit_and_goes_with_it() {
    let mut editor = Editor::open(&[("tide.lua", "local tide = 1\nprint(tide)\n")], json!({}));
    editor.type_in("tide.lua", "local tide = { '🜚', 2\nprint(tide)\n");
    let told = editor.wait("tide.lua", "the fault", |told| !told.is_empty());
    assert_eq!((told.len(), told[0]["severity"].as_u64()), (1, Some(1)), "{told:?}");
    assert_eq!(told[0]["source"], "izba");
    // Sixteen-bit units: the sign takes two.
    assert_eq!(told[0]["range"]["end"]["character"], 22, "{told:?}");
    let actions = editor.actions("tide.lua", &told[0]);
    let edit = &actions[0]["edit"]["changes"][editor.uri("tide.lua")][0];
    assert!(edit["newText"].as_str().is_some_and(|t| t.contains('}')), "{actions:?}");
    let change = json!({
        "textDocument": { "uri": editor.uri("tide.lua"), "version": 2 },
        "contentChanges": [{ "range": edit["range"], "text": edit["newText"] }],
    });
    editor.note("textDocument/didChange", change);
    editor.wait("tide.lua", "that it is gone", <[Value]>::is_empty);
    // What is not saved and not shown any more is as it lies on the disk.
    let closed = json!({ "textDocument": { "uri": editor.uri("tide.lua") } });
    editor.note("textDocument/didClose", closed);
    assert_eq!(editor.end(), Served::Asked);
}

/// A program that reads a list one too far, and what its console says.
const QUAY: &str = "local boats = { 'Wren', 'Smew' }\nfor berth = 0, #boats do\n  local boat = \
    boats[berth]\n  print(boat:upper())\nend\n";
const SAYS: &str = "lua5.4: quay.lua:4: attempt to index a nil value (local 'boat')";

#[test]
fn errors_of_a_program_that_is_watched_elsewhere_are_told_at_the_guilty_line_until_they_are_gone() {
    let mut editor = Editor::open(
        &[("quay.lua", QUAY)],
        json!({ "general": { "positionEncodings": ["utf-8", "utf-16"] } }),
    );
    let watch = editor.watch(&["sh", "-c", &format!("echo \"{SAYS}\" >&2; exec sleep 600")]);
    let guilty = |told: &[Value]| told.iter().any(|t| line_of(t) == 1);
    let told = editor.wait("quay.lua", "the guilty line", guilty);
    assert_eq!(told.len(), 1, "{told:?}");
    let message = told[0]["message"].as_str().unwrap_or("");
    assert!(message.contains("The console says: attempt to index a nil value"), "{message}");
    let related = told[0]["relatedInformation"].as_array().expect("other places");
    assert!(related.iter().any(|r| r["location"]["range"]["start"]["line"] == 3), "{related:?}");
    // What it means, how often it struck, what can be done.
    let at = json!({ "textDocument": { "uri": editor.uri("quay.lua") }, "position": { "line": 1, "character": 4 } });
    let hover = editor.ask("textDocument/hover", at);
    assert!(hover["contents"]["value"].as_str().is_some_and(|t| t.starts_with("**")), "{hover}");
    let lenses = editor
        .ask("textDocument/codeLens", json!({ "textDocument": { "uri": editor.uri("quay.lua") } }));
    assert_eq!(lenses[0]["command"]["title"], "struck once in this run · quay");
    let actions = editor.actions("quay.lua", &told[0]);
    let titles: Vec<&str> = actions.iter().filter_map(|a| a["title"].as_str()).collect();
    assert!(titles[0].contains("for berth = 1, #boats do"), "{titles:?}");
    let edit = &actions[0]["edit"]["changes"][editor.uri("quay.lua")][0];
    assert_eq!(edit["newText"], "for berth = 1, #boats do\n");
    // One suspect after the other is ruled out: each time the one that is told.
    let ruled = actions.iter().find(|a| a["title"] == "Rule out quay.lua:2: it is innocent");
    let ruled = ruled.expect("it is offered")["command"].clone();
    editor.ask("workspace/executeCommand", ruled.clone());
    editor.wait("quay.lua", "that it is ruled out", |told| !guilty(told) && !told.is_empty());
    let known = |watch: &Watch| watch.published().known.len();
    assert_eq!(known(&watch), 1);
    editor.ask("workspace/executeCommand", ruled);
    let begun = Instant::now();
    while known(&watch) < 2 && begun.elapsed() < BOUND {
        std::thread::yield_now();
    }
    assert_eq!(known(&watch), 2, "the next one");
    watch.order(Order::Undo);
    watch.order(Order::Undo);
    editor.wait("quay.lua", "that it is accused again", guilty);
    // Once the line is another one, nothing is accused that may be mended.
    editor.type_in("quay.lua", &QUAY.replace("berth = 0", "berth = 1"));
    let told = editor.wait("quay.lua", "that it may be mended", |told| {
        told.first().is_some_and(|t| t["severity"] == 3)
    });
    assert!(editor.actions("quay.lua", &told[0]).iter().all(|a| a["edit"].is_null()));
    // Set aside here, it is set aside there.
    let aside = editor.actions("quay.lua", &told[0]);
    let aside = aside.iter().find(|a| a["title"] == "Set this error aside").expect("it is offered");
    editor.ask("workspace/executeCommand", aside["command"].clone());
    editor.wait("quay.lua", "that it is set aside", <[Value]>::is_empty);
    assert!(watch.published().snapshot.groups.iter().all(|g| g.muted), "there too");
    watch.end();
    let late = editor.ask("workspace/executeCommand", aside["command"].clone());
    assert_eq!(late, Value::Null, "and nobody is there any more");
    assert_eq!(editor.end(), Served::Asked);
}

#[test]
fn what_is_not_understood_is_said_and_hurts_nobody() {
    let mut editor = Editor::open(&[("tide.lua", "print(1)\n")], json!({}));
    assert_eq!(editor.ask("textDocument/nothing", json!({}))["error"], -32601);
    assert_eq!(editor.ask("textDocument/codeAction", json!({ "range": 4 }))["error"], -32602);
    editor.note("textDocument/didOpen", json!({ "textDocument": [] }));
    editor.note(
        "textDocument/didChange",
        json!({ "textDocument": { "uri": "file:///none", "version": 3 }, "contentChanges": [] }),
    );
    // Outside of the project, and no file at all.
    for uri in ["file:///etc/hosts", "untitled:one", "https://127.0.0.1/a.lua"] {
        let lens = json!({ "textDocument": { "uri": uri } });
        assert_eq!(editor.ask("textDocument/codeLens", lens), json!([]), "{uri}");
    }
    let command = json!({ "command": "izba.ask", "arguments": [{ "session": "/none", "request": { "set_aside": 1 } }] });
    assert_eq!(editor.ask("workspace/executeCommand", command), Value::Null);
    let warned = |said: &Value| said["method"] == "window/showMessage";
    let sentence = editor.said.iter().find(|s| warned(s)).expect("it is said");
    let message = sentence["params"]["message"].as_str().unwrap_or("");
    assert!(message.contains("nobody watches this project"), "{message}");
    assert_eq!(editor.end(), Served::Asked);
    let editor = Editor::open(&[("tide.lua", "print(1)\n")], json!({}));
    let Editor { connection, server, .. } = editor;
    drop(connection);
    let served = server.expect("it runs").join().expect("no panic");
    assert_eq!(served, Ok(Served::Gone), "an editor that is gone ends it");
}

#[test]
fn two_folders_are_told_apart_and_one_that_is_closed_is_told_no_more() {
    let broken = "local tide = (1\n";
    let mut editor = Editor::open(&[("tide.lua", broken), ("inner/pier.lua", broken)], json!({}));
    editor.wait("tide.lua", "the fault", |told| !told.is_empty());
    let folder = json!({ "uri": editor.uri(""), "name": "ferry" });
    let event = |added: &[Value], removed: &[Value]| json!({ "event": { "added": added, "removed": removed } });
    editor.note("workspace/didChangeWorkspaceFolders", event(&[], std::slice::from_ref(&folder)));
    editor.wait("tide.lua", "that it is closed", <[Value]>::is_empty);
    editor.note("workspace/didChangeWorkspaceFolders", event(&[folder], &[]));
    editor.wait("inner/pier.lua", "the fault in the folder", |told| told.len() == 1);
    assert!(Path::new(&editor.root()).is_dir());
    assert_eq!(editor.end(), Served::Asked);
}
