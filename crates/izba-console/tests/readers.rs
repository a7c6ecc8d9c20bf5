//! What the readers of forms say, each on a made-up console: what it finds, and what it must leave
//! alone. The forms are those of whole families of tools; no tool is named.

use izba_console::Reading;
use izba_console::read::Layouts;
use izba_console::trace::Lanes;
use izba_model::project::{Project, ProjectFile};
use izba_model::{Level, Report};

fn project() -> Project {
    let text = "one\ntwo\nthree\nfour\nfive\nsix\nseven\neight\nnine\nten\n";
    let file = |path: &str| ProjectFile { path: path.into(), text: Some(text.into()) };
    let paths = ["src/bell.x", "test_bell.py", "bell.py", "bell_test.go", "test/bell_test.rb"];
    Project::new("/srv/quay", paths.map(file).to_vec())
}

/// What the readers make of a console.
fn reports(console: &str) -> Vec<Report> {
    let (project, layouts) = (project(), Layouts::default());
    let reading = Reading { project: &project, layouts: &layouts };
    let (mut lanes, mut found) = (Lanes::default(), Vec::new());
    for (at, line) in console.lines().enumerate() {
        lanes.line(at as u64, None, line, reading, &mut |a| found.push(a.report));
    }
    lanes.finish(reading, &mut |a| found.push(a.report));
    found
}

/// Each report of a console: level, kind or code, place of the head or the innermost step, count of
/// steps, sentence.
fn told(console: &str) -> Vec<String> {
    reports(console).iter().map(one).collect()
}

/// The other places that the first report of a console names.
fn related(console: &str) -> Vec<String> {
    let one = |r: &izba_model::Related| {
        let file = r.frame.file.as_deref().unwrap_or("-");
        format!("{file}:{} {}", r.frame.line.unwrap_or(0), r.words)
    };
    reports(console).first().map_or_else(Vec::new, |r| r.related.iter().map(one).collect())
}

fn one(report: &Report) -> String {
    let place = report.head.as_ref().or(report.frames.first()).map_or("-".to_owned(), |f| {
        format!("{}:{}", f.file.as_deref().unwrap_or("-"), f.line.unwrap_or(0))
    });
    let function = report.head.iter().chain(&report.frames).find_map(|f| f.function.as_deref());
    let level = match report.level {
        Level::Warning => "warning",
        _ => "error",
    };
    let kind = report.kind.as_deref().or(report.code.as_deref()).unwrap_or("-");
    let (function, steps) = (function.unwrap_or("-"), report.frames.len());
    format!("{level} {kind} {place} in {function}, {steps}: {}", report.message)
}

#[test]
fn failed_tests_in_sections_are_told_with_what_they_say_and_where() {
    let console = "\
=================================== FAILURES ===================================
__________________________________ test_ring ___________________________________

    def test_ring():
>       assert ring(3) == 2
E       assert 3 == 2
E        +  where 3 = ring(3)

test_bell.py:4: AssertionError
__________________________________ test_rope ___________________________________

    def test_rope():
>       pull(0)

test_bell.py:8:
_ _ _ _ _ _ _ _ _ _ _ _ _ _ _ _ _ _ _ _ _ _ _ _ _ _ _ _ _ _ _ _ _ _ _ _ _ _ _ _

    def pull(times):
>       return 12 / times
E       ZeroDivisionError: division by zero

bell.py:2: ZeroDivisionError
=========================== short test summary info ============================
FAILED test_bell.py::test_ring - assert 3 == 2
ERROR test_bell.py::test_rope
========================= 2 failed, 1 passed in 0.03s =========================
";
    assert_eq!(
        told(console),
        [
            "error AssertionError test_bell.py:4 in test_ring, 1: assert 3 == 2",
            "error ZeroDivisionError bell.py:2 in pull, 2: division by zero",
        ]
    );
    // A title without a sentence of failing is none.
    assert_eq!(told("____________ the evening ____________\nthe lamps are lit\n"), [""; 0]);
}

#[test]
fn failed_tests_in_a_list_are_told() {
    let console = "  1) Error:
BellTest#test_rope:
NoMethodError: undefined method `pull' for nil

    @rope.pull
         ^
    src/bell.x:3:in `ring'
    test/bell_test.rb:5:in `test_rope'

  2) Failure:
BellTest#test_ring [test/bell_test.rb:7]:
three were asked for

  3) Skipped:
BellTest#test_later [test/bell_test.rb:9]:
no bell yet

3 runs, 2 assertions, 1 failures, 1 errors, 1 skips
";
    assert_eq!(
        told(console),
        [
            "error NoMethodError src/bell.x:3 in ring, 2: undefined method `pull' for nil",
            "error - test/bell_test.rb:7 in test_ring, 0: three were asked for",
        ]
    );
    assert_eq!(told("  1) boil the kettle\n  2) ring the bell\n"), [""; 0]);
}

#[test]
fn the_test_anything_protocol_and_tests_within_tests_are_read() {
    let anything = "\
TAP version 14
1..3
ok 1 - lamps
not ok 2 - bells ring
  ---
  message: 'two of three rang'
  at: src/bell.x:6
  ...
not ok 3 - later # TODO not yet
";
    assert_eq!(told(anything), ["error - src/bell.x:6 in -, 0: two of three rang"]);
    let nested = "\
--- FAIL: TestBells (0.00s)
    --- FAIL: TestBells/both (0.00s)
        bell_test.go:6: rang 2, want 3
FAIL
";
    assert_eq!(told(nested), ["error - bell_test.go:6 in TestBells/both, 0: rang 2, want 3"]);
}

#[test]
fn findings_below_a_files_name_belong_to_it() {
    let console = "\
/srv/quay/src/bell.x
  3:9   error    'rope' is never used   no-unused
  4:1   warning  An odd sign            odd-sign

2 problems
";
    assert_eq!(
        told(console),
        [
            "error no-unused /srv/quay/src/bell.x:3 in -, 0: 'rope' is never used",
            "warning odd-sign /srv/quay/src/bell.x:4 in -, 0: An odd sign",
        ]
    );
    // Without such a name they are lines like others.
    assert_eq!(told("  3:9   error    'rope' is never used   no-unused\n"), [""; 0]);
}

#[test]
fn a_place_may_be_told_before_its_sentence_or_drawn_below_it() {
    let below = "\
Build Error at src/bell.x:5 (find_rope):
  No rope of this name was found,
  nor any other.

-- done
";
    assert_eq!(told(below), ["error - src/bell.x:5 in -, 0: No rope of this name was found,"]);
    let drawn = "\
[NO_ROPE] Could not tie the bell
   ╭─[ src/bell.x:3:7 ]
   │
 3 │ three
   │  ─┬─
   │   ╰── here
───╯
";
    assert_eq!(told(drawn), ["error NO_ROPE src/bell.x:3 in -, 0: Could not tie the bell"]);
    let shown = "\
File \"src/bell.x\", line 4, characters 2-6:
4 |   four
      ^^^^
Error: This is a bell, and a rope was expected
";
    assert_eq!(
        told(shown),
        ["error - src/bell.x:4 in -, 0: This is a bell, and a rope was expected"]
    );
    let talk = "File \"src/bell.x\", line 4, characters 2-6:\nis where the bell is\n";
    assert_eq!(told(talk), [""; 0]);
}

#[test]
fn a_trace_may_come_before_its_sentence_or_below_any() {
    let before = "\
Backtrace:
In src/bell.x:
     5:10  1 (ring 3)
     6:12  0 (pull #f)

src/bell.x:6:12: In procedure pull: no rope
";
    assert_eq!(told(before), ["error - src/bell.x:6 in -, 0: In procedure pull: no rope"]);
    let below = "\
Error: the bell does not ring

Caused by:
    0: no rope
    1: nobody there

Stack backtrace:
   0: bell::pull
             at ./src/bell.x:3:4
   1: bell::ring
             at ./src/bell.x:6:4
all is quiet
";
    assert_eq!(
        told(below),
        ["error Error ./src/bell.x:3 in bell::pull, 2: the bell does not ring"]
    );
}

#[test]
fn a_record_may_bear_details_before_its_trace() {
    let console = "\
ERROR:bells:the rope slipped
handle: <Rope 3 at src/bell.x:2>
Traceback (most recent call last):
  File \"bell.py\", line 2, in pull
    return 12 / times
ZeroDivisionError: division by zero
";
    assert_eq!(told(console), ["error ZeroDivisionError bell.py:2 in pull, 1: division by zero"]);
    let alone = told("ERROR:bells:the rope slipped\nhandle: <Rope 3>\nthe ferry leaves\n");
    assert_eq!(alone, ["error - - in -, 0: the rope slipped"]);
}

#[test]
fn two_that_speak_at_once_are_kept_apart_by_what_they_wear() {
    let console = "\
[deck-1] Traceback (most recent call last):
[deck-2] Traceback (most recent call last):
[deck-1]   File \"bell.py\", line 2, in pull
[deck-2]   File \"bell.py\", line 5, in ring
[deck-2]     three()
[deck-1]     one()
[deck-2] KeyError: 'rope'
[deck-1] ValueError: no bell
[deck-1] the ferry leaves
";
    let mut told = told(console);
    told.sort();
    assert_eq!(
        told,
        [
            "error KeyError bell.py:5 in ring, 1: 'rope'",
            "error ValueError bell.py:2 in pull, 1: no bell",
        ]
    );
}

#[test]
fn the_other_places_that_a_compiler_names_belong_to_its_error() {
    let notes = "\
In file included from src/bell.x:1,
                 from src/tower.x:3:
src/rope.x:9:4: error: cannot hold this
    9 |    hold(rope);
      |    ^~~~
src/rope.x:2:1: note: it is declared here
    2 | let rope;
      | ^~~
src/bell.x:4:1: error: another one
";
    assert_eq!(
        told(notes),
        [
            "error - src/rope.x:9 in -, 0: cannot hold this",
            "error - src/bell.x:4 in -, 0: another one"
        ]
    );
    assert_eq!(
        related(notes),
        [
            "src/rope.x:2 it is declared here",
            "src/bell.x:1 brings it in",
            "src/tower.x:3 brings it in"
        ]
    );
    let arrows = "\
error[E1]: the rope is used twice
  --> src/bell.x:4:2
   |
 4 |  pull(rope)
   |  ^^^^
   |
note: it was given away here
  --> src/bell.x:2:1
";
    assert_eq!(related(arrows), ["src/bell.x:2 it was given away here"]);
    let set_in = "\
src/bell.x:7:7 - error TS1: this rope is no chain.
  The length is missing.

7 let chain = rope
      ~~~~~

  src/rope.x:1:49
    1 the rope
          ~~~~
    'length' is declared here.
";
    assert_eq!(related(set_in), ["src/rope.x:1 'length' is declared here."]);
}

#[test]
fn a_checker_of_memory_names_where_it_came_from() {
    let console = "\
==7==ERROR: AddressSanitizer: heap-use-after-free on address 0x60
READ of size 4 at 0x60 thread T0
    #0 0x55 in Bell::ring() src/bell.x:4
    #1 0x56 in _start (/srv/quay/bell+0x21)

0x60 is located 0 bytes inside of 16-byte region [0x60,0x70)
freed by thread T0 here:
    #0 0x7f in operator delete(void*) ../../asan_new_delete.cpp:155
    #1 0x57 in Bell::drop() src/bell.x:9

SUMMARY: AddressSanitizer: heap-use-after-free src/bell.x:4 in Bell::ring()
Shadow bytes around the buggy address:
  0x0c04: 00 00 fa
=>0x0c05: fa fa[fd]
==7==ABORTING
the tide turns at src/bell.x:2
";
    let kind = "error AddressSanitizer src/bell.x:4 in Bell::ring(), 2: heap-use-after-free";
    assert_eq!(told(console), [kind]);
    assert_eq!(related(console), ["src/bell.x:9 freed by thread T0 here"]);
}

#[test]
fn a_trace_in_a_drawn_box_has_its_sentence_below_it() {
    let console = "\
╭─────────── Traceback (most recent call last) ───────────╮
│ /srv/quay/bell.py:9 in <module>                         │
│                                                         │
│   8                                                     │
│ ❱ 9 ring(None)                                          │
│                                                         │
│ /srv/quay/bell.py:4 in ring                             │
╰─────────────────────────────────────────────────────────╯
TypeError: no rope
the ferry leaves
";
    assert_eq!(told(console), ["error TypeError /srv/quay/bell.py:4 in ring, 2: no rope"]);
    let table = "╭──── Traces ────╮\n│ quay   3 │\n╰────────────────╯\n";
    assert_eq!(told(table), Vec::<String>::new());
}

#[test]
fn steps_go_on_behind_what_another_one_prints_all_the_time() {
    let console = "\
[tick 1] at 4 m
java.lang.IllegalStateException: no rope
\tat quay.Bell.ring(Bell.java:7)
[tick 2] at 8 m
\tat quay.Bell.main(Bell.java:15)
[tick 3] at 12 m
";
    let whole =
        "error java.lang.IllegalStateException quay/Bell.java:7 in quay.Bell.ring, 2: no rope";
    assert_eq!(told(console), [whole]);
    // What heads the steps below it is no such line.
    let other = console.replace("[tick 2] at 8 m", "who rang");
    let alone =
        "error java.lang.IllegalStateException quay/Bell.java:7 in quay.Bell.ring, 1: no rope";
    assert_eq!(told(&other)[0], alone);
}

#[test]
fn a_path_that_is_printed_on_purpose_is_no_error() {
    let path = "stack traceback:\n\tbell.lua:4: in function 'ring'\n\t[C]: in ?\n";
    assert_eq!(told(&format!("{path}the ferry leaves\n")), Vec::<String>::new());
    assert_eq!(told(&format!("here we are:\n{path}not found\n")), Vec::<String>::new());
    let thrown = told("Backtrace:\n   1 (ring src/bell.x:4)\nsrc/bell.x:4: no such rope\n");
    assert_eq!(thrown.len(), 1, "{thrown:?}");
}

#[test]
fn failed_tests_under_bullets_and_behind_arrows_say_what_they_wanted() {
    let bullets = "\
FAIL test/bell.test.js
  ● bell › rings twice

    expect(received).toBe(expected) // Object.is equality

    Expected: 5
    Received: 4

      3 |   test('rings twice', () => {
    > 4 |     expect(ring(2)).toBe(5);
        |                     ^

      at Object.toBe (test/bell.test.js:4:21)

  ● bell › has a rope

    TypeError: Cannot read properties of undefined (reading 'length')

      at rope (src/bell.js:6:20)
      at Object.<anonymous> (test/bell.test.js:7:12)

Tests: 2 failed
";
    assert_eq!(
        told(bullets),
        [
            "error - test/bell.test.js:4 in Object.toBe, 1: \
             expect(received).toBe(expected): Expected: 5, Received: 4",
            "error TypeError src/bell.js:6 in rope, 2: \
             Cannot read properties of undefined (reading 'length')",
        ]
    );
    // A list of things is none of tests.
    assert_eq!(told("  ● oars › two\n\n    of ash, at src/bell.x:2\n"), Vec::<String>::new());
    let arrows = "\
AssertionError: expected 4 to be 5

- Expected
+ Received

 ❯ test/bell.test.js:5:21
    4|   test('rings twice', () => {
    5|     expect(ring(2)).toBe(5);
     |                     ^
 ❯ ring src/bell.js:3:1
";
    let wanted = "error AssertionError test/bell.test.js:5 in ring, 2: expected 4 to be 5";
    assert_eq!(told(arrows), [wanted]);
}

#[test]
fn a_sentence_that_ends_with_a_colon_goes_on_below() {
    let console = "\
AssertionError [ERR_ASSERTION]: Expected values to be strictly equal:

4 !== 5

      at Context.<anonymous> (test/bell.js:4:36)
";
    let kind = "error AssertionError test/bell.js:4 in Context.<anonymous>, 1: \
                Expected values to be strictly equal: 4 !== 5";
    assert_eq!(told(console), [kind]);
    let block = "\
not ok 1 - rings twice
  ---
  location: '/srv/quay/test/bell.js:2:1'
  error: |-
    Expected values to be strictly equal:

    4 !== 5

  name: 'AssertionError'
  stack: |-
    ring (/srv/quay/src/bell.x:4:36)
  ...
ok 2 - is well
";
    let one = "error AssertionError /srv/quay/test/bell.js:2 in ring, 1: \
               Expected values to be strictly equal: 4 !== 5";
    assert_eq!(told(block), [one]);
}
