//! Lines instead of a screen: the same state, told; driven by text alone from an error to its end.

use crate::tmux::{Tmux, izba};
use crate::views::{demo, published_of};
use izba_app::linear::Told;
use izba_app::model::Model;
use izba_app::turn::{Msg, update};

fn press(model: &mut Model, told: &mut Told, key: &str) -> Vec<String> {
    let _ = update(model, Msg::Key(key.to_owned()));
    told.tell(model, true)
}

#[test]
fn what_changed_is_told_once_and_in_words() {
    let mut model = demo((100, 40));
    let mut told = Told::default();
    let first = told.tell(&model, true);
    let says = |lines: &[String], words: &str| lines.iter().any(|l| l.contains(words));
    assert!(says(&first, "Fix first: fog.lua can't be read"), "{first:#?}");
    assert!(says(&first, "Room Now.") && says(&first, "Mistake 1 of"), "{first:#?}");
    assert!(told.tell(&model, true).is_empty(), "nothing changed");
    let chosen = press(&mut model, &mut told, "↓");
    assert_eq!(chosen.len(), 1, "{chosen:#?}");
    assert!(
        chosen[0].starts_with("Mistake 2 of ")
            && chosen[0].contains("scripts/lantern.lua, line 34")
    );
    let place = press(&mut model, &mut told, "Enter");
    assert!(place[0].starts_with("Where, 1 of "), "{place:#?}");
    assert!(says(&place, "here   34  "), "{place:#?}");
    let why = press(&mut model, &mut told, "Tab");
    assert!(why[0] == "Why" && says(&why, "attempt to index a nil value"), "{why:#?}");
    let sheet = press(&mut model, &mut told, "?");
    assert!(sheet[0].contains("Keys in room Now"), "{sheet:#?}");
    // No line of a drawing is read aloud.
    assert!(!sheet.iter().any(|l| l.contains('─') || l.contains('│')), "{sheet:#?}");
    assert_eq!(press(&mut model, &mut told, "Esc"), ["The sheet is closed."]);
    let runs = press(&mut model, &mut told, "3");
    assert!(
        runs[0].starts_with("Room Runs.") && says(&runs, "`wick` has no value here"),
        "{runs:#?}"
    );
    // What moves by itself there is not told unasked.
    let _ = update(&mut model, Msg::Published(published_of(&crate::views::engine_of_two_runs())));
    let unasked = told.tell(&model, false);
    assert!(!says(&unasked, "run 2 "), "{unasked:#?}");
}

#[test]
fn from_an_error_to_its_end_by_text_alone() {
    let tmux = Tmux::start(100, 60);
    tmux.write("main.lua", "local tide = nil\nprint(tide.height)\n");
    tmux.command(&format!("{} --linear run main.lua", izba()));
    tmux.wait_for("Fix first: `tide` has no value");
    tmux.wait_for("Mistake 1 of 1: error");
    tmux.keys(&["Enter"]);
    tmux.wait_until("the place", |s| s.contains("Where, 1 of ") && s.contains("here "));
    tmux.write("main.lua", "local tide = { height = 3 }\nprint(tide.height)\n");
    tmux.keys(&["a"]);
    tmux.wait_for("Gone quiet: ");
    tmux.keys(&["q"]);
    // Nothing was drawn over: what was said first still stands there.
    let all = tmux.wait_until("the end", |s| {
        s.contains("1 gone quiet; izba runs lists the runs") && s.trim_end().ends_with("shell>")
    });
    assert!(all.contains("Fix first: `tide` has no value") && all.contains("Izba, line by line"));
}
