//! The stand-in engine behaves as engines do: faults appear because they are in the scripts, wherever they stand.

use std::process::Command;

/// Runs a scene for a moment and gives exit code, output and errors. The engine is started as its own process, since it
/// writes to the standard streams.
fn play(files: &[(&str, &str)], seconds: &str) -> (i32, String, String) {
    let folder = tempfile::tempdir().expect("a temporary folder");
    for (name, text) in files {
        let path = folder.path().join(name);
        std::fs::create_dir_all(path.parent().expect("it lies in a folder")).expect("room");
        std::fs::write(path, text).expect("room");
    }
    let out =
        Command::new(env!("CARGO_BIN_EXE_night-ferry")).arg("engine").arg(folder.path()).args(["--seconds", seconds]).output().expect("the engine");
    let text = |bytes: &[u8]| String::from_utf8_lossy(bytes).into_owned();
    (out.status.code().unwrap_or(-1), text(&out.stdout), text(&out.stderr))
}

const SCENE: &str =
    r#"{"title":"Test","objects":[{"kind":"Buoy","id":4,"script":"s/buoy.lua","with":{"rope":3}}],"cues":[{"at":0.1,"call":"sink","on":"Buoy#4"}]}"#;

/// Error lines without their time.
fn told(errors: &str) -> Vec<String> {
    errors.lines().map(|l| l.split_once("| ").map_or(l.trim(), |(_, rest)| rest).to_owned()).collect()
}

#[test]
fn a_fault_under_another_name_in_another_file_is_told_with_its_own_line() {
    let script = "local Buoy = {}\n\n\nfunction Buoy:tick(dt)\n  self:drift(dt)\nend\n\nfunction Buoy:drift(dt)\n  local links = self.chain.links\n  return links\nend\n\nreturn Buoy\n";
    let (code, _, errors) = play(&[("scene.json", SCENE), ("s/buoy.lua", script)], "0.05");
    assert_eq!(code, 0, "an error does not end the game");
    let told = told(&errors);
    let at = told.iter().position(|l| l == "error | Buoy#4.tick | s/buoy.lua:9: attempt to index a nil value (field 'chain')");
    let at = at.unwrap_or_else(|| panic!("{told:?}"));
    assert_eq!(told[at + 1], "from s/buoy.lua:9 in drift");
    assert_eq!(told[at + 2], "from s/buoy.lua:5 in tick");
    assert!(told[at + 3].starts_with("from marsh-engine/"), "{told:?}");
    // Lines above it: the number follows. The fault away: it is gone.
    let (_, _, moved) = play(&[("scene.json", SCENE), ("s/buoy.lua", &format!("-- one\n-- two\n{script}"))], "0.05");
    assert!(moved.contains("s/buoy.lua:11: attempt"), "{moved}");
    let (_, _, mended) = play(&[("scene.json", SCENE), ("s/buoy.lua", &script.replace("self.chain.links", "self.rope"))], "0.05");
    assert!(!mended.contains("error"), "{mended}");
}

#[test]
fn a_cue_calls_its_handler_at_its_time_and_fatal_ends_the_game() {
    let script = "local Buoy = {}\nfunction Buoy:begin()\n  warn('rope', self.rope)\nend\nfunction Buoy:sink()\n  fatal('the buoy has sunk')\nend\nreturn Buoy\n";
    let (code, output, errors) = play(&[("scene.json", SCENE), ("s/buoy.lua", script)], "5");
    assert_eq!(code, 3);
    assert!(told(&errors).contains(&"warn  | Buoy#4.begin | rope 3".to_owned()), "{errors}");
    assert!(told(&errors).contains(&"fatal | Buoy#4.sink | the buoy has sunk".to_owned()), "{errors}");
    assert!(output.contains("the game cannot go on"), "{output}");
}

#[test]
fn what_cannot_be_loaded_is_told_and_the_rest_goes_on() {
    let unread = "local Buoy = {}\nfunction Buoy:tick()\n  if true then\nend\nreturn Buoy\n";
    let errors = |files: &[(&str, &str)]| play(files, "0.03").2;
    let said = errors(&[("scene.json", SCENE), ("s/buoy.lua", unread)]);
    assert!(said.contains("s/buoy.lua:6: 'end' expected (to close 'function' at line 2) near <eof>"), "{said}");
    assert!(errors(&[("scene.json", SCENE)]).contains("cannot open s/buoy.lua: no such file"));
    assert!(errors(&[("scene.json", SCENE), ("s/buoy.lua", "local x = 1\n")]).contains("does it end with “return”?"));
    let (code, _, broken) = play(&[("scene.json", "{\n  \"title\": \"x\",\n}")], "0.03");
    assert_eq!(code, 3);
    assert!(broken.contains("scene.json:3: the scene cannot be read"), "{broken}");
}
