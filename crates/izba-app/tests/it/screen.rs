//! The screen in a real terminal: tmux types and looks.

use crate::tmux::{Tmux, izba, wait_for_file};

/// The count in front of the group whose words are `short`.
fn count_of(screen: &str, short: &str) -> Option<u64> {
    let row = screen.lines().find(|l| l.contains(short) && l.contains('◆'))?;
    let digits: String = row.split('◆').next()?.chars().filter(char::is_ascii_digit).collect();
    digits.parse().ok()
}

#[test]
fn the_demo_is_met_found_mended_and_proved() {
    let tmux = Tmux::start(142, 42);
    // Three mistakes are left, so that every one of them can be seen at once.
    let left = ["fog-end", "lantern-level", "tide-name"];
    for fault in izba_standins::world::faults()
        .iter()
        .filter(|f| f.source == "engine" && !left.contains(&f.id.as_str()))
    {
        let dir = tmux.path("ferry");
        let mended = std::process::Command::new(izba())
            .args(["demo", "--fix", &fault.id, "--dir"])
            .arg(dir)
            .output()
            .expect("it runs");
        assert!(mended.status.success(), "{}", fault.id);
    }
    tmux.command(&format!("{} demo engine --dir ferry", izba()));
    tmux.wait_for("1 of 5  See");
    tmux.keys(&["T"]);
    let first = tmux.wait_until("a flood as one group, and the first one looked into", |s| {
        count_of(s, "`wick` has no value here").is_some_and(|n| n > 20)
            && s.contains("fog.lua can't be read. Line")
    });
    assert_eq!(first.matches("`wick` has no value here").count(), 1, "a flood is one row\n{first}");
    let before = count_of(&first, "`wick` has no value here").expect("it was there");
    tmux.wait_until("a count that grows", |s| {
        count_of(s, "`wick` has no value here").is_some_and(|n| n > before + 20)
    });
    tmux.wait_for("`tideheigth` is not known here");
    // The count of new errors is seen while the game's window is in front.
    tmux.wait_until("the title", |_| tmux.value("pane_title") == "izba: ferry, 3 new errors");

    tmux.keys(&["Down", "Enter"]);
    // The line at fault is in another file than the one that the console names.
    let found = tmux.wait_for("`9` is past the end: the list has 7 entries");
    assert!(found.contains("scene.json:31") && found.contains("Who may have done it"), "{found}");
    tmux.keys(&["Down"]);
    let found = tmux.wait_for("nil: `wick` is empty");
    assert!(found.contains("34    self.flame = wick.length * BRIGHT * self.oil"), "{found}");
    tmux.keys(&["Down"]);
    tmux.wait_for("39      self:shine(dt)");

    let scene = std::fs::read_to_string(tmux.path("ferry/scene.json")).expect("it was laid out");
    tmux.write("ferry/scene.json", &scene.replace("\"level\": 9", "\"level\": 7"));
    tmux.wait_for("scene.json saved");
    tmux.keys(&["a"]);
    tmux.wait_for("run 2");
    let mended = tmux.wait_until("the group as quiet", |s| {
        s.lines().any(|l| l.contains("lantern.lua:34") && l.contains("quiet: "))
    });
    assert!(count_of(&mended, "`wick` has no value here").is_none(), "{mended}");

    tmux.keys(&["q"]);
    tmux.wait_for("Leave?");
    tmux.keys(&["q"]);
    tmux.wait_for("shell>");
}

#[test]
fn a_pipe_is_watched_and_keys_come_from_the_terminal() {
    let tmux = Tmux::start(120, 40);
    tmux.write(
        "main.py",
        "import time\nprint('boarding', flush=True)\ntime.sleep(0.3)\n\ndef fare(kind):\n    \
        return kind.price\n\nfare(None)\n",
    );
    tmux.command(&format!("python3 main.py 2>&1 | {}", izba()));
    tmux.wait_for("kind has no value when main.py reads it at line 6.");
    tmux.wait_for("standard input ended");
    tmux.keys(&["2"]);
    tmux.wait_for("boarding");
    tmux.keys(&["q"]);
    tmux.wait_for("shell>");
}

#[test]
fn the_terminal_may_have_any_size() {
    let tmux = Tmux::start(142, 42);
    tmux.command(&format!("{} demo --dir ferry", izba()));
    tmux.wait_for("`wick` has no value here");
    tmux.resize(80, 24);
    let small = tmux.wait_until("help and the way out at 80x24", |s| {
        s.lines().count() <= 24 && s.contains("? keys") && s.contains("q leave")
    });
    assert!(small.contains("Where") && small.contains("What") && small.contains("When"), "{small}");
    tmux.keys(&["Tab", "Tab"]);
    tmux.wait_for("It says");
    tmux.resize(200, 60);
    let large = tmux.wait_until("all four questions at 200x60", |s| {
        s.contains("It says")
            && s.contains("Where")
            && s.lines().any(|l| l.trim_end().chars().count() > 160)
    });
    assert!(large.contains("What ─"), "{large}");
    tmux.resize(20, 6);
    tmux.resize(300, 100);
    tmux.wait_until("a screen of 300 columns", |s| {
        s.lines().any(|l| l.trim_end().chars().count() > 250)
    });
}

#[test]
fn what_is_typed_reaches_the_program_when_it_asks() {
    let tmux = Tmux::start(110, 36);
    tmux.write("main.py", "name = input('Who boards? ')\nprint('welcome', name)\nprint(nobody)\n");
    tmux.command(&format!("{} run main.py", izba()));
    tmux.wait_for("The program waits at Who boards?");
    tmux.keys(&["2"]);
    tmux.wait_for("Who boards? ▏");
    tmux.keys(&["r"]);
    tmux.wait_for("Reply");
    tmux.keys(&["A", "d", "a", "Enter"]);
    tmux.keys(&["1"]);
    tmux.wait_for("nobody is not known (main.py, line 3).");
    tmux.keys(&["2"]);
    let lines = tmux.wait_for("◆ Traceback (most recent call last):");
    assert!(lines.contains("welcome Ada"), "{lines}");
    assert!(
        lines.lines().any(|l| l.trim_end().ends_with("Who boards?")),
        "an answered question is a line of its own\n{lines}"
    );
    tmux.wait_for("main.py ended with exit code 1");
    tmux.keys(&["C-c"]);
    tmux.wait_for("shell>");
    tmux.command("echo code $?");
    tmux.wait_for("code 1");
}

#[test]
fn the_editor_opens_at_the_line_and_the_screen_comes_back() {
    let tmux = Tmux::start(110, 36);
    tmux.write("main.lua", "local boat = io.stdout\nprint(boat.mast.height)\n");
    tmux.write(
        "bin/nano",
        "#!/bin/sh\nprintf '%s\\n' \"$@\" > ../edited\nread answer\necho \"$answer\" >> \
        ../edited\n",
    );
    tmux.command("chmod +x bin/nano; mkdir -p p; mv main.lua p; cd p");
    tmux.command(&format!("EDITOR=../bin/nano {} run main.lua", izba()));
    tmux.wait_for("boat.mast has no value");
    tmux.keys(&["e"]);
    wait_for_file(&tmux.path("edited"), |t| t.contains("main.lua"));
    // The keyboard is the editor's as long as it is open.
    tmux.keys(&["h", "i", "Enter"]);
    let told = wait_for_file(&tmux.path("edited"), |t| t.contains("hi"));
    assert!(told.starts_with("+2,") && told.contains("p/main.lua"), "{told}");
    tmux.wait_for("boat.mast has no value");
    tmux.keys(&["q"]);
    tmux.wait_for("shell>");
    tmux.command(&format!("EDITOR= PATH=/nowhere {} run /usr/bin/lua5.4 main.lua", izba()));
    tmux.wait_for("boat.mast has no value");
    tmux.keys(&["e"]);
    tmux.wait_for("no editor is found here; install one");
}

#[test]
fn an_editor_with_a_window_leaves_the_screen_alone() {
    let tmux = Tmux::start(110, 36);
    tmux.write("main.lua", "local boat = io.stdout\nprint(boat.mast.height)\n");
    tmux.write("bin/kate", "#!/bin/sh\nprintf '%s ' \"$@\" > edited\n");
    tmux.command("chmod +x bin/kate");
    tmux.command(&format!("VISUAL=bin/kate {} run main.lua", izba()));
    tmux.wait_for("boat.mast has no value");
    tmux.keys(&["e"]);
    tmux.wait_for("opened in bin/kate at line 2");
    let told = wait_for_file(&tmux.path("edited"), |t| t.contains("main.lua"));
    assert!(told.starts_with("--line 2 --column 7 "), "{told}");
}

#[test]
fn files_are_followed_side_by_side_and_the_mouse_chooses() {
    let tmux = Tmux::start(120, 40);
    tmux.write(
        "game.log",
        "the game begins\nERROR: the rope is torn\nWARNING: the fog is thick\nnote: going on\n",
    );
    tmux.command(&format!("{} follow game.log server.log", izba()));
    tmux.wait_for("the rope is torn");
    tmux.write("server.log", "FATAL: no berth is free\nnote: the server ends\n");
    tmux.wait_until("the graver one first", |s| s.contains("Fix first  no berth is free"));
    tmux.keys(&["Tab", "Tab", "Tab", "z"]);
    let lanes = tmux.wait_for("server.log   2 lines · 1 error · 0 warnings");
    assert!(lanes.contains("game.log   4 lines · 1 error · 1 warning"), "{lanes}");
    tmux.keys(&["Escape"]);
    let screen = tmux.wait_for("the fog is thick");
    let row =
        screen.lines().position(|l| l.contains("◇ the fog is thick")).expect("it is listed") + 1;
    tmux.text(&format!("\u{1b}[<0;12;{row}M\u{1b}[<0;12;{row}m"));
    tmux.wait_until("the warning in Why", |s| s.contains("It says  the fog is thick"));
    tmux.write("game.log", "anew\n");
    tmux.wait_until("a new run of the replaced file", |s| s.contains("quiet; once in run 1"));
    tmux.keys(&["2"]);
    tmux.wait_for("anew");
    tmux.keys(&["q"]);
    tmux.wait_for("shell>");
}

#[test]
fn the_terminal_is_given_back_on_leaving_on_a_signal_and_on_a_panic() {
    let tmux = Tmux::start(100, 30);
    tmux.command("echo before > mark; cat mark");
    tmux.wait_until("its words", |s| s.lines().any(|l| l == "before"));
    for (at, end) in ["q", "signal", "panic"].iter().enumerate() {
        match *end {
            "panic" => tmux.command(&format!("{} stand-in panic", izba())),
            _ => {
                tmux.command(&format!(
                    "sh -c 'echo $$ > pid{at}; exec {} follow nothing-yet.log'",
                    izba()
                ));
                tmux.wait_for("waiting");
            }
        }
        if *end == "q" {
            tmux.keys(&["q"]);
        } else if *end == "signal" {
            let pid = wait_for_file(&tmux.path(&format!("pid{at}")), |t| t.ends_with('\n'));
            assert!(
                std::process::Command::new("kill")
                    .args(["-TERM", pid.trim()])
                    .status()
                    .is_ok_and(|s| s.success())
            );
        }
        tmux.wait_until("the shell and what stood there before", |s| {
            s.lines().any(|l| l == "before") && s.trim_end().ends_with("shell>")
        });
        tmux.command(&format!(
            "stty -a | tr ' ;' '\\n\\n' | grep -x -e icanon -e echo | tr '\\n' '+'; echo ={at}="
        ));
        tmux.wait_for(&format!("icanon+echo+={at}="));
        assert_eq!(tmux.value("alternate_on"), "0");
        assert_eq!(tmux.value("mouse_any_flag"), "0");
    }
}

#[test]
fn when_the_terminal_is_closed_nothing_is_left_running() {
    let tmux = Tmux::start(100, 30);
    tmux.command(&format!(
        "sh -c 'echo $$ > izba; exec {} run -- sh -c \"echo \\$\\$ > child; echo up; exec \
        sleep 300\"'",
        izba()
    ));
    tmux.wait_for("watching");
    let pids = ["izba", "child"]
        .map(|name| wait_for_file(&tmux.path(name), |t| t.ends_with('\n')).trim().to_owned());
    let kept = tmux.close();
    for pid in pids {
        let status = format!("/proc/{pid}/stat");
        crate::tmux::wait_for(&format!("the end of {pid}"), || {
            std::fs::read_to_string(&status).map_or(true, |s| s.contains(") Z"))
        });
    }
    drop(kept);
}

#[test]
fn nothing_that_a_log_says_is_obeyed_by_the_terminal() {
    let tmux = Tmux::start(100, 30);
    let evil = concat!(
        r"printf 'first\n\033]0;stolen title\007\033[2J\033[31mred",
        r" words\033[0m\001\302\233 2J\nERROR: \033[1;1Hend\n'"
    );
    tmux.command(&format!("{evil} | {}", izba()));
    tmux.wait_for("standard input ended");
    tmux.keys(&["2"]);
    let screen = tmux.wait_for("red words");
    assert!(screen.contains("first") && screen.contains("◎ izba"), "{screen}");
    assert!(!tmux.value("pane_title").contains("stolen"));
}

#[test]
fn without_colour_signs_and_words_do() {
    let tmux = Tmux::start(120, 40);
    tmux.write("main.lua", "print(boat.mast)\n");
    tmux.command(&format!("NO_COLOR=1 {} run main.lua", izba()));
    tmux.wait_for("boat is not known");
    let screen = tmux.screen_with_colours();
    assert!(!screen.contains("[38;") && !screen.contains("[48;"), "{screen}");
    assert!(screen.contains('◆') && screen.contains('›'), "{screen}");
}

#[test]
fn a_line_leads_to_its_group_and_words_are_found() {
    let tmux = Tmux::start(120, 36);
    let program = "for i = 1, 9000 do print('tide ' .. i) end\nio.stdout:flush()\nlocal boat = \
        {}\nprint(boat.mast.height)\n";
    tmux.write("main.lua", program);
    tmux.command(&format!("{} run main.lua", izba()));
    tmux.wait_for("boat.mast has no value");
    tmux.keys(&["2", "i"]);
    tmux.keys(&["t", "i", "d", "e", "Space", "4", "2", "1", "7", "Enter"]);
    tmux.wait_for("line 4 217");
    tmux.keys(&["Escape"]);
    tmux.wait_until("the end of the search", |s| !s.contains("Find words"));
    tmux.keys(&["Home"]);
    tmux.wait_until("the first line", |s| s.lines().any(|l| l.trim_end().ends_with("tide 1")));
    tmux.keys(&["End"]);
    tmux.wait_for("attempt to index a nil value");
    tmux.keys(&["Up", "Enter"]);
    tmux.wait_for("Steps that led here");
    tmux.keys(&[":"]);
    tmux.wait_for("Commands");
    tmux.keys(&["l", "i", "n", "e", "s", "Enter"]);
    tmux.wait_for("Lines ─");
}
