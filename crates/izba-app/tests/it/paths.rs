//! Paths that programs print on purpose: five real runtimes, and the sheet in room Lines.

use crate::tmux::{Tmux, izba};
use std::process::Command;

/// Each prints how it came to a line, twice by one way and once by another, and nothing is wrong.
const PROGRAMS: &[(&str, &str, &str)] = &[
    (
        "tide.lua",
        "lua5.4 tide.lua",
        "local function tide() print(debug.traceback(\"tide asked\")) return 1 end\nlocal \
            function sail()\n  return tide() + 1\nend\nfor i = 1, 2 do sail() end\nlocal x = \
            tide()\nprint(\"done\")\n",
    ),
    (
        "tide.py",
        "python3 tide.py",
        "import traceback\ndef tide():\n    traceback.print_stack()\n    return 1\ndef \
            sail():\n    return tide() + 1\nfor i in range(2):\n    \
            sail()\ntide()\nprint(\"done\")\n",
    ),
    (
        "tide.js",
        "node tide.js",
        "function tide() { console.trace(\"tide asked\"); return 1; }\nfunction sail() \
            {\n  return tide() + 1;\n}\nfor (let i = 0; i < 2; i++) \
            sail();\ntide();\nconsole.log(\"done\");\n",
    ),
    (
        "mark.js",
        "node mark.js",
        "function tide() { console.log(\"tide asked\", new Error().stack); console.log(new \
            Error().stack); }\nfor (let i = 0; i < 2; i++) tide();\nconsole.log(\"done\");\n",
    ),
    (
        "Tide.java",
        "javac Tide.java && java Tide",
        "public class Tide {\n  static int tide() {\n    Thread.dumpStack();\n    return \
            1;\n  }\n  static int sail() {\n    return tide() + 1;\n  }\n  public static void \
            main(String[] words) {\n    for (int i = 0; i < 2; i++) sail();\n    tide();\n    \
            System.out.println(\"done\");\n  }\n}\n",
    ),
    (
        "Tide.cs",
        "mcs -debug -out:tide.exe Tide.cs && MONO_INLINELIMIT=0 mono --debug tide.exe",
        "using System;\nclass Tide {\n  static int Now() {\n    \
            Console.WriteLine(Environment.StackTrace);\n    return 1;\n  }\n  static int \
            Sail() {\n    int now = Now();\n    return now + 1;\n  }\n  static void Main() \
            {\n    for (int i = 0; i < 2; i++) Sail();\n    Now();\n    \
            Console.WriteLine(\"done\");\n  }\n}\n",
    ),
];

#[test]
fn paths_printed_on_purpose_are_folded_and_no_error() {
    let folder = tempfile::tempdir().expect("room");
    let mut all = String::new();
    for (name, command, text) in PROGRAMS {
        let project = folder.path().join(name.replace('.', "-"));
        std::fs::create_dir(&project).expect("room");
        std::fs::write(project.join(name), text).expect("room");
        let log = Command::new("sh")
            .args(["-c", &format!("({command}) > console.log 2>&1")])
            .current_dir(&project)
            .status();
        assert!(log.expect("sh is there").success(), "{name}");
        let told = |words: &[&str]| {
            let out = Command::new(izba())
                .args(words)
                .args(["--project", "."])
                .arg("console.log")
                .current_dir(&project)
                .output()
                .expect("it runs");
            String::from_utf8_lossy(&out.stdout).into_owned()
        };
        all += &format!("{}{}\n", told(&["paths"]), told(&["read"]).lines().next().unwrap_or(""));
    }
    insta::assert_snapshot!(all, @r#"
    tide.lua:1  tide  “tide asked”  3 times
      from tide.lua:3  sail  2 times
        from tide.lua:5  main chunk  2 times
      from tide.lua:6  main chunk  1 time
    No errors and no warnings in 18 lines.
    tide.py:3  tide  3 times
      from tide.py:6  sail  2 times
        from tide.py:8  <module>  2 times
      from tide.py:9  <module>  1 time
    No errors and no warnings in 17 lines.
    tide.js:1  tide  “tide asked”  3 times
      from tide.js:3  sail  2 times
        from tide.js:5  Object.<anonymous>  2 times
      from tide.js:6  Object.<anonymous>  1 time
    No errors and no warnings in 30 lines.
    mark.js:1  tide  “tide asked”  2 times
      from mark.js:2  Object.<anonymous>  2 times
    mark.js:1  tide  2 times
      from mark.js:2  Object.<anonymous>  2 times
    No errors and no warnings in 37 lines.
    Tide.java:3  Tide.tide  “java.lang.Exception: Stack trace”  3 times
      from Tide.java:7  Tide.sail  2 times
        from Tide.java:10  Tide.main  2 times
      from Tide.java:11  Tide.main  1 time
    No errors and no warnings in 15 lines.
    Tide.cs:4  Tide.Now  3 times
      from Tide.cs:8  Tide.Sail  2 times
        from Tide.cs:12  Tide.Main  2 times
      from Tide.cs:13  Tide.Main  1 time
    No errors and no warnings in 12 lines.
    "#);
}

#[test]
fn from_a_printed_path_to_who_calls_from_where() {
    let tmux = Tmux::start(142, 42);
    for (name, _, text) in &PROGRAMS[..1] {
        tmux.write(name, text);
    }
    tmux.command(&format!("{} run tide.lua", izba()));
    tmux.wait_for("No errors");
    tmux.keys(&["2"]);
    tmux.wait_for("stack traceback:");
    tmux.keys(&["W"]);
    let sheet = tmux.wait_until("the paths", |s| {
        s.contains("Printed paths") && s.contains("from tide.lua:3  sail") && s.contains("3 times")
    });
    assert!(sheet.contains("tide asked") && sheet.contains("from tide.lua:6"), "{sheet}");
    tmux.keys(&["Down"]);
    // The chosen step's own source stands below.
    tmux.wait_until("its source", |s| s.contains("    3    return tide() + 1"));
    tmux.keys(&["Enter"]);
    tmux.wait_until("the lines again", |s| {
        !s.contains("Printed paths") && s.contains("stack traceback:")
    });
    tmux.keys(&["q"]);
    tmux.wait_for("shell>");
}
