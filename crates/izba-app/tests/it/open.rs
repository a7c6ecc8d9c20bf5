//! `izba` alone: the sources that the project names, or what could be watched here.

use crate::tmux::{Tmux, izba};

#[test]
fn the_project_names_its_sources_and_what_is_wrong_with_them_is_told() {
    let tmux = Tmux::start(142, 42);
    tmux.write("main.py", "def fare(kind):\n    return kind.price\n\nfare(None)\n");
    tmux.write("logs/loader.log", "12:00:01 ERROR loader: no landing\n");
    tmux.command(izba());
    let screen = tmux.wait_for("What shall Izba watch?");
    assert!(
        screen.contains("run     python3 main.py") && screen.contains("follow  logs/loader.log"),
        "{screen}"
    );
    tmux.keys(&["q"]);
    tmux.wait_for("shell>");
    // Without a screen the same is told in words.
    tmux.command(&format!("{} < /dev/tty | cat", izba()));
    tmux.wait_for("izba run -- python3 main.py · izba follow logs/loader.log");

    tmux.write(
        "izba.toml",
        "[[source]]\nname = \"game\"\nrun = \"python3 main.py\"\n\n[[source]]\nfolow \
        = \"logs/loader.log\"\n",
    );
    tmux.command(izba());
    tmux.wait_for("izba.toml, line 6: unknown field `folow`");
    tmux.write("izba.toml", "[[source]]\nname = \"both\"\nrun = \"true\"\nfollow = \"x.log\"\n");
    tmux.command(izba());
    tmux.wait_for("izba.toml, source 1: it names several things to watch");

    tmux.write(
        "izba.toml",
        "[[source]]\nname = \"game\"\nrun = \"cd $BACK; python3 main.py\"\nfolder \
        = \"logs\"\nenvironment = { BACK = \"..\" }\n\n[[source]]\nfollow \
        = \"logs/loader.log\"\n",
    );
    tmux.command(izba());
    tmux.wait_for("Shall Izba do it? (y/n)");
    tmux.keys(&["y", "Enter"]);
    for words in ["`kind` has no value", "main.py:2", "no landing"] {
        tmux.wait_for(words);
    }
    tmux.keys(&["2"]);
    let lines = tmux.wait_for("loader.log");
    assert!(lines.contains("game"), "{lines}");
    tmux.keys(&["q"]);
    tmux.wait_for("shell>");
}
