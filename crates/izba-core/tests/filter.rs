//! The filter phrase: what it lets through, what is said of a mistake in it, and what is offered
//! while it is typed.

use izba_core::filter::{Around, LineFacts, offers};
use izba_core::group::Split;
use izba_core::{Engine, GroupBy, Phrase, SourceId, State, Wish};
use izba_model::{Level, Millis, Project, ProjectFile, Stream};
use proptest::prelude::*;
use std::sync::Arc;

const START: i64 = 1_796_000_000_000;

fn project() -> Arc<Project> {
    let file = |path: &str, text: &str| ProjectFile { path: path.into(), text: Some(text.into()) };
    let scripts = [
        file("scripts/lantern.lua", "a\nb\nlocal oil = wick.length\n"),
        file("scripts/tide.lua", "height = tideheigth * 2\n"),
        file("web/times.js", "board.rows[3].draw()\n"),
    ];
    Arc::new(Project::new("/p", scripts.into()))
}

/// Two sources, two runs of the first: a flood of two lanterns, a name that is not there, a
/// warning, an error of the page.
fn engine() -> Engine {
    let mut engine = Engine::new(project());
    let (game, page) = (engine.add_source("marsh engine"), engine.add_source("times page"));
    let mut offset = 0;
    let mut say = |engine: &mut Engine, source: SourceId, at: i64, line: &str| {
        let line = format!("{line}\n");
        engine.feed(source, Stream::Out, Some(Millis(START + at)), offset, line.as_bytes());
        offset += line.len() as u64;
    };
    for run in 0..2i64 {
        let base = run * 100_000;
        engine.start_run(game, Some(Millis(START + base)), project());
        for tick in 0..20 {
            say(
                &mut engine,
                game,
                base + tick * 100,
                &format!(
                    "0.1 | error | Lantern#{}.tick | scripts/lantern.lua:3: attempt to \
                        index a nil value (global 'wick')",
                    tick % 2 + 1
                ),
            );
        }
        if run == 0 {
            say(
                &mut engine,
                game,
                5_000,
                "0.2 | error | TideClock#1.turn | scripts/tide.lua:1: attempt to perform \
                    arithmetic on a nil value (global 'tideheigth')",
            );
        }
        say(&mut engine, game, base + 6_000, "0.3 | warn | sound | no device answers");
    }
    engine.start_run(page, Some(Millis(START)), project());
    say(
        &mut engine,
        page,
        90_000,
        "Uncaught TypeError: Cannot read properties of undefined (reading 'draw')\n    at \
            paint (web/times.js:1:15)",
    );
    engine.finish();
    engine.tick(Millis(START + 110_000));
    engine
}

fn around<'a>(names: &'a [String]) -> Around<'a> {
    Around { sources: names, now: Some(Millis(START + 110_000)), utc_offset: 0 }
}

fn names() -> Vec<String> {
    vec!["marsh engine".into(), "times page".into()]
}

#[test]
fn a_phrase_lets_through_what_it_says() {
    let (engine, names) = (engine(), names());
    let groups = engine.groups();
    let told = |text: &str| {
        let phrase = Phrase::parse(text).expect("it can be understood");
        let fit: Vec<String> = groups
            .iter()
            .filter(|g| phrase.fits_group(g, &around(&names)))
            .map(|g| g.explanation.short.bare())
            .collect();
        format!("{text:<42} {}", fit.join(", "))
    };
    let phrases = [
        "wick",
        "\"no DEVICE\"",
        "/wick|draw/",
        "error",
        "warning+",
        "error+ in tide.lua",
        "in scripts",
        "in scripts/*.lua 3",
        "in lantern.lua 4-9",
        "on Lantern#2",
        "from engine",
        "from \"times page\"",
        "kind TypeError",
        "family name-not-there",
        "seen 10+",
        "seen 1",
        "quiet",
        "still or new",
        "new",
        "own not quiet",
        "outside",
        "not (wick or draw)",
        "last 30s",
        "since 00:00",
        "until 00:00",
        "run 1",
        "run 2 error",
        "muted",
        "by sound",
    ];
    insta::assert_snapshot!(phrases.map(told).join("\n"), @r#"
    wick                                       wick is not known here
    "no DEVICE"                                no device answers
    /wick|draw/                                wick is not known here, board.rows[3] has no value here
    error                                      wick is not known here, board.rows[3] has no value here, tideheigth is not known here
    warning+                                   wick is not known here, board.rows[3] has no value here, no device answers, tideheigth is not known here
    error+ in tide.lua                         tideheigth is not known here
    in scripts                                 wick is not known here, tideheigth is not known here
    in scripts/*.lua 3                         wick is not known here
    in lantern.lua 4-9                         
    on Lantern#2                               wick is not known here
    from engine                                wick is not known here, no device answers, tideheigth is not known here
    from "times page"                          board.rows[3] has no value here
    kind TypeError                             board.rows[3] has no value here
    family name-not-there                      wick is not known here, tideheigth is not known here
    seen 10+                                   wick is not known here
    seen 1                                     board.rows[3] has no value here, no device answers, tideheigth is not known here
    quiet                                      tideheigth is not known here
    still or new                               wick is not known here, board.rows[3] has no value here, no device answers
    new                                        board.rows[3] has no value here
    own not quiet                              wick is not known here, board.rows[3] has no value here
    outside                                    no device answers
    not (wick or draw)                         no device answers, tideheigth is not known here
    last 30s                                   wick is not known here, board.rows[3] has no value here, no device answers
    since 00:00                                wick is not known here, board.rows[3] has no value here, no device answers, tideheigth is not known here
    until 00:00                                
    run 1                                      wick is not known here, board.rows[3] has no value here, no device answers, tideheigth is not known here
    run 2 error                                wick is not known here
    muted                                      
    by sound
    "#);
}

#[test]
fn lines_are_judged_by_what_is_known_of_them() {
    let names = names();
    let fits = |phrase: &str, facts: LineFacts<'_>| {
        Phrase::parse(phrase).expect("it can be understood").fits_line(&facts, &around(&names))
    };
    let line = LineFacts {
        text: "the tide turns at scripts/tide.lua:9",
        level: Some(Level::Info),
        speaker: Some("tide-app"),
        own: true,
        run: 2,
        time: Some(Millis(START + 100_000)),
        ..LineFacts::default()
    };
    for phrase in [
        "TIDE",
        "info",
        "debug+",
        "in tide.lua",
        "in tide.lua 9",
        "by tide",
        "from marsh",
        "own",
        "run 2",
        "last 15s",
        "not error+",
        "tide turns or nothing",
    ] {
        assert!(fits(phrase, line), "{phrase}");
    }
    for phrase in [
        "lantern",
        "error+",
        "in tide.lua 10-20",
        "by lantern",
        "from page",
        "outside",
        "run 1",
        "last 5s",
        "new",
        "seen 1+",
        "on Ferry#1",
    ] {
        assert!(!fits(phrase, line), "{phrase}");
    }
}

#[test]
fn a_mistake_is_underlined_with_what_was_expected() {
    let told = [
        "error in",
        "seen often",
        "last week",
        "since noon",
        "until 12:00.1234",
        "run x",
        "(wick",
        "wick)",
        "or wick",
        "wick or",
        "not",
        "\"wick",
        "/wick",
        "/(/",
        "\"\"",
    ]
    .map(|text| {
        let problem = Phrase::parse(text).expect_err("it is wrong");
        format!(
            "{text}\n{}{} {problem}",
            " ".repeat(problem.at.start),
            "^".repeat(problem.at.len().max(1))
        )
    });
    insta::assert_snapshot!(told.join("\n"), @r#"
    error in
          ^^ a script, a folder or a pattern such as scripts/*.lua is missing after this
    seen often
         ^^^^^ a number was expected here, such as 10+ for ten times or more
    last week
         ^^^^ a time was expected here, such as 30s, 5m or 1h
    since noon
          ^^^^ a time of day was expected here, such as 14:02
    until 12:00.1234
          ^^^^^^^^^^ a time of day was expected here, such as 14:02
    run x
        ^ the number of a run was expected here, such as 3
    (wick
    ^ this bracket is never closed
    wick)
        ^ this bracket was never opened
    or wick
    ^^ something to look for is missing before “or”; in quotes it is looked for itself
    wick or
           ^ something to look for is missing after “or”
    not
       ^ something to look for is missing after “not”
    "wick
    ^^^^^ a quote that ends the text is missing
    /wick
    ^^^^^ a / that ends the regular expression is missing
    /(/
    ^^^ this regular expression does not hold: unclosed group
    ""
    ^^ something to look for is missing between these
    "#);
}

#[test]
fn what_fits_here_is_offered_with_what_it_would_leave() {
    let (engine, names) = (engine(), names());
    let groups = engine.groups();
    let told = |text: &str| {
        let offers = offers(text, &groups, &around(&names));
        format!(
            "{text:?}: {}",
            offers
                .iter()
                .map(|o| o.leaves.map_or(o.text.clone(), |n| format!("{} {n}", o.text)))
                .collect::<Vec<_>>()
                .join(" · ")
        )
    };
    insta::assert_snapshot!(["in ", "er", "on ", "error in ti", "lantern", "kind Ty", "not mu", "from "].map(told).join("\n"), @r#"
    "in ": scripts/lantern.lua 20 · scripts/tide.lua 1 · web/times.js 1
    "er": error 22 · family name-not-there 21 · in scripts/lantern.lua 20 · on Lantern#1 20 · on Lantern#2 20 · kind TypeError 1 · family other 1 · family value-not-there 1
    "on ": Lantern#1 20 · Lantern#2 20 · TideClock#1 1
    "error in ti": scripts/tide.lua 1 · web/times.js 1
    "lantern": in scripts/lantern.lua 20 · on Lantern#1 20 · on Lantern#2 20
    "kind Ty": TypeError 1
    "not mu": muted 23
    "from ": "marsh engine" 22 · "times page" 1
    "#);
}

#[test]
fn decisions_hold_and_can_be_taken_back() {
    let mut engine = engine();
    let wick = |engine: &Engine| {
        engine
            .groups()
            .into_iter()
            .find(|g| g.explanation.short.bare().contains("wick") || g.identities.len() > 1)
            .expect("it is there")
    };
    let group = wick(&engine);
    assert_eq!(
        (group.objects.len(), group.differs.first()),
        (2, Some(&Split::Object)),
        "one helper of two objects is one group, its objects told apart"
    );
    let back = engine.wish(&Wish::Split(group.identity.clone(), Some(Split::Object)));
    let rows: Vec<(Option<String>, u64)> = engine
        .groups()
        .iter()
        .filter(|g| g.explanation.short.bare().starts_with("wick"))
        .map(|g| (g.heading.clone(), g.count))
        .collect();
    assert_eq!(rows, [(Some("Lantern#1".into()), 10), (Some("Lantern#2".into()), 10)]);
    engine.wish(&back);
    assert_eq!(wick(&engine).count, 20);
    // Joined with the page's error it is one row of two sources; apart again after undoing it.
    let page = engine.groups().into_iter().find(|g| g.source == 1).expect("it is there");
    let back = engine.wish(&Wish::Join(page.identity.clone(), Some(group.identity.clone())));
    assert_eq!((wick(&engine).count, wick(&engine).tellers.len()), (21, 2));
    engine.wish(&back);
    assert_eq!((wick(&engine).count, wick(&engine).tellers.len()), (20, 1));
    // Set aside by a phrase: what fits it, whenever it comes.
    let back = engine.wish(&Wish::MutePhrase("warning from engine".into(), true));
    let muted = |engine: &Engine| engine.groups().iter().filter(|g| g.muted).count();
    assert_eq!(muted(&engine), 1);
    engine.wish(&back);
    assert_eq!(muted(&engine), 0);
    // Called fixed, and here again.
    engine.wish(&Wish::Fixed(group.identity.clone(), Some(START + 50_000)));
    assert_eq!(wick(&engine).state, State::Back);
    for by in GroupBy::ALL {
        engine.group_by(by);
        let here = engine
            .groups()
            .iter()
            .filter(|g| g.state != State::Quiet)
            .map(|g| g.count)
            .sum::<u64>();
        assert_eq!(here, 20 + 1 + 1, "grouped by {} nothing is lost or counted twice", by.word());
    }
}

#[test]
fn what_two_sources_tell_is_one_and_counted_once() {
    let mut engine = Engine::new(project());
    let (window, file) = (engine.add_source("window"), engine.add_source("game.log"));
    for source in [window, file] {
        engine.start_run(source, Some(Millis(START)), project());
    }
    let words = "scripts/lantern.lua:3: attempt to index a nil value (global 'wick')";
    for tick in 0..5i64 {
        let at = Some(Millis(START + tick * 1_000));
        engine.feed(
            window,
            Stream::Out,
            at,
            tick as u64 * 200,
            format!(
                "lua: {words}\nstack traceback:\n\tscripts/lantern.lua:3: in function \
                'light'\n\t[C]: in ?\n"
            )
            .as_bytes(),
        );
        engine.feed(
            file,
            Stream::Out,
            Some(Millis(START + tick * 1_000 + 40)),
            tick as u64 * 200,
            format!("20:00:0{tick} ERROR {words}\n").as_bytes(),
        );
    }
    engine.finish();
    let groups = engine.groups();
    let told: Vec<_> = groups
        .iter()
        .map(|g| (g.explanation.short.bare(), g.count, g.tellers.as_slice()))
        .collect();
    assert_eq!(told, [("wick is not known here".to_owned(), 5, &[0, 1][..])]);
}

#[test]
fn an_edited_line_is_still_the_same_mistake() {
    let with = |line: &str| {
        Arc::new(Project::new(
            "/p",
            vec![ProjectFile {
                path: "a.lua".into(),
                text: Some(format!("function light()\n  {line}\nend\n").into()),
            }],
        ))
    };
    let mut engine = Engine::new(with("oil = wick.length"));
    let source = engine.add_source("game");
    for (run, line) in
        ["oil = wick.length", "oil = wick.length * 2", "oil = wick.length * 2"].iter().enumerate()
    {
        let at = Some(Millis(START + run as i64 * 60_000));
        engine.start_run(source, at, with(line));
        engine.feed(
            source,
            Stream::Out,
            at,
            run as u64 * 300,
            b"lua: a.lua:2: attempt to index a nil value (global 'wick')\nstack traceback:\n\ta.lua:2: in function 'light'\n\t[C]: in ?\n",
        );
        engine.end_run(source, at, "ended with exit code 1".into(), false);
    }
    let groups = engine.groups();
    assert_eq!(groups.len(), 1, "{groups:#?}");
    assert_eq!((groups[0].state, groups[0].runs.len(), groups[0].stops), (State::Still, 3, true));
    assert_eq!(engine.take_found().len(), 1, "the way from the one to the other is to be kept");
}

#[test]
fn what_comes_right_after_a_save_is_told_so_and_what_was_there_before_is_not() {
    let mut engine = Engine::new(project());
    let source = engine.add_source("game");
    engine.start_run(source, Some(Millis(START)), project());
    let say = |engine: &mut Engine, at: i64, name: &str, line: u32| {
        let words = format!(
            "0.1 | error | Lantern#1.tick | scripts/lantern.lua:{line}: attempt to index a \
                nil value (global '{name}')\n"
        );
        engine.feed(source, Stream::Out, Some(Millis(START + at)), at as u64, words.as_bytes());
    };
    say(&mut engine, 1_000, "wick", 3);
    engine.saved(Millis(START + 5_000), "scripts/lantern.lua".into());
    say(&mut engine, 5_500, "wick", 3);
    say(&mut engine, 6_000, "oil", 2);
    say(&mut engine, 20_000, "flame", 1);
    engine.finish();
    let told: Vec<_> = engine
        .groups()
        .iter()
        .map(|g| (g.entry.place.as_ref().and_then(|p| p.line), g.after_save.is_some()))
        .collect();
    assert_eq!(told.len(), 3);
    for (line, after) in told {
        assert_eq!(after, line == Some(2), "line {line:?}");
    }
    assert!(
        engine.groups().iter().all(|g| g.reason.starts_with("It is ") && g.reason.ends_with('.')),
        "each row says why it stands where it does"
    );
}

proptest! {
    #[test]
    fn any_text_is_understood_or_its_mistake_has_a_place(text in "[ -~“”äß]{0,60}") {
        match Phrase::parse(&text) {
            Ok(phrase) => {
                prop_assert_eq!(phrase.text(), text.as_str());
                let _ = phrase.fits_line(&LineFacts { text: &text, ..LineFacts::default() }, &Around::default());
                prop_assert!(phrase.marks(&text).iter().all(|(a, b)| text.get(*a..*b).is_some()));
            }
            Err(problem) => {
                prop_assert!(problem.at.start <= problem.at.end && problem.at.end <= text.len() && text.is_char_boundary(problem.at.start) && text.is_char_boundary(problem.at.end));
                prop_assert!(!problem.expected.is_empty());
            }
        }
        let _ = offers(&text, &[], &Around::default());
    }

    #[test]
    fn words_side_by_side_bind_tighter_than_or(a in "[a-d]", b in "[a-d]", c in "[a-d]", line in "[a-d]{1,4}") {
        let fits = |phrase: String| Phrase::parse(&phrase).expect("it can be understood").fits_line(&LineFacts { text: &line, ..LineFacts::default() }, &Around::default());
        let has = |w: &str| line.contains(w);
        prop_assert_eq!(fits(format!("\"{a}\" \"{b}\" or \"{c}\"")), has(&a) && has(&b) || has(&c));
        prop_assert_eq!(fits(format!("\"{a}\" (\"{b}\" or not \"{c}\")")), has(&a) && (has(&b) || !has(&c)));
        prop_assert_eq!(fits(format!("not \"{a}\" \"{b}\"")), !has(&a) && has(&b));
    }
}
