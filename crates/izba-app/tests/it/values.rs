//! Room Values: what a program prints under a name is there by itself, drawn over time, with the
//! moments of the chosen error.

use crate::tmux::{Tmux, izba};

#[test]
fn values_appear_by_themselves_and_lead_to_their_lines() {
    let tmux = Tmux::start(142, 42);
    let script = "local fuel = 1.0\nlocal t0 = os.clock()\nfor i = 1, 40 do\n  fuel = fuel - 0.02\n  \
        print(string.format(\"fuel=%.2f passengers=%d\", fuel, i % 7))\n  print(\"tide: \" .. \
        2 + i / 10 .. \" m\")\n  print(\"gate=\" .. (i % 20 < 10 and \"open\" or \"shut\"))\n  \
        io.stdout:flush()\n  local wait = os.clock() + 0.01\n  while os.clock() < wait do \
        end\n  pcall(function() if i > 30 then io.stderr:write(\"lua5.4: ferry.lua:5: the tide \
        is too high\\n\") end end)\nend\n";
    tmux.write("ferry.lua", script);
    tmux.command(&format!("{} run ferry.lua", izba()));
    tmux.wait_for("the tide is too high");
    tmux.wait_for("ended well");
    tmux.keys(&["4"]);
    let values = tmux.wait_until("four values", |s| {
        s.contains("4 values")
            && ["fuel", "passengers", "tide", "gate"].iter().all(|n| s.contains(n))
    });
    // The first is drawn: its last, least and most, and the errors below the axis.
    assert!(values.contains("last 0.2   least 0.2   most 0.98   40 times"), "{values}");
    assert!(values.contains("times in this stretch"), "{values}");
    let row = |name: &str| {
        values.lines().find(|l| l.contains(name)).map(str::to_owned).unwrap_or_default()
    };
    assert!(row("tide").contains("6 m") && row("gate").contains("open"), "{values}");
    // A state has a lane for each of its words.
    tmux.keys(&["Down"]);
    tmux.wait_until("the states", |s| {
        s.contains("now open") && s.lines().any(|l| l.contains("shut") && l.contains("███"))
    });
    // A value leads to its print and back; pinned, it stands in room Now.
    tmux.keys(&["End"]);
    tmux.wait_for("printed by ferry.lua:6");
    tmux.keys(&["L"]);
    tmux.wait_until("the prints", |s| {
        s.contains("4 prints")
            && s.lines().any(|l| l.contains("ferry.lua:5") && l.contains("fuel 0.2, passengers 5"))
    });
    tmux.keys(&["Home", "Enter", "h"]);
    tmux.wait_for("fuel is pinned to room Now");
    tmux.keys(&["1"]);
    tmux.wait_until("the pinned value", |s| {
        s.lines().any(|l| l.trim_start().starts_with("fuel 0.2"))
    });
    tmux.keys(&["4", ","]);
    tmux.wait_until("read off", |s| s.contains("fuel 0.2") && s.contains(" ago)"));
    tmux.keys(&["Escape"]);
    tmux.keys(&["End", "Y", "Up", "+"]);
    let beside = tmux.wait_until("two series, each with an axis", |s| s.contains('▬'));
    assert!(beside.contains("▬ tide"), "{beside}");
    // What is shown is drawn, both of them.
    tmux.keys(&["D"]);
    tmux.wait_until("the sheet of drawings", |s| {
        s.contains("files that import one another") && s.contains("in the colours of the screen")
    });
    tmux.keys(&["o"]);
    tmux.wait_for("on white, to be printed");
    tmux.keys(&["Enter"]);
    let kept = tmux.wait_for("values-1.svg");
    let path = kept
        .lines()
        .find_map(|l| l.split("kept in ").nth(1))
        .expect("it is told where")
        .trim()
        .to_owned();
    let svg = std::fs::read_to_string(&path).unwrap_or_else(|e| panic!("{path}: {e}"));
    assert!(
        svg.contains("passengers")
            && svg.contains("tide")
            && svg.contains("the tide is too high")
            && svg.contains("#ffffff"),
        "{svg}"
    );
    tmux.keys(&["Enter"]);
    tmux.wait_until("its newest line", |s| s.contains("Lines ") && s.contains("passengers=5"));
    tmux.keys(&["q"]);
    tmux.wait_for("shell>");
}

#[test]
fn what_differs_is_looked_for_when_another_error_is_chosen_after_the_end() {
    let tmux = Tmux::start(142, 42);
    let script = "for i = 1, 6 do print(\"tide=\" .. i) \
        end\nio.stdout:flush()\nio.stderr:write(\"lua5.4: ferry.lua:1: the tide is too \
        high\\n\")\nio.stderr:write(\"lua5.4: ferry.lua:2: the lamp is out of oil\\n\")\n";
    tmux.write("ferry.lua", script);
    tmux.command(&format!("{} run ferry.lua", izba()));
    tmux.wait_for("ended well");
    tmux.keys(&["Down", "4"]);
    tmux.wait_until("the second error", |s| {
        s.contains("Just before: the lamp is out of oil") && s.contains("; 1 so far")
    });
    // Nothing is printed any more; the other one is looked into all the same.
    tmux.keys(&["1", "Up", "4"]);
    tmux.wait_until("the first error", |s| {
        s.contains("Just before: the tide is too high") && s.contains("; 1 so far")
    });
    tmux.keys(&["q"]);
    tmux.wait_for("shell>");
}
