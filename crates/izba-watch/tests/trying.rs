//! Trying exact edits with a real runtime: what holds, what does not, what comes instead, and programs
//! that never end or do what they should not.

use izba_model::claim::Fix;
use izba_sources::Program;
use izba_watch::cornering::{Edits, Mistake, Needs, Outcome, Start, Tried, look, try_fixes};
use std::path::Path;
use std::sync::Arc;
use std::sync::atomic::AtomicBool;
use std::time::{Duration, Instant};

/// A project with one program, and all that is needed to run copies of it.
struct Place {
    folder: tempfile::TempDir,
    start: Start,
}

fn place(program: &str, seconds: u64) -> Place {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let root = folder.path().join("ferry");
    std::fs::create_dir(&root).expect("room");
    std::fs::write(root.join("main.py"), program).expect("room");
    let start = Start {
        project: Arc::new(izba_files::scan(&root)),
        program: Program {
            words: ["python3", "main.py"].map(Into::into).to_vec(),
            within: Default::default(),
            environment: Vec::new(),
            input: String::new(),
        },
        beside: folder.path().join("copy"),
        budget: (100, Duration::from_secs(seconds)),
        needs: Needs::Kept,
        root,
    };
    Place { folder, start }
}

impl Place {
    /// Tries to put one text in the place of another, which stands there once.
    fn tries(&self, edits: &[(&str, &str)]) -> Result<Vec<Tried>, String> {
        self.tries_with(edits, &[])
    }

    /// And others as what the first of them is elsewhere.
    fn tries_with(
        &self,
        edits: &[(&str, &str)],
        elsewhere: &[(&str, &str)],
    ) -> Result<Vec<Tried>, String> {
        let stop = AtomicBool::new(false);
        let groups = look(&self.start, &stop)?;
        let mistake = Mistake::of(groups.first().expect("there is an error"));
        let text = self.start.project.file("main.py").and_then(|f| f.text.clone());
        let text = text.expect("the program is there");
        let fix = |(old, new): &(&str, &str)| {
            let at = text.find(old).expect("it stands there");
            Fix::one(&"main.py".into(), at..at + old.len(), *new).expect("a fix")
        };
        let fixes: Vec<Fix> = edits.iter().map(fix).collect();
        let alike = fixes[0].clone();
        let edits = Edits { fixes, alike: Some((alike, elsewhere.iter().map(fix).collect())) };
        try_fixes(&self.start, &mistake, &edits, &stop, &mut |_| {})
    }

    fn text(&self) -> String {
        std::fs::read_to_string(self.start.root.join("main.py")).expect("the program is there")
    }
}

fn outcomes(tried: &[Tried]) -> Vec<&Outcome> {
    tried.iter().map(|t| &t.outcome).collect()
}

const FARES: &str = "fares = {'adult': 4, 'chidl': 2}\nprint('hello')\nprint(fares['child'])\n";

#[test]
fn the_first_edit_that_holds_is_found_and_the_files_are_not_touched() {
    let place = place(FARES, 60);
    let edits = [
        ("hello", "good evening"),
        ("fares['child']", "fare['child']"),
        ("chidl", "child"),
        ("4", "5"),
    ];
    let tried = place.tries(&edits).expect("it can be tried");
    let told = outcomes(&tried);
    assert!(
        matches!(told[..], [Outcome::Comes, Outcome::Other(_), Outcome::Gone]),
        "what comes after the one that holds is not tried: {told:?}"
    );
    let Outcome::Other(said) = told[1] else { unreachable!() };
    assert!(said.contains("fare"), "{said}");
    let held = tried[2].sentence();
    assert!(held.contains("ran to its end") && held.contains("no new one comes"), "{held}");
    assert_eq!(place.text(), FARES);
    let left: Vec<_> =
        std::fs::read_dir(place.folder.path()).expect("a folder").flatten().collect();
    assert_eq!(left.len(), 1, "the copy is gone");
}

#[test]
fn the_same_elsewhere_is_tried_beside_the_one_that_holds() {
    let program = "fares = {'child': 2}\n\n\ndef day(who):\n    return fares[who + 's']\n\n\ndef month(who):\n    \
        return 30 * fares[who + 's']\n\n\ndef names(who):\n    return {'dogs': 1}[who + 's']\n\n\n\
        print(names('dog'), day('child'))\n";
    let place = place(program, 60);
    let elsewhere = [
        ("30 * fares[who + 's']", "30 * fares[who]"),
        ("{'dogs': 1}[who + 's']", "{'dogs': 1}[who]"),
        // Takes the same bytes as the one before it, which did not go with the rest.
        ("1}[who + 's']", "1}[who + 'S']"),
    ];
    let held = ("return fares[who + 's']", "return fares[who]");
    let tried = place.tries_with(&[held], &elsewhere).expect("it can be tried");
    let told = outcomes(&tried);
    assert!(
        matches!(told[..], [Outcome::Gone, Outcome::Gone, Outcome::Other(_), Outcome::Other(_)]),
        "{told:?}"
    );
    assert!(tried[0].holds() && !tried[1].holds() && tried[1].goes_with_it());
    let said = tried[1].sentence();
    assert!(said.contains("together") && said.contains("no new error comes"), "{said}");
    assert!(!tried[2].goes_with_it() && tried[2].sentence().contains("another error comes"));
    assert_eq!(place.text(), program);
    // Where nothing holds, nothing is tried elsewhere.
    let none = place.tries_with(&[("fares = {", "fares = { ")], &elsewhere).expect("it is tried");
    assert_eq!(outcomes(&none), [&Outcome::Comes]);
}

/// The same slip twice, and another mistake behind both.
const TWICE: &str = "class Boat:\n    seats = 3\n\n\ndef day(boat):\n    return boat.seets * 2\n\n\n\
    def night(boat):\n    return boat.seets * 4\n\n\nprint(day(Boat()))\nprint(night(Boat()))\n";

#[test]
fn the_next_mistake_is_no_word_against_the_edit_of_the_first() {
    let day = ("boat.seets * 2", "boat.seats * 2");
    let place = place(TWICE, 60);
    let alone = place.tries(&[day]).expect("it can be tried");
    let [Outcome::Later(said)] = outcomes(&alone)[..] else { panic!("{alone:?}") };
    assert!(said.contains("seets") && alone[0].sentence().contains("nothing either way"), "{said}");
    // Made wherever the same is done, it is proved at once.
    let night = ("boat.seets * 4", "boat.seats * 4");
    let both = place.tries_with(&[day], &[night]).expect("it can be tried");
    assert!(both.len() == 1 && both[0].holds() && both[0].with == 1, "{both:?}");
    let said = both[0].sentence();
    assert!(said.contains("the same in one other place"), "{said}");
    assert_eq!(place.text(), TWICE);
}

#[test]
fn a_bad_end_without_a_word_is_no_success() {
    let place = place(FARES, 60);
    let tried = place.tries(&[("print(fares['child'])", "raise SystemExit(3)")]);
    let tried = tried.expect("it can be tried");
    assert_eq!(outcomes(&tried), [&Outcome::Other("the program ended badly".into())]);
}

#[test]
fn an_edit_that_moves_the_line_of_the_error_does_not_hide_it() {
    let place = place(FARES, 60);
    let tried = place.tries(&[("print('hello')\n", "print('hello')\nprint('again')\n")]);
    assert_eq!(outcomes(&tried.expect("it can be tried")), [&Outcome::Comes]);
}

#[test]
fn a_program_that_never_ends_is_run_for_longer_than_its_error_needed() {
    let game = "import sys, time\nwhile True:\n    try:\n        {}['oar']\n    except KeyError as e:\n        \
        import traceback; traceback.print_exc()\n    sys.stdout.flush()\n    time.sleep(0.05)\n";
    let place = place(game, 60);
    let begun = Instant::now();
    let tried = place.tries(&[("{}['oar']", "{'oar': 1}['oar']")]).expect("it can be tried");
    assert_eq!(outcomes(&tried), [&Outcome::Gone]);
    assert!(!tried[0].ended && tried[0].ran_ms >= 2_000, "{}", tried[0].ran_ms);
    assert!(tried[0].sentence().contains("the program ran for"), "{}", tried[0].sentence());
    assert!(begun.elapsed() < Duration::from_secs(60));
}

#[test]
fn what_only_takes_the_asker_out_is_no_proof() {
    let place = place(FARES, 60);
    let edits = [("print(fares['child'])\n", ""), ("chidl", "child")];
    let tried = place.tries(&edits).expect("it can be tried");
    assert_eq!(outcomes(&tried), [&Outcome::Gone; 2], "it goes on to one that mends");
    assert_eq!([tried[0].holds(), tried[1].holds()], [false, true]);
    assert!(tried[0].sentence().ends_with("the quick way, which may hide the mistake"));
    assert!(!tried[1].sentence().contains("quick"), "{}", tried[1].sentence());
}

#[test]
fn a_program_that_writes_without_end_is_ended() {
    let home = tempfile::tempdir().expect("a temporary folder");
    let far = home.path().join("far");
    let endless = format!(
        "import sys\nwith open({:?}, 'wb') as f:\n  while True:\n    f.write(b'x' * (1 << 20))",
        far.display().to_string()
    );
    let place = place(FARES, 60);
    let tried = place.tries(&[("print(fares['child'])", &endless)]).expect("it can be tried");
    let [Outcome::Other(said)] = outcomes(&tried)[..] else { panic!("{tried:?}") };
    assert!(said.contains("large") || said.contains("ended badly"), "{said}");
    let written = std::fs::metadata(&far).expect("it was begun").len();
    assert!(written <= 256 << 20, "also outside of the copy: {written}");
    assert_eq!(place.text(), FARES);
}

#[test]
fn what_an_edit_starts_is_ended_with_its_trial() {
    // It leaves a child behind that hears no signal and would go on for ever.
    let left = tempfile::tempdir().expect("a temporary folder");
    let number = left.path().join("number");
    let child = format!(
        "import subprocess, os, time\nsubprocess.Popen(['sh', '-c', 'trap \"\" HUP TERM; echo $$ > {0}; \
            while :; do sleep 0.05; done'], start_new_session=True)\n\
            while not os.path.exists('{0}'): time.sleep(0.01)",
        number.display()
    );
    let place = place(FARES, 60);
    let tried = place.tries(&[("print(fares['child'])", &child)]).expect("it can be tried");
    assert_eq!(outcomes(&tried), [&Outcome::Gone]);
    let number = std::fs::read_to_string(&number).expect("the child told its number");
    let process = Path::new("/proc").join(number.trim());
    let begun = Instant::now();
    while process.exists() {
        assert!(begun.elapsed() < Duration::from_secs(10), "it still runs");
        std::thread::yield_now();
    }
}

#[test]
fn where_the_error_does_not_come_in_the_copy_nothing_is_claimed() {
    // It fails where it is, and nowhere else.
    let folder = tempfile::tempdir().expect("a temporary folder");
    let flag = folder.path().join("met");
    let once = format!(
        "import os\nif not os.path.exists('{0}'):\n    open('{0}', 'w').close()\n    print({{}}['oar'])\n",
        flag.display()
    );
    let place = place(&once, 60);
    let refused = place.tries(&[("['oar']", ".get('oar')")]).expect_err("it does not come again");
    assert!(refused.contains("did not come in 3 runs of a copy"), "{refused}");
}
