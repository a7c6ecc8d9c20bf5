//! Remakes every picture in docs/screenshots from the demo: an X server without a screen, a
//! terminal, tmux, the program.
//!
//! `cargo xtask shots [NAME…]`. Pictures are 1280x800, 142 columns by 42 rows.

use crate::{Outcome, cargo, root, say};
use std::path::Path;
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

/// What to do before a picture is taken.
enum Step {
    /// Wait until the screen shows this.
    Until(&'static str),
    /// Type these keys, by tmux's names.
    Keys(&'static [&'static str]),
    /// In a file of the demo project, put one text for another.
    Mend(&'static str, &'static str, &'static str),
}

use Step::{Keys, Mend, Until};

/// From the tour to the errors of the lantern alone.
const TO_LANTERN: &[&str] =
    &["T", "/", "i", "n", "Space", "l", "a", "n", "t", "e", "r", "n", ".", "l", "u", "a", "Enter"];

/// Name of the picture, and the way to it from a fresh demo.
const SHOTS: &[(&str, &[Step])] = &[
    ("tour", &[Until("`wick` has")]),
    (
        "now",
        &[
            Until("`wick` has"),
            Keys(&["T"]),
            Until("Printer.cs"),
            Keys(&["Down", "Down", "Down", "Down", "Down", "Down", "Down", "Enter"]),
            Until("is past the end"),
        ],
    ),
    (
        "where",
        &[
            Until("`wick` has"),
            Keys(&["T", "/", "i", "n", "Space", "f", "o", "g", ".", "l", "u", "a", "Enter"]),
            Until("1 of"),
            Keys(&["Enter"]),
            Until("the end of this `if` is missing"),
            Keys(&["z"]),
        ],
    ),
    (
        "why",
        &[
            Until("`wick` has"),
            Keys(&[
                "T", "/", "i", "n", "Space", "c", "a", "b", "i", "n", ".", "l", "u", "a", "Enter",
            ]),
            Until("cabin.lua:12"),
            Keys(&["Tab", "Tab"]),
            Until("begins at 0"),
            Keys(&["z"]),
            Until("right way"),
        ],
    ),
    (
        "pause",
        &[
            Until("`wick` has"),
            Keys(TO_LANTERN),
            Until("`9` is past the end"),
            Keys(&["B"]),
            Until("`self.level` is 9, but `self.wicks` has 7 entries"),
        ],
    ),
    (
        "corner",
        &[
            Until("`wick` has"),
            Keys(TO_LANTERN),
            Until("`9` is past the end"),
            Keys(&["C"]),
            Until("Without any one of these"),
        ],
    ),
    (
        "checks",
        &[
            Until("`wick` has"),
            Keys(&["T", "5"]),
            Until("Files that need each other"),
            Keys(&["Down", "Down"]),
            Until("begins here"),
        ],
    ),
    (
        "lines",
        &[
            Until("`wick` has"),
            Keys(&["T"]),
            Until("Printer.cs"),
            Keys(&["Down", "Down", "Down", "Down", "Down", "Down", "Down", "g"]),
            Until("Lantern#3.tick"),
            Keys(&["PageUp"]),
            Until("line "),
        ],
    ),
    (
        "edit",
        &[
            Until("`wick` has"),
            Keys(&["T", "/", "i", "n", "Space", "b", "u", "o", "y", ".", "l", "u", "a", "Enter"]),
            Until("a comma is missing here"),
            Keys(&["m", "t"]),
            Until("no new one comes"),
        ],
    ),
    (
        "filter",
        &[
            Until("`wick` has"),
            Keys(&["T", "2"]),
            Until("Lantern#3.tick"),
            Keys(&[
                "/", "e", "r", "r", "o", "r", "Space", "n", "o", "t", "Space", "o", "n", "Space",
                "L", "a", "n", "t", "e", "r", "n", "#", "3", "Enter",
            ]),
            Until(" hidden"),
        ],
    ),
    (
        "runs",
        &[
            Until("`wick` has"),
            Keys(&["T", "a"]),
            Until("run 2 starts"),
            Until(", 3 s ago"),
            Mend("scripts/fog.lua", "    self.drift = 0\nend", "    self.drift = 0\n  end\nend"),
            Keys(&["a"]),
            Until("run 3 starts"),
            Until(", 3 s ago"),
            Keys(&["a"]),
            Until("run 4 starts"),
            Until(", 3 s ago"),
            Mend("scene.json", "\"level\": 9", "\"level\": 7"),
            Until("scene.json saved"),
            Keys(&["a"]),
            Until("run 5 starts"),
            Until(", 3 s ago"),
            Keys(&["a"]),
            Until("run 6 starts"),
            Until(", 3 s ago"),
            Mend("scripts/tide.lua", "tideheigth", "tideheight"),
            Until("tide.lua saved"),
            Keys(&["a"]),
            Until("run 7 starts"),
            Until(", 3 s ago"),
            Mend("scene.json", "\"level\": 7", "\"level\": 9"),
            Until("scene.json saved"),
            Keys(&["a"]),
            Until("run 8 starts"),
            Until(", 3 s ago"),
            Keys(&["a"]),
            Until("run 9 starts"),
            Until(", 3 s ago"),
            Mend("scene.json", "\"level\": 9", "\"level\": 7"),
            Until("scene.json saved"),
            Keys(&["a"]),
            Until("run 10 starts"),
            Until(", 3 s ago"),
            Keys(&["3"]),
            Until("likely gone"),
        ],
    ),
    (
        "compare",
        &[
            Until("`wick` has"),
            Mend("scripts/tide.lua", "tideheigth", "tideheight"),
            Until("tide.lua saved"),
            Mend("scene.json", "\"level\": 9", "\"level\": 7"),
            Until("scene.json saved"),
            Keys(&["T", "a"]),
            Until("run 2 starts"),
            Until(", 3 s ago"),
            Keys(&["3", "V"]),
            Until("Run 1 and run 2"),
        ],
    ),
    (
        "sources",
        &[
            Until("`wick` has"),
            Keys(&["T", "c", "Down", "Down", "Space"]),
            Until("held still; what it says"),
        ],
    ),
    (
        "teach",
        &[
            Until("`wick` has"),
            Keys(&["T"]),
            Until("Printer.cs"),
            Keys(&["Down", "Down", "Down", "Down", "Down", "Down", "Down", "g"]),
            Until("Lantern#3.tick"),
            Keys(&["l"]),
            Until("How this line is read"),
        ],
    ),
    (
        "values",
        &[
            Until("`wick` has"),
            Keys(&[
                "T", "/", "i", "n", "Space", "g", "a", "u", "g", "e", ".", "l", "u", "a", "Enter",
            ]),
            Until("gauge.lua:22"),
            Keys(&["4"]),
            Until("likely: tide was"),
            Keys(&["n"]),
            Until("printed by scripts/tide.lua"),
        ],
    ),
    (
        "notes",
        &[
            Until("`wick` has"),
            Keys(TO_LANTERN),
            Until("`9` is past the end"),
            Keys(&["w"]),
            Until("throw away"),
            Keys(&[
                "The third lantern asks for the ninth wick, and there are seven.",
                "Tab",
                "Level 7 in scene.json.",
                "Escape",
            ]),
            Until("You met this on"),
            Keys(&["7"]),
            Until("yours"),
        ],
    ),
    (
        "tell",
        &[
            Until("`wick` has"),
            Keys(TO_LANTERN),
            Until("`9` is past the end"),
            Keys(&["t"]),
            Until("keep in a file"),
        ],
    ),
    ("help", &[Until("`wick` has"), Keys(&["T", "?"]), Until("Keys in room Now")]),
    (
        "mended",
        &[
            Until("`wick` has"),
            Keys(&["T"]),
            Mend("scripts/tide.lua", "tideheigth", "tideheight"),
            Until("tide.lua saved"),
            Mend("scene.json", "\"level\": 9", "\"level\": 7"),
            Until("scene.json saved"),
            Keys(&["a"]),
            Until("run 2 starts"),
            Until("since run 1"),
            Keys(&["End"]),
            Until("quiet"),
        ],
    ),
];

const BOUND: Duration = Duration::from_secs(150);
const SETTLE: Duration = Duration::from_millis(600);
const POLL: Duration = Duration::from_millis(50);

pub fn run(wanted: &[String]) -> Outcome {
    cargo(&["build", "--release", "--package", "izba-app"])?;
    let pictures = root().join("docs/screenshots");
    std::fs::create_dir_all(&pictures).map_err(|e| e.to_string())?;
    for (name, steps) in
        SHOTS.iter().filter(|(name, _)| wanted.is_empty() || wanted.iter().any(|w| w == name))
    {
        shoot(&pictures.join(format!("{name}.png")), steps)?;
        say(&format!("docs/screenshots/{name}.png"));
    }
    Ok(())
}

/// A process that ends with its handle.
struct Ends(Child);

impl Drop for Ends {
    fn drop(&mut self) {
        let _ = self.0.kill();
        let _ = self.0.wait();
    }
}

fn start(command: &mut Command) -> Result<Ends, String> {
    let name = command.get_program().to_string_lossy().into_owned();
    command.stdin(Stdio::null()).stdout(Stdio::null()).stderr(Stdio::null());
    command.spawn().map(Ends).map_err(|e| format!("{name} could not be started: {e}"))
}

fn wait(what: &str, mut holds: impl FnMut() -> bool) -> Outcome {
    let begun = Instant::now();
    while !holds() {
        if begun.elapsed() > BOUND {
            return Err(format!("waited in vain for {what}"));
        }
        std::thread::sleep(POLL);
    }
    Ok(())
}

fn shoot(picture: &Path, steps: &[Step]) -> Outcome {
    let folder = tempfile::tempdir().map_err(|e| e.to_string())?;
    let at = folder.path();
    let display = free_display().ok_or("no free display")?;
    let _server = start(Command::new("Xvfb").args([
        &display,
        "-screen",
        "0",
        "1280x800x24",
        "-nolisten",
        "tcp",
    ]))?;
    wait("the X server", || Path::new(&format!("/tmp/.X11-unix/X{}", &display[1..])).exists())?;
    let config = "set -g default-terminal tmux-256color\nset -g terminal-features '*:RGB:usstyle'\nset \
        -g status off\nset -g escape-time 0\n";
    let write =
        |name: &str, text: &str| std::fs::write(at.join(name), text).map_err(|e| e.to_string());
    write("tmux.conf", config)?;
    let program = root().join("target/release/izba");
    write(
        "run",
        &format!(
            "export COLORTERM=truecolor TZ=UTC; cd '{0}' && exec '{1}' demo --store '{0}/store'\n",
            at.display(),
            program.display()
        ),
    )?;
    let (socket, conf, script) = (at.join("socket"), at.join("tmux.conf"), at.join("run"));
    let tmux = |words: &[&str]| {
        Command::new("tmux")
            .arg("-u")
            .arg("-S")
            .arg(&socket)
            .arg("-f")
            .arg(&conf)
            .args(words)
            .output()
    };
    let mut terminal = Command::new("kitty");
    terminal
        .env("DISPLAY", &display)
        .env("LIBGL_ALWAYS_SOFTWARE", "1")
        .env("LC_ALL", "C.UTF-8")
        .env("DBUS_SESSION_BUS_ADDRESS", "disabled:");
    terminal
        .env("KITTY_CONFIG_DIRECTORY", at)
        .env("KITTY_CACHE_DIRECTORY", at)
        .args(["--config", "NONE"]);
    for option in [
        "linux_display_server=x11",
        "remember_window_size=no",
        "hide_window_decorations=yes",
        "initial_window_width=1280",
        "initial_window_height=800",
        "window_padding_width=0.75",
        "font_family=JetBrains Mono",
        "font_size=11.25",
        "adjust_line_height=-1",
        "disable_ligatures=always",
        "background=#15171c",
        "enable_audio_bell=no",
        "update_check_interval=0",
        "shell_integration=disabled",
        "confirm_os_window_close=0",
    ] {
        terminal.args(["-o", option]);
    }
    terminal
        .arg("tmux")
        .arg("-u")
        .arg("-S")
        .arg(&socket)
        .arg("-f")
        .arg(&conf)
        .args(["new-session", "sh"])
        .arg(&script);
    let _terminal = start(&mut terminal)?;
    let screen = || {
        tmux(&["capture-pane", "-p"])
            .map(|o| String::from_utf8_lossy(&o.stdout).into_owned())
            .unwrap_or_default()
    };
    let outcome = walk(steps, at, &screen, &|keys| drop(tmux(&[&["send-keys"], keys].concat())));
    let outcome = outcome.and_then(|()| {
        // One more look of the program at its clock, so that the last key has had its effect.
        std::thread::sleep(SETTLE);
        crate::run(
            Command::new("import")
                .args(["-silent", "-window", "root"])
                .arg(format!("PNG24:{}", picture.display()))
                .env("DISPLAY", &display),
            "import",
        )
    });
    let _ = tmux(&["kill-server"]);
    outcome.map_err(|e| format!("{e}; the screen showed\n{}", screen()))
}

fn walk(steps: &[Step], at: &Path, screen: &dyn Fn() -> String, keys: &dyn Fn(&[&str])) -> Outcome {
    for step in steps {
        match step {
            Until(text) => wait(text, || screen().contains(text))?,
            Keys(typed) => keys(typed),
            Mend(file, from, to) => {
                let path = at.join("night-ferry").join(file);
                let text = std::fs::read_to_string(&path).map_err(|e| e.to_string())?;
                std::fs::write(&path, text.replace(from, to)).map_err(|e| e.to_string())?;
            }
        }
    }
    Ok(())
}

fn free_display() -> Option<String> {
    (90..200)
        .find(|n| {
            !Path::new(&format!("/tmp/.X11-unix/X{n}")).exists()
                && !Path::new(&format!("/tmp/.X{n}-lock")).exists()
        })
        .map(|n| format!(":{n}"))
}
