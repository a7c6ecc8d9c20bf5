//! Views as pictures of cells, on ratatui's test backend.

use izba_app::model::{Layout, Model, Overlay, Question, Room};
use izba_app::theme::{Depth, Theme};
use izba_app::turn::{Effect, Msg, update};
use izba_watch::{Answer, LineRow, Order, Published};

use izba_app::screen as view;
use izba_core::{Engine, GroupId, LineRef, SourceId};
use izba_model::{Millis, Project, ProjectFile, SafeText, Stream};
use proptest::prelude::*;
use ratatui::Terminal;
use ratatui::backend::TestBackend;
use std::sync::Arc;

pub const START: i64 = 1_796_000_000_000;

fn project() -> Arc<Project> {
    let file = |path: &str, text: &str| ProjectFile { path: path.into(), text: Some(text.into()) };
    let files = izba_standins::world::files().into_iter().map(|(path, text)| file(&path, text));
    Arc::new(Project::new("/home/me/night-ferry", files.collect()))
}

/// A demo of twelve seconds, as its engine prints it.
fn engine() -> Engine {
    let project = project();
    let mut engine = Engine::new(project.clone());
    let source = engine.add_source("marsh engine");
    engine.start_run(source, Some(Millis(START)), project);
    let mut offset = 0;
    let mut say = |engine: &mut Engine, at: i64, stream: Stream, text: &str| {
        let line = format!("{:8.3} | {text}\n", at as f64 / 1000.0);
        engine.feed(source, stream, Some(Millis(START + at)), offset, line.as_bytes());
        offset += line.len() as u64;
    };
    say(&mut engine, 0, Stream::Out, "note  | engine | marsh engine 0.3, 30 ticks a second");
    say(
        &mut engine,
        1,
        Stream::Err,
        "warn  | sound | no device answers; sounds are played silently",
    );
    say(
        &mut engine,
        2,
        Stream::Err,
        "error | engine | scripts/fog.lua:20: 'end' expected (to close 'function' at line \
            8) near <eof>",
    );
    for tick in 0..360 {
        let at = 10 + tick * 33;
        say(
            &mut engine,
            at,
            Stream::Err,
            "error | Lantern#3.tick | scripts/lantern.lua:34: attempt to index a nil value \
                (local 'wick')",
        );
        for step in [
            "scripts/lantern.lua:34 in shine",
            "scripts/lantern.lua:39 in tick",
            "marsh-engine/loop.lua:36 in tick",
        ] {
            let line = format!("         from {step}\n");
            engine.feed(
                source,
                Stream::Err,
                Some(Millis(START + at)),
                1_000_000 + at as u64,
                line.as_bytes(),
            );
        }
        if tick % 30 == 29 {
            say(&mut engine, at, Stream::Out, "print | TideClock#1.tick | tide 1.82");
        }
        if tick % 150 == 120 {
            say(
                &mut engine,
                at,
                Stream::Err,
                "error | TideClock#1.turn | scripts/tide.lua:23: attempt to perform \
                    arithmetic on a nil value (global 'tideheigth')",
            );
        }
    }
    engine.saved(Millis(START + 9_000), "scripts/tide.lua".into());
    engine.tick(Millis(START + 12_000));
    engine
}

/// What the engine thread would publish, with the program running.
pub fn published_of(engine: &Engine) -> Arc<Published> {
    let snapshot = engine.snapshot();
    Arc::new(Published {
        today: snapshot.project.clone(),
        snapshot,
        running: true,
        can_run_again: true,
        backlog: 0,
        troubles: Vec::new(),
        sources: Vec::new(),
        awaited: Vec::new(),
        page_told: None,
        page_awaited: false,
        telling: None,
        class: Arc::default(),
        filters: Vec::new(),
        past: None,
        code: Arc::default(),
        known: Arc::default(),
        pause: Arc::default(),
        corner: None,
        paths: None,
        values: None,
        notes: Arc::default(),
        tries_alone: false,
    })
}

/// The screen of the demo after twelve seconds.
pub fn demo(size: (u16, u16)) -> Model {
    let theme = Theme::new(Depth::True, false);
    let first = published_of(&Engine::new(project()));
    let mut model = Model::new(first, size, theme, 0);
    let _ = update(&mut model, Msg::Published(published_of(&engine())));
    model
}

/// The demo, run again with the same faults.
pub fn engine_of_two_runs() -> Engine {
    let mut engine = engine();
    let again = [
        "error | engine | scripts/fog.lua:20: 'end' expected (to close 'function' at line \
            8) near <eof>",
        "error | Lantern#3.tick | scripts/lantern.lua:34: attempt to index a nil value \
            (local 'wick')\n         from scripts/lantern.lua:34 in shine",
    ];
    engine.start_run(SourceId(0), Some(Millis(START + 20_000)), project());
    for (at, line) in again.iter().enumerate() {
        engine.feed(
            SourceId(0),
            Stream::Err,
            Some(Millis(START + 20_100)),
            5_000_000 + at as u64,
            format!("{line}\n").as_bytes(),
        );
    }
    engine.tick(Millis(START + 30_000));
    engine
}

/// The demo, with its code read and each error looked into.
pub fn looked_into(size: (u16, u16)) -> Model {
    let engine = engine();
    let mut published = (*published_of(&engine)).clone();
    let files = project();
    let index = izba_code::index(files.files().iter().map(|f| (&f.path, f.text.as_ref())));
    let findings = engine
        .groups()
        .iter()
        .map(|g| {
            (
                g.id,
                Arc::new(izba_watch::guilty::find(
                    &g.entry,
                    &index,
                    &izba_watch::guilty::Repairs::default(),
                )),
            )
        })
        .collect();
    let remarks =
        izba_cause::checks::all(&izba_code::all_repaired(&index, &izba_code::mend::by_grammar))
            .remarks;
    published.code = Arc::new(izba_watch::Code {
        index: Arc::new(index),
        findings,
        remarks: Some(Arc::new(remarks)),
        prints: Arc::default(),
        left_out: None,
    });
    let mut model =
        Model::new(published_of(&Engine::new(project())), size, Theme::new(Depth::True, false), 0);
    let _ = update(&mut model, Msg::Published(Arc::new(published)));
    model
}

fn keys(model: &mut Model, keys: &[&str]) {
    for key in keys {
        let _ = update(model, Msg::Key((*key).to_owned()));
    }
}

pub fn picture(model: &Model) -> String {
    let mut terminal = Terminal::new(TestBackend::new(model.size.0, model.size.1))
        .expect("a test backend has no errors");
    terminal
        .draw(|frame| view::draw(model, frame.area(), frame.buffer_mut()))
        .expect("a test backend has no errors");
    terminal.backend().to_string()
}

#[test]
fn room_now_at_three_sizes() {
    for size in [(142, 42), (80, 24), (200, 60)] {
        let mut model = demo(size);
        keys(&mut model, &["↓", "Enter"]);
        insta::assert_snapshot!(format!("now_{}x{}", size.0, size.1), picture(&model));
    }
}

#[test]
fn each_question_has_the_whole_screen_when_asked() {
    for (question, name) in
        [(Question::When, "when"), (Question::Where, "where"), (Question::Why, "why")]
    {
        let mut model = demo((100, 30));
        keys(&mut model, &["↓"]);
        (model.focus, model.zoom) = (question, Some(question));
        insta::assert_snapshot!(format!("zoom_{name}"), picture(&model));
    }
}

#[test]
fn help_palette_and_lines() {
    let mut model = demo((110, 34));
    keys(&mut model, &["?"]);
    insta::assert_snapshot!("help", picture(&model));
    keys(&mut model, &["Esc", ":", "s", "t", "o", "p"]);
    insta::assert_snapshot!("palette", picture(&model));
    keys(&mut model, &["Esc", "2"]);
    model.lines.follow = false;
    (model.lines.top, model.lines.cursor) = (0, 2);
    let row = |row: u64, text: &str, group: Option<(GroupId, bool)>, level| LineRow {
        row,
        line: LineRef { source: SourceId(0), line: row },
        stream: Stream::Out,
        time: Some(Millis(START + row as i64)),
        text: SafeText::new(text),
        cut_from: (row == 3).then_some(50_000_000),
        group,
        level,
        overlooked: row == 4,
        starts: (row == 0).then_some(2),
    };
    let rows = vec![
        row(0, "the game begins", None, None),
        row(
            1,
            "warn  | sound | no device answers",
            Some((GroupId(0), true)),
            Some(izba_model::Level::Warning),
        ),
        row(
            2,
            "error | Lantern#3.tick | scripts/lantern.lua:34: attempt",
            Some((GroupId(1), true)),
            Some(izba_model::Level::Error),
        ),
        row(
            3,
            "         from scripts/lantern.lua:34 in shine",
            Some((GroupId(1), false)),
            Some(izba_model::Level::Error),
        ),
        row(4, "the lamp could not be lit", None, None),
    ];
    let _ = update(&mut model, Msg::Answer(Answer::Window { from: 0, rows }));
    insta::assert_snapshot!("lines", picture(&model));
    // How the chosen line is read, by its shape; then its second word made the sentence.
    keys(&mut model, &["l", "→", "→"]);
    insta::assert_snapshot!("taught", picture(&model));
    model.size = (80, 24);
    keys(&mut model, &["m"]);
    insta::assert_snapshot!("taught_small", picture(&model));
}

#[test]
fn who_did_it_is_told_where_and_why() {
    // A script that cannot be read, with the ladder of its blocks.
    let mut model = looked_into((142, 42));
    keys(&mut model, &["Tab"]);
    insta::assert_snapshot!("ladder", picture(&model));
    keys(&mut model, &["Tab", "z"]);
    insta::assert_snapshot!("why_unread", picture(&model));
    // A value that is not there, led back to the data that it comes from; likely, can't tell, and
    // ruled out.
    let mut model = looked_into((142, 42));
    keys(&mut model, &["↓", "Tab", "Tab", "z"]);
    insta::assert_snapshot!("why_three_verdicts", picture(&model));
    keys(&mut model, &["Esc", "d"]);
    insta::assert_snapshot!("words", picture(&model));
    let mut small = looked_into((80, 24));
    keys(&mut small, &["↓", "Tab"]);
    insta::assert_snapshot!("where_small", picture(&small));
}

#[test]
fn suspects_and_steps_are_ruled_out_by_the_user() {
    let mut model = looked_into((142, 42));
    // Pressing a key gives a decision; the engine's thread keeps it and publishes what is known.
    let decide = |model: &mut Model| {
        let effects = update(model, Msg::Key("R".to_owned()));
        let [Effect::Order(izba_watch::Order::Wish(wishes, said))] = effects.as_slice() else {
            panic!("{effects:?}")
        };
        let mut published = (*model.live).clone();
        for wish in wishes {
            let izba_core::Wish::Known(key, true) = wish else { panic!("{wish:?}") };
            Arc::make_mut(&mut published.known).insert(key.clone());
        }
        let _ = update(model, Msg::Published(Arc::new(published)));
        said.clone()
    };
    keys(&mut model, &["↓", "Tab"]);
    assert!(picture(&model).contains("scene.json:31  "), "{}", picture(&model));
    assert_eq!(decide(&mut model), "scene.json:31 is ruled out; u takes that back");
    keys(&mut model, &["End", "z"]);
    let said = decide(&mut model);
    assert!(said.starts_with("the step scripts/lantern.lua:"), "{said}");
    let text = picture(&model);
    assert!(text.contains("○ lantern.lua:") && text.contains("ruled out by you"), "{text}");
    keys(&mut model, &["Esc", "Tab"]);
    let text = picture(&model);
    assert!(text.contains("ruled out by you: `9` is past the end"), "{text}");
    assert!(!text.contains("● scene.json:31"), "{text}");
}

#[test]
fn checks_are_listed_with_the_chosen_one_below() {
    let mut model = looked_into((142, 42));
    keys(&mut model, &["5"]);
    insta::assert_snapshot!("checks", picture(&model));
    keys(&mut model, &["↓"; 8]);
    insta::assert_snapshot!("checks_ring", picture(&model));
    let mut small = looked_into((80, 24));
    keys(&mut small, &["5", "↓", "↓", "↓", "↓", "↓", "↓", "↓", "↓"]);
    insta::assert_snapshot!("checks_small", picture(&small));
    let mut none = demo((80, 24));
    keys(&mut none, &["5"]);
    insta::assert_snapshot!("checks_not_yet", picture(&none));
}

#[test]
fn sources_and_what_could_be_one() {
    let nothing = published_of(&Engine::new(project()));
    let mut model = Model::new(nothing, (110, 34), Theme::new(Depth::True, false), 0);
    model.offers = vec!["run lua5.4 main.lua".into(), "follow logs/loader.log".into()];
    keys(&mut model, &["c", "↓"]);
    insta::assert_snapshot!("offers", picture(&model));
    // What was kept of an earlier run stands below, and is opened from there.
    model.earlier = vec![izba_app::model::Earlier {
        source: "marsh engine".into(),
        run: 7,
        started: Millis(START),
        ended: "ended with exit code 1".into(),
        lines: 1_480,
    }];
    let shown = picture(&model);
    assert!(shown.contains("run 7") && shown.contains("1 480 lines, ended with"), "{shown}");
    keys(&mut model, &["↓"]);
    let opened = update(&mut model, Msg::Key("Enter".into()));
    let wanted = Order::OpenRun("marsh engine".into(), 7);
    assert_eq!(format!("{opened:?}"), format!("{:?}", [Effect::Order(wanted)]));
    assert!(model.overlay.is_some(), "whoever comes back finds it again");
    model.earlier.clear();
    let mut several = (*published_of(&engine_of_two_runs())).clone();
    several.sources = vec![izba_watch::SourceState {
        held: true,
        backlog: 7 << 20,
        ..izba_watch::SourceState::default()
    }];
    several.awaited = vec!["logs/*.log".into()];
    let _ = update(&mut model, Msg::Published(Arc::new(several)));
    keys(&mut model, &["+", "f", "o"]);
    insta::assert_snapshot!("sources", picture(&model));
    keys(&mut model, &["Esc", "Esc"]);
    assert!(model.overlay.is_none());
}

#[test]
fn the_list_does_not_move_under_the_cursor() {
    let mut engine = engine();
    let mut model = demo((142, 42));
    keys(&mut model, &["↓", "↓"]);
    let chosen = model.chosen.expect("the third was chosen");
    let order = model.order.clone();
    // Something graver than the chosen one arrives.
    let line = b"error | engine | scripts/ferry.lua:9: 'then' expected near 'self'\n\n";
    engine.feed(SourceId(0), Stream::Err, Some(Millis(START + 13_000)), 2_000_000, line);
    engine.tick(Millis(START + 14_000));
    let _ = update(&mut model, Msg::Published(published_of(&engine)));
    assert_eq!(model.order[..order.len()], order[..], "what stood there still stands there");
    assert_eq!(model.more_urgent(), 1);
    assert!(picture(&model).contains("1 more important one above"), "{}", picture(&model));
    keys(&mut model, &["Tab"]);
    assert_eq!(model.chosen, Some(chosen), "the chosen one stays chosen");
    assert_eq!(model.more_urgent(), 0, "the list is sorted once the user looks elsewhere");
}

#[test]
fn held_still_is_held_and_clicks_choose() {
    let mut model = demo((142, 42));
    keys(&mut model, &["Space"]);
    let before = model.shown.snapshot.rows;
    let mut more = engine();
    more.feed(SourceId(0), Stream::Out, Some(Millis(START + 13_000)), 3_000_000, b"later\nlater\n");
    let _ = update(&mut model, Msg::Published(published_of(&more)));
    assert_eq!((model.shown.snapshot.rows, model.live.snapshot.rows), (before, before + 2));
    let list = Layout::of(&model).what;
    let row = (list.top()..list.bottom())
        .find(|row| {
            izba_app::rooms::now::what::group_at(&model, list, *row) == Some(model.order[2])
        })
        .expect("it is listed");
    let _ = update(&mut model, Msg::Click(20, row));
    assert_eq!(model.chosen, Some(model.order[2]));
    keys(&mut model, &["Space"]);
    assert_eq!(model.shown.snapshot.rows, before + 2);
    let _ = update(&mut model, Msg::Click(32, 0));
    assert_eq!(model.room, Room::Lines, "a click on a room's name opens it");
}

#[test]
fn a_program_that_ended_well_is_told_so() {
    let project = project();
    let mut engine = Engine::new(project.clone());
    let source = engine.add_source("main.lua");
    engine.start_run(source, Some(Millis(START)), project);
    engine.feed(source, Stream::Out, Some(Millis(START)), 0, b"tide 1\ntide 2\n");
    engine.end_run(source, Some(Millis(START + 10)), "ended well".into(), true);
    engine.tick(Millis(START + 500));
    let mut model = demo((100, 24));
    let mut over = (*published_of(&engine)).clone();
    over.running = false;
    let _ = update(&mut model, Msg::Published(Arc::new(over)));
    let picture = picture(&model);
    assert!(picture.contains("No errors.") && picture.contains("main.lua ended well"), "{picture}");
    assert!(izba_watch::is_over(&model.live));
}

#[test]
fn no_errors_is_not_said_over_a_line_that_nobody_understood() {
    let project = Arc::new(izba_model::Project::default());
    let mut engine = Engine::new(project.clone());
    let source = engine.add_source("main.lua");
    engine.start_run(source, Some(Millis(START)), project);
    engine.feed(
        source,
        Stream::Out,
        Some(Millis(START)),
        0,
        b"tide 1\nthe lamp could not be lit\n",
    );
    engine.end_run(source, Some(Millis(START + 10)), "ended well".into(), true);
    engine.tick(Millis(START + 500));
    let mut model = demo((120, 24));
    let _ = update(&mut model, Msg::Published(published_of(&engine)));
    let now = picture(&model);
    let says = "No error was understood.  1 line looks as if it mattered and was not understood.  2 shows it.";
    assert!(now.contains(says) && !now.contains("No errors"), "{now}");
    assert!(now.contains("? 1 not understood"), "{now}");
    // The room opens at that line.
    keys(&mut model, &["2"]);
    assert_eq!((model.lines.cursor, model.lines.follow), (1, false));
    assert!(picture(&model).contains("? 1 not understood"));
}

#[test]
fn what_lies_over_the_room_and_what_went_quiet() {
    let mut model = demo((110, 34));
    keys(&mut model, &["q"]);
    insta::assert_snapshot!("leave", picture(&model));
    keys(&mut model, &["Esc", "r", "A", "d", "a"]);
    assert!(
        picture(&model).contains("Ada▏") && picture(&model).contains("Enter sends it"),
        "{}",
        picture(&model)
    );
    keys(&mut model, &["Esc"]);
    let _ = update(&mut model, Msg::Published(published_of(&engine_of_two_runs())));
    insta::assert_snapshot!("second_run", picture(&model));
}

#[test]
fn the_chosen_row_is_told_without_colour_too() {
    let mut model = demo((110, 34));
    model.theme = Theme::new(Depth::None, false);
    keys(&mut model, &["↓"]);
    let picture = picture(&model);
    let row = picture
        .lines()
        .find(|l| l.contains("`wick` has no value here") && l.contains('◆'))
        .expect("it is listed");
    assert!(row.contains('›'), "{row}");
}

#[test]
fn several_sources_have_a_lane_each_and_a_mark_for_each_start() {
    let project = project();
    let mut engine = Engine::new(project.clone());
    for (at, name) in ["marsh engine", "add-on loader", "timetable server"].iter().enumerate() {
        let source = engine.add_source(*name);
        let start = START + at as i64 * 4_000;
        engine.start_run(source, Some(Millis(start)), project.clone());
        for line in 0..200i64 {
            let text =
                if line % 50 == 7 { "WARNING: the tide turns\n" } else { "note: all is well\n" };
            engine.feed(
                source,
                Stream::Out,
                Some(Millis(start + line * 20)),
                line as u64 * 100,
                text.as_bytes(),
            );
        }
    }
    engine.tick(Millis(START + 13_000));
    let mut model = demo((100, 30));
    let _ = update(&mut model, Msg::Published(published_of(&engine)));
    (model.focus, model.zoom) = (Question::When, Some(Question::When));
    insta::assert_snapshot!("lanes", picture(&model));
}

#[test]
fn a_place_outside_the_project_and_a_file_edited_since_are_told() {
    let mut model = demo((110, 34));
    keys(&mut model, &["End"]);
    assert!(picture(&model).contains("The console names no place."), "{}", picture(&model));
    keys(&mut model, &["Home", "↓"]);
    let mut edited = (*model.live).clone();
    let file =
        ProjectFile { path: "scripts/lantern.lua".into(), text: Some("-- nothing\n".into()) };
    edited.today = Arc::new(edited.today.with_changes(vec![file], &[]));
    let _ = update(&mut model, Msg::Published(Arc::new(edited)));
    assert!(picture(&model).contains("as it was when this run started"), "{}", picture(&model));
}

/// Twelve runs of one game: a flood that was mended, one that is steady, one that comes back, one
/// that is new.
fn engine_of_many_runs() -> Engine {
    let file = |text: String| {
        Arc::new(Project::new(
            "/home/me/night-ferry",
            vec![ProjectFile { path: "scripts/ferry.lua".into(), text: Some(text.into()) }],
        ))
    };
    let script = |run: i64| {
        file(format!(
            "-- edit {}\nlight = wick.length\nrope = knots.many\nbell = sitdown.ring\nfog \
                = mist.deep\n",
            run / 3
        ))
    };
    let mut engine = Engine::new(script(0));
    let source = engine.add_source("marsh engine");
    let day = 86_400_000;
    for run in 0..12i64 {
        let begun = START + run * day / 6;
        engine.start_run(source, Some(Millis(begun)), script(run));
        let mut say = |at: i64, line: u32, name: &str| {
            let words = format!(
                "lua: scripts/ferry.lua:{line}: attempt to index a nil value (global \
                    '{name}')\nstack traceback:\n\tscripts/ferry.lua:{line}: in main \
                    chunk\n\t[C]: in ?\n"
            );
            engine.feed(
                source,
                Stream::Err,
                Some(Millis(begun + at)),
                (run * 1_000_000 + at) as u64,
                words.as_bytes(),
            );
        };
        if (2..9).contains(&run) {
            (0..120).for_each(|tick| say(1_000 + tick * 100, 2, "wick"));
        }
        say(500, 3, "knots");
        if run < 3 || run == 11 {
            say(2_000, 4, "sitdown");
        }
        if run == 11 {
            say(3_000, 5, "mist");
        }
        engine.feed(
            source,
            Stream::Out,
            Some(Millis(begun + 90_000)),
            9_000_000 + run as u64,
            b"the ferry is moored\n",
        );
        if run < 11 {
            engine.end_run(source, Some(Millis(begun + 90_000)), "ended well".into(), true);
        }
    }
    engine.tick(Millis(START + 11 * day / 6 + 100_000));
    engine
}

#[test]
fn runs_are_a_grid_and_two_of_them_stand_side_by_side() {
    for size in [(142, 42), (80, 24)] {
        let mut model = demo(size);
        let _ = update(&mut model, Msg::Published(published_of(&engine_of_many_runs())));
        keys(&mut model, &["3", "←", "←", "↓"]);
        insta::assert_snapshot!(format!("runs_{}x{}", size.0, size.1), picture(&model));
    }
    let mut model = demo((110, 34));
    let _ = update(&mut model, Msg::Published(published_of(&engine_of_many_runs())));
    keys(&mut model, &["3", "V"]);
    insta::assert_snapshot!("compared", picture(&model));
}

#[test]
fn a_filter_is_typed_underlined_where_it_is_wrong_and_hides() {
    let mut model = demo((110, 34));
    keys(&mut model, &["/", "s", "e", "e", "n", " ", "x"]);
    assert!(picture(&model).contains("a number was expected here"), "{}", picture(&model));
    keys(&mut model, &["Backspace"]);
    insta::assert_snapshot!("filter_typed", picture(&model));
    keys(&mut model, &["1", "0", "0", "+", "Enter"]);
    assert!(
        picture(&model).contains("1 of 4 mistakes, seen 360 times")
            || picture(&model).contains("seen 359 times"),
        "{}",
        picture(&model)
    );
    assert_eq!(model.order.len(), 1);
    keys(&mut model, &["p"]);
    assert!(model.order.len() > 1);
    keys(&mut model, &["Esc"]);
    assert!(model.filter.phrase.is_none());
    // What was used before is at hand.
    keys(&mut model, &["/", "↑"]);
    assert_eq!(model.filter.input.value(), "seen 100+");
}

#[test]
fn a_terminal_that_became_smaller_than_is_known_yet_is_drawn_on() {
    let mut model = demo((142, 42));
    let _ = update(&mut model, Msg::Published(published_of(&engine_of_many_runs())));
    for typed in [
        &["1"][..],
        &["2"],
        &["3"],
        &["1", "/", "n"],
        &["Esc", "?"],
        &["Esc", "3", "V"],
        &["Esc", "c"],
        &["Esc", ":"],
        &["Esc", "q"],
        &["Esc", "1", "z"],
    ] {
        keys(&mut model, typed);
        for size in [(80, 24), (30, 8), (21, 6)] {
            let mut terminal = Terminal::new(TestBackend::new(size.0, size.1))
                .expect("a test backend has no errors");
            terminal
                .draw(|frame| view::draw(&model, frame.area(), frame.buffer_mut()))
                .expect("a test backend has no errors");
        }
    }
}

/// A program that stands still, and values that it printed before.
fn stopped_with_values(model: &mut Model) {
    use izba_core::values::{Store, told};
    let frame = |id, line, own: Option<&str>| izba_dap::Frame {
        id,
        name: "shine".into(),
        path: Some("x".into()),
        own: own.map(Into::into),
        line,
    };
    let value = |shown: &str, reference| izba_dap::Value {
        shown: shown.into(),
        reference,
        ..izba_dap::Value::default()
    };
    let scope =
        izba_dap::Scope { name: "Locals".into(), reference: 1, expensive: false, count: None };
    let variable = |name: &str, reference| izba_dap::Variable {
        name: name.into(),
        value: value("list of 2", reference),
        expression: None,
        was: Some("nil".into()),
    };
    let children = [
        (1, vec![variable("wicks", 2)]),
        (2, vec![variable("1", 3), variable("2", 0)]),
        (3, vec![variable("length", 0)]),
    ];
    let stop = izba_dap::Stop {
        number: 1,
        reason: "breakpoint".into(),
        frames: vec![frame(1, 34, Some("scripts/lantern.lua")), frame(2, 5, None)],
        scopes: vec![scope],
        children: children.into_iter().map(|(reference, all)| (reference, Arc::new(all))).collect(),
        ..izba_dap::Stop::default()
    };
    let state = izba_dap::State {
        phase: izba_dap::Phase::Stopped,
        stop: Some(Arc::new(stop)),
        ..izba_dap::State::default()
    };
    let mut store = Store::default();
    for at in 0..40 {
        let line = format!("tide={at} gate={}", if at % 9 < 4 { "open" } else { "shut" });
        store.line(0, "Tide", at, START + at as i64 * 250, &line, told(&line));
    }
    let mut published = (*model.live).clone();
    published.pause = Arc::new(izba_watch::PauseView {
        source: Some(0),
        state: Arc::new(state),
        ..izba_watch::PauseView::default()
    });
    published.values = Some(Arc::new(izba_watch::ValuesView {
        series: store.listed(),
        ..izba_watch::ValuesView::default()
    }));
    model.live = Arc::new(published);
    model.shown = model.live.clone();
}

#[test]
fn the_value_that_differs_before_an_error_is_said_and_shown() {
    use izba_core::values::{Store, before, pin_key, printed_by, prints, told};
    let mut model = looked_into((142, 42));
    let group = model.selected().expect("there are errors").id;
    let (mut store, mut errors) = (Store::default(), Vec::new());
    for second in 0..128_i64 {
        let tide = 1.2 + 0.8 * (second as f64 / 16.0 * std::f64::consts::TAU).sin();
        let at = START + second * 1_000;
        for line in [
            format!("tide {tide:.2}"),
            format!("fuel={:.2} passengers={}", 1.0 - second as f64 / 200.0, second * 7 % 13),
        ] {
            store.line(0, "TideClock#1", second as u64, at, &line, told(&line));
        }
        if tide > 1.8 && second % 2 == 0 {
            errors.push(at + 100);
            store.error(group, at + 100);
        }
    }
    let series = store.listed();
    let differing = izba_watch::Differing {
        group,
        before: Some(Arc::new(before(&series, &errors))),
        series: series.clone(),
    };
    let mut published = (*model.live).clone();
    let mut code = (*published.code).clone();
    code.prints = Arc::new(prints(&code.index));
    // The print of a value is found by its texts, and only where one fits better than all others.
    assert_eq!(
        printed_by(&code.prints, "tide 1.82").map(|p| (&*p.file, p.line)),
        Some(("scripts/tide.lua", 15))
    );
    assert_eq!(printed_by(&code.prints, "depth 1.82"), None);
    published.code = Arc::new(code);
    published.known = Arc::new([pin_key("TideClock#1", "fuel")].into());
    published.snapshot.now = Millis(START + 130_000);
    published.values = Some(Arc::new(izba_watch::ValuesView {
        series,
        errors: store.errors(),
        differing: Some(differing),
        ..izba_watch::ValuesView::default()
    }));
    let _ = update(&mut model, Msg::Published(Arc::new(published)));
    keys(&mut model, &["4", "n", ",", ",", ",", ","]);
    insta::assert_snapshot!("values_142x42", picture(&model));
    keys(&mut model, &["1"]);
    assert!(picture(&model).contains("fuel 0.36 "), "a pinned value stands in room Now");
}

#[test]
fn the_chosen_value_stays_chosen_when_others_arrive_above_it() {
    let mut model = demo((142, 42));
    stopped_with_values(&mut model);
    keys(&mut model, &["6", "End"]);
    let chosen = |model: &Model| izba_app::rooms::pause::rows::rows(model)[model.pause.row].clone();
    let before = chosen(&model);
    assert!(
        matches!(&before, izba_app::rooms::pause::rows::Row::Value(v) if v.name == "wicks"),
        "{before:?}"
    );
    let mut published = (*model.live).clone();
    let mut state = (*published.pause.state).clone();
    let mut stop = (**state.stop.as_ref().expect("it stands")).clone();
    let locals = stop.children.get_mut(&1).map(Arc::make_mut).expect("they are told");
    locals.insert(0, izba_dap::Variable { name: "boat".into(), ..izba_dap::Variable::default() });
    state.stop = Some(Arc::new(stop));
    let mut pause = (*published.pause).clone();
    pause.state = Arc::new(state);
    published.pause = Arc::new(pause);
    let at = model.pause.row;
    let _ = update(&mut model, Msg::Published(Arc::new(published)));
    assert_eq!((chosen(&model), model.pause.row), (before, at + 1));
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(400))]
    #[test]
    fn every_size_draws(w in 0u16..60, h in 0u16..20, room in any::<bool>(), keys in proptest::collection::vec(prop_oneof![
        Just("↓"), Just("↑"), Just("Enter"), Just("Tab"), Just("z"), Just("Esc"), Just("?"), Just(":"), Just("2"), Just("1"), Just("/"), Just("x"), Just("3"), Just("V"), Just("p"), Just("o"), Just("S"), Just("Space"), Just("4"), Just("5"), Just("6"), Just("b"), Just("C"), Just("t"), Just("y"), Just("+"), Just("-"), Just("←"), Just("→"), Just(","), Just("n"), Just("d"), Just("h"), Just("L"), Just("R"), Just("7"), Just("w"), Just("D"), Just("s")
    ], 0..8)) {
        thread_local! { static DEMO: Model = demo((142, 42)); }
        let mut model = DEMO.with(Clone::clone);
        stopped_with_values(&mut model);
        model.room = if room { Room::Now } else { Room::Lines };
        for key in keys {
            let _ = update(&mut model, Msg::Key(key.to_owned()));
            if key == "w" {
                let note = izba_core::notes::Note { body: "## What it meant\n\nA slip.\n".repeat(h.into()), ..Default::default() };
                let _ = update(&mut model, Msg::Answer(Answer::Note(Box::new(note), None)));
            }
        }
        let _ = update(&mut model, Msg::Resized(w, h));
        if w > 0 && h > 0 {
            let _ = picture(&model);
        }
        if matches!(model.overlay, Some(Overlay::Help(_))) {
            model.overlay = None;
        }
    }
}

/// Three who tell: one got rid of a mistake, one is at it, one gave a name.
fn class() -> izba_core::class::Class {
    let mut class = izba_core::class::Class::default();
    let told = [
        (2, "a", "null", "lamp", "met"),
        (3, "b", "\"Wren\"", "lamp", "met"),
        (7, "a", "null", "lamp", "gone"),
        (8, "c", "null", "tide", "met"),
    ];
    for (second, id, name, mistake, change) in told {
        let line = format!(
            "{{\"message\":\"attempt to index a nil value (local 'wick')\",\"file\":\"{mistake}.lua\",\
             \"line\":4,\"sender\":{{\"id\":\"{id}\",\"name\":{name}}},\"attributes\":{{\
             \"izba.mistake\":\"{mistake}\",\"izba.change\":\"{change}\",\"izba.says\":\"the {mistake} \
             is out\"}}}}"
        );
        assert!(class.hear(line.as_bytes(), Millis(START + second * 1_000)));
    }
    class
}

#[test]
fn a_class_stands_on_its_sheet_and_in_the_rows_that_it_met() {
    for size in [(142, 42), (80, 24)] {
        let mut published = (*published_of(&engine())).clone();
        published.class = Arc::new(class());
        let mut model = demo(size);
        let _ = update(&mut model, Msg::Published(Arc::new(published)));
        // A row of one line has no room for it.
        assert_eq!(picture(&model).contains("met by 2 of 3"), size.1 > 24);
        keys(&mut model, &["@"]);
        insta::assert_snapshot!(format!("class_{}x{}", size.0, size.1), picture(&model));
        keys(&mut model, &["Esc"]);
        assert!(model.overlay.is_none());
    }
    // Where nobody tells, the sheet says how they would.
    let mut model = demo((100, 30));
    keys(&mut model, &["@"]);
    assert!(picture(&model).contains("izba listen --otlp"));
}
