//! A log of a busy night, made up: five layouts of lines in one file, one line in a hundred begins
//! an error with its trace, 300 different mistakes. The same for the same size, whoever makes it.

use std::io::{self, Write};

/// Different mistakes in the log.
pub const MISTAKES: u64 = 300;

/// Of so many lines one begins an error.
const EVERY: u64 = 100;

const OBJECTS: [&str; 7] = ["Ferry", "Lantern", "Jetty", "TideClock", "Passenger", "Bell", "Fog"];
const SCRIPTS: [&str; 6] = ["ferry", "lantern", "jetty", "tide", "passenger", "bell"];
const DEEDS: [&str; 8] = [
    "the tide rises by",
    "took a passenger aboard at jetty",
    "rope number",
    "a lamp was trimmed on post",
    "fog thins, sight is now",
    "rang for the stop",
    "waits for the gate of lock",
    "drew the next picture in frame",
];

/// What was written to a log of a benchmark.
#[derive(Debug, Default, Clone, Copy)]
pub struct Written {
    /// Lines in all.
    pub lines: u64,
    /// Errors, each with its trace.
    pub errors: u64,
    /// Bytes in all.
    pub bytes: u64,
}

/// Numbers that look like chance and are the same each time (Marsaglia's xorshift).
struct Chance(u64);

impl Chance {
    fn below(&mut self, end: u64) -> u64 {
        self.0 ^= self.0 << 13;
        self.0 ^= self.0 >> 7;
        self.0 ^= self.0 << 17;
        self.0 % end
    }
}

/// Writes a log of about `size` bytes, the same each time.
pub fn write(out: &mut impl Write, size: u64) -> io::Result<Written> {
    write_night(out, size, 0)
}

/// Writes about `size` bytes of another night.
pub fn write_night(out: &mut impl Write, size: u64, night: u64) -> io::Result<Written> {
    let mut chance = Chance(0x1ab_5eed ^ night << 32);
    let mut written = Written::default();
    let mut block = Vec::with_capacity(1 << 20);
    let mut line = 0u64;
    while written.bytes + (block.len() as u64) < size {
        let ms = line / 3;
        if line % EVERY == EVERY - 1 {
            written.lines += error(&mut block, ms, &mut chance)?;
            written.errors += 1;
        } else {
            ordinary(&mut block, ms, &mut chance)?;
            written.lines += 1;
        }
        line += 1;
        if block.len() > (1 << 20) - 8192 {
            out.write_all(&block)?;
            written.bytes += block.len() as u64;
            block.clear();
        }
    }
    out.write_all(&block)?;
    written.bytes += block.len() as u64;
    Ok(written)
}

/// Hours, minutes, seconds and milliseconds of a moment of that night.
fn clock(ms: u64) -> (u64, u64, u64, u64) {
    ((20 + ms / 3_600_000) % 24, ms / 60_000 % 60, ms / 1000 % 60, ms % 1000)
}

fn ordinary(out: &mut Vec<u8>, ms: u64, chance: &mut Chance) -> io::Result<()> {
    let (h, m, s, f) = clock(ms);
    let object = OBJECTS[chance.below(7) as usize];
    let (script, deed, n) =
        (SCRIPTS[chance.below(6) as usize], DEEDS[chance.below(8) as usize], chance.below(10_000));
    match chance.below(5) {
        0 => writeln!(
            out,
            "2026-11-23 {h:02}:{m:02}:{s:02}.{f:03} [worker-{}] INFO  ferry.{script} - \
                {deed} {n}, {object} looks on from its place",
            n % 4
        ),
        1 => writeln!(
            out,
            r#"{{"time":"2026-11-23T{h:02}:{m:02}:{s:02}.{f:03}Z","level":"info","logger":"{script}","message":"{deed} {n}","object":"{object}#{}"}}"#,
            n % 9
        ),
        2 => writeln!(
            out,
            r#"<134>1 2026-11-23T{h:02}:{m:02}:{s:02}.{f:03}Z marsh {script} {} - [at x="{}" y="{}"] {object} says {deed} {n}"#,
            n % 700,
            n % 80,
            n % 25
        ),
        3 => writeln!(
            out,
            "{:>9}.{f:03} | info  | {object}#{}.tick | {deed} {n} while the others wait \
                for the night to end",
            ms / 1000,
            n % 9
        ),
        _ => writeln!(
            out,
            r#"ts=2026-11-23T{h:02}:{m:02}:{s:02}.{f:03}Z level=debug app={script} object={object} took={n}us msg="{deed} {n}""#
        ),
    }
}

/// One of the mistakes with its trace; how many lines it takes.
fn error(out: &mut Vec<u8>, ms: u64, chance: &mut Chance) -> io::Result<u64> {
    let (h, m, s, f) = clock(ms);
    let mistake = chance.below(MISTAKES);
    let (script, object, n) =
        (SCRIPTS[(mistake % 6) as usize], OBJECTS[(mistake % 7) as usize], chance.below(10_000));
    let at = 10 + mistake;
    match mistake % 5 {
        0 => {
            writeln!(
                out,
                "2026-11-23 {h:02}:{m:02}:{s:02}.{f:03} [worker-{}] ERROR ferry.{script} - \
                    step {n} of the crossing failed",
                n % 4
            )?;
            writeln!(out, "java.lang.IllegalStateException: no rope for {object} {n}")?;
            writeln!(
                out,
                "\tat ferry.{script}.Deck.tie(Deck.java:{at})\n\tat \
                    ferry.{script}.Deck.land(Deck.java:{})",
                at + 40
            )?;
            writeln!(
                out,
                "\tat java.base/java.util.ArrayList.forEach(ArrayList.java:1511)\n\tat \
                    ferry.Main.main(Main.java:12)"
            )?;
            Ok(6)
        }
        1 => {
            writeln!(
                out,
                r#"{{"time":"2026-11-23T{h:02}:{m:02}:{s:02}.{f:03}Z","level":"error","logger":"{script}","message":"{object} {n} was not lit","error":{{"name":"TypeError","stack":"TypeError: lamp {at} is undefined\n    at light ({script}.js:{at}:9)\n    at tick (main.js:14:3)"}}}}"#
            )?;
            Ok(1)
        }
        2 => {
            writeln!(
                out,
                r#"<131>1 2026-11-23T{h:02}:{m:02}:{s:02}.{f:03}Z marsh {script} {} - - scripts/{script}.lua:{at}: attempt to index a nil value (field '{object}')"#,
                n % 700
            )?;
            Ok(1)
        }
        3 => {
            writeln!(
                out,
                "{:>9}.{f:03} | error | {object}#{}.tick | scripts/{script}.lua:{at}: \
                    attempt to perform arithmetic on a nil value (local 'depth{at}')",
                ms / 1000,
                n % 9
            )?;
            writeln!(
                out,
                "stack traceback:\n\tscripts/{script}.lua:{at}: in upvalue \
                    'sink'\n\tscripts/{script}.lua:{}: in function \
                    <scripts/{script}.lua:{}>\n\t[C]: in ?",
                at + 20,
                at + 12
            )?;
            Ok(5)
        }
        _ => {
            writeln!(
                out,
                "Traceback (most recent call last):\n  File \"/home/ferry/{script}.py\", \
                    line {}, in tick\n    land(seat)",
                at + 30
            )?;
            writeln!(
                out,
                "  File \"/home/ferry/{script}.py\", line {at}, in land\n    return \
                    seats[seat]\nKeyError: 'seat{n}'"
            )?;
            Ok(6)
        }
    }
}
