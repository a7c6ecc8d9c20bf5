//! What a screen full of groups costs that say nothing: two thousand of them went quiet, and the
//! program prints fifty ordinary lines a second.

use super::live::izba;
use super::report::Report;
use super::terminal::{Terminal, cpu};
use std::path::Path;
use std::time::{Duration, Instant};

/// Groups that went quiet; as many as are kept apart.
const GROUPS: usize = 1_990;
const BOUND: Duration = Duration::from_secs(60);
const MEASURED: Duration = Duration::from_secs(15);

/// A word of letters for each number: numbers would be taken out of a message.
fn word(mut number: usize) -> String {
    let mut word = String::new();
    for _ in 0..4 {
        word.push(char::from(b'a' + (number % 23) as u8));
        number /= 23;
    }
    word
}

pub fn run(folder: &Path, report: &mut Report) -> Result<(), String> {
    let failed = |e: std::io::Error| e.to_string();
    let lost: String = (0..GROUPS).map(|n| format!("ERROR the {} is lost\n", word(n))).collect();
    std::fs::write(folder.join("lost.words"), lost).map_err(failed)?;
    // The first run tells all mistakes, the second none.
    let game = "if [ -e met ]; then while :; do echo all is well; sleep 0.02; done; fi\n\
        cat lost.words; touch met\n";
    std::fs::write(folder.join("game.sh"), game).map_err(failed)?;
    let izba = izba();
    let words = [izba.as_str(), "run", "--", "sh", "game.sh"];
    let first = Terminal::start(folder, &words, |_| {})?;
    first.wait("the first run's end", BOUND, |t| t.contains("ended"))?;
    std::thread::sleep(Duration::from_secs(3));
    first.end();
    let second = Terminal::start(folder, &words, |_| {})?;
    second.wait("the quiet groups", BOUND, |t| t.contains("quiet"))?;
    std::thread::sleep(Duration::from_secs(4));
    let (before, begun) = (cpu(second.pid()), Instant::now());
    std::thread::sleep(MEASURED);
    let used = (cpu(second.pid()) - before) / begun.elapsed().as_secs_f64();
    second.end();
    report.row(
        "2,000 quiet groups and 50 ordinary lines a second, share of a core (aim 2 %)",
        &format!("{:.1} %", used * 100.0),
    );
    Ok(())
}
