//! Cornering an error: what it needs, which edit brought it, that the user's files stay as they
//! are, and what is said when it cannot be done.

use crate::tmux::{Tmux, izba};
use std::path::Path;
use std::process::{Command, Output};

/// A pier with a fault: the price list lacks the child's price, and much that has nothing to do
/// with it.
const PIER: &[(&str, &str)] = &[
    ("prices.lua", "return {\n  adult = 4,\n  senior = 3,\n  dog = 1,\n}\n"),
    (
        "boats.lua",
        "local boats = {}\nfunction boats.all()\n  return { \"Marsh Queen\", \"Reed\" \
            }\nend\nreturn boats\n",
    ),
    (
        "main.lua",
        "local prices = require(\"prices\")\nlocal boats = require(\"boats\")\n\nlocal \
            function greet(name)\n  print(\"welcome aboard \" .. name)\nend\n\nlocal function \
            fare(kinds)\n  local sum = 0\n  for _, kind in ipairs(kinds) do\n    sum = sum + \
            prices[kind]\n  end\n  return sum\nend\n\nfor _, boat in ipairs(boats.all()) do\n  \
            greet(boat)\nend\nprint(fare({ \"adult\", \"dog\" \
            }))\nprint(fare({ \"adult\", \"child\", \"senior\" }))\nprint(\"never said\")\n",
    ),
];

fn pier(folder: &Path) {
    for (name, text) in PIER {
        std::fs::write(folder.join(name), text).expect("room");
    }
}

fn run(folder: &Path, words: &[&str]) -> Output {
    Command::new(izba())
        .arg("--store")
        .arg(folder.join(".store"))
        .args(words)
        .current_dir(folder)
        .output()
        .expect("it runs")
}

fn said(out: &Output) -> String {
    format!("{}{}", String::from_utf8_lossy(&out.stdout), String::from_utf8_lossy(&out.stderr))
}

/// Without how long it took.
fn timeless(text: &str) -> String {
    let mut out = String::new();
    let mut rest = text;
    while let Some(at) = rest.find(" in ") {
        let (head, tail) = rest.split_at(at + 4);
        out += head;
        let number = tail.find(|c: char| !c.is_ascii_digit() && c != '.').unwrap_or(0);
        rest = if number > 0 && tail[number..].starts_with(" s.") { &tail[number..] } else { tail };
    }
    out + rest
}

#[test]
fn what_an_error_needs_is_left_and_the_files_are_not_touched() {
    let folder = tempfile::tempdir().expect("room");
    pier(folder.path());
    let out = run(folder.path(), &["corner", "--save", "small", "main.lua"]);
    assert_eq!(out.status.code(), Some(1));
    insta::assert_snapshot!(timeless(&said(&out)), @r#"
    Cornering  Something here is empty (main.lua, line 11).
    13 lines are left of 28, after 18 runs in  s.
    Without any one of these the error is gone:

    main.lua
        1  local prices = require("prices")
        8  local function fare(kinds)
        9    local sum = 0
       10    for _, kind in ipairs(kinds) do
       11      sum = sum + prices[kind]
       12    end
       14  end
       20  print(fare({ "child" }))

    prices.lua
        1  return {
        2    adult = 4,
        3    senior = 3,
        4    dog = 1,
        5  }

    The little program is kept in small.
    "#);
    for (name, text) in PIER {
        assert_eq!(
            std::fs::read_to_string(folder.path().join(name)).expect("it is there"),
            *text,
            "{name}"
        );
    }
    // The little program shows the same error by itself.
    let small = Command::new("lua5.4")
        .arg("main.lua")
        .current_dir(folder.path().join("small"))
        .output()
        .expect("lua5.4 is installed");
    assert!(
        said(&small).contains("attempt to perform arithmetic on a nil value (field '?')"),
        "{}",
        said(&small)
    );
    // Nothing is left lying about.
    let copies = std::fs::read_dir(folder.path().join(".store"))
        .expect("it is there")
        .flatten()
        .filter(|s| s.path().join("copy").exists())
        .count();
    assert_eq!(copies, 0);
}

#[test]
fn the_edit_that_brought_it_is_named() {
    let folder = tempfile::tempdir().expect("room");
    pier(folder.path());
    let healthy = PIER[0].1.replace("adult = 4", "adult = 4, child = 2");
    std::fs::write(folder.path().join("prices.lua"), &healthy).expect("room");
    assert_eq!(run(folder.path(), &["run", "main.lua"]).status.code(), Some(0));
    let main = PIER[2]
        .1
        .replace("welcome aboard", "hello on")
        .replace("local sum = 0", "local sum = 0 -- nothing yet")
        .replace("never said", "said now");
    std::fs::write(folder.path().join("main.lua"), main).expect("room");
    std::fs::write(folder.path().join("prices.lua"), PIER[0].1).expect("room");
    assert_ne!(run(folder.path(), &["run", "main.lua"]).status.code(), Some(0));
    let out = run(folder.path(), &["corner", "--edits", "main.lua"]);
    insta::assert_snapshot!(timeless(&said(&out)), @r#"
    Cornering  Something here is empty (main.lua, line 11).
    1 edit is left of 4, after 9 runs in  s.
    Since run 1, this brought it:

    prices.lua:2
      was    adult = 4, child = 2,
      is     adult = 4,
    "#);
}

#[test]
fn what_cannot_be_cornered_is_said() {
    let folder = tempfile::tempdir().expect("room");
    pier(folder.path());
    let edits = run(folder.path(), &["corner", "--edits", "main.lua"]);
    insta::assert_snapshot!(said(&edits), @r#"
    Cornering  Something here is empty (main.lua, line 11).
    izba: no earlier run of “main.lua” is kept; izba run main.lua keeps one each time
    "#);
    let few = run(folder.path(), &["corner", "--runs", "5", "main.lua"]);
    assert!(
        said(&few).contains("It was ended before all was tried; more may be left out."),
        "{}",
        said(&few)
    );
    let none = run(folder.path(), &["corner", "--of", "in boats.lua", "main.lua"]);
    insta::assert_snapshot!(said(&none), @"No such error came when the program ran, so there is nothing to corner.");
    // An error that comes every other time is repeated and counted.
    let script = "from pathlib import Path\nnote = Path('note')\ncount = int(note.read_text()) if \
        note.exists() else 0\nnote.write_text(str(count + \
        1))\nprint('much')\nprint('more')\nif count % 2 == 0:\n    print(None + 1)\n";
    std::fs::write(folder.path().join("main.py"), script).expect("room");
    let now_and_then = run(folder.path(), &["corner", "main.py"]);
    let text = said(&now_and_then);
    assert!(
        text.contains("The error does not always come: it was there in ")
            && text.contains("    print(None + 1)"),
        "{text}"
    );
    assert!(!text.contains("print('much')"), "{text}");
    assert!(!folder.path().join("note").exists(), "it ran in the copy alone");
}

#[test]
fn what_the_program_was_told_is_told_again() {
    let folder = tempfile::tempdir().expect("room");
    let script = "print('who rides?')\nname = input()\nprint('and who more?')\nother = input()\nprices \
        = {'adult': 4}\nprint(prices[other])\n";
    std::fs::write(folder.path().join("main.py"), script).expect("room");
    std::fs::write(folder.path().join("answers.txt"), "adult\nchild\n").expect("room");
    let out = said(&run(folder.path(), &["corner", "--input", "answers.txt", "main.py"]));
    assert!(
        out.contains("other = input()")
            && out.contains("print(prices[other])")
            && !out.contains("who rides"),
        "{out}"
    );
}

#[test]
fn an_error_is_cornered_from_the_screen_and_the_result_is_evidence() {
    let tmux = Tmux::start(142, 42);
    pier(&tmux.path(""));
    tmux.command(&format!("{} run main.lua", izba()));
    tmux.wait_for("Something here is empty (main.lua, line 11)");
    tmux.keys(&["C"]);
    let left = tmux.wait_until("what is left", |s| {
        s.contains("Without any one of these the error is gone")
            && s.contains("keep the little program")
    });
    assert!(
        left.contains("sum = sum + prices[kind]") && !left.contains("welcome aboard"),
        "{left}"
    );
    tmux.keys(&["w"]);
    tmux.wait_for("cornered");
    tmux.keys(&["Escape"]);
    tmux.wait_until("evidence in Why or Where", |s| {
        !s.contains("Corner it")
            && (s.contains("without it the error is gone") || s.contains("without this line"))
    });
    tmux.keys(&["q"]);
    tmux.wait_for("shell>");
}
