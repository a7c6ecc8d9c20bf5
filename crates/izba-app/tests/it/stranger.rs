//! A folder, a log or a line of words of a stranger: nothing is done unasked, nothing hangs, and
//! nothing that a terminal obeys comes out, whatever is typed or read.

use crate::commands::izba_in;
use crate::tmux::{Tmux, izba};
use std::path::Path;
use std::process::Output;

#[test]
fn what_a_folder_would_have_done_is_asked_before_anything_is_done() {
    let tmux = Tmux::start(142, 42);
    tmux.write("away/tide.log", "ERROR: high\n");
    tmux.write(
        "ferry/izba.toml",
        "[[source]]\nname = \"game\"\nrun = \"echo ran >> ../ran; echo well\"\n\
         environment = { LD_PRELOAD = \"\" }\n\n[[source]]\nrun = \"echo ERROR: no landing >&2; \
         echo second >> ../ran\"\n[[source]]\nfollow = \"../away/tide.log\"\n",
    );
    tmux.command("cd ferry");
    tmux.command(izba());
    let asked = tmux.wait_for("Shall Izba do it? (y/n)");
    for words in ["run echo ran >> ../ran; echo well", "Nothing of it was done yet"] {
        assert!(asked.contains(words), "{asked}");
    }
    tmux.keys(&["n", "Enter"]);
    tmux.wait_for("Nothing was started. izba.toml stays as it is");
    assert!(!tmux.path("ran").exists());

    tmux.command(izba());
    tmux.wait_for("Shall Izba do it? (y/n)");
    tmux.keys(&["y", "Enter"]);
    tmux.wait_for("set LD_PRELOAD to , which can load other code");
    tmux.keys(&["n", "Enter"]);
    tmux.wait_for("tide.log, which lies outside this folder");
    tmux.keys(&["Enter"]);
    // What was refused is left out; the rest is watched, and not asked about again.
    tmux.wait_for("no landing");
    tmux.wait_for("ended well");
    tmux.keys(&["q"]);
    tmux.wait_for("2 sources of izba.toml are left out");
    assert_eq!(std::fs::read_to_string(tmux.path("ran")).expect("it ran"), "second\n");
    tmux.command(&format!("clear; {} trust", izba()));
    tmux.wait_for("You allowed what izba.toml names in 1 folder");

    // In a script all is said with the command.
    tmux.command(&format!("clear; {} --trust=../away/tide.log", izba()));
    let screen = tmux.wait_for("no landing");
    tmux.wait_for("ended well");
    tmux.keys(&["q"]);
    assert!(!screen.contains("(y/n)"), "{screen}");
    tmux.wait_for("shell>");
    // Another content is asked about again; so is what was taken back.
    tmux.command(&format!("clear; {} trust --take-back .", izba()));
    tmux.wait_for("Taken back: izba.toml in");
    tmux.command(&format!("clear; {}", izba()));
    tmux.wait_for("Shall Izba do it? (y/n)");
    tmux.keys(&["n", "Enter"]);
    tmux.wait_for("Nothing was started.");
}

/// A title, a colour, C1, a direction, a bell, a backspace, a separator, a tag.
const HOSTILE: &str = "x\x1b]0;gone\x07\x1b[31mred\u{9b}2J\u{202e}gnp\x08\x0e\u{2028}\u{e0041}";

/// What comes out on any way: nothing that a terminal obeys, nothing that deceives a reader.
fn is_safe(out: &Output, what: &[&str]) {
    let all = [&out.stdout[..], &out.stderr[..]].concat();
    let text = String::from_utf8(all).expect("what we print is text");
    let bad = text.chars().find(|c| {
        (c.is_control() && !matches!(c, '\n' | '\t'))
            || matches!(c, '\u{202e}' | '\u{2028}' | '\u{e0041}')
    });
    assert_eq!(bad, None, "izba {what:?} printed {text:?}");
}

#[test]
fn nothing_that_a_terminal_obeys_comes_out_on_any_way() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let at = folder.path();
    let write = |name: &str, text: &str| {
        let path = at.join(name);
        std::fs::create_dir_all(path.parent().expect("a folder")).expect("room");
        std::fs::write(path, text).expect("room");
    };
    let (h, script) = (HOSTILE, format!("{HOSTILE}.lua"));
    let log = format!(
        "ERROR: {h} failed\nlua5.4: {script}:1: attempt to index a nil value (local '{h}')\n\
         stack traceback:\n\t{script}:1: in main chunk\npath: {script}:1\n"
    );
    write(&script, &format!("local t = nil -- {h}\nprint(t.{h})\n"));
    write("main.lua", &format!("local t = {{}}\nt.{h} = 1\nprint(t.name.x, \"{h}\")\n"));
    write("items.json", &format!("{{\"{h}\": \"{h}\""));
    write("a.log", &log);
    write(&format!("{h}.log"), &log);
    write("package.json", &format!("{{\"scripts\": {{\"start\": \"{h}\"}}}}"));
    write("izba-notes/one.md", &format!("+++\ntitle = \"{h}\"\n+++\n{h}\n"));
    write("izba-notes/two.md", &format!("+++\ntitle = '''{h}'''\n{h}\n+++\n"));
    write(&format!("izba-notes/{h}.md"), "+++\ntitle = 3\n+++\n");
    write("bad-readers.toml", &format!("[[reader]]\nname = '''{h}'''\nline = '''{{{h}}}'''\n"));
    write("toml/izba.toml", &format!("[[source]]\n\"{h}\" = 1\n"));
    write("toml2/izba.toml", &format!("[[source]]\nrun = 'x'\nfolder = '''{h}'''\n"));
    write("toml3/izba.toml", &format!("[[source]]\nsyslog = '''{h}'''\n"));
    write("readers/izba-readers.toml", &format!("[[reader]]\n'''{h}''' = 1\n"));
    write("readers/a.log", &log);
    let hostile_log = format!("{h}.log");
    let place = format!("{script}:1");
    let mut ways: Vec<Vec<&str>> = vec![
        vec![h],
        vec!["--as", h],
        vec!["--project", h, "check"],
        vec!["--store", h, "store"],
        vec!["--project", "toml", "trust", "--take-back", h],
        vec!["--project", "readers", "read", "a.log"],
        vec!["check"],
        vec!["check", "--as", "jsonl"],
        vec!["check", "--like", &place],
        vec!["check", "--like", h],
        vec!["check", "--silent", h],
        vec!["corner", "--", h],
        vec!["corner", "--as", "jsonl", "--", "sh", "-c", "cat a.log; exit 1"],
        vec!["compare", h, h],
        vec!["compare"],
        vec!["runs"],
        vec!["runs", "--as", "jsonl"],
        vec!["runs", "--source", h],
        vec!["notes"],
        vec!["notes", "find", "gone"],
        vec!["notes", "show", h],
        vec!["notes", "add", h],
        vec!["notes", "for", "a.log"],
        vec!["notes", "share", h],
        vec!["draw", h],
        vec!["draw", "run", "-o", h],
        vec!["draw", "code", "-o", "drawn.svg"],
        vec!["follow", h],
        vec!["page", h],
        vec!["listen", h],
        vec!["listen", "--syslog", h],
        vec!["paths", "a.log"],
        vec!["paths", "--as", "jsonl", "a.log"],
        vec!["paths", h],
        vec!["readers"],
        vec!["readers", "bad-readers.toml"],
        vec!["readers", h],
        vec!["readers", "--try", "a.log"],
        vec!["store"],
        vec!["trust"],
        vec!["run", h],
        vec!["run", "--", "sh", "-c", "exit 3"],
        vec!["run", "--folder", h, "--", "true"],
        vec!["demo", "--folder", h],
    ];
    for log in ["a.log", &hostile_log] {
        for form in ["text", "jsonl", "sarif", "markdown"] {
            ways.push(vec!["read", "--as", form, log]);
        }
        ways.push(vec!["read", "--filter", h, log]);
        ways.push(vec!["read", "--pack", "packed.zip", "--as", "markdown", log]);
    }
    for project in ["toml", "toml2", "toml3"] {
        ways.push(vec!["--project", project]);
    }
    for words in ways {
        is_safe(&izba_in(at, &words, log.as_bytes()), &words);
    }
}

#[test]
fn a_pipe_or_a_device_in_place_of_any_file_is_neither_waited_for_nor_read() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let at = folder.path();
    let pipe = |name: &str| {
        let path = at.join(name);
        std::fs::create_dir_all(path.parent().expect("a folder")).expect("room");
        nix::unistd::mkfifo(&path, nix::sys::stat::Mode::S_IRWXU).expect("a pipe");
    };
    for name in [
        ".gitignore",
        ".ignore",
        "package.json",
        "package-lock.json",
        "Cargo.lock",
        "requirements.txt",
        "go.mod",
        "tide.lua",
        "tide.json",
        "dist/app.js.map",
        "izba-notes/one.md",
        "node_modules/x/package.json",
        "asked/izba.toml",
        "read/izba-readers.toml",
    ] {
        pipe(name);
    }
    std::os::unix::fs::symlink("/dev/zero", at.join("zeros.lua")).expect("a link");
    std::os::unix::fs::symlink("/dev/zero", at.join("izba-notes/zeros.md")).expect("a link");
    std::fs::create_dir(at.join("zero")).expect("room");
    std::os::unix::fs::symlink("/dev/zero", at.join("zero/izba.toml")).expect("a link");
    std::fs::write(at.join("main.lua"), "print(1)\n").expect("room");
    let log = b"lua5.4: main.lua:1: attempt to index a nil value (local 't')\n";
    std::fs::write(at.join("a.log"), log).expect("room");
    std::fs::write(at.join("read/a.log"), log).expect("room");
    let said = |words: &[&str]| {
        crate::commands::said(&within(at, words)).replace(&*at.to_string_lossy(), "[folder]")
    };
    insta::assert_snapshot!(
        [
            said(&["read", "a.log"]),
            said(&["check"]),
            said(&["notes"]),
            said(&["--project", "read", "read", "read/a.log"]),
            said(&["run", "--", "true"]),
        ]
        .join("\n"),
        @r"
        1: Fix first: `t` has no value when main.lua reads it at line 1. / 1 mistake in 1 line / 
        0: Nothing wrong found in 1 file of code and data.
        0: No note was written yet; new ones are kept in [folder]/izba-notes. / On the screen w writes one about the chosen error. / izba: [folder]/izba-notes/one.md is no note: it is a pipe, not a file
        3: izba: read/izba-readers.toml cannot be read: it is a pipe, not a file
        0:  / ◎ true ended well. / No errors and no warnings in 0 lines.
        "
    );
    // Without a terminal the settings are looked at all the same.
    let told = |project: &str| {
        let tmux = Tmux::start(100, 20);
        tmux.command(&format!("{} --project {}", izba(), at.join(project).display()));
        tmux.wait_for("cannot be read")
    };
    assert!(told("asked").contains("it is a pipe, not a file"));
    assert!(told("zero").contains("it is a device, not a file"));
}

/// Runs a command that has to end by itself soon.
fn within(at: &Path, words: &[&str]) -> Output {
    let line: Vec<String> = ["timeout", "-s", "KILL", "30", izba()]
        .iter()
        .chain(words)
        .map(|w| format!("'{w}'"))
        .collect();
    std::process::Command::new("sh")
        .args(["-c", &line.join(" ")])
        .current_dir(at)
        .env("HOME", at)
        .env("XDG_STATE_HOME", at.join("state"))
        .stdin(std::process::Stdio::null())
        .output()
        .expect("a shell")
}

#[test]
fn izba_steps_aside_and_comes_back() {
    let tmux = Tmux::start(100, 30);
    tmux.write("main.sh", "echo ERROR: no landing; sleep 1000\n");
    tmux.command(&format!("{} run -- sh main.sh", izba()));
    tmux.wait_for("no landing");
    tmux.keys(&["C-z"]);
    tmux.wait_for("Stopped");
    // The shell has its line back as it was.
    tmux.command("echo typed && fg");
    tmux.wait_for("no landing");
    tmux.keys(&["2"]);
    tmux.wait_for("ERROR: no landing");
    tmux.keys(&["q", "q"]);
    tmux.wait_for("shell>");
    // A terminal that only writes lines is none to draw on.
    tmux.command(&format!("clear; TERM=dumb {} run -- sh -c 'echo plain'", izba()));
    tmux.wait_for("ended well");
}
