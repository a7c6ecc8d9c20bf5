//! Real runtimes on the demo's own files: what they say has to be what the stand-ins say, in file,
//! line and kind.

use super::{Laid, anywhere, console, says};
use izba_standins::world::{Fault, Real};
use std::path::Path;
use std::process::Command;

/// Whether the runtime is on this machine.
pub fn is_here(real: &Real) -> bool {
    let program = match real.runtime.as_str() {
        "lua" => "lua5.4",
        "java" => "javac",
        "mono" => "mcs",
        other => other,
    };
    std::env::var_os("PATH").is_some_and(|path| {
        std::env::split_paths(&path).any(|folder| folder.join(program).is_file())
    })
}

/// Runs the real runtime on the fault's file and compares.
pub fn compare(fault: &Fault, real: &Real) -> Result<(), String> {
    let world = Laid::planted();
    let said = console(&world, &fault.source);
    let told = fault.told.as_ref().and_then(|t| Some((t.file.clone(), t.line(&world.folder)?)));
    match real.runtime.as_str() {
        "lua" => {
            let (file, _) = told.ok_or("no place is told")?;
            let out = run(
                Command::new("lua5.4")
                    .args(["-e", &format!("print(select(2, loadfile('{file}')))")]),
                &world.folder,
            )?;
            expect(says(&said, out.trim()), &out, &said)
        }
        "node" => {
            let folder = world.folder.join("web");
            let script = Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/consoles/page.mjs");
            let mut node = Command::new("node");
            node.arg(script);
            if real.call.is_empty() {
                node.arg(Path::new(env!("CARGO_MANIFEST_DIR")).join("src/page/dom.js")).arg(".");
                let (file, line) = told.ok_or("no place is told")?;
                let out = run(&mut node, &folder)?;
                let wanted = format!("{} {}:{line}", real.kind, file.trim_start_matches("web/"));
                expect(
                    out.lines().any(|l| l == wanted)
                        && said.contains(&format!("{}:{line}:", file.trim_start_matches("web/"))),
                    &out,
                    &said,
                )
            } else {
                // The stand-in's place lies in the bundle; its map leads to the written one.
                let out = run(node.args(["--module", &real.call]), &folder)?;
                let place = said
                    .lines()
                    .skip_while(|l| !l.contains(&real.kind))
                    .nth(1)
                    .and_then(|l| l.rsplit_once(".min.js:"));
                let (before, place) = place.ok_or("the stand-in tells no place in a bundle")?;
                let name = before.rsplit('/').next().unwrap_or("");
                let (line, column) = place
                    .trim_end_matches(')')
                    .split_once(':')
                    .ok_or("a place without a column")?;
                let map = std::fs::read(folder.join(format!("dist/{name}.min.js.map")))
                    .map_err(|e| e.to_string())?;
                let map = sourcemap::SourceMap::from_slice(&map).map_err(|e| e.to_string())?;
                let number = |text: &str| text.parse::<u32>().map_err(|e| e.to_string());
                let token = map
                    .lookup_token(number(line)? - 1, number(column)? - 1)
                    .ok_or("the map leads nowhere")?;
                let written = format!(
                    "{} {}:{}",
                    real.kind,
                    token.get_source().unwrap_or("").trim_start_matches("../"),
                    token.get_src_line() + 1
                );
                expect(out.trim() == written, &out, &written)
            }
        }
        "java" => {
            let addon = world.folder.join("addon");
            let body = format!(
                "package ferry;\nclass Harness {{ public static void main(String[] a) \
                    throws Exception {{ {}; }} }}\n",
                real.call
            );
            std::fs::write(addon.join("Harness.java"), body).map_err(|e| e.to_string())?;
            let mut javac = Command::new("javac");
            javac.args([
                "-g",
                "-d",
                "out",
                "Harness.java",
                "src/Pier.java",
                "src/Harbour.java",
                "src/RouteBook.java",
                "src/TideDepth.java",
            ]);
            run(&mut javac, &addon)?;
            let out = run(Command::new("java").args(["-cp", "out", "ferry.Harness"]), &addon)?;
            let mut lines = out.lines();
            let first = lines
                .next()
                .and_then(|l| l.strip_prefix("Exception in thread \"main\" "))
                .ok_or_else(|| format!("no exception: {out}"))?;
            let step = lines.next().unwrap_or("");
            expect(
                first.starts_with(&real.kind) && says(&said, &format!("{first}\n{step}")),
                &out,
                &said,
            )
        }
        "javac" => {
            let out = run(
                Command::new("javac").args(["-d", "out", &real.call]),
                &world.folder.join("addon"),
            )?;
            let shown = out
                .lines()
                .take(3)
                .map(|l| l.strip_prefix("src/").map_or(l.to_owned(), |l| format!("addon/src/{l}")));
            let shown: Vec<String> = shown.collect();
            expect(
                shown[0].contains(&real.kind) && says(&said, &shown.join("\n")),
                &shown.join("\n"),
                &said,
            )
        }
        "mono" => {
            let out = run(
                Command::new("mcs").args([
                    "-target:library",
                    "-out:out.dll",
                    &real.call,
                    "src/Ticket.cs",
                ]),
                &world.folder.join("tickets"),
            )?;
            let line = out
                .lines()
                .find(|l| l.contains(&format!(" {}:", real.kind)))
                .ok_or_else(|| format!("no {}: {out}", real.kind))?;
            // The place with its line and the kind of the problem; columns and the tails of
            // sentences are the stand-in's own.
            let (place, rest) = line.split_once(',').ok_or("no column")?;
            let grade = rest
                .split_once(": ")
                .and_then(|(_, rest)| rest.split_once(&real.kind))
                .map_or("", |(grade, _)| grade);
            expect(says(&said, &format!("tickets/{place},…): {grade}{}: ", real.kind)), line, &said)
        }
        other => Err(format!("there is no runtime {other}; for {}", anywhere(&fault.says))),
    }
}

fn expect(same: bool, real: &str, ours: &str) -> Result<(), String> {
    if same {
        Ok(())
    } else {
        Err(format!("the real runtime says\n{real}\nand the stand-in\n{ours}"))
    }
}

fn run(command: &mut Command, folder: &Path) -> Result<String, String> {
    let out = command.current_dir(folder).env("LC_ALL", "C").output().map_err(|e| e.to_string())?;
    Ok(String::from_utf8_lossy(&out.stdout).into_owned() + &String::from_utf8_lossy(&out.stderr))
}
