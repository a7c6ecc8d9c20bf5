//! A terminal for tests: tmux with a server of its own, keys in, screen out, everything awaited
//! with a bound.

use std::path::{Path, PathBuf};
use std::process::{Child, Command, Output};
use std::time::{Duration, Instant};

/// Longest wait for anything on a screen; the machine may be busy with other tests.
const BOUND: Duration = Duration::from_secs(40);

/// One terminal. Dropping it ends all that runs in it.
pub struct Tmux {
    socket: String,
    /// A folder of its own: home, store and project.
    pub folder: tempfile::TempDir,
}

impl Tmux {
    /// A terminal of this size with a shell in an empty folder.
    pub fn start(columns: u16, rows: u16) -> Tmux {
        let folder = tempfile::tempdir().expect("a temporary folder");
        let socket = format!(
            "izba-test-{}-{}",
            std::process::id(),
            folder.path().file_name().expect("it has a name").to_string_lossy()
        );
        let tmux = Tmux { socket, folder };
        let size = (columns.to_string(), rows.to_string());
        let home = format!("HOME={}", tmux.path("").display());
        let words = [
            "new-session",
            "-d",
            "-x",
            &size.0,
            "-y",
            &size.1,
            "-c",
            &tmux.path("").to_string_lossy(),
        ]
        .map(str::to_owned);
        let mut all = words.to_vec();
        for variable in [
            home.as_str(),
            "PS1=shell> ",
            "COLORTERM=truecolor",
            "TZ=UTC",
            "NO_COLOR=",
            "VISUAL=",
            "EDITOR=",
        ] {
            all.extend(["-e".to_owned(), variable.to_owned()]);
        }
        all.extend(["sh", "-i"].map(str::to_owned));
        tmux.call(&all.iter().map(String::as_str).collect::<Vec<_>>());
        tmux.call(&["set-option", "-g", "allow-rename", "on"]);
        tmux.wait_for("shell>");
        tmux
    }

    /// A path in the folder.
    pub fn path(&self, name: &str) -> PathBuf {
        self.folder.path().join(name)
    }

    /// Writes a file in the folder.
    pub fn write(&self, name: &str, text: &str) {
        let path = self.path(name);
        if let Some(parent) = path.parent() {
            std::fs::create_dir_all(parent).expect("a folder");
        }
        std::fs::write(path, text).expect("it can be written");
    }

    fn call(&self, words: &[&str]) -> Output {
        Command::new("tmux")
            .args(["-L", &self.socket, "-f", "/dev/null"])
            .args(words)
            .output()
            .expect("tmux is installed: cargo xtask test sees to it")
    }

    /// Types a command line and Enter.
    pub fn command(&self, line: &str) {
        self.call(&["send-keys", "-l", line]);
        self.keys(&["Enter"]);
    }

    /// Types characters as they are.
    pub fn text(&self, text: &str) {
        self.call(&["send-keys", "-l", text]);
    }

    /// Types keys by their tmux names.
    pub fn keys(&self, keys: &[&str]) {
        let mut words = vec!["send-keys"];
        words.extend(keys);
        self.call(&words);
    }

    /// What the screen shows.
    pub fn screen(&self) -> String {
        String::from_utf8_lossy(&self.call(&["capture-pane", "-p"]).stdout).into_owned()
    }

    /// What the screen shows, with its colours.
    pub fn screen_with_colours(&self) -> String {
        String::from_utf8_lossy(&self.call(&["capture-pane", "-p", "-e"]).stdout).into_owned()
    }

    /// One of tmux's own values, such as `pane_title`.
    pub fn value(&self, name: &str) -> String {
        let out = self.call(&["display-message", "-p", &format!("#{{{name}}}")]);
        String::from_utf8_lossy(&out.stdout).trim().to_owned()
    }

    /// Closes the terminal as a window is closed; the folder stays while the result lives.
    pub fn close(self) -> Tmux {
        self.call(&["kill-server"]);
        self
    }

    /// Gives the terminal a new size.
    pub fn resize(&self, columns: u16, rows: u16) {
        self.call(&["resize-window", "-x", &columns.to_string(), "-y", &rows.to_string()]);
    }

    /// Waits until the screen shows `text`, and gives the screen.
    #[track_caller]
    pub fn wait_for(&self, text: &str) -> String {
        self.wait_until(&format!("“{text}”"), |screen| screen.contains(text))
    }

    /// Waits until the screen is as `holds` wants it.
    #[track_caller]
    pub fn wait_until(&self, what: &str, holds: impl Fn(&str) -> bool) -> String {
        let begun = Instant::now();
        loop {
            let screen = self.screen();
            // A screen may be caught while it is drawn: it counts once it is the same twice, or
            // seen for long enough.
            if holds(&screen) && (self.screen() == screen || begun.elapsed() > BOUND / 4) {
                return screen;
            }
            assert!(
                begun.elapsed() < BOUND,
                "waited in vain for {what}; the screen shows\n{screen}"
            );
            std::thread::sleep(Duration::from_millis(25));
        }
    }
}

impl Drop for Tmux {
    fn drop(&mut self) {
        self.call(&["kill-server"]);
    }
}

/// The program under test.
pub fn izba() -> &'static str {
    env!("CARGO_BIN_EXE_izba")
}

/// Waits until `holds` is true.
#[track_caller]
pub fn wait_for(what: &str, holds: impl Fn() -> bool) {
    let begun = Instant::now();
    while !holds() {
        assert!(begun.elapsed() < BOUND, "waited in vain for {what}");
        std::thread::sleep(Duration::from_millis(25));
    }
}

/// Waits until `holds` is true of the file's text.
#[track_caller]
pub fn wait_for_file(path: &Path, holds: impl Fn(&str) -> bool) -> String {
    let begun = Instant::now();
    loop {
        let text = std::fs::read_to_string(path).unwrap_or_default();
        if holds(&text) {
            return text;
        }
        assert!(begun.elapsed() < BOUND, "{} holds\n{text}", path.display());
        std::thread::sleep(Duration::from_millis(25));
    }
}

/// An address on this machine that nobody uses at this moment.
pub fn free_address() -> std::net::SocketAddr {
    izba_standins::free_address().expect("a free port")
}

/// Connects as soon as somebody listens.
#[track_caller]
pub fn connect(address: std::net::SocketAddr) -> std::net::TcpStream {
    let begun = std::time::Instant::now();
    loop {
        match std::net::TcpStream::connect(address) {
            Ok(stream) => return stream,
            Err(e) => assert!(
                begun.elapsed() < std::time::Duration::from_secs(20),
                "nobody answers at {address}: {e}"
            ),
        }
        std::thread::yield_now();
    }
}

/// A process that ends with the test, however that goes.
pub struct Ends(pub Child);

impl Drop for Ends {
    fn drop(&mut self) {
        let _ = self.0.kill();
        let _ = self.0.wait();
    }
}
