//! `izba read FILE… | -`: the engine over whole files, without a screen.

use super::logs::{Form, follow_wishes, phrase_of, verdict};
use super::say::{print, print_json, say};
use super::shared::{Outcome, Shared};
use crate::command_error::CommandError;
use izba_console::report::is_test_report;
use izba_core::{Engine, answer, help};
use izba_watch::guilty::Guilty;
use izba_watch::{readers, side_by_side};
use std::collections::BTreeSet;
use std::fs::File;
use std::io::Read;
use std::path::PathBuf;
use std::sync::Arc;

#[derive(clap::Args, Debug)]
#[command(
    after_help = "Examples:\n  izba read console.log\n  izba read --project ~/ferry --as jsonl \
        console.log\n  make 2>&1 | izba read -\n  izba read --filter \"error+ in lantern.lua\" \
        console.log\n  izba read --as markdown console.log   what a stranger needs to help\n  \
        izba read --against 12 console.log   what is new since run 12\n  \
        izba read report.xml                  the failed tests of a report (JUnit's XML)"
)]
pub struct Args {
    /// Log files, or reports of tests in XML; - is standard input
    #[arg(required = true)]
    files: Vec<PathBuf>,
    /// A reader file beside izba-readers.toml of the project
    #[arg(long, value_name = "FILE")]
    readers: Option<PathBuf>,
    /// How to write the answer
    #[arg(long = "as", value_name = "FORM", default_value = "text")]
    form: Form,
    /// Leave names, addresses and keys in a request for help
    #[arg(long)]
    whole: bool,
    /// Put this back in a request for help, as it was told to be taken out
    #[arg(long, value_name = "TEXT")]
    put_back: Vec<String>,
    /// Pack the request with the logs and the scripts on the way to the error as a zip, for
    /// somebody who helps
    #[arg(long, value_name = "FILE")]
    pack: Option<PathBuf>,
    /// Only mistakes that this phrase fits, such as: error+ in lantern.lua
    #[arg(long, value_name = "PHRASE")]
    filter: Option<String>,
    /// Tell what is new, still there, back or quiet against a run of the ledger
    #[arg(long, value_name = "RUN")]
    against: Option<u32>,
    /// Whose run that is, where several sources have one of this number
    #[arg(long, value_name = "NAME", requires = "against")]
    source: Option<String>,
}

/// A report of tests that is longer than this, in bytes, is read as lines.
const REPORT: u64 = 64 << 20;

pub fn run(shared: &Shared, args: &Args) -> Outcome {
    let phrase = phrase_of(args.filter.as_deref())?;
    let against = match args.against {
        Some(run) => {
            Some(super::kept::history(shared, &[run], args.source.as_deref(), Some(run + 1))?)
        }
        None => None,
    };
    let project = Arc::new(izba_files::scan(&shared.root()));
    let mut taught =
        readers::read_file(&shared.root().join(readers::FILE)).map_err(CommandError::input)?;
    if let Some(file) = &args.readers {
        if !file.exists() {
            return Err(CommandError::input(format!("{} is not there", file.display())));
        }
        taught.splice(0..0, readers::read_file(file).map_err(CommandError::input)?);
    }
    let mut engine = Engine::new(project.clone());
    engine.set_zone(jiff::tz::TimeZone::system());
    follow_wishes(shared, &mut engine)?;
    let compared = against.is_some();
    let mut against = against;
    for file in &args.files {
        let name = if file.as_os_str() == "-" {
            "standard input".into()
        } else {
            file.to_string_lossy().into_owned()
        };
        let source = engine.add_source(name.clone());
        if let Some((_, runs, groups)) = against.take() {
            engine.recall(source, runs, groups);
        }
        engine.start_run(source, None, project.clone());
        let plain = file.file_name().map(|n| n.to_string_lossy().into_owned()).unwrap_or_default();
        engine.set_taught(source, readers::of_source(&taught, &plain, None));
        let failed = |e: std::io::Error| {
            CommandError::input(format!("cannot read {name}: {}", izba_sources::plain_io(&e)))
        };
        if file.is_dir() {
            return Err(CommandError::input(format!("{name} is a folder; name a log file in it")));
        }
        let mut input: Box<dyn Read + Send> = if file.as_os_str() == "-" {
            Box::new(std::io::stdin())
        } else {
            Box::new(File::open(file).map_err(failed)?)
        };
        if plain.to_lowercase().ends_with(".xml") {
            let mut bytes = Vec::new();
            (&mut input).take(REPORT).read_to_end(&mut bytes).map_err(failed)?;
            let text = izba_model::text::decode(&bytes);
            if is_test_report(&text) {
                engine
                    .feed_report(source, &text)
                    .map_err(|why| CommandError::input(format!("{name} {why}")))?;
                continue;
            }
            let mut all = bytes.as_slice().chain(input);
            side_by_side::feed_all(&mut engine, source, &mut all).map_err(failed)?;
            continue;
        }
        side_by_side::feed_all(&mut engine, source, &mut input).map_err(failed)?;
    }
    engine.finish();
    let utc_offset = jiff::Zoned::now().offset().seconds();
    let guilty = Guilty::of(&project);
    let groups = engine.groups();
    guilty.prepare(groups.iter().map(|g| g.entry.as_ref()));
    let find = |entry: &izba_model::Entry| guilty.find(entry);
    let choice = answer::Choice {
        finder: Some(answer::Finder(&find)),
        phrase: phrase.as_ref(),
        compared,
        now: Some(izba_sources::now()),
        utc_offset,
    };
    match args.form {
        Form::Text => print(&answer::text(&engine, &choice)),
        Form::Jsonl => print_json(&answer::jsonl(&engine, &choice)),
        Form::Sarif => {
            let sarif = izba_core::sarif::sarif(&engine, &choice, env!("CARGO_PKG_VERSION"));
            print_json(&format!("{sarif:#}\n"));
        }
        Form::Markdown => print(&markdown(&engine, &choice, &project, &find, args)?),
    }
    Ok(verdict(&engine, &choice))
}

impl Args {
    fn put_back(&self) -> BTreeSet<String> {
        self.put_back.iter().cloned().collect()
    }
}

/// Requests for help at most that one call writes.
const REQUESTS: usize = 5;

/// The requests for help; what was taken out of them is told beside them.
fn markdown(
    engine: &Engine,
    choice: &answer::Choice<'_>,
    project: &Arc<izba_model::Project>,
    find: &dyn Fn(&izba_model::Entry) -> izba_cause::suspect::Findings,
    args: &Args,
) -> Result<String, CommandError> {
    let groups = answer::chosen(engine, choice);
    let most = if args.filter.is_some() { REQUESTS } else { 1 };
    let mut text = String::new();
    for group in groups.iter().filter(|g| !g.muted).take(most) {
        let findings = find(&group.entry);
        let told = args
            .files
            .get(group.source)
            .map(|path| console(engine, group, path))
            .unwrap_or_default();
        let request = help::Request {
            group,
            findings: Some(&findings),
            project,
            command: None,
            told: &told.told,
            before: &told.before,
            begins: told.begins.as_deref(),
            versions: &izba_files::versions(std::path::Path::new(project.root())),
            tried: &[],
            little: None,
        };
        if !text.is_empty() {
            text.push_str("\n---\n\n");
        }
        if let Some(zip) = args.pack.as_deref().filter(|_| text.is_empty()) {
            packed(&request, zip, args)?;
        }
        text += &help::request(&request, help::Form::Markdown);
    }
    if text.is_empty() {
        return Ok("Nothing went wrong here, so there is nothing to ask for help with.\n".into());
    }
    if args.whole {
        return Ok(text);
    }
    let redacted = help::redact_but(&text, &izba_watch::request::owner(), &args.put_back());
    for taken in &redacted.taken {
        let times = izba_model::text::counted(taken.count.into(), "time", "times");
        say(&format!("taken out: {} ({}), {times}", taken.what, taken.was));
    }
    Ok(redacted.text)
}

/// Bytes of the logs that are packed at most; the newest.
const LOGS: u64 = 8 << 20;

/// What a console said of an error, and around it.
#[derive(Default)]
struct Console {
    begins: Option<String>,
    before: Vec<String>,
    told: Vec<String>,
}

/// Lines before the error that are told, and of it at most.
const BEFORE: usize = 15;
const TOLD: usize = 200;

/// Reads the newest sighting of an error again; nothing where the log cannot be read twice.
fn console(engine: &Engine, group: &izba_core::GroupView, path: &std::path::Path) -> Console {
    let mut console = Console::default();
    let (Ok(mut file), true) = (File::open(path), path.is_file()) else { return console };
    let (mut splitter, mut chunk, mut offset) =
        (izba_console::Splitter::default(), vec![0; 1 << 16], 0u64);
    let source = izba_core::SourceId(group.source);
    let mut over = false;
    let (mut before, mut flood) = (std::collections::VecDeque::new(), None);
    let mut each = |number: u64, line: izba_console::RawLine<'_>| {
        let text = || {
            izba_model::SafeText::new(&izba_model::text::decode(&line.bytes)).as_str().to_owned()
        };
        if number == 0 {
            console.begins = Some(text());
        }
        if number < group.last_line {
            // Of other errors only what they say, and of a flood one: the steps would push out what
            // tells something.
            let other = engine.group_at(izba_core::LineRef { source, line: number }, line.stream);
            if other.is_none_or(|(id, first)| first && flood != Some(id)) {
                before.push_back(text());
                if before.len() > BEFORE {
                    before.pop_front();
                }
            }
            flood = other.map(|(id, _)| id);
        }
        if number >= group.last_line && !over {
            let of_it = engine.group_at(izba_core::LineRef { source, line: number }, line.stream);
            let same = of_it.is_some_and(|(id, first)| {
                group.holds(id) && (number == group.last_line || !first)
            });
            over = !same || console.told.len() >= TOLD;
            if !over {
                console.told.push(text());
            }
        }
    };
    while let Ok(read @ 1..) = file.read(&mut chunk) {
        splitter.feed(izba_model::Stream::Out, None, offset, &chunk[..read], &mut each);
        offset += read as u64;
    }
    splitter.finish(None, &mut each);
    console.before = before.into();
    console
}

/// Packs a request with the logs, and the scripts on the way to the error.
fn packed(
    request: &help::Request<'_>,
    zip: &std::path::Path,
    args: &Args,
) -> Result<(), CommandError> {
    use std::io::{Seek, SeekFrom};
    let mut log = String::new();
    for path in args.files.iter().filter(|f| f.as_os_str() != "-") {
        let failed = |e: std::io::Error| {
            CommandError::input(format!(
                "cannot read {}: {}",
                path.display(),
                izba_sources::plain_io(&e)
            ))
        };
        let mut file = File::open(path).map_err(failed)?;
        let length = file.metadata().map_err(failed)?.len();
        file.seek(SeekFrom::Start(length.saturating_sub(LOGS))).map_err(failed)?;
        let mut bytes = Vec::new();
        file.take(LOGS).read_to_end(&mut bytes).map_err(failed)?;
        log.push_str(&String::from_utf8_lossy(&bytes));
    }
    let group = request.group;
    let mut names: Vec<&str> = group
        .entry
        .place
        .iter()
        .map(|p| &*p.file)
        .chain(group.path().iter().filter_map(|f| f.own.as_deref()))
        .collect();
    names.extend(
        request
            .findings
            .iter()
            .flat_map(|f| &f.suspects)
            .filter(|s| s.confidence >= izba_model::claim::LIKELY)
            .map(|s| &*s.file),
    );
    names.sort_unstable();
    names.dedup();
    let scripts: Vec<(String, String)> = names
        .iter()
        .filter_map(|n| {
            Some(((*n).to_owned(), request.project.file(n)?.text.as_deref()?.to_owned()))
        })
        .collect();
    let keep = |bytes: &[u8]| {
        std::fs::write(zip, bytes).map(|()| zip.display().to_string()).map_err(|e| {
            format!("{} cannot be written: {}", zip.display(), izba_sources::plain_io(&e))
        })
    };
    let telling = izba_watch::request::Telling::of(request).putting_back(args.put_back());
    let packing = izba_watch::request::Packing { log: &log, scripts: &scripts, picture: None };
    let packed =
        izba_watch::request::pack(&telling, &packing, keep).map_err(CommandError::input)?;
    say(&format!("packed in {}: {}", packed.path, packed.files.join(", ")));
    Ok(())
}
