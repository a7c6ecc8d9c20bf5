//! A rude writer for tests and benchmarks: so many lines and errors a second, for so long.

use std::io::{self, BufWriter, Write};
use std::time::{Duration, Instant};

/// How much to write, how fast, and with how many errors.
#[derive(Debug, Clone)]
pub struct Rude {
    /// Ordinary lines a second.
    pub lines: u32,
    /// Errors a second.
    pub errors: u32,
    /// Seconds to go on.
    pub seconds: f64,
    /// Whether each line tells the moment at which it is written, in milliseconds since 1970.
    pub stamps: bool,
    /// A file that is told of each error: its number and the moment.
    pub told: Option<std::path::PathBuf>,
}

/// Writes to `out` until the time is over; says on the error stream how long the writing itself
/// took.
///
/// # Errors
///
/// When the reader goes away.
pub fn write(rude: &Rude, out: impl Write) -> io::Result<Duration> {
    let mut out = BufWriter::with_capacity(16 * 1024, out);
    let slice = Duration::from_millis(if rude.stamps { 4 } else { 20 });
    let stamp = || match std::time::SystemTime::now().duration_since(std::time::UNIX_EPOCH) {
        Ok(passed) if rude.stamps => format!(" at {}", passed.as_millis()),
        _ => String::new(),
    };
    let start = Instant::now();
    let mut busy = Duration::ZERO;
    let (mut lines, mut errors) = (0u64, 0u64);
    let mut told = rude.told.as_ref().map(std::fs::File::create).transpose()?;
    loop {
        let passed = start.elapsed();
        // All that is due is written, however long the reader makes it take.
        let all = (f64::from(rude.lines) * rude.seconds) as u64;
        if passed.as_secs_f64() >= rude.seconds && (lines >= all || !rude.stamps) {
            break;
        }
        let passed = passed.min(Duration::from_secs_f64(rude.seconds));
        let due = |rate: u32| (passed.as_secs_f64() * f64::from(rate)) as u64;
        let begun = Instant::now();
        let at = stamp();
        while lines < due(rude.lines) {
            lines += 1;
            writeln!(
                out,
                "{:8.3} | note  | Ferry#1.tick | position {:.4}, nothing to tell, line {lines}{at}",
                passed.as_secs_f64(),
                (lines % 997) as f64 / 997.0
            )?;
        }
        while errors < due(rude.errors) {
            errors += 1;
            if let Some(told) = &mut told {
                writeln!(told, "{errors}{}", stamp())?;
            }
            writeln!(
                out,
                "{:8.3} | error | Lantern#3.tick | scripts/lantern.lua:33: attempt to \
                    index a nil value (local 'wick')",
                passed.as_secs_f64()
            )?;
            writeln!(out, "         from scripts/lantern.lua:33 in Lantern.shine")?;
            writeln!(out, "         from scripts/lantern.lua:38 in Lantern.tick")?;
        }
        out.flush()?;
        busy += begun.elapsed();
        std::thread::sleep(slice.saturating_sub(begun.elapsed()));
    }
    out.flush()?;
    Ok(busy)
}
