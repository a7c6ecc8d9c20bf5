//! Notes: written on the screen with the edit that helped, offered in another project, and the
//! command.

use crate::commands::{izba_in, said};
use crate::tmux::{Tmux, izba};
use std::fs;

const BROKEN: &str = "local wicks = { 3, 4 }\nlocal function shine(level)\n  return wicks[level] + \
    1\nend\nprint(shine(3))\n";

#[test]
fn a_note_is_written_with_the_edit_that_helped_and_offered_in_another_project() {
    let tmux = Tmux::start(142, 42);
    tmux.write("ferry/lantern.lua", BROKEN);
    tmux.write("ferry/izba.toml", "");
    tmux.write("store/keep", "");
    tmux.command(&format!("cd ferry && {} --store ../store run lantern.lua", izba()));
    tmux.wait_for("ended with exit code 1");
    tmux.write("ferry/lantern.lua", &BROKEN.replace("{ 3, 4 }", "{ 3, 4, 5 }"));
    tmux.keys(&["a"]);
    // What is quiet now can still be chosen, and the edit that made it so is offered.
    tmux.wait_until("it is quiet", |s| s.contains("ended well") && s.contains("quiet"));
    tmux.keys(&["w"]);
    tmux.wait_until("the sheet with the edit", |s| {
        s.contains("What it meant") && s.contains("+local wicks = { 3, 4, 5 }")
    });
    tmux.text("the list was one too short");
    tmux.keys(&["Escape"]);
    tmux.wait_for("the note is kept in");
    tmux.keys(&["7"]);
    let room = tmux.wait_until("the room", |s| {
        s.contains("1 note") && s.matches("the list was one too short").count() == 2
    });
    assert!(room.contains("+local wicks = { 3, 4, 5 }") && room.contains("lantern.lua"), "{room}");
    tmux.keys(&["/"]);
    tmux.text("heron");
    tmux.wait_for("No note holds these words.");
    tmux.keys(&["Escape"]);
    tmux.wait_until("all notes again", |s| s.contains("1 note") && !s.contains("look for heron"));
    tmux.keys(&["q"]);
    tmux.wait_for("shell>");
    // Elsewhere, with lines above it, another number and another script's name before it.
    tmux.write(
        "harbour/boats/lantern.lua",
        &format!("-- boats\n\n{}", BROKEN.replace("shine(3)", "shine(7)")),
    );
    tmux.write("harbour/izba.toml", "");
    tmux.command(&format!("cd ../harbour && {} --store ../store run boats/lantern.lua", izba()));
    let offered = tmux.wait_for("You met this on");
    assert!(
        offered.contains("in ferry: it says the same about the same")
            && offered.contains("“the list was one too short”"),
        "{offered}"
    );
    // It opens whole; what is thrown away changes nothing.
    tmux.keys(&["w"]);
    // The words alone stand in the offer too; the sheet's own keys say that it is open.
    tmux.wait_for("Ctrl+X throw away");
    tmux.text("!!!");
    tmux.wait_for("!!!");
    tmux.keys(&["C-x"]);
    tmux.wait_for("thrown away");
    tmux.keys(&["q"]);
    tmux.wait_for("shell>");
    let notes: Vec<_> = fs::read_dir(tmux.path("store/notes"))
        .expect("it is there")
        .flatten()
        .map(|e| e.path())
        .collect();
    let text = fs::read_to_string(&notes[0]).expect("it is there");
    assert!(notes.len() == 1 && !text.contains("!!!") && text.starts_with("+++\n"), "{text}");
}

#[test]
fn the_command_adds_finds_shows_offers_and_shares() {
    let folder = tempfile::tempdir().expect("a folder");
    let at = folder.path();
    fs::write(at.join("ferry.lua"), BROKEN).expect("room");
    let trace = "lua5.4: ferry.lua:3: attempt to perform arithmetic on a nil value (field '?')\nstack \
        traceback:\n\tferry.lua:3: in upvalue 'shine'\n";
    fs::write(at.join("play.log"), trace).expect("room");
    fs::write(at.join("fine.log"), "tide=1\n").expect("room");
    let calls: [&[&str]; 11] = [
        &["notes"],
        &["notes", "for", "play.log"],
        &[
            "notes",
            "add",
            "play.log",
            "--meant",
            "the list is too short",
            "--fixed",
            "a third wick",
            "--tag",
            "lists",
        ],
        &["notes", "add", "fine.log"],
        &["notes", "find", "LISTS", "wick"],
        &["notes", "find", "heron"],
        &["notes", "for", "play.log"],
        &["notes", "for", "fine.log"],
        &["notes", "show", "no-such-note"],
        &["notes", "share", "something-here-is-empty"],
        &["notes"],
    ];
    let told = calls.iter().map(|c| {
        let said = said(&izba_in(at, &[&["--store", "store"], *c].concat(), b""));
        format!("{}\n  {}", c.join(" "), said.replace(&*at.to_string_lossy(), "AT"))
    });
    let told = told.collect::<Vec<_>>().join("\n");
    let today = jiff::Timestamp::now().strftime("%Y-%m-%d").to_string();
    let project = at.file_name().map(|n| n.to_string_lossy().into_owned()).unwrap_or_default();
    let told = told.replace(&today, "TODAY").replace(&project, "PROJECT");
    insta::assert_snapshot!(told, @r#"
    notes
      0: No note was written yet; new ones are kept in store/notes. / On the screen w writes one about the chosen error.
    notes for play.log
      1: No note fits an error of this log.
    notes add play.log --meant the list is too short --fixed a third wick --tag lists
      0: store/notes/something-here-is-empty.md
    notes add fine.log
      3: izba: there is no such error in this log
    notes find LISTS wick
      0: TODAY  something here is empty  (PROJECT) /             something-here-is-empty: the list is too short
    notes find heron
      1: No note holds heron.
    notes for play.log
      0: something here is empty /   you met this on TODAY in PROJECT: it says the same about the same line of code /   the list is too short
    notes for fine.log
      1: No note fits an error of this log.
    notes show no-such-note
      3: izba: there is no note no-such-note /       izba notes lists them
    notes share something-here-is-empty
      0: AT/izba-notes/something-here-is-empty.md
    notes
      0: TODAY  something here is empty  (PROJECT, shared) /             something-here-is-empty: the list is too short
    "#);
}
