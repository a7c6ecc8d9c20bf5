//! A real browser on the demo's page: what it says is seen at the place that somebody wrote.

use crate::tmux::{Ends, Tmux, free_address, izba};
use std::io::{BufRead, BufReader};
use std::process::{Command, Stdio};

#[test]
fn a_page_in_a_real_browser_is_watched() {
    let tmux = Tmux::start(142, 60);
    let ferry = tmux.path("ferry");
    let reset = Command::new(izba())
        .args(["demo", "--reset", "--dir"])
        .arg(&ferry)
        .output()
        .expect("it runs");
    assert!(reset.status.success());
    let clock = std::fs::read_to_string(ferry.join("web/js/clock.js")).expect("it was laid out");
    std::fs::write(ferry.join("web/js/clock.js"), clock.replace("console.log(", "console.error("))
        .expect("room");
    let mut server = Command::new(izba());
    server.args(["stand-in", "page"]).arg(&ferry).stdout(Stdio::piped());
    let mut server = Ends(server.spawn().expect("the server"));
    let mut lines =
        BufReader::new(server.0.stdout.take().expect("its output")).lines().map_while(Result::ok);
    let address = lines
        .find_map(|l| l.split("serves the timetable at ").nth(1).map(str::to_owned))
        .expect("it says where");
    // Somebody has to read on, or the server stops at a full pipe.
    std::thread::spawn(move || lines.for_each(drop));
    tmux.command(&format!("{} --project ferry page {address}", izba()));
    // An uncaught error through the source map, one in a plain script, a rejection, a console
    // error, a missing script.
    for (words, place) in [
        ("`boats` is used before it has a value", "berths.js:4"),
        ("`departures` has no function `foreach`", "board.js:10"),
        ("`tides.today` has no value", "tides.js:3"),
        ("clock is shown", "clock.js:7"),
        ("js/weathr.js", ""),
    ] {
        let screen = tmux.wait_for(words);
        assert!(screen.contains(place), "{place}\n{screen}");
    }
    // A picture of the page was taken when they struck.
    tmux.keys(&["*"]);
    let screen = tmux.wait_for("the page at");
    assert!(screen.contains(" is in "), "{screen}");
    tmux.keys(&["q", "q"]);
    tmux.wait_for("shell>");
}

#[test]
fn what_a_page_prints_of_its_values_is_told_in_words() {
    let tmux = Tmux::start(150, 42);
    tmux.write("index.html", "<body><script src=\"words.js\"></script></body>");
    tmux.write(
        "words.js",
        "class Rope {\n  constructor() { this.coils = [1, 2]; }\n  get worn() { throw 1; }\n}\n\
        console.log('a', { a: [1, null, 'x'] }, new Rope(), document.body, undefined);\n\
        const ring = {}; ring.ring = ring; console.log('b', ring, (x) => x, 'y'.repeat(20100));\n\
        console.log('c', new Proxy({}, { ownKeys() { throw 2; } }), '100%');\n\
        console.log('%s is %d', 'd', 5);\nconsole.error(new Error('torn'));\n",
    );
    tmux.command(&format!("{} page file://{}", izba(), tmux.path("index.html").display()));
    tmux.wait_for("torn");
    tmux.keys(&["2", "Home"]);
    tmux.wait_until("each in its words", |s| {
        let mut all = [
            "a {a: [1, null, \"x\"]} Rope {coils: [1, 2]} <body> undefined",
            "b {ring: {ring: {ring: {…}}}} function without a name yyy",
            "c object 100%",
            "d is 5",
            "[page error] Error: torn",
            "words.js:9",
        ]
        .into_iter();
        all.all(|words| s.contains(words))
    });
}

#[test]
fn a_page_and_the_service_that_it_asks_tell_one_mistake() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let ferry = folder.path().join("ferry");
    let laid_out = Command::new(izba()).args(["demo", "--reset", "--dir"]).arg(&ferry).output();
    assert!(laid_out.expect("it runs").status.success());
    let (log, service, izba) = (free_address(), free_address(), izba());
    let sources = format!(
        "[[source]]\nname = \"page\"\nrun = \"{izba} stand-in page --tickets {service}\"\n\
         [[source]]\nname = \"phone\"\nrun = \"{izba} stand-in phone --listen {log} --service {service}\"\n\
         [[source]]\nname = \"app\"\nconnect = \"{log}\"\n"
    );
    std::fs::write(ferry.join("izba.toml"), sources).expect("room");
    let store = folder.path().join("store");
    let told = Command::new(izba)
        .args(["--trust", "--seconds", "14", "--as", "jsonl", "--store"])
        .arg(&store)
        .current_dir(&ferry)
        .output()
        .expect("it runs");
    let told = String::from_utf8_lossy(&told.stdout).into_owned();
    let rows: Vec<serde_json::Value> =
        told.lines().map(|l| serde_json::from_str(l).expect("JSON")).collect();
    let row = |begin: &str| {
        let is =
            |r: &&serde_json::Value| r["message"].as_str().is_some_and(|m| m.starts_with(begin));
        rows.iter().find(is).unwrap_or_else(|| panic!("{begin}: {told}"))
    };
    let (service, page) = (row("Index 3 out of bounds"), row("no ticket 3 from the phone"));
    assert_eq!(service["file"], "phone/src/TicketService.kt");
    assert_eq!(
        (&service["follows"], &page["follows"]),
        (&serde_json::Value::Null, &service["rank"])
    );
    let apart =
        rows.iter().filter(|r| r["message"].as_str().is_some_and(|m| m.contains("ticket 3")));
    assert_eq!(apart.count(), 1, "the service's sentence belongs to its exception: {told}");
}
