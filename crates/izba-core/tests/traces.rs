//! Forms of traces that the samples don't hold: each console text beside what it is read as.

use izba_core::Engine;
use izba_model::{Project, ProjectFile, Stream};
use std::fmt::Write;
use std::sync::Arc;

/// Reads `console` against a project of the usual files and tells each group in a line or two.
fn read(console: &str) -> String {
    let file =
        |path: &str| ProjectFile { path: path.into(), text: Some("line\n".repeat(60).into()) };
    let files = [
        "main.lua",
        "scripts/levels/marsh/lantern.lua",
        "page/times.js",
        "server.mjs",
        "board.py",
        "src/night/Ferry.java",
        "src/night/Bell.java",
        "Gate.cs",
        "fog.c",
    ];
    let project = Arc::new(Project::new("/home/me/ferry", files.map(file).to_vec()));
    let mut engine = Engine::new(project.clone());
    let source = engine.add_source("console");
    engine.start_run(source, None, project);
    engine.feed(source, Stream::Out, None, 0, console.as_bytes());
    engine.finish();
    let mut told = String::new();
    let mut groups = engine.groups();
    groups.sort_by_key(|g| g.first_line);
    for group in groups {
        let (entry, report) = (&group.entry, &group.entry.report);
        let place = entry.place.as_ref().map_or("-".into(), |p| {
            format!("{}:{}", p.file, p.line.map_or("?".into(), |l| l.to_string()))
        });
        let kind = report.kind.as_deref().map_or(String::new(), |k| format!("{k}: "));
        let _ = write!(
            told,
            "{}× {} {place} {kind}{} [{} frames]",
            group.count,
            report.level.word(),
            report.message,
            report.frames.len()
        );
        for cause in &report.causes {
            let _ = write!(told, " <- {}: {}", cause.kind.as_deref().unwrap_or("-"), cause.message);
        }
        if let Some(code) = &report.code {
            let _ = write!(told, " code {code}");
        }
        told.push('\n');
    }
    told
}

#[test]
fn lua_tells_its_errors_in_many_ways() {
    insta::assert_snapshot!(read(
        "lua: main.lua:3: ./main.lua:9: attempt to index a nil value (field 'oil')\n\
         stack traceback:\n\t[C]: in function 'error'\n\tmain.lua:3: in main chunk\n\t[C]: in ?\n\
         could not start: ...ts/levels/marsh/lantern.lua:12: unexpected symbol near '}'\n\
         main.lua:20: loading the marsh\n\
         bell died: main.lua:31: the rope is torn\n\
         stack traceback:\n\tmain.lua:31: in function <main.lua:30>\n\t...\t(skipping 90 levels)\n\t(...tail calls...)\n\
         ! [string \"return boat.mast\"]:1: attempt to index a nil value (global 'boat')\n\
         lua5.4: cannot open nowhere.lua\n"
    ));
}

#[test]
fn javascript_tells_its_errors_in_many_ways() {
    insta::assert_snapshot!(read(
        "(node:41) [DEP0005] DeprecationWarning: Buffer() is deprecated\n(Use `node --trace-deprecation ...` to show where the warning was created)\n\
         TypeError [ERR_INVALID_ARG_TYPE]: The \"path\" argument must be of type string\n    at Object.join (node:path:1171:7)\n    at show (file:///home/me/ferry/server.mjs:14:9)\n    at async Promise.all (index 0) {\n  code: 'ERR_INVALID_ARG_TYPE'\n}\n\
         Uncaught (in promise) RangeError: no such day\n    at https://ferry.test/page/times.js:31:11\n\
         AggregateError\n    at open (/srv/ferry/page/times.js:3:1) {\n  [errors]: [\n    Error: one\n        at one (/srv/ferry/page/times.js:8:1)\n  ]\n}\n\
         tide went wrong: Error: the gauge is dry\n    at gauge (/srv/ferry/page/times.js:12:3)\n\
         Trace: who rang\n    at ring (/srv/ferry/page/times.js:40:3)\n"
    ));
}

#[test]
fn python_tells_its_errors_in_many_ways() {
    insta::assert_snapshot!(read(
        "ERROR:root:boarding failed\nTraceback (most recent call last):\n  File \"/srv/ferry/board.py\", line 7, in board\n    seats[9]\nIndexError: list index out of range\n\
         Traceback (most recent call last):\n  File \"board.py\", line 3, in deep\n    deep()\n  [Previous line repeated 996 more times]\nRecursionError: maximum recursion depth exceeded\n\
         Traceback (most recent call last):\n  File \"board.py\", line 11, in a\n    b()\nKeyError: 'tide'\n\nDuring handling of the above exception, another exception occurred:\n\nTraceback (most recent call last):\n  File \"board.py\", line 13, in a\n    c()\nValueError: no tide\n\n\
         /srv/ferry/board.py:21: UserWarning: the rope is worn\n  warn(\"the rope is worn\")\n\
         python3: can't open file '/srv/ferry/nowhere.py': [Errno 2] No such file or directory\n"
    ));
}

#[test]
fn the_jvm_and_dotnet_tell_their_errors_in_many_ways() {
    insta::assert_snapshot!(read(
        "12:00:01.500 [main] ERROR night.Ferry - cannot cross\nnight.FerryException: the marsh is dry\n\tat night.Ferry.cross(Ferry.java:9)\n\tat java.base/java.lang.Thread.run(Thread.java:840)\n\tSuppressed: java.io.IOException: close failed\n\t\tat night.Bell.close(Bell.java:4)\nCaused by: java.lang.IllegalStateException\n\tat app//night.Bell.ring(Bell.java:21)\n\t... 1 more\n\
         Exception in thread \"ticker\" java.lang.ArrayIndexOutOfBoundsException: Index 7 out of bounds for length 6\n\tat night.Ferry.seat(Ferry.java:30)\n\
         Unhandled exception. System.InvalidOperationException: the gate is shut\n ---> System.NullReferenceException: Object reference not set to an instance of an object.\n   at Night.Gate.Letters(Passenger p) in /src/Gate.cs:line 12\n   --- End of inner exception stack trace ---\n   at Night.Gate.Open(String ticket) in /src/Gate.cs:line 21\n   at Night.Gate.Main() in /src/Gate.cs:line 26\n\
         [INFO] another log, whose head is missing\n         at night.Ferry.cut(Ferry.java:4)\n\tat night.Ferry.off(Ferry.java:5)\n[INFO] and it goes on\n"
    ));
}

#[test]
fn compilers_tell_their_errors_in_many_ways() {
    insta::assert_snapshot!(read(
        "fog.c:12:9: warning: unused variable 'depth' [-Wunused-variable]\n   12 |     int depth;\n      |         ^~~~~\n\
         fog.c:20:5: error: expected ';' before 'return'\nfog.c:3:6: note: declared here\n\
         Gate.cs(12,9): error CS1002: ; expected [/src/gate.csproj]\n\
         src/night/Ferry.java:14: error: cannot find symbol\n        tideclok.turn();\n        ^\n  symbol:   variable tideclok\n  location: class Ferry\n1 error\n"
    ));
}

#[test]
fn ordinary_words_are_no_errors_and_any_console_may_warn() {
    insta::assert_snapshot!(read(
        "0 errors, 0 warnings\nerror handling is ready\nno errors so far\nretrying after error: none\nwarning lights are on at the jetty\nErrorBoundary mounted\n\
         [WARN] the fog is thick\n  2.5 | warn  | Bell#1.ring | the rope is worn\nE/Ferry: not read yet\nWARNING: the tide turns at 14:05\nWARNING: the tide turns at 15:10\nFATAL: the ferry has sunk\n"
    ));
}

#[test]
fn an_entry_ends_where_another_begins_and_waiting_lines_are_not_lost() {
    insta::assert_snapshot!(read(
        "Error: first\n[ERROR] second\nTypeError: third\nnot a step\n[WARN] fourth\n    at \
            nothing\nError: fifth\n\n\n[ERROR] sixth\n"
    ));
}

#[test]
fn a_phones_log_tells_a_crash_once_with_whose_it_is() {
    let columns = "--------- beginning of crash\n\
        11-23 20:00:01.404  3101  3140 W weather-cock: the forecast is old\n\
        11-23 20:00:02.011  4310  4310 E AndroidRuntime: FATAL EXCEPTION: main\n\
        11-23 20:00:02.011  4310  4310 E AndroidRuntime: Process: reed.ferry, PID: 4310\n\
        11-23 20:00:02.011  4310  4310 E AndroidRuntime: java.lang.IllegalStateException: no seat\n\
        11-23 20:00:02.011  4310  4310 E AndroidRuntime: \tat night.Ferry.seat(Ferry.java:14)\n\
        11-23 20:00:02.011  4310  4310 E AndroidRuntime: Caused by: java.io.IOException: no sea\n\
        11-23 20:00:02.011  4310  4310 E AndroidRuntime: \tat night.Bell.ring(Bell.java:3)\n\
        11-23 20:00:02.014  4310  4310 I ferry   : goes on\n";
    // The same in the short form that tools print.
    let short: String = columns
        .lines()
        .map(|line| match line.get(31..) {
            Some(rest) if line.starts_with("11-") => {
                let (tag, said) = rest[2..].split_once(": ").expect("a tag");
                format!("{}/{tag}( 4310): {said}\n", &rest[..1])
            }
            _ => format!("{line}\n"),
        })
        .collect();
    let told = read(columns);
    insta::assert_snapshot!(told, @r"
    1× warning - the forecast is old [0 frames]
    1× error src/night/Bell.java:3 java.lang.IllegalStateException: no seat [1 frames] <- java.io.IOException: no sea
    ");
    assert_eq!(read(&short), told);
}
