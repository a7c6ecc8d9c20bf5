//! Keys, clicks and answers as messages: what they change, and what they ask of the shell.

use crate::views::{demo, published_of};
use izba_app::command_words::palette_matches;
use izba_app::model::{FindOutcome, Model, Overlay, Question, Room};
use izba_app::turn::{Effect, Msg, title, update};
use izba_core::{GroupId, LineRef, SourceId};
use izba_model::{Millis, ProjectFile, SafeText, Stream};
use izba_watch::{Answer, LineRow, Order, Sought};
use std::sync::Arc;

fn press(model: &mut Model, keys: &[&str]) -> Vec<Effect> {
    let mut effects = Vec::new();
    for key in keys {
        effects = update(model, Msg::Key((*key).to_owned()));
    }
    effects
}

/// The effects in words, and what the user is told.
fn outcome(model: &mut Model, keys: &[&str]) -> String {
    model.notice = None;
    let effects = press(model, keys);
    let told = model.notice.as_ref().map_or(String::new(), |(t, _)| format!(" “{t}”"));
    format!("{}: {effects:?}{told}", keys.join(" "))
}

#[test]
fn what_cannot_be_done_is_told_and_what_can_is_ordered() {
    let mut running = demo((142, 42));
    let mut lines = vec![
        outcome(&mut running, &["a"]),
        outcome(&mut running, &["s"]),
        outcome(&mut running, &["Ctrl+C"]),
        outcome(&mut running, &["r", "A", "d", "a", "Enter"]),
        outcome(&mut running, &["v"]),
        outcome(&mut running, &["x"]),
        outcome(&mut running, &["q", "Esc"]),
        outcome(&mut running, &["q", "q"]),
    ];
    let mut over = demo((142, 42));
    let mut published = (*over.live).clone();
    (published.running, published.can_run_again) = (false, false);
    let _ = update(&mut over, Msg::Published(Arc::new(published)));
    lines.push("--- nothing runs, and Izba did not start it".into());
    for keys in [&["a"], &["s"], &["r"], &["Ctrl+C"], &["q"]] {
        lines.push(outcome(&mut over, keys));
    }
    insta::assert_snapshot!(lines.join("\n"));
}

#[test]
fn the_way_in_and_the_way_out_are_the_same_length() {
    let mut model = demo((142, 42));
    press(&mut model, &["↓", "Enter"]);
    assert_eq!((model.focus, model.zoom), (Question::Where, None));
    press(&mut model, &["Enter"]);
    assert_eq!(model.zoom, Some(Question::Where));
    press(&mut model, &["Esc"]);
    assert_eq!(model.zoom, None);
    press(&mut model, &["Esc"]);
    assert_eq!(model.focus, Question::What);
    press(&mut model, &["Esc"]);
    assert_eq!(model.chosen, None, "the first one is shown again");
    press(&mut model, &["Tab", "Tab", "Tab", "Tab"]);
    assert_eq!(model.focus, Question::What, "Tab goes round");
    press(&mut model, &["Shift+Tab"]);
    assert_eq!(model.focus, Question::When);
}

#[test]
fn the_editor_goes_to_where_the_line_stands_today() {
    let mut model = demo((142, 42));
    press(&mut model, &["↓"]);
    let at = |model: &mut Model| match press(model, &["e"]).pop() {
        Some(Effect::Edit { file, line, column }) => (file, line, column),
        other => panic!("no editor: {other:?}"),
    };
    assert_eq!(at(&mut model), ("scripts/lantern.lua".to_owned(), 34, 16));
    // Two lines were put above it since the run began.
    let mut published = (*model.live).clone();
    let text = published
        .today
        .file("scripts/lantern.lua")
        .and_then(|f| f.text.clone())
        .expect("it is own");
    let edited = ProjectFile {
        path: "scripts/lantern.lua".into(),
        text: Some(format!("-- one\n-- two\n{text}").into()),
    };
    published.today = Arc::new(published.today.with_changes(vec![edited], &[]));
    let _ = update(&mut model, Msg::Published(Arc::new(published)));
    assert_eq!(at(&mut model), ("scripts/lantern.lua".to_owned(), 36, 16));
    press(&mut model, &["Enter", "↓"]);
    assert_eq!(at(&mut model).1, 41, "the second step, two lines further down");
}

#[test]
fn the_title_tells_only_what_is_new() {
    let model = demo((142, 42));
    assert_eq!(title(&model), "izba: night-ferry, 3 new errors");
    let mut again = demo((142, 42));
    let engine = crate::views::engine_of_two_runs();
    let _ = update(&mut again, Msg::Published(published_of(&engine)));
    assert_eq!(title(&again), "izba: night-ferry, nothing new");
}

#[test]
fn commands_are_found_by_what_they_are_called_or_do() {
    let first = |typed: &str| palette_matches(typed, Room::Now, false).first().map(|b| b.label);
    assert_eq!(first("stop"), Some("stop"));
    assert_eq!(first("lines"), Some("room Lines"));
    assert_eq!(first("run again"), Some("run again"));
    assert_eq!(first("editor"), Some("edit"));
    assert_eq!(first("zzz"), None);
    let mut model = demo((142, 42));
    let effects = press(&mut model, &[":", "s", "t", "o", "p", "Enter"]);
    assert!(matches!(effects[..], [Effect::Order(Order::Stop)]), "{effects:?}");
    assert!(model.overlay.is_none());
    press(&mut model, &[":", "z", "z", "z", "Enter"]);
    assert!(model.overlay.is_none(), "nothing fits, nothing happens");
    // What only another room does is said, and not done.
    let effects = press(&mut model, &[":", "t", "i", "c", "k", "Enter"]);
    assert!(effects.is_empty(), "{effects:?}");
    let said = model.notice.as_ref().map(|n| n.0.clone());
    assert_eq!(said.as_deref(), Some("one tick is a command of room Pause; 6 goes there"));
}

fn row(row: u64, text: &str, group: Option<(GroupId, bool)>) -> LineRow {
    LineRow {
        row,
        line: LineRef { source: SourceId(0), line: row },
        stream: Stream::Out,
        time: Some(Millis(0)),
        text: SafeText::new(text),
        cut_from: None,
        group,
        level: None,
        overlooked: false,
        starts: None,
    }
}

#[test]
fn in_lines_the_editor_opens_the_error_of_the_line_and_nothing_for_an_ordinary_one() {
    let mut model = demo((142, 42));
    let lantern = |g: &&Arc<izba_core::GroupView>| {
        g.entry.place.as_ref().is_some_and(|p| &*p.file == "scripts/lantern.lua")
    };
    let group = model.shown.snapshot.groups.iter().find(lantern).expect("it is told").id;
    press(&mut model, &["2"]);
    assert_eq!(model.room, Room::Lines);
    model.lines.rows =
        vec![row(0, "the game begins", None), row(1, "it fails", Some((group, true)))];
    (model.lines.follow, model.lines.cursor) = (false, 0);
    assert!(outcome(&mut model, &["e"]).contains("this line belongs to no error"));
    model.lines.cursor = 1;
    match press(&mut model, &["e"]).pop() {
        Some(Effect::Edit { file, line, .. }) => {
            assert_eq!((&*file, line), ("scripts/lantern.lua", 34));
        }
        other => panic!("no editor: {other:?}"),
    }
}

#[test]
fn lines_are_asked_for_once_and_a_line_leads_to_its_group() {
    let mut model = demo((142, 42));
    let effects = press(&mut model, &["2"]);
    let total = model.shown.snapshot.rows;
    let Some(Effect::Order(Order::Window { from, count })) = effects.first() else {
        panic!("no rows were asked for: {effects:?}")
    };
    assert!(from + count >= total, "the newest are among them");
    let group = model.shown.snapshot.groups[1].id;
    let rows = (*from..total).map(|n| row(n, "tide", Some((group, true)))).collect();
    let _ = update(&mut model, Msg::Answer(Answer::Window { from: *from, rows }));
    assert!(press(&mut model, &["↑"]).is_empty(), "they are at hand");
    assert!(!press(&mut model, &["Home"]).is_empty(), "these are not");
    let rows = (0..100).map(|n| row(n, "tide", (n == 0).then_some((group, true)))).collect();
    let _ = update(&mut model, Msg::Answer(Answer::Window { from: 0, rows }));
    press(&mut model, &["Enter"]);
    assert_eq!((model.room, model.chosen, model.focus), (Room::Now, Some(group), Question::Where));
    press(&mut model, &["2", "↓", "Enter"]);
    assert_eq!(model.room, Room::Lines, "an ordinary line has no group to go to");
}

#[test]
fn in_lines_one_goes_from_error_to_error_folds_them_and_copies_what_is_chosen() {
    let mut model = demo((142, 42));
    press(&mut model, &["2", "Home"]);
    let group = model.shown.snapshot.groups[1].id;
    let lines = [None, Some((group, true)), Some((group, false)), None];
    let rows = lines.iter().zip(0..).map(|(of, n)| row(n, &format!("line {n}"), *of)).collect();
    let _ = update(&mut model, Msg::Answer(Answer::Window { from: 0, rows }));
    let id = match press(&mut model, &["n"]).pop() {
        Some(Effect::Order(Order::Find {
            id,
            sought: Sought::Error(None),
            from: 1,
            up: false,
        })) => id,
        other => panic!("the next error is not looked for: {other:?}"),
    };
    let found = |row| Msg::Answer(Answer::Found { id, row, done: true, searched: 4 });
    let _ = update(&mut model, found(Some(1)));
    assert_eq!((model.lines.cursor, model.lines.follow), (1, false));
    press(&mut model, &["↓"]);
    let up = press(&mut model, &["N"]).pop();
    assert!(
        matches!(up, Some(Effect::Order(Order::Find { sought: Sought::Error(Some(g)), from: 2, up: true, .. })) if g == group),
        "more of the same is passed over: {up:?}"
    );
    // An answer to a search that is over moves nothing.
    let _ = update(&mut model, found(Some(3)));
    assert_eq!(model.lines.cursor, 2);
    match press(&mut model, &["y"]).pop() {
        Some(Effect::Copy(text)) => assert_eq!(text, "line 2"),
        other => panic!("nothing was copied: {other:?}"),
    }
    // Folded, the first line of the error stands for the chosen one.
    match press(&mut model, &["o"]).pop() {
        Some(Effect::Order(Order::Matching { sieve, from: 1, .. })) => {
            assert!(sieve.firsts && sieve.phrase.is_none());
        }
        other => panic!("the lines were not asked for: {other:?}"),
    }
    // A line is gone to by its number there too.
    let there = press(&mut model, &["#", "4", "Enter"]).pop();
    assert!(matches!(there, Some(Effect::Order(Order::Matching { from: 3, .. }))), "{there:?}");
    assert!(matches!(press(&mut model, &["o"]).pop(), Some(Effect::Order(Order::Window { .. }))));
}

#[test]
fn on_a_small_screen_what_where_and_why_are_one_key_away_and_named() {
    let mut model = demo((80, 24));
    press(&mut model, &["↓"]);
    let footer =
        |model: &Model| crate::views::picture(model).lines().last().unwrap_or("").to_owned();
    let named = footer(&model);
    for words in ["Enter where", "Q why", "e edit", "? keys"] {
        assert!(named.contains(words), "{words}: {named}");
    }
    press(&mut model, &["Q"]);
    assert_eq!(model.focus, Question::Why);
    let seen = crate::views::picture(&model);
    assert!(seen.contains("Why ─") && seen.contains("attempt to index a nil value"), "{seen}");
    assert!(footer(&model).contains("Q what"));
    press(&mut model, &["Q"]);
    assert_eq!(model.focus, Question::What);
    press(&mut model, &["Enter", "Q"]);
    assert_eq!(model.focus, Question::Why, "from Where too");
}

#[test]
fn in_when_one_goes_from_a_spike_to_its_lines_and_looks_closer() {
    let mut model = demo((142, 42));
    assert!(outcome(&mut model, &["→"]).contains("click it, or Shift+Tab goes there"));
    press(&mut model, &["Shift+Tab", "Home"]);
    assert_eq!(model.focus, Question::When);
    let begun = model.when.at.expect("a moment is read off");
    // To the next errors, on to a shorter stretch around them, and from there to their lines.
    press(&mut model, &["→", "→", "→", "↓"]);
    let at = model.when.at.expect("a moment");
    assert!(at > begun);
    press(&mut model, &["+", "+"]);
    let (from, to) = model.when.span.expect("a part of the time");
    assert!(from <= at && at <= to && to.since(from) <= 12_000 / 4 + 1, "{from:?} {to:?}");
    match press(&mut model, &["Enter"]).pop() {
        Some(Effect::Order(Order::RowAt(time))) => assert!(time >= from && time <= to),
        other => panic!("its lines were not asked for: {other:?}"),
    }
    // Out again it ends at all of the time, and a click reads off where it hits.
    press(&mut model, &["-", "-", "-"]);
    assert_eq!(model.when.span, None);
    let when = izba_app::model::Layout::of(&model).when;
    let _ = update(&mut model, Msg::Click(when.x, when.y + 1));
    assert_eq!(model.when.at, Some(begun));
    for _ in 0..20 {
        press(&mut model, &["+"]);
    }
    let (from, to) = model.when.span.expect("a part of the time");
    assert!(to.since(from) >= 200, "there is a shortest stretch");
}

#[test]
fn a_stretch_of_when_narrows_all_rooms_by_keys_and_by_dragging() {
    let phrase = |model: &Model| model.filter.phrase.as_ref().map(|p| p.text().to_owned());
    let mut model = demo((142, 42));
    press(&mut model, &["Shift+Tab", "Home", "]"]);
    let text = phrase(&model).expect("a filter holds");
    assert!(text.starts_with("until 00:53:"), "{text}");
    // The lantern failed at once; the misspelt tide came four seconds later.
    let listed: Vec<String> = model.listed().map(|g| g.explanation.short.to_string()).collect();
    assert!(listed.iter().any(|l| l.contains("wick")), "{listed:?}");
    assert!(!listed.iter().any(|l| l.contains("tideheigth")), "{listed:?}");
    press(&mut model, &["End", "["]);
    let both = phrase(&model).expect("both ends hold");
    assert!(both.contains("since 00:53:") && both.contains("until 00:53:"), "{both}");
    press(&mut model, &["Esc"]);
    assert_eq!(phrase(&model), None, "Esc ends it");
    // What else holds goes on to hold, one or the other of two too.
    press(
        &mut model,
        &["/", "w", "i", "c", "k", "Space", "o", "r", "Space", "t", "i", "d", "e", "Enter"],
    );
    press(&mut model, &["["]);
    let both = phrase(&model).expect("a filter holds");
    assert!(both.starts_with("(wick or tide) since 00:53:"), "{both}");
    press(&mut model, &["Esc"]);
    let when = izba_app::model::Layout::of(&model).when;
    let at = |column: u16| (when.x + column, when.y + 1);
    let drag = |model: &mut Model, column: u16, done: bool| {
        let (x, y) = at(column);
        let _ = update(model, Msg::Drag(x, y, done));
    };
    let (x, y) = at(60);
    let _ = update(&mut model, Msg::Click(x, y));
    drag(&mut model, 60, true);
    assert_eq!(phrase(&model), None, "a click alone chooses no stretch");
    let _ = update(&mut model, Msg::Click(x, y));
    drag(&mut model, 40, false);
    assert_eq!(phrase(&model), None, "not before the button is let go");
    // Beyond the edge it ends at the edge.
    let _ = update(&mut model, Msg::Drag(0, 40, true));
    let text = phrase(&model).expect("a stretch was drawn");
    assert!(text.starts_with("since 00:53:20.000 until 00:53:"), "{text}");
    drag(&mut model, 90, true);
    assert_eq!(phrase(&model), Some(text), "nothing is pressed any more");
}

#[test]
fn an_edit_is_shown_before_it_is_made_and_u_takes_the_last_thing_back() {
    let mut model = crate::views::looked_into((142, 42));
    let broken = model
        .shown
        .snapshot
        .groups
        .iter()
        .find(|g| g.entry.place.as_ref().is_some_and(|p| p.file.ends_with("fog.lua")));
    model.chosen = broken.map(|g| g.id);
    insta::assert_snapshot!("edit_in_now", crate::views::picture(&model));
    assert!(press(&mut model, &["m"]).is_empty(), "nothing is done yet");
    assert!(matches!(model.overlay, Some(Overlay::Fix(_))));
    insta::assert_snapshot!("edit_sheet", crate::views::picture(&model));
    press(&mut model, &["Esc"]);
    assert!(model.overlay.is_none());
    let Some(Effect::MakeEdit(fix, text)) = press(&mut model, &["m", "Enter"]).pop() else {
        panic!("it was not made");
    };
    // What Izba does with the file is another matter; here it was done.
    let folder = tempfile::tempdir().expect("a temporary folder");
    std::fs::create_dir(folder.path().join("scripts")).expect("room");
    let path = folder.path().join(&*fix.file);
    std::fs::write(&path, text.as_bytes()).expect("room");
    let made = izba_watch::fixing::make(folder.path(), &fix, &text).expect("it is made");
    let _ = update(&mut model, Msg::Made(Box::new(made)));
    let said = model.notice.as_ref().expect("it is told").0.clone();
    assert!(said.contains("fog.lua: ") && said.contains("u takes it back"), "{said}");
    // What was decided since is taken back first.
    let muted = press(&mut model, &["x"]).pop();
    assert!(matches!(muted, Some(Effect::Order(Order::Wish(..)))), "{muted:?}");
    assert!(matches!(press(&mut model, &["u"]).pop(), Some(Effect::Order(Order::Undo))));
    model.made_last = true;
    let Some(Effect::TakeBack(back)) = press(&mut model, &["u"]).pop() else {
        panic!("it is not taken back");
    };
    izba_watch::fixing::take_back(folder.path(), &back).expect("nobody changed it");
    assert_eq!(std::fs::read_to_string(&path).expect("there"), *text);
    let _ = update(&mut model, Msg::TakenBack);
    assert!(model.made.is_empty());
    assert!(matches!(press(&mut model, &["u"]).pop(), Some(Effect::Order(Order::Undo))));
}

#[test]
fn where_no_edit_is_known_that_is_said() {
    let mut model = demo((142, 42));
    assert!(outcome(&mut model, &["m"]).contains("no edit is known to the sign"));
}

#[test]
fn an_entry_is_opened_in_place_and_closed_again() {
    let mut model = crate::views::looked_into((142, 42));
    press(&mut model, &["2"]);
    let group =
        model.shown.snapshot.groups.iter().find(|g| g.explanation.short.bare().contains("wick"));
    let group = group.expect("the lantern fails").id;
    model.lines.rows = [None, Some((group, true)), None]
        .iter()
        .zip(0..)
        .map(|(of, n)| row(n, &format!("moored {n}"), *of))
        .collect();
    (model.lines.top, model.lines.cursor, model.lines.follow) = (0, 0, false);
    assert!(outcome(&mut model, &["Z"]).contains("belongs to no error"));
    model.lines.cursor = 1;
    let closed = crate::views::picture(&model);
    press(&mut model, &["Z"]);
    let open = crate::views::picture(&model);
    assert!(open.contains("look first at") && open.contains("Z closes it here"), "{open}");
    // What stands below it is a click on it; the next line is further down.
    let lines: Vec<&str> = open.lines().collect();
    let at = |words: &str| lines.iter().position(|l| l.contains(words)).expect("it is shown");
    assert!(at("moored 2") > at("look first at"));
    let _ = update(&mut model, Msg::Click(30, at("look first at") as u16));
    assert_eq!(model.lines.cursor, 1);
    press(&mut model, &["Z"]);
    assert_eq!(crate::views::picture(&model), closed);
}

#[test]
fn a_click_on_a_key_at_the_bottom_presses_it() {
    let mut model = demo((142, 42));
    let drawn = crate::views::picture(&model);
    let footer = drawn.lines().last().expect("a footer");
    // The picture stands in quotes.
    let column = |words: &str| {
        let at = footer.find(words).expect("it is shown");
        footer[..at].chars().count() as u16 - 1
    };
    let _ = update(&mut model, Msg::Click(column("? keys"), 41));
    assert!(matches!(model.overlay, Some(Overlay::Help(_))));
    press(&mut model, &["Esc"]);
    let before = model.chosen;
    let _ = update(&mut model, Msg::Click(column("↑↓ choose"), 41));
    assert!(model.overlay.is_none() && model.chosen == before, "which of both is not said");
    let _ = update(&mut model, Msg::Click(column("q leave") + 3, 41));
    assert!(matches!(model.overlay, Some(Overlay::Quit(_))), "a program still runs");
}

#[test]
fn what_is_copied_is_what_is_in_sight() {
    let mut model = demo((142, 42));
    let copied = |model: &mut Model, keys: &[&str]| match press(model, keys).pop() {
        Some(Effect::Copy(text)) => text,
        other => panic!("{keys:?} copied nothing: {other:?}"),
    };
    let sentence = copied(&mut model, &["↓", "y"]);
    let told = model.told(model.selected().expect("one is chosen"));
    assert_eq!(sentence, told.headline.to_string());
    model.focus = Question::Where;
    let place = copied(&mut model, &["y"]);
    let (file, line) = place.rsplit_once(':').expect("a place");
    assert!(file.ends_with(".lua") && line.parse::<u32>().is_ok(), "{place}");
    assert!(outcome(&mut model, &["7", "y"]).contains("nothing is chosen here"));
}

#[test]
fn long_lines_are_read_to_their_end_and_the_chosen_one_stays_in_sight() {
    let mut model = demo((80, 24));
    press(&mut model, &["2", "Home"]);
    let long = "tide ".repeat(60);
    let rows = (0..60).map(|n| row(n, &long, None)).collect();
    let _ = update(&mut model, Msg::Answer(Answer::Window { from: 0, rows }));
    press(&mut model, &["z"]);
    for steps in 1..=50_u64 {
        press(&mut model, &["↓"]);
        assert_eq!(model.lines.cursor, steps);
        assert!(model.lines.top <= steps && steps < model.lines.top + 5, "{steps} is in sight");
    }
    // A screenful is what was in sight: no line is passed over unseen.
    let (top, cursor) = (model.lines.top, model.lines.cursor);
    press(&mut model, &["PgUp"]);
    assert!(model.lines.cursor + 5 > cursor && model.lines.cursor <= top, "{}", model.lines.cursor);
    press(&mut model, &["z", "PgUp"]);
    assert!(model.lines.cursor + 10 < cursor, "one row each again");
}

#[test]
fn a_search_goes_on_from_where_it_is_and_late_answers_are_dropped() {
    let mut model = demo((142, 42));
    press(&mut model, &["2", "Home", "i", "W", "i", "c", "k"]);
    let effects = press(&mut model, &["Enter"]);
    let Some(Effect::Order(Order::Find { id, sought, from, up })) = effects.first() else {
        panic!("nothing is looked for: {effects:?}")
    };
    assert_eq!((sought, *from, *up), (&Sought::Words(vec!["wick".into()]), 0, false));
    let _ = update(
        &mut model,
        Msg::Answer(Answer::Found { id: id + 7, row: Some(3), done: true, searched: 4 }),
    );
    assert_eq!(model.lines.cursor, 0, "that answer was to another search");
    let _ = update(
        &mut model,
        Msg::Answer(Answer::Found { id: *id, row: Some(900), done: true, searched: 901 }),
    );
    assert_eq!(model.lines.cursor, 900);
    let effects = press(&mut model, &["↓"]);
    assert!(
        matches!(effects.first(), Some(Effect::Order(Order::Find { from: 901, up: false, .. }))),
        "{effects:?}"
    );
    let effects = press(&mut model, &["↑"]);
    assert!(
        matches!(effects.first(), Some(Effect::Order(Order::Find { from: 900, up: true, .. }))),
        "{effects:?}"
    );
    let id = model.lines.find.as_ref().map_or(0, |f| f.id);
    let _ =
        update(&mut model, Msg::Answer(Answer::Found { id, row: None, done: true, searched: 900 }));
    assert_eq!(model.lines.find.as_ref().map(|f| f.outcome), Some(FindOutcome::Nowhere));
    press(&mut model, &["Esc"]);
    assert!(model.lines.find.is_none());
}

#[test]
fn the_wheel_scrolls_what_it_is_over_and_a_click_leaves_an_overlay() {
    let mut model = demo((142, 42));
    press(&mut model, &["↓", "?"]);
    assert!(matches!(model.overlay, Some(Overlay::Help(_))));
    let _ = update(&mut model, Msg::Click(5, 5));
    assert!(model.overlay.is_none());
    let layout = izba_app::model::Layout::of(&model);
    let _ = update(&mut model, Msg::Wheel(layout.where_.x + 3, layout.where_.y + 3, 1));
    assert_eq!(
        (model.step, model.focus),
        (1, Question::What),
        "the path went on a step, the keys stay where they were"
    );
    let _ = update(&mut model, Msg::Wheel(layout.what.x + 3, layout.what.y + 3, 1));
    assert_eq!(model.chosen, Some(model.order[2]));
    let _ = update(&mut model, Msg::Paste("pasted\u{1b}[2J".into()));
    assert!(model.overlay.is_none(), "what is pasted where nothing is typed goes nowhere");
}

#[test]
fn every_sheet_leaves_by_escape_and_none_is_left_behind() {
    // The keys that open each sheet, from the room on which the demo begins.
    let opened: &[(&[&str], &str)] = &[
        (&["?"], "Help"),
        (&[":"], "Palette"),
        (&["c"], "Sources"),
        (&["d"], "Words"),
        (&["C"], "Corner"),
        (&["D"], "Draw"),
        (&["2", "W"], "Paths"),
        (&["q"], "Quit"),
    ];
    for (keys, name) in opened {
        let mut model = demo((142, 42));
        press(&mut model, &["↓"]);
        press(&mut model, keys);
        let lies = format!("{:?}", model.overlay);
        let named = lies.starts_with(&format!("Some({name}("));
        assert!(named, "{keys:?} opens {name}: {lies}");
        // A key that means nothing there leaves it as it is; the wheel does too, or scrolls it.
        press(&mut model, &["F9"]);
        let _ = update(&mut model, Msg::Wheel(60, 20, 1));
        assert!(model.overlay.is_some(), "{name} stays");
        press(&mut model, &["Esc"]);
        assert!(model.overlay.is_none(), "{name} leaves by Esc");
    }
}

#[test]
fn a_note_outlives_a_click_and_takes_what_is_typed() {
    let mut model = demo((142, 42));
    let file = "+++\ntitle = \"the lamp\"\n+++\n\n## What it meant\n\n";
    let note = izba_core::notes::Note::parse(file).expect("a note");
    let _ = update(&mut model, Msg::Answer(Answer::Note(Box::new(note), None)));
    let _ = update(&mut model, Msg::Paste("no oil".into()));
    let _ = update(&mut model, Msg::Click(5, 5));
    let Some(Overlay::Note(sheet)) = &model.overlay else { panic!("it was thrown away") };
    assert!(sheet.area.lines().join("\n").contains("no oil"));
    let effects = press(&mut model, &["Esc"]);
    assert!(matches!(effects.first(), Some(Effect::Order(Order::KeepNote(..)))), "{effects:?}");
}

#[test]
fn long_lines_are_read_to_their_end() {
    let mut model = demo((100, 34));
    press(&mut model, &["2"]);
    let long = format!("begin {} end of it", "tide ".repeat(20));
    model.lines.rows = vec![row(0, &long, None), row(1, "short", None)];
    (model.lines.top, model.lines.follow) = (0, false);
    let seen = |model: &Model| crate::views::picture(model);
    assert!(!seen(&model).contains("end of it"));
    press(&mut model, &["→", "→"]);
    let right = seen(&model);
    assert!(right.contains("end of it") && right.contains('‹') && !right.contains("begin"));
    // No further than to the end of the longest, and back again.
    press(&mut model, &["→", "→", "→", "→"]);
    assert!(seen(&model).contains("end of it"));
    press(&mut model, &["←", "←", "←", "←", "←"]);
    assert!(seen(&model).contains("begin") && !seen(&model).contains('‹'));
}
