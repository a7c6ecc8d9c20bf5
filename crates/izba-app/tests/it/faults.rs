//! What goes wrong around Izba: each is told on the screen, and nothing that had arrived is lost.

use crate::tmux::{Ends, Tmux, connect, free_address, izba, wait_for};
use std::io::Write;
use std::process::{Command, Stdio};

#[test]
fn a_full_disk_is_told_and_the_program_is_not_held_up() {
    let tmux = Tmux::start(142, 42);
    tmux.write(
        "much.sh",
        "echo first words\ni=0\nwhile [ $i -lt 3000 ]; do echo line $i of a long night on \
            the marsh; i=$((i+1)); done\necho done > done\nsleep 60\n",
    );
    // No file may grow beyond 40 blocks: for Izba that is a full disk.
    tmux.command(&format!("trap '' XFSZ; ulimit -f 40; {} run sh much.sh", izba()));
    tmux.wait_for("the disk is full: what the program prints now is not kept");
    wait_for("the program to get to its end", || tmux.path("done").exists());
    tmux.keys(&["2", "Home"]);
    tmux.wait_until("the first lines", |s| {
        s.contains("first words") && s.contains("line 20 of a long night")
    });
    tmux.keys(&["q", "q"]);
    tmux.wait_for("shell>");
}

#[test]
fn a_sender_that_never_ends_its_line_hurts_nobody_and_its_words_are_kept() {
    let tmux = Tmux::start(142, 42);
    let address = free_address();
    tmux.command(&format!("{} listen --lines {address}", izba()));
    let mut endless = connect(address);
    for _ in 0..48 {
        endless.write_all(&[b'x'; 64 * 1024]).expect("it is taken");
    }
    let mut other = connect(address);
    other.write_all(b"20:00:01 error: the rope is torn\n").expect("it is taken");
    tmux.wait_until("the other sender", |s| s.contains("the rope is torn"));
    drop(endless);
    tmux.keys(&["2"]);
    tmux.wait_until("the long line, cut where it is shown", |s| {
        s.contains("xxxx") && s.contains("bytes in all")
    });
    let pid: u32 = Command::new("pgrep")
        .args(["-f", &format!("listen --lines {address}")])
        .output()
        .ok()
        .and_then(|o| String::from_utf8_lossy(&o.stdout).lines().next()?.parse().ok())
        .expect("it runs");
    let status = std::fs::read_to_string(format!("/proc/{pid}/status")).expect("it runs");
    let peak: u64 = status
        .lines()
        .find_map(|l| l.strip_prefix("VmHWM:")?.split_whitespace().next()?.parse().ok())
        .expect("a number");
    assert!(peak < 150_000, "{peak} kB");
}

#[test]
fn a_browser_that_goes_away_is_told_and_opened_again() {
    let tmux = Tmux::start(142, 42);
    tmux.write("index.html", "<script src=\"tide.js\"></script>");
    tmux.write("tide.js", "function tide(clock) {\n  return clock.height;\n}\ntide(null);\n");
    let page = format!("file://{}", tmux.path("index.html").display());
    tmux.command(&format!("{} page {page}", izba()));
    tmux.wait_for("`clock` has no value");
    // The driver dies; whoever else watches a page has one of their own.
    let ours = tmux.value("pane_pid");
    let under = |of: &str| {
        String::from_utf8_lossy(
            &Command::new("pgrep").args(["-P", of]).output().expect("pgrep").stdout,
        )
        .split_whitespace()
        .map(str::to_owned)
        .collect::<Vec<_>>()
    };
    let driver = under(&ours).iter().flat_map(|izba| under(izba)).next().expect("the driver");
    assert!(Command::new("kill").args(["-9", &driver]).status().expect("kill").success());
    tmux.keys(&["c"]);
    tmux.wait_for("the browser went away; another one is opened");
    tmux.wait_until("the page once more", |s| s.contains("run 2"));
    tmux.keys(&["Escape"]);
    tmux.wait_until("its error once more", |s| s.contains("met since run 1"));
    tmux.keys(&["q"]);
    tmux.wait_for("shell>");
}

#[test]
fn a_page_that_prints_more_than_a_browser_can_pass_on_is_heard_and_the_rest_is_counted() {
    let tmux = Tmux::start(142, 42);
    tmux.write("index.html", "<script src=\"flood.js\"></script>");
    tmux.write(
        "flood.js",
        "const all = [];\nfor (let i = 0; i < 1000000; i++) all.push({ i, name: 'rope ' + i });\n\
        console.log(all);\nfor (let i = 0; i < 200000; i++) console.log('coil', i);\n\
        console.warn('the last coil');\n",
    );
    tmux.command(&format!("{} page file://{}", izba(), tmux.path("index.html").display()));
    tmux.wait_for("the last coil");
    tmux.wait_until("its place, and not that of our own script", |s| s.contains("flood.js:5"));
    tmux.keys(&["2", "End"]);
    tmux.wait_until("what was left out, by its number", |s| {
        s.contains("more messages of such a second were left out")
    });
    tmux.keys(&["Home"]);
    tmux.wait_until("the beginning of what is large", |s| {
        s.contains("Array(1000000) [{i: 0, name: \"rope 0\"}, {i: 1,") && s.contains("coil 3")
    });
    tmux.keys(&["q"]);
    tmux.wait_for("shell>");
}

#[test]
fn a_program_that_reaches_for_the_terminal_does_not_get_it() {
    let tmux = Tmux::start(142, 42);
    // An adapter and a program through pipes: each draws on the terminal and asks it to be deaf.
    tmux.write(
        "grab.sh",
        "echo boarding\nwhile [ ! -e $1-may ]; do sleep 0.1; done\n(printf '\\033[2J\\033[Htaken over' > /dev/tty) 2>/dev/null\n\
        (stty raw -echo < /dev/tty) 2>/dev/null\necho aboard > $1\nsleep 60\n",
    );
    tmux.write("main.lua", "print(1)\n");
    for (what, words) in [
        ("piped", "run --pipes sh grab.sh piped"),
        ("adapter", "run --adapter 'sh grab.sh adapter' main.lua"),
    ] {
        tmux.command(&format!("{} {words}", izba()));
        tmux.wait_for("q leave");
        tmux.write(&format!("{what}-may"), "");
        wait_for("it to have done its worst", || tmux.path(what).exists());
        tmux.keys(&["2"]);
        tmux.wait_until("the room of lines", |s| s.contains("Lines") && s.contains("q leave"));
        assert!(!tmux.screen().contains("taken over"), "{what}: {}", tmux.screen());
        tmux.keys(&["q", "q"]);
        tmux.wait_for("shell>");
        tmux.command("clear");
    }
}

#[test]
fn a_browser_that_runs_already_is_joined_and_left_running() {
    let tmux = Tmux::start(142, 42);
    tmux.write("index.html", "<script src=\"tide.js\"></script>");
    tmux.write("tide.js", "setInterval(() => { null.height; }, 200);\n");
    let (page, port) =
        (format!("file://{}", tmux.path("index.html").display()), free_address().port());
    let flags = [
        "--headless=new",
        "--no-sandbox",
        "--disable-gpu",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
    ];
    let mut browser = Command::new("chromium");
    browser
        .args(flags)
        .arg(format!("--user-data-dir={}", tmux.path("profile").display()))
        .arg(format!("--remote-debugging-port={port}"))
        .arg(&page);
    let _browser = Ends(
        browser
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .spawn()
            .expect("chromium is installed: cargo xtask test sees to it"),
    );
    drop(connect(std::net::SocketAddr::from(([127, 0, 0, 1], port))));
    tmux.command(&format!("clear; {} page {page} --join 127.0.0.1:{port}", izba()));
    tmux.wait_until("what goes wrong in it", |s| s.contains("tide.js:1") && s.contains("watching"));
    tmux.keys(&["q"]);
    tmux.wait_for("shell>");
    drop(connect(std::net::SocketAddr::from(([127, 0, 0, 1], port))));
}
