//! A rude writer for tests and benchmarks: so many lines and errors a second, for so long.

use std::io::{self, BufWriter, Write};
use std::time::{Duration, Instant};

/// How much to write.
#[derive(Debug, Clone, Copy)]
pub struct Rude {
    /// Ordinary lines a second.
    pub lines: u32,
    /// Errors a second.
    pub errors: u32,
    /// Seconds to go on.
    pub seconds: f64,
}

/// Writes to `out` until the time is over; says on the error stream how long the writing itself took.
///
/// # Errors
///
/// When the reader goes away.
pub fn write(rude: Rude, out: impl Write) -> io::Result<Duration> {
    let mut out = BufWriter::with_capacity(16 * 1024, out);
    let slice = Duration::from_millis(20);
    let start = Instant::now();
    let mut busy = Duration::ZERO;
    let (mut lines, mut errors) = (0u64, 0u64);
    loop {
        let passed = start.elapsed();
        if passed.as_secs_f64() >= rude.seconds {
            break;
        }
        let due = |rate: u32| (passed.as_secs_f64() * f64::from(rate)) as u64;
        let begun = Instant::now();
        while lines < due(rude.lines) {
            lines += 1;
            writeln!(
                out,
                "{:8.3} | note  | Ferry#1.tick | position {:.4}, nothing to tell, line {lines}",
                passed.as_secs_f64(),
                (lines % 997) as f64 / 997.0
            )?;
        }
        while errors < due(rude.errors) {
            errors += 1;
            writeln!(
                out,
                "{:8.3} | error | Lantern#3.tick | scripts/lantern.lua:33: attempt to index a nil value (local 'wick')",
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
