//! What is found without running: `izba check` and room Checks, and who did it, driven as a user
//! drives them.

use crate::tmux::{Tmux, izba};
use std::path::Path;
use std::process::Command;

const BELL: &str = "local Bell = {}\n\nfunction Bell:ring(times)\n  for n = 1, times do\n    \
    self:strike(n)\n  end\nend\n\nfunction Bell:strike(n)\n  print(\"ding\", n)\nend\n\nreturn \
    Bell\n";

/// A small project with one script that does not parse, a handler whose name the data misspells,
/// and a ring of two scripts.
fn project(folder: &Path) {
    let write = |name: &str, text: &str| std::fs::write(folder.join(name), text).expect("room");
    write("bell.lua", &BELL.replace("    self:strike(n)\n  end\n", "    self:strike(n)\n"));
    write(
        "scene.json",
        "[\n  { \"kind\": \"Jetty\", \"on\": \"toch\" },\n  \
            { \"kind\": \"Jetty\", \"on\": \"leave\" },\n  \
            { \"kind\": \"Jetty\", \"on\": \"touch\" }\n]\n",
    );
    write(
        "jetty.lua",
        "local tide = require(\"tide\")\nlocal on = {}\nfunction on.touch() tide.turn() \
            end\nfunction on.leave() end\nreturn on\n",
    );
    write(
        "tide.lua",
        "local on = require(\"jetty\")\nlocal tide = {}\nfunction tide.turn() on.leave() \
            end\nreturn tide\n",
    );
}

fn check(folder: &Path, words: &[&str]) -> (i32, String) {
    let out = Command::new(izba())
        .arg("check")
        .args(words)
        .current_dir(folder)
        .env("XDG_STATE_HOME", folder.join("state"))
        .output()
        .expect("it runs");
    let text = String::from_utf8_lossy(&[&out.stdout[..], &out.stderr[..]].concat()).into_owned();
    (out.status.code().unwrap_or(-1), text)
}

#[test]
fn what_is_wrong_is_told_without_running() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    project(folder.path());
    let (code, told) = check(folder.path(), &[]);
    assert_eq!(code, 1, "{told}");
    insta::assert_snapshot!("check", told);
    // For programs: one object for each remark, its ring with its arrows.
    let (_, told) = check(folder.path(), &["--as", "jsonl"]);
    let remarks: Vec<serde_json::Value> =
        told.lines().map(|l| serde_json::from_str(l).expect("JSON")).collect();
    let ring = remarks.iter().find(|r| r["check"] == "rings").expect("the ring is told");
    assert_eq!(ring["ring"].as_array().map(Vec::len), Some(2), "{ring}");
    // Nothing happens: the steps that people should look at, in their order.
    let (_, told) = check(folder.path(), &["--silent", "ring"]);
    insta::assert_snapshot!("check_silent", told);
    let (_, told) = check(folder.path(), &["--silent", "belll"]);
    assert!(
        told.contains("nothing in the project is called `belll`")
            && told.contains("`bell` is near it"),
        "{told}"
    );
    // Mended, it has nothing more to say of it.
    std::fs::write(folder.path().join("bell.lua"), BELL).expect("room");
    let (_, told) = check(folder.path(), &[]);
    assert!(!told.contains("bell.lua"), "{told}");
}

#[test]
fn room_checks_follows_what_is_saved_and_keeps_what_the_user_knows() {
    let tmux = Tmux::start(120, 36);
    std::fs::create_dir_all(tmux.path("ferry")).expect("room");
    project(&tmux.path("ferry"));
    tmux.write("ferry/game.log", "the ferry leaves\n");
    tmux.command(&format!("cd ferry && {} follow game.log", izba()));
    tmux.keys(&["5"]);
    tmux.wait_until("all remarks", |s| {
        [
            "the end of this `for` is missing",
            "bell.lua:5",
            "`toch` leads nowhere",
            "Files that need each other",
        ]
        .iter()
        .all(|words| s.contains(words))
    });
    // The chosen one stands below, with its source; known, it leaves the list, and comes back by
    // undo.
    tmux.keys(&["Down", "Down"]);
    tmux.wait_for("`toch` leads nowhere; `touch` is almost the same: one letter differs.");
    tmux.keys(&["x"]);
    tmux.wait_for("2 remarks in 4 files");
    tmux.keys(&["u"]);
    tmux.wait_for("3 remarks in 4 files");
    // A save is looked at whether or not anything runs.
    tmux.write("ferry/bell.lua", BELL);
    tmux.wait_until("the script as mended", |s| {
        !s.contains("the end of this `for` is missing") && s.contains("`toch` leads nowhere")
    });
    tmux.keys(&["q"]);
    tmux.wait_for("shell>");
}

#[test]
fn a_suspect_is_ruled_out_by_hand_and_the_words_open() {
    let tmux = Tmux::start(120, 36);
    tmux.write(
        "ferry/stock.lua",
        "local stock = {}\nstock.leevel = { height = 3 }\nreturn stock\n",
    );
    tmux.write(
        "ferry/reader.lua",
        "local stock = require(\"stock\")\nlocal function read()\n  return \
            stock.level.height\nend\nprint(read() + stock.level.height)\n",
    );
    tmux.write(
        "ferry/game.log",
        "lua5.4: reader.lua:3: attempt to index a nil value (field 'level')\nstack \
            traceback:\n\treader.lua:3: in upvalue 'read'\n\treader.lua:5: in main \
            chunk\n\t[C]: in ?\n",
    );
    tmux.command(&format!("cd ferry && {} follow game.log", izba()));
    tmux.wait_until("the suspect", |s| {
        s.contains("Look first at stock.lua:2") && s.contains("● stock.lua:2")
    });
    tmux.keys(&["Tab", "R"]);
    tmux.wait_for("stock.lua:2 is ruled out");
    tmux.wait_until("another place first", |s| !s.contains("Look first at stock.lua:2"));
    tmux.wait_for("ruled out by you: `leevel`");
    tmux.keys(&["u"]);
    tmux.wait_for("Look first at stock.lua:2");
    tmux.keys(&["d"]);
    tmux.wait_for("The language's word for nothing");
    tmux.keys(&["Escape"]);
    tmux.wait_until("the sheet closed", |s| !s.contains("The language's word for nothing"));
    tmux.keys(&["q"]);
    tmux.wait_for("shell>");
}
