//! The exact edit, in a real terminal and with a real runtime: an error, its edit shown and made, the
//! program run again without it, the edit taken back, the error here again.

use crate::tmux::{Tmux, izba, wait_for_file};

const BOATS: &str =
    "[{ \"name\": \"Marie\", \"wieght\": 3 }, { \"name\": \"Anna\", \"weight\": 5 }]\n";
const PROGRAM: &str = "import json\n\nwith open('boats.json') as boats:\n    all = json.load(boats)\n\
    print(sum(boat['weight'] for boat in all))\n";

#[test]
fn an_error_is_mended_by_its_edit_proved_and_brought_back() {
    let tmux = Tmux::start(142, 42);
    tmux.write("boats.json", BOATS);
    tmux.write("main.py", PROGRAM);
    tmux.command(&format!("{} run --store store -- python3 main.py", izba()));
    let seen = tmux.wait_until("the edit in Where", |s| s.contains("m make the edit"));
    let after = "\"Marie\", \"weight\": 3";
    assert!(seen.lines().any(|l| l.contains("+ [{") && l.contains(after)), "{seen}");
    tmux.keys(&["m"]);
    let sheet = tmux.wait_for("The edit ─");
    assert!(sheet.contains("Enter makes it") && sheet.contains(after), "{sheet}");
    assert_eq!(std::fs::read_to_string(tmux.path("boats.json")).expect("there"), BOATS);
    tmux.keys(&["Enter"]);
    wait_for_file(&tmux.path("boats.json"), |text| text.contains(after));
    tmux.wait_for("a runs it again, u takes it back");
    tmux.keys(&["a"]);
    tmux.wait_until("the end of the error", |s| {
        s.contains("main.py ended well") && s.contains("quiet: this run went to its end")
    });
    tmux.keys(&["u"]);
    tmux.wait_for("the edit of boats.json is taken back");
    assert_eq!(std::fs::read_to_string(tmux.path("boats.json")).expect("there"), BOATS);
    tmux.keys(&["a"]);
    tmux.wait_for("back: it had been silent");
    // Nothing but the program's own files is left in its folder.
    let mut names: Vec<String> = std::fs::read_dir(tmux.path(""))
        .expect("a folder")
        .flatten()
        .map(|e| e.file_name().to_string_lossy().into_owned())
        .collect();
    names.sort();
    assert_eq!(names, ["boats.json", "main.py", "store"]);
}

#[test]
fn what_the_user_allows_once_is_tried_by_itself_until_he_says_no() {
    let tmux = Tmux::start(142, 42);
    tmux.write("boats.json", BOATS);
    tmux.write("main.py", PROGRAM);
    let run = format!("{} run --store store -- python3 main.py", izba());
    let edit = |tmux: &Tmux| {
        tmux.command(&run);
        tmux.wait_until("the edit in Where", |s| s.contains("m make the edit"));
        tmux.keys(&["m"]);
        tmux.wait_for("The edit ─")
    };
    let leave = |tmux: &Tmux| {
        tmux.keys(&["Escape"]);
        tmux.wait_until("the sheet is closed", |s| !s.contains("The edit ─"));
        tmux.keys(&["q"]);
        tmux.wait_until("the shell", |s| !s.contains("m make the edit"));
    };
    // Nothing is tried before somebody says so.
    let asked = edit(&tmux);
    assert!(asked.contains("T always here"), "{asked}");
    assert!(asked.contains("does outside its folder"), "{asked}");
    tmux.keys(&["T"]);
    let tried = tmux.wait_for("this error is gone");
    assert!(tried.contains("T not by itself"), "{tried}");
    assert_eq!(std::fs::read_to_string(tmux.path("boats.json")).expect("there"), BOATS);
    leave(&tmux);
    // In the next session nobody has to ask.
    edit(&tmux);
    tmux.wait_for("this error is gone");
    tmux.keys(&["T"]);
    tmux.wait_for("T always here");
    leave(&tmux);
    let kept = std::fs::read_to_string(tmux.path("store/tries.json")).expect("it was kept");
    assert_eq!(kept.trim(), "[]");
}

#[test]
fn try_says_with_which_edit_an_error_is_gone_and_apply_makes_it() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let path = |name: &str| folder.path().join(name);
    std::fs::write(path("boats.json"), BOATS).expect("room");
    std::fs::write(path("main.py"), PROGRAM).expect("room");
    let run = |words: &[&str]| {
        let out = std::process::Command::new(izba())
            .arg("--store")
            .arg(path("store"))
            .args(words)
            .current_dir(folder.path())
            .output()
            .expect("it runs");
        let said = String::from_utf8_lossy(&out.stdout).into_owned();
        (out.status.code(), said)
    };
    let (code, said) = run(&["try", "--", "python3", "main.py"]);
    assert_eq!(code, Some(0), "{said}");
    assert!(said.contains("boats.json: ") && said.contains("this error is gone"), "{said}");
    assert_eq!(std::fs::read_to_string(path("boats.json")).expect("there"), BOATS);
    let (code, said) = run(&["try", "--as", "jsonl", "--apply", "--", "python3", "main.py"]);
    assert_eq!(code, Some(0), "{said}");
    let told: serde_json::Value = serde_json::from_str(said.trim()).expect("one line of JSON");
    assert_eq!((told["outcome"].as_str(), told["v"].as_u64()), (Some("gone"), Some(1)));
    let mended = std::fs::read_to_string(path("boats.json")).expect("there");
    assert_eq!(mended, BOATS.replace("wieght", "weight"));
    let (code, said) = run(&["try", "--", "python3", "main.py"]);
    assert_eq!(code, Some(0));
    assert!(said.contains("there is nothing to try"), "{said}");
    // What no edit is known for is told as that, and counts as not found.
    std::fs::write(path("main.py"), "raise ValueError('the tide is out')\n").expect("room");
    let (code, said) = run(&["try", "--", "python3", "main.py"]);
    assert_eq!(code, Some(1), "{said}");
    assert!(said.contains("No edit is known to the sign"), "{said}");
}

#[test]
fn a_stretch_of_when_and_an_opened_entry_are_reached_by_keys() {
    let tmux = Tmux::start(142, 42);
    tmux.write("main.lua", "print('under way')\nprint(('x').mast.height)\n");
    tmux.command(&format!("{} run --store store main.lua", izba()));
    tmux.wait_for("main.lua ended with exit code 1");
    tmux.keys(&["BTab", "Home", "["]);
    tmux.wait_until("a stretch that begins there", |s| s.contains("Filter  since "));
    tmux.keys(&["End", "]"]);
    let both = tmux.wait_until("and that ends", |s| s.contains(" until "));
    assert!(both.contains("1 of 1 mistake"), "{both}");
    tmux.keys(&["Escape"]);
    tmux.wait_until("no filter", |s| !s.contains("Filter  since "));
    tmux.keys(&["2", "Home", "n"]);
    tmux.wait_for("line 2 of 5");
    tmux.keys(&["Z"]);
    tmux.wait_until("what it means below it", |s| s.contains("Z closes it here"));
    tmux.keys(&["Z"]);
    tmux.wait_until("closed again", |s| !s.contains("Z closes it here"));
}

/// The same slip twice: the second one comes once the first is mended.
const TWICE: &str = "class Boat:\n    def __init__(self, name, seats):\n        self.name = name\n        \
    self.seats = seats\n\n\ndef day(boat, days):\n    cents = boat.seets * days\n    return cents\n\n\n\
    def night(boat, nights):\n    cents = boat.seets * nights\n    return cents\n\n\nboat = Boat(\"Wren\", 3)\n\
    print(day(boat, 3))\nprint(night(boat, 3))\n";

#[test]
fn the_same_slip_elsewhere_is_tried_and_mended_with_it() {
    let tmux = Tmux::start(142, 42);
    tmux.write("main.py", TWICE);
    tmux.command(&format!("{} run --store store -- python3 main.py", izba()));
    tmux.wait_until("the edit in Where", |s| s.contains("m make the edit"));
    tmux.keys(&["m"]);
    tmux.wait_for("a in all places");
    tmux.keys(&["t"]);
    tmux.wait_for("and the same in one other place");
    tmux.keys(&["a"]);
    let sheet = tmux.wait_for("a only here");
    assert_eq!(sheet.lines().filter(|l| l.contains("+ ") && l.contains("seats *")).count(), 2);
    tmux.keys(&["Enter"]);
    wait_for_file(&tmux.path("main.py"), |text| !text.contains("seets"));
    tmux.keys(&["u"]);
    wait_for_file(&tmux.path("main.py"), |text| text == TWICE);
}
