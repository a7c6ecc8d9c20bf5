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
        s.contains("main.py ended well") && s.contains("1 has gone quiet")
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
