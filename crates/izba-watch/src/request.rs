//! What a request for help has to know of the one who asks, and the ways in which it leaves.

use izba_core::help;
use izba_core::help::{Owner, Redacted};
use std::collections::BTreeSet;
use std::io::Write;
use std::path::Path;
use std::process::{Command, Stdio};
use std::sync::Arc;

/// Whose machine this is: names that a request for help must not hold.
pub fn owner() -> Owner {
    let variable = |name: &str| std::env::var(name).ok().filter(|v| !v.is_empty());
    let machine = izba_files::read_text(Path::new("/etc/hostname"), 4096)
        .ok()
        .map(|t| t.trim().to_owned())
        .filter(|t| !t.is_empty());
    Owner {
        home: variable("HOME"),
        user: variable("USER").or_else(|| variable("LOGNAME")),
        machine,
    }
}

/// A request for help in both forms, with what is nobody's business taken out.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Telling {
    /// The sentence of the error alone.
    pub sentence: String,
    /// As Markdown.
    pub markdown: Redacted,
    /// As plain text.
    pub plain: Redacted,
    /// What was put back by hand, as [`help::Taken::was`] tells it.
    pub put_back: BTreeSet<String>,
    whole: Arc<Whole>,
}

/// A request in its forms as it is before anything is taken out.
#[derive(Debug, PartialEq, Eq)]
struct Whole {
    sentence: String,
    markdown: String,
    plain: String,
    /// What is taken out of the forms where nothing is put back.
    taken: [Vec<help::Taken>; 2],
}

impl Whole {
    /// Its forms without what is nobody's business, but for what was put back.
    fn without(&self, put_back: &BTreeSet<String>) -> [Redacted; 3] {
        let owner = owner();
        [&self.sentence, &self.markdown, &self.plain]
            .map(|text| help::redact_but(text, &owner, put_back))
    }
}

impl Telling {
    /// Writes a request for help in all its forms.
    pub fn of(request: &help::Request<'_>) -> Telling {
        let whole = Whole {
            sentence: help::sentence(request.group),
            markdown: help::request(request, help::Form::Markdown),
            plain: help::request(request, help::Form::Plain),
            taken: [Vec::new(), Vec::new()],
        };
        let [sentence, markdown, plain] = whole.without(&BTreeSet::new());
        let taken = [&markdown, &plain].map(|form| form.taken.clone());
        let whole = Arc::new(Whole { taken, ..whole });
        Telling { sentence: sentence.text, markdown, plain, put_back: BTreeSet::new(), whole }
    }

    /// What was taken out of the plain form or the other, and what of it was put back.
    pub fn taken(&self, plain: bool) -> &[help::Taken] {
        &self.whole.taken[usize::from(plain)]
    }

    /// The same with one thing put back, or taken out again.
    #[must_use]
    pub fn turned(&self, was: &str) -> Telling {
        let mut put_back = self.put_back.clone();
        if !put_back.remove(was) {
            put_back.insert(was.to_owned());
        }
        self.putting_back(put_back)
    }

    /// The same with all of these put back, and nothing else.
    #[must_use]
    pub fn putting_back(&self, put_back: BTreeSet<String>) -> Telling {
        let [sentence, markdown, plain] = self.whole.without(&put_back);
        let whole = self.whole.clone();
        Telling { sentence: sentence.text, markdown, plain, put_back, whole }
    }
}

/// A request with the log and scripts, packed for somebody else.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Packed {
    /// Where it lies.
    pub path: String,
    /// The files in it.
    pub files: Vec<String>,
    /// What was taken out of them, most often first.
    pub taken: Vec<help::Taken>,
}

/// What the picture of the page is called among the files that may go with a request.
pub const PICTURE: &str = "the picture of the page (look at it first)";

/// What goes with a request.
#[derive(Debug, Clone, Copy)]
pub struct Packing<'a> {
    /// The console's last lines.
    pub log: &'a str,
    /// Own files, by name.
    pub scripts: &'a [(String, String)],
    /// How the page looked, as PNG or JPEG: nothing can be taken out of that.
    pub picture: Option<&'a [u8]>,
}

/// Packs a request, a log and scripts, with what is nobody's business taken out of all of them;
/// `keep` writes the zip and tells where.
///
/// # Errors
///
/// A sentence, when it cannot be written.
pub fn pack(
    telling: &Telling,
    Packing { log, scripts, picture }: &Packing<'_>,
    keep: impl FnOnce(&[u8]) -> Result<String, String>,
) -> Result<Packed, String> {
    let owner = owner();
    let mut taken: std::collections::BTreeMap<(&'static str, String), u32> =
        std::collections::BTreeMap::new();
    let mut clean = |text: &str| {
        let redacted = help::redact_but(text, &owner, &telling.put_back);
        for t in redacted.taken {
            *taken.entry((t.what, t.was)).or_default() += t.count;
        }
        redacted.text
    };
    let mut files = vec![
        ("help.md".to_owned(), telling.markdown.text.clone()),
        ("help.txt".to_owned(), telling.plain.text.clone()),
    ];
    files.push(("console.log".into(), clean(log)));
    // A name of a file may tell as much as its text.
    files.extend(
        scripts
            .iter()
            .map(|(name, text)| (format!("project/{}", clean(name)), clean(text)))
            .collect::<Vec<_>>(),
    );
    for t in &telling.markdown.taken {
        *taken.entry((t.what, t.was.clone())).or_default() += t.count;
    }
    let failed = |e: zip::result::ZipError| format!("the zip cannot be written: {e}");
    let mut zip = zip::ZipWriter::new(std::io::Cursor::new(Vec::new()));
    for (name, text) in &files {
        zip.start_file(name.as_str(), zip::write::SimpleFileOptions::default()).map_err(failed)?;
        zip.write_all(text.as_bytes()).map_err(|e| format!("the zip cannot be written: {e}"))?;
    }
    if let Some(picture) = picture {
        let ending = if picture.starts_with(b"\x89PNG") { "png" } else { "jpg" };
        let name = format!("page.{ending}");
        zip.start_file(name.as_str(), zip::write::SimpleFileOptions::default()).map_err(failed)?;
        zip.write_all(picture).map_err(|e| format!("the zip cannot be written: {e}"))?;
        files.push((name, String::new()));
    }
    let bytes = zip.finish().map_err(failed)?.into_inner();
    let path = keep(&bytes)?;
    let mut taken: Vec<help::Taken> =
        taken.into_iter().map(|((what, was), count)| help::Taken { what, was, count }).collect();
    taken.sort_by_key(|t| std::cmp::Reverse(t.count));
    Ok(Packed { path, files: files.into_iter().map(|(name, _)| name).collect(), taken })
}

/// Programs that put their input on the system's clipboard, with what has to be set for them to
/// work.
const CLIPBOARDS: &[(&str, &[&str], &str)] = &[
    ("wl-copy", &[], "WAYLAND_DISPLAY"),
    ("xclip", &["-selection", "clipboard"], "DISPLAY"),
    ("xsel", &["--clipboard", "--input"], "DISPLAY"),
    ("pbcopy", &[], "HOME"),
];

/// Puts a text on the system's clipboard, where there is a program for that; which one it was.
pub fn to_clipboard(text: &str) -> Option<&'static str> {
    CLIPBOARDS.iter().filter(|(_, _, needs)| std::env::var_os(needs).is_some()).find_map(
        |(program, words, _)| {
            let mut child = Command::new(program)
                .args(*words)
                .stdin(Stdio::piped())
                .stdout(Stdio::null())
                .stderr(Stdio::null())
                .spawn()
                .ok()?;
            let written = child.stdin.take()?.write_all(text.as_bytes()).is_ok();
            // Some stay to serve what they hold; nobody waits for them.
            let _ = std::thread::Builder::new()
                .name("clipboard".into())
                .spawn(move || drop(child.wait()));
            written.then_some(*program)
        },
    )
}

/// Keeps bytes in a file of this folder under a name that is free; its path.
///
/// # Errors
///
/// A sentence, when the file cannot be written.
pub fn to_file(bytes: &[u8], folder: &Path, stem: &str, ending: &str) -> Result<String, String> {
    let free = (1..1000).map(|n| folder.join(format!("{stem}-{n}.{ending}"))).find(|p| !p.exists());
    let path = free.ok_or("there are a thousand such files already")?;
    std::fs::write(&path, bytes).map_err(|e| {
        format!("{} cannot be written: {}", path.display(), izba_sources::plain_io(&e))
    })?;
    Ok(path.to_string_lossy().into_owned())
}
