//! The installed driver, which starts a browser and speaks for it.

use super::talk::{PATIENCE, missing};
use crate::SourceError;
use crate::command::apart;
use nix::sys::signal::Signal;
use std::io::{BufRead, BufReader, ErrorKind};
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

/// Names of the driver, the likeliest first.
const DRIVERS: [&str; 2] = ["chromedriver", "/usr/lib/chromium/chromedriver"];

/// The driver's process; it and the browser end with it.
pub(super) struct Driver {
    process: Child,
    /// Where it listens.
    pub(super) port: u16,
}

impl Driver {
    /// Starts it.
    ///
    /// # Errors
    ///
    /// When it is not installed, or does not say where it listens.
    pub(super) fn start() -> Result<Driver, SourceError> {
        let mut failure = None;
        for name in DRIVERS {
            let mut command = Command::new(name);
            command
                .arg("--port=0")
                .stdin(Stdio::null())
                .stdout(Stdio::piped())
                .stderr(Stdio::null());
            // Of a hang-up it takes no notice; when Izba is gone, the browser's pipe ends it.
            apart(&mut command, Signal::SIGTERM);
            match command.spawn() {
                Ok(mut process) => {
                    let said = BufReader::new(
                        process.stdout.take().ok_or_else(|| missing("the driver says nothing"))?,
                    );
                    // Its words go on; somebody has to read them, or it stops at a full pipe.
                    let (port, found) = std::sync::mpsc::channel();
                    let read = move || {
                        for line in said.lines().map_while(Result::ok) {
                            let number = line
                                .rsplit("on port ")
                                .next()
                                .and_then(|n| n.trim_end_matches('.').parse::<u16>().ok());
                            if let Some(number) =
                                number.filter(|n| *n > 0 && line.contains("on port "))
                            {
                                let _ = port.send(number);
                            }
                        }
                    };
                    std::thread::Builder::new()
                        .name("driver".into())
                        .spawn(read)
                        .map_err(SourceError::system("start a thread"))?;
                    let mut driver = Driver { process, port: 0 };
                    driver.port = found
                        .recv_timeout(PATIENCE)
                        .map_err(|_| missing("the driver did not say on which port it listens"))?;
                    return Ok(driver);
                }
                Err(e) => failure = Some(e),
            }
        }
        Err(SourceError::System {
            doing: "start chromedriver, which opens the page (Debian packages chromium and \
                chromium-driver)",
            cause: failure.unwrap_or_else(|| ErrorKind::NotFound.into()),
        })
    }
}

impl Drop for Driver {
    fn drop(&mut self) {
        let group = nix::unistd::Pid::from_raw(self.process.id().cast_signed());
        let _ = nix::sys::signal::killpg(group, Signal::SIGTERM);
        let begun = Instant::now();
        while begun.elapsed() < Duration::from_secs(3)
            && matches!(self.process.try_wait(), Ok(None))
        {
            std::thread::sleep(Duration::from_millis(20));
        }
        let _ = nix::sys::signal::killpg(group, Signal::SIGKILL);
        let _ = self.process.wait();
    }
}
