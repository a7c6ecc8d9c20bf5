//! Settings: chosen on the screen, kept in a file, read again at the next start.

use crate::tmux::{Tmux, izba, wait_for_file};

#[test]
fn what_is_chosen_is_kept_and_holds_from_the_next_start_on() {
    let tmux = Tmux::start(110, 62);
    tmux.write("game.log", "all is well\n");
    tmux.command(&format!("{} follow game.log", izba()));
    tmux.wait_for("No errors so far");
    tmux.keys(&["I"]);
    tmux.wait_until("the sheet", |s| s.contains("Settings") && s.contains("as the terminal says"));
    let dark = tmux.screen_with_colours();
    // From "auto" through "dusk" to "paper": the whole screen follows at once.
    tmux.keys(&["Right"]);
    tmux.wait_for("light on dark");
    tmux.keys(&["Right"]);
    tmux.wait_for("dark on light");
    let file = tmux.path(".config/izba/settings.toml");
    let kept = wait_for_file(&file, |text| text.contains("paper"));
    assert_eq!(kept, "theme = \"paper\"\n");
    assert_ne!(tmux.screen_with_colours(), dark);
    tmux.keys(&["Escape"]);
    tmux.wait_until("the sheet closed", |s| !s.contains("Settings ─"));
    tmux.keys(&["q"]);
    tmux.wait_for("shell>");
    // By hand: a key of one's own, and a mistake that is told and harms nothing.
    tmux.write(".config/izba/settings.toml", "theme = \"papper\"\n[keys]\n\"fixed\" = \"U\"\n");
    tmux.command(&format!("clear; {} follow game.log", izba()));
    tmux.wait_for("theme can't be \"papper\"");
    tmux.keys(&["?"]);
    tmux.wait_until("the help with that key", |s| {
        s.lines().any(|l| l.contains("Call a mistake fixed") && l.contains("U "))
    });
    tmux.keys(&["Escape"]);
    tmux.wait_until("the help closed", |s| !s.contains("Call a mistake fixed"));
    tmux.keys(&["q"]);
    let said = tmux.wait_for("shell>");
    assert!(said.contains("izba runs lists the runs"), "what is left is told on leaving: {said}");
}
