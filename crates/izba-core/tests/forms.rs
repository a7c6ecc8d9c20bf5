//! Forms of consoles that no sample covers: a few lines each, and what is made of them. The project
//! has a file of sixty lines for every language.

use izba_core::Engine;
use izba_model::{Project, ProjectFile, Stream};
use std::fmt::Write;
use std::sync::Arc;

const FILES: [&str; 7] = ["a.py", "Main.kt", "app.c", "app.js", "Foo.cs", "main.swift", "gate.rs"];

fn project() -> Arc<Project> {
    let text: String = (1..=60).map(|n| format!("line {n}\n")).collect();
    let files = FILES
        .iter()
        .map(|f| ProjectFile { path: format!("src/{f}").into(), text: Some(text.as_str().into()) });
    Arc::new(Project::new("/srv/x", files.collect()))
}

/// What is found in a console, a line for each group.
fn found(console: &str) -> String {
    let project = project();
    let mut engine = Engine::new(project.clone());
    let source = engine.add_source("form");
    engine.start_run(source, None, project);
    engine.feed(source, Stream::Out, None, 0, console.as_bytes());
    engine.finish();
    let mut seen = String::new();
    for group in engine.groups() {
        let report = &group.entry.report;
        let place = group.entry.place.as_ref().map_or("-".into(), |p| {
            format!("{}:{}:{}", p.file, p.line.unwrap_or(0), p.column.map_or(0, |c| c.number))
        });
        let kind = report.kind.as_deref().unwrap_or("-");
        let function = group.entry.function.as_deref().unwrap_or("-");
        let _ = writeln!(
            seen,
            "  {} {kind} | {} | {place} in {function}, {} steps",
            report.level.word(),
            report.message,
            report.frames.len()
        );
    }
    if seen.is_empty() { "  nothing\n".into() } else { seen }
}

const FORMS: &[&str] = &[
    // Builders of pages: the sentence below its heading, the file in a row of its own, the code that
    // is shown, and the count of it all.
    r#"05:10:12 [quay] Internal server error: no such knot
  Plugin: knots
  File: /srv/x/src/app.js:12:3
  11  |  line 11
  12  |  line 12
      |    ^
  13  |  line 13
      at tie (/opt/tool/knots.js:4:2)
"#,
    // What counts the errors below it is none of them; alone it is all that is told.
    r#"05:10:12 [quay] (gate) Pre-tie error: Tying failed with 1 error:
/srv/x/src/app.js:12:3: ERROR: Expected ")" but found ";"
  Plugin: knots
  File: /srv/x/src/app.js:12:3
  
  Expected ")" but found ";"
  11 |  line 11
  12 |  line 12
     |    ^
"#,
    r#"05:10:12 [quay] (gate) Pre-tie error: Tying failed with 1 error:
the rope is torn
"#,
    r#"ERROR in ./src/app.js 24:7
Module not found: no such knot
| line 23
> line 24
|

built with 1 error in 20 ms
"#,
    r#"error during build:
src/app.js (9:4): a knot was expected
file: /srv/x/src/app.js:9:4

8: line 8
9: line 9
       ^
    at tie (file:///opt/tool/knots.js:4:2)
"#,
    r#"✘ [ERROR] a knot was expected

    src/app.js:9:4:
      9 │ line 9
        │      ^
        ╵      )

1 error
"#,
    // A page's sentence may have several lines.
    r#"[page error] Each rope needs a knot.

Look at the `Quay` that was drawn.
    at http://127.0.0.1/node_modules/ropes.js:4:2
    at http://127.0.0.1/src/app.js:7:1
[page note] the tide turns
"#,
    // What it says next is another message, with or without steps.
    r#"[page error] the tide is out
[page error] TypeError: no wind
    at http://127.0.0.1/src/app.js:1:43
[page error] the moon is up
[page error] the moon is down
"#,
    // One call of a logger, at one moment; and two that come within a second.
    "2026-11-23 20:00:01.250 ERROR deck: no berth is left\n\
     2026-11-23 20:00:01.250 ERROR deck: java.lang.IllegalStateException: full\n\
     2026-11-23 20:00:01.250 ERROR deck: \tat quay.Deck.moor(Main.kt:4)\n",
    "2026-11-23 20:00:01 ERROR deck: no berth is left\n\
     2026-11-23 20:00:01 ERROR deck: java.lang.IllegalStateException: full\n\
     2026-11-23 20:00:01 ERROR deck: \tat quay.Deck.moor(Main.kt:4)\n",
    // Tables and arithmetic are no code that is shown.
    r#"WARNING: the tide is low
| boat | seats |
12 | Heron | 4 |
  3 | boats
"#,
    // Tests that speak in numbers: what is told over several lines, what is to be done one day,
    // and what stands where.
    r#"TAP version 14
ok 1 - ties the rope
not ok 2 - lifts the gate
  ---
  message: |
    the gate
    does not lift
  severity: fail
  location: src/app.js:12:5
  ...
not ok 3 - sings # TODO one day
not ok 4 - counts the boats
  ---
  name: AssertionError
  error: three boats, not four
  at: src/app.js:20:3
  ...
1..4
"#,
    // Records: levels as numbers, nested, in capitals; steps as lists in either order.
    r#"{"level":50,"time":1764000000000,"msg":"no rope","line":12,"file":"src/app.js"}
{"level":30,"msg":"all well"}
{"log":{"level":"error"},"message":"the gate sticks"}
{"severity_text":"ERROR","body":"low tide","stack":["lift (src/app.js:12:5)","main (src/app.js:40:1)"]}
{"what":"FATAL","message":"the boat sank","stack":["main (src/app.js:40:1)","lift (src/app.js:12:5)"]}
{"levelno":40,"message":"no lamp","lineno":7,"pathname":"src/a.py"}
{"levelno":20,"message":"0 errors"}
"#,
    // Boxes: rulers with and without a title, sides, steps in words.
    r#"======== ERROR ========
reason: the gate does not lift
  via lift (src/app.js:12)
  to main (src/app.js:40)
=======================
+----------------------+
| all is well          |
+----------------------+
##############################
# a fault: the rope is cut   #
# at src/a.py:7              #
##############################
"#,
    // What only looks like it.
    r#"======== RESULTS ========
errors: 0
=========================
ok 1 - no errors
# not ok is what a test says that fails
{"level":"info","message":"error count is 0","line":3}
[{"file":"src/app.js"}]
"#,
    r#"src/a.py:12: note: in this function
src/a.py:12:5: error: no rope
src/a.py:12:5: error: no rope
2 errors, 1 note
Traceback (most recent call last):
  File "src/a.py", line 12, in lift
    rope.pull()
  [Previous line repeated 3 more times]
ValueError: no rope
"#,
    r#"ERROR:root:no boat
WARNING:app.db:slow query
INFO:app:0 errors
"#,
    r#"2026-11-23T06:55:24.233Z ERROR tide::gate: gate does not lift height=3
2026-11-23T06:55:24.233Z  WARN tide::gate: slow
"#,
    r#"[2026-11-23T06:55:24Z ERROR tide::gate] gate does not lift
"#,
    r#"Nov 23 06:55:24 marsh ferryd[123]: error: no rope
Nov 23 06:55:25 marsh kernel: all fine, 0 errors
Nov 23 06:55:26 marsh ferryd[123]: WARNING low tide
"#,
    r#"<11>Nov 23 06:55:24 marsh ferryd[123]: no rope at all
<14>Nov 23 06:55:24 marsh ferryd: ok
"#,
    r#"fail: Ferry.Gate[0]
      the gate does not lift
      System.InvalidOperationException: no rope
         at Ferry.Gate.Lift() in /srv/x/src/Foo.cs:line 12
         at Ferry.Main() in /srv/x/src/Foo.cs:line 20
info: Ferry.Gate[0]
      all well
warn: Ferry.Tide[3]
      low tide
"#,
    r#"Fatal error: Index out of range: file src/main.swift, line 12
"#,
    r#"src/main.swift:12: Fatal error: Unexpectedly found nil while unwrapping an Optional value
"#,
    r#"*** Terminating app due to uncaught exception 'NSRangeException', reason: '*** -[NSArray objectAtIndex:]: index 3 beyond bounds [0 .. 2]'
*** First throw call stack:
(
	0   CoreFoundation  0x0001 __exceptionPreprocess + 242
	1   Ferry   0x0002 main + 12
)
libc++abi.dylib: terminating with uncaught exception of type NSException
"#,
    r#"e: file:///home/x/src/Main.kt:3:5 Unresolved reference: boat
w: file:///home/x/src/Main.kt:4:9 Variable 'x' is never used
"#,
    r#"e: /home/x/src/Main.kt: (3, 5): Unresolved reference: boat
"#,
    r#"app: src/app.c:12: main: Assertion `n > 0' failed.
Aborted (core dumped)
"#,
    r#"==123==ERROR: AddressSanitizer: heap-buffer-overflow on address 0x602 at pc 0x1 bp 0x7 sp 0x7
READ of size 4 at 0x602 thread T0
    #0 0x4f1 in tie /srv/x/src/app.c:12:5
    #1 0x4f2 in main /srv/x/src/app.c:20:3
    #2 0x7f in __libc_start_main (/lib/libc.so.6+0x2)

SUMMARY: AddressSanitizer: heap-buffer-overflow /srv/x/src/app.c:12:5 in tie
"#,
    r#"TypeError: boat is undefined
tie@http://localhost:80/src/app.js:12:5
main@http://localhost:80/src/app.js:20:3
@http://localhost:80/src/app.js:25:1
"#,
    r#"error: Uncaught (in promise) TypeError: boat is undefined
    at tie (file:///srv/src/app.js:12:5)
"#,
    r#"Uncaught TypeError: boat is null
    at tie (app.js:12:5)
    at app.js:20:3
"#,
    r#"06:55:24.123 [main] ERROR c.e.Gate - gate does not lift
java.lang.RuntimeException: no rope
	at c.e.Gate.lift(Main.kt:12)
"#,
    r#"SEVERE: gate does not lift
"#,
    r#"2026-11-23 06:55:24,123 - app.gate - ERROR - gate does not lift
"#,
    r#"2026-11-23 06:55:24,123 ERROR [app.gate] (main) gate does not lift
"#,
    r#"gate.go:12:3: x
2026/11/23 06:55:24 main.go:12: no rope
"#,
    r#"E/Gate( 123): no rope
W/Gate( 123): low tide
I/Gate( 12): ok error=0
"#,
    r#"thread 'main' panicked at src/gate.rs:12:5:
index out of bounds: the len is 3 but the index is 3
note: run with RUST_BACKTRACE=1
"#,
    r#"thread 'main' panicked at 'no rope', src/gate.rs:12:5
stack backtrace:
   0: rust_begin_unwind
             at /rustc/x/library/std/src/panicking.rs:1:1
   1: ferry::tie
             at ./src/gate.rs:12:5
   2: ferry::main
             at ./src/gate.rs:20:3
"#,
    r#"terminate called after throwing an instance of 'std::out_of_range'
  what():  vector::_M_range_check: __n (which is 3) >= this->size() (which is 3)
Aborted
"#,
    r#"Segmentation fault (core dumped)
"#,
    r#"[ERROR] 12:00 gate.lua broken
!!! CRITICAL !!! no rope
"#,
    r#"ERROR in ./src/app.js 12:5
Module not found: Error: no rope
"#,
    r#"src/app.js: line 12, col 5, Error - boat is not defined. (no-undef)
"#,
    r#"2026-11-23 20:00:01.123456+0100 Ferry[412:9911] boat leaves
2026-11-23 20:00:02.123456+0100 Ferry[412:9911] *** Terminating app due to uncaught exception 'NSInvalidArgumentException', reason: '-[Boat ring]: unrecognized selector sent to instance 0x600003a1'
*** First throw call stack:
(
	0   CoreFoundation                      0x00007ff8 __exceptionPreprocess + 242
	1   libobjc.A.dylib                     0x00007ff8 objc_exception_throw + 48
	2   Ferry                               0x0000000104c9 -[Boat land] + 21
	3   Ferry                               0x0000000104c9 main + 90
)
libc++abi: terminating due to uncaught exception of type NSException
zsh: abort      ./Ferry
"#,
    r#"src/main.swift:12: Fatal error: Unexpectedly found nil while unwrapping an Optional value
Current stack trace:
0    libswiftCore.dylib                 0x00000001a8 _swift_stdlib_reportFatalErrorInFile + 124
1    Ferry                              0x000000010 tide(_:) + 300
Illegal instruction: 4
"#,
    r#"  + Exception Group Traceback (most recent call last):
  |   File "/srv/x/src/a.py", line 9, in <module>
  |     raise ExceptionGroup("night", [a, b])
  | ExceptionGroup: night (2 sub-exceptions)
  +-+---------------- 1 ----------------
    | Traceback (most recent call last):
    |   File "/srv/x/src/a.py", line 4, in <module>
    |     int("x")
    | ValueError: invalid literal for int() with base 10: 'x'
    +---------------- 2 ----------------
    | TypeError: no rope
    +------------------------------------
"#,
    r#"E 20:00:01 gate: cannot lift: rope missing
   [same frames as above]
E 20:00:02 gate: cannot lift: rope missing
   --- last message repeated 12 times ---
Nov 23 20:00:03 marsh kernel: last message repeated 3 times
thread 'main' panicked at src/gate.rs:4:9:
no tide
note: run with `RUST_BACKTRACE=1` environment variable to display a backtrace
error: process didn't exit successfully: `target/debug/ferry` (exit status: 101)
make: *** [Makefile:3: run] Error 101
"#,
    r#"debug path of tick:
stack traceback:
	main.lua:4: in function 'tick'
	main.lua:9: in main chunk
	[C]: in ?
the boat goes on
Trace: where am i
    at tick (/srv/x/src/app.js:3:11)
    at Object.<anonymous> (/srv/x/src/app.js:6:1)
going on
java.lang.Exception: Stack trace
	at java.base/java.lang.Thread.dumpStack(Thread.java:1380)
	at Main.tick(Main.java:4)
	at Main.main(Main.java:9)
"#,
    r#"2026-11-23 20:00:00,100 [w-1] INFO  ferry.Deck - boards
2026-11-23 20:00:00,200 [w-2] INFO  ferry.Deck - boards
2026-11-23 20:00:00,300 [w-1] INFO  ferry.Deck - leaves
2026-11-23 20:00:00,400 [w-2] INFO  ferry.Deck - leaves
2026-11-23 20:00:00,500 [w-1] INFO  ferry.Deck - lands
2026-11-23 20:00:00,600 [w-2] INFO  ferry.Deck - lands
2026-11-23 20:00:01,100 [w-1] ERROR ferry.Deck - java.lang.IllegalStateException: no rope
2026-11-23 20:00:01,100 [w-2] ERROR ferry.Deck - java.lang.ArrayIndexOutOfBoundsException: Index 3 out of bounds for length 3
2026-11-23 20:00:01,101 [w-1] ERROR ferry.Deck - 	at ferry.Deck.tie(Deck.java:12)
2026-11-23 20:00:01,101 [w-2] ERROR ferry.Deck - 	at ferry.Deck.seat(Deck.java:30)
2026-11-23 20:00:01,102 [w-2] ERROR ferry.Deck - 	at ferry.Deck.run(Deck.java:5)
2026-11-23 20:00:01,102 [w-1] ERROR ferry.Deck - 	at ferry.Deck.land(Deck.java:14)
2026-11-23 20:00:01,103 [w-3] INFO  ferry.Deck - all others go on
2026-11-23 20:00:01,103 [w-1] ERROR ferry.Deck - 	at ferry.Deck.run(Deck.java:5)
2026-11-23 20:00:02,100 [w-1] INFO  ferry.Deck - goes on
2026-11-23 20:00:02,100 [w-2] INFO  ferry.Deck - goes on
"#,
];

#[test]
fn consoles_of_many_forms_are_read() {
    let mut seen = String::new();
    for form in FORMS {
        let _ = write!(seen, "{}\n{}", form.lines().next().unwrap_or(""), found(form));
    }
    insta::assert_snapshot!(seen);
}

/// Lines that hold the words of trouble and mean no harm.
#[test]
fn harmless_lines_stay_lines() {
    let lines = "0 errors, 0 warnings\nerror handling is set up\nno exception was raised\nINFO: the \
        fatal flaw is mended\n[info] panic button tested\nfailed attempts: \
        0\nERRORS=0\n==========\nwarnings are off\n{\"level\":\"info\",\"errors\":[]}\nat \
        least 3 boats\nloaded error.lua:12 symbols\n";
    assert_eq!(found(lines), "  nothing\n");
}

/// A ruler that nothing closes takes nothing with it.
#[test]
fn rulers_do_not_hide_what_stands_below_them() {
    let found = found(
        "====================\nERROR: no rope\n----- the boat has failed -----\nall \
            hands\nTraceback (most recent call last):\n  File \"src/a.py\", line 12, in \
            tie\n    line 12\nKeyError: 'rope'\n",
    );
    assert!(found.contains("| no rope |") && found.contains("src/a.py:12:0 in tie"), "{found}");
}
