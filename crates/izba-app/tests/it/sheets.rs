//! The sheets in a real terminal: what could be watched, sources added, held and taken away, a line
//! taught.

use crate::tmux::{Tmux, izba, wait_for_file};

#[test]
fn what_fits_the_folder_is_offered_and_sources_come_and_go() {
    let tmux = Tmux::start(142, 42);
    tmux.write("tide.log", "20:00:01 | error | the tide is out\n");
    tmux.write("Makefile", "all:\n\techo built\n");
    tmux.command(izba());
    // A screen may be looked at while it is drawn: all of it is waited for.
    tmux.wait_until("what fits the folder", |s| {
        ["What shall Izba watch?", "run     make", "follow  tide.log", "Nothing is watched yet"]
            .iter()
            .all(|words| s.contains(words))
    });
    tmux.keys(&["Down", "Enter"]);
    tmux.wait_for("the tide is out, says nobody's script".split(',').next().expect("words"));
    // A pattern that no file fits yet, then one does.
    tmux.keys(&["c", "+"]);
    tmux.text("follow deck-*.log");
    tmux.keys(&["Enter"]);
    tmux.wait_for("no file fits yet");
    tmux.write("deck-1.log", "20:00:02 | warning | the rope is worn\n");
    tmux.wait_for("deck-1.log");
    tmux.keys(&["Space"]);
    tmux.wait_for("held still; what it says is kept");
    tmux.write(
        "tide.log",
        "20:00:01 | error | the tide is out\n20:00:03 | error | the moon is out\n",
    );
    tmux.keys(&["Down", "x"]);
    tmux.wait_for("taken away; what it said stays");
    tmux.keys(&["Up", "Space"]);
    tmux.wait_for("watching for");
    tmux.keys(&["w"]);
    let kept = wait_for_file(&tmux.path("izba.toml"), |text| text.contains("follow"));
    assert_eq!(kept, "[[source]]\nfollow = \"tide.log\"\n");
    tmux.keys(&["Escape"]);
    tmux.wait_for("the moon is out");
    // From now on izba alone watches what is named.
    tmux.keys(&["q"]);
    tmux.wait_for("shell>");
    tmux.command(izba());
    tmux.wait_for("watching tide.log");
}

#[test]
fn a_line_is_taught_those_that_arrived_are_read_and_the_next_session_knows_it() {
    let tmux = Tmux::start(142, 42);
    tmux.write(
        "gate.lua",
        "local gate = {}\nfunction gate.lift()\n  return gate.rope.length\nend\n",
    );
    let log: String = (0..30)
        .map(|n| match n % 10 {
            9 => format!("{n:03} >> gate.lua ({}) the gate is too heavy\n", 3),
            _ => format!("{n:03} >> depth {} read\n", n * 7),
        })
        .collect();
    tmux.write("odd.log", &log);
    tmux.command(&format!("{} follow odd.log", izba()));
    tmux.wait_for("No errors so far");
    tmux.keys(&["2"]);
    tmux.wait_for("029 >>");
    tmux.keys(&["l"]);
    tmux.wait_for("How this line is read");
    // 029 >> gate.lua ( 3 ) the gate …: number, sign, script, bracket, line, bracket, sentence.
    tmux.keys(&["Right", "Right", "s", "Right", "Right", "n", "Right", "Right", "m"]);
    tmux.wait_for("{*} >> {script} ({line}) {message}");
    let shown = tmux.wait_for("Of 30 lines that arrived 3 have this form.");
    assert!(shown.contains("Lines like it are   error"), "{shown}");
    assert!(shown.contains("Errors and warnings make 1 mistake then; now it is 0."), "{shown}");
    assert!(shown.contains("the gate is too heavy   gate.lua:3"), "{shown}");
    tmux.keys(&["Enter"]);
    tmux.wait_for("what arrived is 1 mistake now");
    tmux.keys(&["1"]);
    tmux.wait_until("the place that was taught", |s| {
        s.contains("gate.lua:3") && s.contains("return gate.rope.length")
    });
    tmux.keys(&["q"]);
    tmux.wait_for("shell>");
    tmux.command(&format!("clear; {} read odd.log; {} readers", izba(), izba()));
    let read = tmux.wait_for("1 reader, and it can be used");
    assert!(read.contains("3×  error    the gate is too heavy"), "{read}");
}

#[test]
fn several_lines_are_taught_as_one_and_the_group_is_there_at_once() {
    let tmux = Tmux::start(142, 42);
    tmux.write("oven.tow", "object oven\n  handle is unset\n  on noon do share\n");
    let report = "!! trouble in oven.tow, line 2\n   the handle is not tied\n   \
                  asked by share in oven.tow, line 3\nall quiet\n";
    tmux.write("tow.log", &format!("towline 3\n{report}[tick 2] noon\n{report}"));
    tmux.command(&format!("{} follow tow.log", izba()));
    tmux.wait_for("4 lines look as if they mattered and were not understood");
    tmux.keys(&["2"]);
    tmux.wait_until("the lines", |s| {
        s.contains("? 4 not understood") && s.contains("? !! trouble in oven.tow")
    });
    tmux.keys(&["l"]);
    tmux.wait_for("!! trouble in {script}, line {line}");
    tmux.wait_for("Not yet: it names no {message}");
    tmux.keys(&["+"]);
    tmux.wait_for("Of 10 lines that arrived 2 have this form.");
    tmux.keys(&["+"]);
    tmux.wait_for("asked by {function} in {script}, line {line}");
    tmux.wait_for("4 lines are not understood now, 0 then.");
    tmux.keys(&["Enter"]);
    tmux.wait_for("what arrived is 1 mistake now");
    tmux.keys(&["1"]);
    tmux.wait_until("place and step", |s| {
        s.contains("oven.tow:2") && s.contains("Steps that led here") && s.contains("oven.tow:3")
    });
}

#[test]
fn what_is_mine_is_said_once_and_holds_for_the_next_process() {
    let tmux = Tmux::start(142, 42);
    let line = |severity: u8, app: &str, pid: u32, said: &str| {
        format!("<{severity}>1 2026-11-23T20:00:00Z phone {app} {pid} - - {said}\n")
    };
    let others: String = (0..4).map(|_| line(10, "radio", 12, "no tide table")).collect();
    tmux.write("phone.log", &(others.clone() + &line(11, "tickets", 400, "no fare for a dog")));
    tmux.write("izba.toml", "# the phone\n[[source]]\nfollow = \"phone.log\"\n");
    tmux.command(izba());
    tmux.wait_until("the graver one first", |s| s.contains("Fix first  no tide table"));
    tmux.keys(&["2"]);
    tmux.wait_until("the lines", |s| s.contains("Lines ─") && s.contains("no fare for a dog"));
    // On a busy machine the first key may come before the newest line is the chosen one.
    let said = (0..6).any(|_| {
        tmux.keys(&["End", "M"]);
        (0..160).any(|_| {
            std::thread::sleep(std::time::Duration::from_millis(25));
            tmux.screen().contains("tickets is yours: what others say here ranks below")
        })
    });
    assert!(said, "{}", tmux.screen());
    tmux.keys(&["1"]);
    tmux.wait_until("mine first", |s| {
        s.contains("Fix first  no fare for a dog") && s.contains("from radio, not yours")
    });
    let kept = wait_for_file(&tmux.path("izba.toml"), |text| text.contains("own"));
    assert_eq!(kept, "# the phone\n[[source]]\nfollow = \"phone.log\"\nown = [\"tickets\"]\n");
    // Another session, another process.
    tmux.keys(&["q"]);
    tmux.wait_for("shell>");
    tmux.write("phone.log", &(others + &line(11, "tickets", 511, "no fare for a cat")));
    tmux.command(&format!("clear; {}", izba()));
    tmux.wait_until("mine first", |s| s.contains("Fix first  no fare for a cat"));
}

#[test]
fn a_program_starts_again_when_a_file_is_saved_and_only_when_that_was_asked_for() {
    let tmux = Tmux::start(142, 42);
    tmux.write("main.py", "print(rope)\n");
    tmux.command(&format!("{} run --on-save main.py", izba()));
    tmux.wait_for("rope is not known");
    tmux.write("main.py", "rope = 3\nprint(rope)\n");
    tmux.wait_until("the next run, without it", |s| {
        s.contains("ended well   run 2") && s.contains("No errors in this run")
    });
    tmux.keys(&["q"]);
    tmux.wait_for("shell>");
    tmux.write(
        "izba.toml",
        "[[source]]\nname = \"once\"\nrun = \"echo begun >> once; sleep 60\"\n[[source]]\nname \
        = \"often\"\nrun = \"echo begun >> often; sleep 60\"\nagain_on_save = true\n",
    );
    tmux.command(&format!("clear; {} --trust", izba()));
    wait_for_file(&tmux.path("often"), |t| t.lines().count() == 1);
    tmux.wait_for("watching 2 of 2 sources");
    tmux.write("main.py", "rope = 4\nprint(rope)\n");
    wait_for_file(&tmux.path("often"), |t| t.lines().count() == 2);
    let once = wait_for_file(&tmux.path("once"), |t| !t.is_empty());
    assert_eq!(once.lines().count(), 1);
}
