//! The stand-in engine as a program of its own, for tests: `marsh-engine FOLDER SECONDS`.

use izba_standins::engine::{Settings, run};

#[expect(clippy::print_stderr, reason = "a program that talks to its tests")]
fn main() -> std::process::ExitCode {
    let mut words = std::env::args().skip(1);
    let folder = words.next().unwrap_or_else(|| ".".into()).into();
    let seconds = words.next().and_then(|s| s.parse().ok());
    match run(&Settings { folder, scene: "scene.json".into(), rate: 30, seconds }) {
        Ok(code) => std::process::ExitCode::from(u8::try_from(code).unwrap_or(1)),
        Err(sentence) => {
            eprintln!("{sentence}");
            std::process::ExitCode::FAILURE
        }
    }
}
