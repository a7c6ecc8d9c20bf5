//! A program in a terminal of our own: what it wrote becomes a screen, with the moment at which it
//! changed.

use portable_pty::{CommandBuilder, MasterPty, PtySize, native_pty_system};
use std::io::{Read, Write};
use std::path::Path;
use std::sync::{Arc, Condvar, Mutex};
use std::time::{Duration, Instant, SystemTime, UNIX_EPOCH};

/// A program in a terminal.
pub struct Terminal {
    screen: Arc<(Mutex<vt100::Parser>, Condvar)>,
    writer: Box<dyn Write + Send>,
    child: Box<dyn portable_pty::Child + Send + Sync>,
    _master: Box<dyn MasterPty + Send>,
}

/// The time now, in milliseconds since 1970 (UTC).
pub fn now_ms() -> u64 {
    SystemTime::now().duration_since(UNIX_EPOCH).map_or(0, |d| d.as_millis() as u64)
}

impl Terminal {
    /// Starts a program in a terminal of 142 by 42 cells. `seen` is called with the screen after
    /// each piece of output.
    pub fn start(
        folder: &Path,
        words: &[&str],
        mut seen: impl FnMut(&vt100::Screen) + Send + 'static,
    ) -> Result<Terminal, String> {
        let size = PtySize { rows: 42, cols: 142, pixel_width: 0, pixel_height: 0 };
        let pair = native_pty_system().openpty(size).map_err(|e| e.to_string())?;
        let mut command = CommandBuilder::new(words[0]);
        command.args(&words[1..]);
        command.cwd(folder);
        command.env("HOME", folder);
        command.env("TERM", "xterm-256color");
        let child = pair.slave.spawn_command(command).map_err(|e| e.to_string())?;
        drop(pair.slave);
        let mut reader = pair.master.try_clone_reader().map_err(|e| e.to_string())?;
        let writer = pair.master.take_writer().map_err(|e| e.to_string())?;
        let screen = Arc::new((Mutex::new(vt100::Parser::new(42, 142, 0)), Condvar::new()));
        let shared = screen.clone();
        std::thread::spawn(move || {
            let mut buffer = vec![0u8; 64 * 1024];
            while let Ok(count) = reader.read(&mut buffer) {
                if count == 0 {
                    break;
                }
                let Ok(mut parser) = shared.0.lock() else { break };
                parser.process(&buffer[..count]);
                seen(parser.screen());
                drop(parser);
                shared.1.notify_all();
            }
        });
        Ok(Terminal { screen, writer, child, _master: pair.master })
    }

    /// Types keys into the terminal, as tmux names them.
    pub fn keys(&mut self, keys: &str) {
        let _ = self.writer.write_all(keys.as_bytes()).and_then(|()| self.writer.flush());
    }

    /// What stands on the screen.
    pub fn text(&self) -> String {
        self.screen.0.lock().map(|p| p.screen().contents()).unwrap_or_default()
    }

    /// Waits until the screen is as `holds` wants it; how long that took.
    pub fn wait(
        &self,
        what: &str,
        bound: Duration,
        holds: impl Fn(&str) -> bool,
    ) -> Result<Duration, String> {
        let begun = Instant::now();
        let mut parser = self.screen.0.lock().map_err(|_| "the screen is broken")?;
        loop {
            if holds(&parser.screen().contents()) {
                return Ok(begun.elapsed());
            }
            if begun.elapsed() > bound {
                return Err(format!("waited in vain for {what}:\n{}", parser.screen().contents()));
            }
            parser = self
                .screen
                .1
                .wait_timeout(parser, Duration::from_millis(50))
                .map_err(|_| "the screen is broken")?
                .0;
        }
    }

    /// The process of the program in the terminal.
    pub fn pid(&self) -> u32 {
        self.child.process_id().unwrap_or(0)
    }

    /// Ends the terminal and what runs in it.
    pub fn end(mut self) {
        self.keys("qq");
        let begun = Instant::now();
        while begun.elapsed() < Duration::from_secs(10) {
            if matches!(self.child.try_wait(), Ok(Some(_))) {
                return;
            }
            std::thread::sleep(Duration::from_millis(50));
        }
        let _ = self.child.kill();
    }
}

/// A value of `/proc/PID/status`, such as `VmRSS`, in MB.
pub fn memory(pid: u32, name: &str) -> f64 {
    let status = std::fs::read_to_string(format!("/proc/{pid}/status")).unwrap_or_default();
    let row =
        status.lines().find(|l| l.starts_with(name)).and_then(|v| v.split_whitespace().nth(1));
    row.and_then(|v| v.parse::<f64>().ok()).unwrap_or(0.0) * 1024.0 / 1e6
}

/// Seconds of processor time that a process has used.
pub fn cpu(pid: u32) -> f64 {
    let stat = std::fs::read_to_string(format!("/proc/{pid}/stat")).unwrap_or_default();
    let behind = stat.rsplit(") ").next().unwrap_or_default();
    let ticks: Vec<f64> =
        behind.split_whitespace().skip(11).take(2).filter_map(|t| t.parse().ok()).collect();
    ticks.iter().sum::<f64>() / 100.0
}
