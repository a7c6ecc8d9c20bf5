//! From run to run, in a terminal: filtered, set aside, mended, broken again, an earlier run
//! opened, a log cut into runs.

use crate::tmux::{Tmux, izba};

/// A game of three mistakes: a flood, one at the start, a warning; each is mended by a word in its
/// line.
fn game(tmux: &Tmux, wick: &str, rope: &str) {
    tmux.write("izba.toml", "");
    tmux.write(
        "main.lua",
        &format!(
            "local boat = {{}}\nlocal function try(deed)\n  local ok, why = xpcall(deed, debug.traceback)\n  if not ok then io.stderr:write('lua: ' .. why .. '\\n') end\nend\n\
             local function light()\n  return {wick}\nend\nlocal function moor()\n  return {rope}\nend\n\
             print('the ferry begins')\nprint('WARNING: the fog is thick')\ntry(moor)\nfor i = 1, 40 do try(light) end\nprint('the ferry is moored')\n"
        ),
    );
}

const WICK: &str = "boat.wick.length";
const ROPE: &str = "boat.rope.knots";

#[test]
fn a_phrase_is_typed_with_offers_and_holds_in_all_rooms() {
    let tmux = Tmux::start(142, 42);
    game(&tmux, WICK, ROPE);
    tmux.command(&format!("{} run main.lua", izba()));
    tmux.wait_until("all three", |s| {
        s.contains("`boat.wick` has no value here")
            && s.contains("`boat.rope` has no value here")
            && s.contains("the fog is thick")
    });
    tmux.keys(&["/"]);
    tmux.text("error+ on");
    tmux.wait_for("the name of an object is missing after this");
    tmux.keys(&["BSpace", "BSpace"]);
    tmux.text("ki");
    tmux.wait_for("of the kind that the language names");
    tmux.keys(&["BSpace", "BSpace"]);
    tmux.text("seen 10");
    // What fits here is offered with what it would leave.
    tmux.wait_until("an offer", |s| s.contains("10+") && s.contains("40 times"));
    tmux.keys(&["Tab", "Enter"]);
    let filtered = tmux.wait_until("one group", |s| {
        s.contains("1 of 3 mistakes, seen 40 times") && !s.contains("`boat.rope` has no value here")
    });
    assert!(filtered.contains("2 filtered out"), "{filtered}");
    tmux.keys(&["2"]);
    // Of 44 lines and traces those of that group.
    tmux.wait_until("its lines alone", |s| {
        s.contains("lines fit, ")
            && s.contains(" hidden")
            && s.contains("main.lua:7: attempt")
            && !s.contains("main.lua:10: attempt")
    });
    tmux.keys(&["Home"]);
    tmux.wait_for("line ");
    tmux.keys(&["p"]);
    tmux.wait_until("what was hidden around it", |s| {
        s.contains("all is shown for a moment") && s.contains("main.lua:10: attempt")
    });
    tmux.keys(&["p"]);
    tmux.wait_until("hidden again", |s| {
        s.contains(" hidden") && !s.contains("main.lua:10: attempt")
    });
    tmux.keys(&["3"]);
    tmux.wait_until("the grid, filtered too", |s| {
        s.contains("ran for")
            && s.contains("`boat.wick` has no value here")
            && !s.contains("`boat.rope` has no value here")
    });
    tmux.keys(&["Escape"]);
    tmux.wait_for("`boat.rope` has no value here");
    // Kept under a name, and offered by it in another session.
    tmux.keys(&["1", "/"]);
    tmux.text("warning");
    tmux.keys(&["Enter", "K"]);
    tmux.wait_for("Keep the filter");
    tmux.text("only fog");
    tmux.keys(&["Enter"]);
    tmux.wait_for("kept as only fog");
    tmux.keys(&["q"]);
    tmux.wait_for("shell>");
    tmux.command(&format!("clear; {} run main.lua", izba()));
    tmux.wait_for("`boat.rope` has no value here");
    tmux.keys(&["/"]);
    tmux.text("only");
    tmux.wait_for("a filter that you kept");
    tmux.keys(&["Tab", "Enter"]);
    tmux.wait_until("the kept filter", |s| {
        s.contains("Filter  warning") && !s.contains("`boat.rope` has no value here")
    });
}

#[test]
fn what_is_set_aside_stays_so_and_what_comes_back_is_told() {
    let tmux = Tmux::start(142, 42);
    game(&tmux, WICK, ROPE);
    tmux.command(&format!("{} run main.lua", izba()));
    tmux.wait_for("the fog is thick");
    tmux.wait_for("`boat.wick` has no value here");
    tmux.keys(&["End", "x"]);
    tmux.wait_until("it gone from the list", |s| {
        s.contains("1 set aside")
            && !s.contains("◇ WARNING: the fog is thick")
            && !s.contains("◇ the fog is thick")
    });
    tmux.keys(&["p"]);
    tmux.wait_for("set aside by you");
    tmux.keys(&["p"]);
    tmux.wait_until("hidden again", |s| !s.contains("set aside by you"));
    // Mended, run again, quiet; broken again, back.
    game(&tmux, "boat.wick", ROPE);
    // Right after a start there may be no room for the mark's words.
    tmux.wait_until("the save", |s| {
        s.contains("main.lua saved") || s.contains("you have saved it since")
    });
    tmux.keys(&["a"]);
    tmux.wait_until("it quiet, and the fog still aside", |s| {
        s.contains("run 2")
            && s.contains("quiet")
            && s.contains("1 set aside")
            && s.contains("main.lua:7")
    });
    tmux.keys(&["a"]);
    tmux.wait_for("run 3");
    game(&tmux, WICK, ROPE);
    // Right after a start there may be no room for the mark's words.
    tmux.wait_until("the save", |s| {
        s.contains("main.lua saved") || s.contains("you have saved it since")
    });
    tmux.keys(&["a"]);
    tmux.wait_until("it back", |s| s.contains("run 4") && s.contains("back: it had been silent"));
    tmux.keys(&["3"]);
    let grid = tmux.wait_until("the runs", |s| s.contains("silent since run 1, here again"));
    assert!(
        grid.contains("1 back") && grid.contains("You changed main.lua before run 4"),
        "{grid}"
    );
    // Two runs side by side.
    tmux.keys(&["V"]);
    tmux.wait_until("run 3 beside run 4", |s| {
        s.contains("Run 3 and run 4")
            && s.contains("back: silent in the earlier run")
            && s.contains("Changed between them: main.lua")
    });
    tmux.keys(&["Escape"]);
    tmux.wait_until("the sheet closed", |s| !s.contains("Run 3 and run 4"));
    // An earlier run as if it were live: its lines, its script as it was.
    tmux.keys(&["Left", "Left", "Enter"]);
    let past = tmux.wait_until("run 2", |s| {
        s.contains("run 2, as it was")
            && s.contains("Why")
            && s.contains("main.lua ended well")
            && s.contains("Fix first  boat.rope has no value")
    });
    assert!(!past.contains("◆ boat.wick has no value"), "in that run it was mended\n{past}");
    tmux.keys(&["2"]);
    tmux.wait_for("the ferry is moored");
    tmux.keys(&["1", "Escape"]);
    tmux.wait_until("this run again", |s| s.contains("run 4") && !s.contains("as it was"));
    tmux.keys(&["q"]);
    tmux.wait_for("shell>");
    // Another session knows all that.
    tmux.command(&format!("clear; {} run main.lua", izba()));
    tmux.wait_until("the fifth run", |s| {
        s.contains("run 5") && s.contains("met since run 1") && s.contains("1 set aside")
    });
}

#[test]
fn a_log_whose_program_starts_elsewhere_is_cut_into_runs_and_so_is_a_run_by_the_user() {
    let tmux = Tmux::start(142, 42);
    tmux.write("izba.toml", "");
    let start = |pid: u32| {
        format!(
            "20:00:0{} marsh engine 1.4 as {pid}\n20:00:01 loads the scene\n{}",
            pid % 10,
            "20:00:02 tick\n".repeat(6)
        )
    };
    let error = "20:00:03 ERROR the rope is torn\n";
    tmux.write("game.log", &(start(41) + error));
    tmux.command(&format!("{} follow game.log", izba()));
    tmux.wait_for("the rope is torn");
    tmux.write("game.log", &(start(41) + error + &start(52) + error + &start(63)));
    tmux.wait_until("three runs, and quiet in the third", |s| {
        s.contains("run 3") && s.contains("quiet")
    });
    tmux.keys(&["3"]);
    tmux.wait_until("the three", |s| s.contains("3 runs today"));
    tmux.keys(&["f"]);
    tmux.wait_until("a fourth by the user", |s| s.contains("4 runs today"));
}

#[test]
fn what_was_edited_between_two_sessions_is_evidence() {
    let tmux = Tmux::start(142, 42);
    tmux.write("izba.toml", "");
    let script = "names = ['ebb', 'flood']\nlimit = int('3')\nprint([names[i % 2] for i in \
                  range(limit)])\n";
    tmux.write("watch.py", script);
    tmux.command(&format!("{} run -- python3 watch.py | cat", izba()));
    tmux.wait_for("No errors");
    tmux.write("watch.py", &script.replace("% 2", "% 3"));
    tmux.command(&format!("clear; {} run -- python3 watch.py", izba()));
    tmux.wait_for("before, it was: `print([names[i % 2]");
}
