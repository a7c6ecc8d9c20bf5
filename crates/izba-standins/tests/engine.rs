//! The stand-in engine behaves as engines do: faults appear because they are in the scripts,
//! wherever they stand.

use std::io::{BufRead, BufReader};
use std::process::{Command, Stdio};

/// Runs a scene for a moment and gives exit code, output and errors. The engine is started as its
/// own process, since it writes to the standard streams.
fn play(files: &[(&str, &str)], seconds: &str) -> (i32, String, String) {
    let folder = tempfile::tempdir().expect("a temporary folder");
    for (name, text) in files {
        let path = folder.path().join(name);
        std::fs::create_dir_all(path.parent().expect("it lies in a folder")).expect("room");
        std::fs::write(path, text).expect("room");
    }
    let out = Command::new(env!("CARGO_BIN_EXE_night-ferry"))
        .arg("engine")
        .arg(folder.path())
        .args(["--seconds", seconds])
        .output()
        .expect("the engine");
    let text = |bytes: &[u8]| String::from_utf8_lossy(bytes).into_owned();
    (out.status.code().unwrap_or(-1), text(&out.stdout), text(&out.stderr))
}

const SCENE: &str = r#"{"title":"Test","objects":[{"kind":"Buoy","id":4,"script":"s/buoy.lua","with":{"rope":3}}],"cues":[{"at":0.1,"call":"sink","on":"Buoy#4"}]}"#;

/// Error lines without their time.
fn told(errors: &str) -> Vec<String> {
    errors
        .lines()
        .map(|l| l.split_once("| ").map_or(l.trim(), |(_, rest)| rest).to_owned())
        .collect()
}

#[test]
fn a_fault_under_another_name_in_another_file_is_told_with_its_own_line() {
    let script = "local Buoy = {}\n\n\nfunction Buoy:tick(dt)\n  self:drift(dt)\nend\n\nfunction \
        Buoy:drift(dt)\n  local links = self.chain.links\n  return links\nend\n\nreturn \
        Buoy\n";
    let (code, _, errors) = play(&[("scene.json", SCENE), ("s/buoy.lua", script)], "0.05");
    assert_eq!(code, 0, "an error does not end the game");
    let told = told(&errors);
    let at = told.iter().position(|l| {
        l == "error | Buoy#4.tick | s/buoy.lua:9: attempt to index a nil value (field 'chain')"
    });
    let at = at.unwrap_or_else(|| panic!("{told:?}"));
    assert_eq!(told[at + 1], "from s/buoy.lua:9 in drift");
    assert_eq!(told[at + 2], "from s/buoy.lua:5 in tick");
    assert!(told[at + 3].starts_with("from marsh-engine/"), "{told:?}");
    // Lines above it: the number follows. The fault away: it is gone.
    let (_, _, moved) = play(
        &[("scene.json", SCENE), ("s/buoy.lua", &format!("-- one\n-- two\n{script}"))],
        "0.05",
    );
    assert!(moved.contains("s/buoy.lua:11: attempt"), "{moved}");
    let (_, _, mended) = play(
        &[("scene.json", SCENE), ("s/buoy.lua", &script.replace("self.chain.links", "self.rope"))],
        "0.05",
    );
    assert!(!mended.contains("error"), "{mended}");
}

#[test]
fn a_cue_calls_its_handler_at_its_time_and_fatal_ends_the_game() {
    let script = "local Buoy = {}\nfunction Buoy:begin()\n  warn('rope', self.rope)\nend\nfunction \
        Buoy:sink()\n  fatal('the buoy has sunk')\nend\nreturn Buoy\n";
    let (code, output, errors) = play(&[("scene.json", SCENE), ("s/buoy.lua", script)], "5");
    assert_eq!(code, 3);
    assert!(told(&errors).contains(&"warn  | Buoy#4.begin | rope 3".to_owned()), "{errors}");
    assert!(
        told(&errors).contains(&"fatal | Buoy#4.sink | the buoy has sunk".to_owned()),
        "{errors}"
    );
    assert!(output.contains("the game cannot go on"), "{output}");
}

#[test]
fn what_cannot_be_loaded_is_told_and_the_rest_goes_on() {
    let unread = "local Buoy = {}\nfunction Buoy:tick()\n  if true then\nend\nreturn Buoy\n";
    let errors = |files: &[(&str, &str)]| play(files, "0.03").2;
    let said = errors(&[("scene.json", SCENE), ("s/buoy.lua", unread)]);
    assert!(
        said.contains("s/buoy.lua:6: 'end' expected (to close 'function' at line 2) near <eof>"),
        "{said}"
    );
    assert!(errors(&[("scene.json", SCENE)]).contains("cannot open s/buoy.lua: no such file"));
    assert!(
        errors(&[("scene.json", SCENE), ("s/buoy.lua", "local x = 1\n")])
            .contains("does it end with “return”?")
    );
    let (code, _, broken) = play(&[("scene.json", "{\n  \"title\": \"x\",\n}")], "0.03");
    assert_eq!(code, 3);
    assert!(broken.contains("scene.json:3: the scene cannot be read"), "{broken}");
}

/// A game in which everything happens: routines that wait, scripts brought in, objects that meet
/// and part, a player.
const WORLD: &[(&str, &str)] = &[
    (
        "scene.json",
        r#"{"title":"All","layers":["far","near"],"pictures":{"hull":{"size":[10,4],"solid":true},"sail":{"size":[40,40],"opaque":true}},
        "objects":[
          {"kind":"Boat","id":1,"script":"boat.lua","picture":"hull","layer":"far","at":[0,0],"handlers":{"touch":"greet"}},
          {"kind":"Boat","id":2,"script":"boat.lua","picture":"hull","layer":"far","at":[30,0]},
          {"kind":"Sail","id":1,"script":"sail.lua","picture":"sail","layer":"near","at":[30,0],"visible":false}],
        "cues":[{"at":0.2,"every":0.3,"call":"row","on":"Boat#1"},{"at":0.5,"call":"rest","on":"Oar#1"}]}"#,
    ),
    (
        "boat.lua",
        "local Boat = {}\nlocal knots = bring('knots.lua')\nfunction Boat:row()\n  self.x \
            = self.x + 15\n  routine(self.count, self)\nend\nfunction Boat:count()\n  \
            wait(0.1)\n  print('rowed to', self.x, knots.name)\n  if self.x > 40 then\n    \
            local depth = self.depth.metres\n  end\nend\nfunction Boat:bump(other)\n  \
            print('meets', other.id)\nend\nfunction Boat:part(other)\n  steps('leaves ' .. \
            other.id)\nend\nfunction Boat:greet()\n  find('Sail').visible = true\n  \
            error('nobody is home')\nend\nreturn Boat\n",
    ),
    ("knots.lua", "return { name = 'by ' .. #'four' .. ' knots' }\n"),
    (
        "sail.lua",
        "local Sail = {}\nfunction Sail:begin()\n  warn('the sail is torn')\nend\nreturn Sail\n",
    ),
    (
        "player.json",
        r#"[{"at":0.1,"look":"Boat#2"},{"at":0.4,"touch":"Boat#1"},{"at":0.6,"look":"Boat#2"},{"at":0.7,"touch":"Oar#3"}]"#,
    ),
];

fn all(form: &str) -> String {
    let folder = tempfile::tempdir().expect("a temporary folder");
    for (name, text) in WORLD {
        std::fs::write(folder.path().join(name), text).expect("room");
    }
    let words =
        ["--hurried", "--rate", "10", "--seconds", "1.5", "--play", "player.json", "--form", form];
    let out = Command::new(env!("CARGO_BIN_EXE_night-ferry"))
        .arg("engine")
        .arg(folder.path())
        .args(words)
        .output()
        .expect("the engine");
    let noise = ["sound", "sync", "| view", "| input", "\"view\"", "\"input\""];
    let kept = |bytes: &[u8]| {
        String::from_utf8_lossy(bytes)
            .lines()
            .filter(|l| !noise.iter().any(|n| l.contains(n)))
            .map(|l| format!("{l}\n"))
            .collect::<String>()
    };
    format!("{}--- errors\n{}", kept(&out.stdout), kept(&out.stderr))
}

#[test]
fn routines_meetings_players_and_the_three_forms_of_output() {
    insta::assert_snapshot!("lines", all("lines"));
    insta::assert_snapshot!("report", all("report"));
    insta::assert_snapshot!("json", all("json"));
}

#[test]
fn a_script_that_is_saved_while_the_game_runs_is_read_again() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let script = folder.path().join("s/buoy.lua");
    std::fs::create_dir_all(folder.path().join("s")).expect("room");
    std::fs::write(folder.path().join("scene.json"), SCENE).expect("room");
    std::fs::write(
        &script,
        "local Buoy = {}\nfunction Buoy:tick()\n  print('broken'\nend\nreturn Buoy\n",
    )
    .expect("room");
    let mut engine = Command::new(env!("CARGO_BIN_EXE_night-ferry"));
    engine
        .arg("engine")
        .arg(folder.path())
        .args(["--seconds", "30"])
        .stdout(Stdio::piped())
        .stderr(Stdio::null());
    let mut engine = engine.spawn().expect("the engine");
    let mut lines =
        BufReader::new(engine.stdout.take().expect("its output")).lines().map_while(Result::ok);
    assert!(lines.any(|l| l.contains("the game begins")));
    let later = std::time::SystemTime::now() + std::time::Duration::from_secs(5);
    std::fs::write(
        &script,
        "local Buoy = {}\nfunction Buoy:tick()\n  print('mended')\nend\nreturn Buoy\n",
    )
    .expect("room");
    std::fs::File::options()
        .append(true)
        .open(&script)
        .and_then(|f| f.set_modified(later))
        .expect("it is ours");
    assert!(lines.any(|l| l.contains("s/buoy.lua was saved and is read again")));
    assert!(lines.any(|l| l.contains("Buoy#4.tick | mended")), "its object joins the game");
    engine.kill().and_then(|()| engine.wait()).expect("it is ours");
}
