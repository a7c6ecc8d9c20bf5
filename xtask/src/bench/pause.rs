//! What it costs to be ready to pause: the stand-in engine as fast as it can, with nobody looking,
//! with a client attached that set nothing, and, for comparison, with one breakpoint that is never
//! reached.

use super::report::{Report, median};
use crate::root;
use std::io::{Read, Write};
use std::net::TcpStream;
use std::path::Path;
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

/// Seconds of game time.
const SECONDS: &str = "900";
const ROUNDS: usize = 9;
const BOUND: Duration = Duration::from_secs(10);

/// What is set before it runs.
#[derive(Clone, Copy)]
enum Ready {
    No,
    Attached,
    Breakpoint,
}

pub fn run(folder: &Path, report: &mut Report) -> Result<(), String> {
    let izba = root().join("target/dist/izba");
    let dir = folder.join("ferry");
    let laid = Command::new(&izba)
        .args(["demo", "--reset", "--dir"])
        .arg(&dir)
        .stdout(Stdio::null())
        .status();
    laid.map_err(|e| e.to_string())?;
    let mut times = [Vec::new(), Vec::new(), Vec::new()];
    let mut ratios = [Vec::new(), Vec::new()];
    for _ in 0..ROUNDS {
        let round: Vec<f64> = [Ready::No, Ready::Attached, Ready::Breakpoint]
            .into_iter()
            .map(|ready| play(&izba, &dir, ready))
            .collect::<Result<_, _>>()?;
        for (all, time) in times.iter_mut().zip(&round) {
            all.push(*time);
        }
        ratios[0].push(round[1] / round[0]);
        ratios[1].push(round[2] / round[0]);
    }
    let [alone, attached, watched] = &mut times;
    report.row(
        &format!(
            "ready to pause: {SECONDS} s of game time as fast as it goes, a client attached, \
            nothing set"
        ),
        &format!(
            "{:.3} s, {:.3} s with nobody: {:.3} times as long (median of {ROUNDS} pairs)",
            median(attached),
            median(alone),
            median(&mut ratios[0])
        ),
    );
    report.row(
        "the same with one breakpoint that is never reached",
        &format!("{:.3} s: {:.2} times as long", median(watched), median(&mut ratios[1])),
    );
    Ok(())
}

fn ask(stream: &mut TcpStream, seq: u32, command: &str, arguments: &str) -> Result<(), String> {
    let body = format!(
        r#"{{"seq":{seq},"type":"request","command":"{command}","arguments":{arguments}}}"#
    );
    write!(stream, "Content-Length: {}\r\n\r\n{body}", body.len()).map_err(|e| e.to_string())
}

/// Runs the game to its end; how long it took from the moment it was let go.
fn play(izba: &Path, dir: &Path, ready: Ready) -> Result<f64, String> {
    let failed = |e: std::io::Error| e.to_string();
    // The adapter over standard input and output waits until it is told to begin; over an address
    // it does not. All three runs print to nowhere, so that only the scripts count.
    let mut command = Command::new(izba);
    command
        .args([
            "stand-in",
            "engine",
            "--hurried",
            "--seconds",
            SECONDS,
            "--play",
            "play/evening.json",
        ])
        .current_dir(dir);
    command.stdout(Stdio::null()).stderr(Stdio::null());
    let port =
        std::net::TcpListener::bind("127.0.0.1:0").and_then(|l| l.local_addr()).map_err(failed)?;
    let address = port.to_string();
    if !matches!(ready, Ready::No) {
        command.args(["--adapter", &address]);
    }
    let begun = Instant::now();
    let mut child = command.spawn().map_err(failed)?;
    let mut client = None;
    if !matches!(ready, Ready::No) {
        let mut stream = loop {
            match TcpStream::connect(port) {
                Ok(stream) => break stream,
                Err(e) if begun.elapsed() > BOUND => {
                    return Err(format!("the engine's adapter does not answer: {e}"));
                }
                Err(_) => std::thread::sleep(Duration::from_millis(1)),
            }
        };
        ask(&mut stream, 1, "initialize", r#"{"adapterID":"bench"}"#)?;
        ask(&mut stream, 2, "attach", "{}")?;
        if matches!(ready, Ready::Breakpoint) {
            let path = dir.join("scripts/lantern.lua");
            let point = format!(
                r#"{{"source":{{"path":{:?}}},"breakpoints":[{{"line":25,"condition":"false"}}]}}"#,
                path.to_string_lossy()
            );
            ask(&mut stream, 3, "setBreakpoints", &point)?;
        }
        ask(&mut stream, 4, "configurationDone", "{}")?;
        let mut reading = stream.try_clone().map_err(failed)?;
        client =
            Some((stream, std::thread::spawn(move || drop(reading.read_to_end(&mut Vec::new())))));
    }
    child.wait().map_err(failed)?;
    let took = begun.elapsed().as_secs_f64();
    if let Some((stream, reader)) = client {
        drop(stream);
        let _ = reader.join();
    }
    Ok(took)
}
