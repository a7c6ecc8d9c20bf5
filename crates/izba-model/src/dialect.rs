//! What Izba knows of a language beyond its grammar: how it writes nothing, comments, texts and
//! blocks, which names come with it, how its consoles are known. One file of data for each language
//! in `dialects/`; code asks these and never compares with a language's name.

use serde::Deserialize;
use std::collections::{BTreeMap, HashSet};
use std::fmt;
use std::hash::{Hash, Hasher};
use std::ops::Deref;
use std::sync::{LazyLock, OnceLock, RwLock};

/// One language of code or form of data, as its file says.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Dialect {
    /// The file's name.
    #[serde(skip)]
    pub id: String,
    /// The id of another one that says what this one leaves out; its ways to mend hold here too.
    pub base: Option<String>,
    /// People's name for it.
    pub name: String,
    /// What its files are called, where `name` is what its console is called.
    pub files_called: Option<String>,
    /// Endings of its files, in small letters.
    pub endings: Vec<String>,
    /// Ids of readers of consoles whose reports are of this language, whatever the file.
    #[serde(default)]
    pub readers: Vec<String>,
    /// The form, where it is data.
    pub data: Option<Form>,
    /// Whether its code stands within other text, in parts of its own.
    #[serde(default)]
    pub within: bool,
    /// Languages of one world know one another's names; data belongs to none.
    pub world: Option<String>,
    /// Whether a compiler looks at all names before anything runs.
    #[serde(default)]
    pub checked: bool,
    /// Whether all files are known to one another, in whatever order they are loaded.
    #[serde(default)]
    pub loaded_whole: bool,
    /// What becomes of files that bring one another in, in a ring.
    #[serde(default)]
    pub rings: Rings,
    /// Whether types of the standard library have to be brought in by name.
    #[serde(default)]
    pub imports_types: bool,
    /// Words for a value that is not there, the usual one first.
    #[serde(default)]
    pub nothing: Vec<String>,
    /// How it asks whether `{}` is nothing.
    pub nothing_test: Option<String>,
    /// How it asks for the length of the list `{}`.
    pub length: Option<String>,
    /// The first index of its lists.
    #[serde(default)]
    pub first_index: i64,
    /// The name by which a method knows its object.
    pub itself: Option<String>,
    /// Whether a method that is handed over by itself forgets its object.
    #[serde(default)]
    pub loses_itself: bool,
    /// Whether elements may be written into a script, as tags (JSX).
    #[serde(default)]
    pub tags: bool,
    /// Whether it says how pages look, so that there is neither code nor data in it.
    #[serde(default)]
    pub styles: bool,
    /// Whether a method names its object as its first parameter.
    #[serde(default)]
    pub itself_first: bool,
    /// The sign between an object and a method that is handed the object.
    pub method_sign: Option<String>,
    /// Whether a name is declared by giving it a value, and belongs to the function around it.
    #[serde(default)]
    pub declares_by_assigning: bool,
    /// Whether a method may name its object's fields alone.
    #[serde(default)]
    pub fields_are_bare: bool,
    /// Whether `==` asks of two texts whether they are one object.
    #[serde(default)]
    pub texts_by_identity: bool,
    /// Whether members that begin with a small letter are meant to be closed.
    #[serde(default)]
    pub small_is_private: bool,
    /// What of a file others can name.
    pub hands_out: Option<HandsOut>,
    /// Operators of those that count which take texts as well.
    #[serde(default = "with_texts")]
    pub text_operators: Vec<String>,
    /// Operators that may be missing between two values, likeliest first.
    #[serde(default)]
    pub operators: Vec<String>,
    /// Comments and texts.
    #[serde(default)]
    pub signs: Signs,
    /// How it makes blocks.
    #[serde(default)]
    pub blocks: Blocks,
    /// Programs that run a script of it; the first that is installed is taken.
    #[serde(default)]
    pub run_by: Vec<String>,
    /// The program and arguments that parse the script `{}` and run nothing of it.
    #[serde(default)]
    pub parse_only: Vec<String>,
    /// The ending under which that program takes scripts that bring others in by `import`.
    pub module_ending: Option<String>,
    /// What compiles a script (`$0`) and runs it, for the shell.
    pub compile_and_run: Option<CompileAndRun>,
    /// How its scripts are read where it has no grammar here.
    pub rough: Option<Rough>,
    /// What its calls do to containers.
    #[serde(default)]
    pub calls: Calls,
    /// What has to be brought in before it is used.
    #[serde(default)]
    pub imports: Imports,
    #[serde(default)]
    names: Names,
    /// The same names, to be looked up.
    #[serde(skip)]
    by_name: OnceLock<HashSet<Box<str>>>,
}

fn with_texts() -> Vec<String> {
    ["+", "*", "%", "/"].map(str::to_owned).to_vec()
}

/// What becomes of files that bring one another in, in a ring, as they are loaded.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, serde::Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Rings {
    /// Nothing: all files are known to one another.
    #[default]
    Harmless,
    /// The language refuses to load a file that is still being loaded.
    Refused,
    /// A file that is still being loaded is given as far as it came.
    Unfinished,
    /// What a file has handed out so far is given; declared imports are given when they are used.
    Handed,
}

/// How a script is compiled first and then run.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct CompileAndRun {
    /// The programs that have to be installed.
    pub needs: Vec<String>,
    /// A script for `sh`, whose words are those of the program.
    pub shell: String,
}

/// A form in which files of data are written.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Form {
    /// RFC 8259.
    Json,
    /// XML 1.0, and pages.
    Xml,
    /// TOML 1.0.
    Toml,
    /// YAML 1.2.
    Yaml,
    /// `key = value` under headings.
    Ini,
    /// Columns, or lines of words.
    Table,
}

/// What of a file others can name.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum HandsOut {
    /// What it exports, by name.
    Exports,
    /// What is not local, without a word.
    Globals,
}

/// How comments and texts are written.
#[derive(Debug, Default, Deserialize)]
#[serde(deny_unknown_fields, default)]
pub struct Signs {
    /// What begins a comment to the end of the line.
    pub line_comments: Vec<String>,
    /// What begins a comment, and what ends it.
    pub block_comments: Vec<(String, String)>,
    /// Whether `[[ … ]]` and `[=[ … ]=]` hold texts, and comments behind a line comment's sign.
    pub long_brackets: bool,
    /// Quotes around a text of one line.
    pub quotes: Vec<String>,
    /// Quotes around a text of several lines.
    pub triple_quotes: Vec<String>,
    /// Letters that may stand before a quote.
    pub marks: String,
    /// The one of them that makes backslashes plain and lets the text go on over lines.
    pub verbatim: Option<String>,
    /// The quote of a text with `${…}` in it.
    pub template_quote: Option<String>,
    /// Whether `/…/` is a regular expression where a value may stand.
    pub patterns: bool,
    /// The sign at the end of a line that goes on in the next.
    pub line_goes_on: Option<String>,
}

/// How blocks are made in a language: by words, brackets or indentation.
#[derive(Debug, Default, Deserialize)]
#[serde(deny_unknown_fields, default)]
pub struct Blocks {
    /// By what.
    pub by: By,
    /// The word that begins a function which is a block of its own.
    pub function: Option<String>,
    /// Words that divide a block: what follows stands as deep as before.
    pub middles: Vec<String>,
    /// Words that open and close a block; brackets do so everywhere.
    pub pairs: Vec<BlockWords>,
    /// Words that head a block, each with what has to stand behind them before it begins.
    pub headers: Vec<(String, String)>,
}

/// What makes a block of several statements.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum By {
    /// Brackets.
    #[default]
    Brackets,
    /// Words.
    Words,
    /// Indentation.
    Indentation,
}

/// A word that opens a block, and the one that closes it.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct BlockWords {
    /// The word that opens it.
    pub open: String,
    /// The word that closes it.
    pub close: String,
    /// The word that belongs to the opener, though alone it would open a block of its own.
    pub begun_by: Option<String>,
}

/// The words by which scripts are read without a grammar.
#[derive(Debug, Default, Deserialize)]
#[serde(deny_unknown_fields, default)]
pub struct Rough {
    /// Words that begin a function.
    pub functions: Vec<String>,
    /// Words that begin a type.
    pub classes: Vec<String>,
    /// Words that declare a variable.
    pub declares: Vec<String>,
    /// Words that bring in a file or module.
    pub imports: Vec<String>,
    /// Words and calls that raise an error.
    pub raises: Vec<String>,
    /// Words that may stand before a declaration.
    pub modifiers: Vec<String>,
    /// Names of functions that make objects of their type.
    pub constructors: Vec<String>,
    /// Signs between an object and its member.
    pub members: Vec<String>,
    /// All other words that are no names.
    pub keywords: String,
    /// Whether a type stands before the name that it belongs to.
    pub typed_first: bool,
    /// Whether a call may do without brackets.
    pub calls_bare: bool,
    /// Whether a condition may stand behind what it is about.
    pub conditions_behind: bool,
    /// Whether `?` and `!` may end a name.
    pub suffixes: bool,
    /// Whether `@name` is a field of the object itself.
    pub at_is_field: bool,
    /// Whether entries are asked for in braces too.
    pub keys_in_braces: bool,
    /// Whether a block behind a call is handed to it.
    pub closures_behind: bool,
    /// Whether `Type { … }` makes an object.
    pub literals_of_types: bool,
    /// Whether `Type(…)` makes an object.
    pub types_are_called: bool,
    /// Whether the last expression of a function is what it gives.
    pub last_is_given: bool,
    /// Whether `'x'` is a sign and `'` stands for other things too.
    pub signs_in_quotes: bool,
}

/// What calls do to a list, a table or another container, by the last part of their names.
#[derive(Debug, Default, Deserialize)]
#[serde(deny_unknown_fields, default)]
pub struct Calls {
    /// Those that put something in.
    pub adds: Vec<String>,
    /// Those that take something out, or let an object go.
    pub removes: Vec<String>,
    /// Functions that make a text of a value, to send it; with their owner where others of that name
    /// do something else.
    pub sends: Vec<String>,
    /// Functions that make a value of a text that came in.
    pub receives: Vec<String>,
    /// Functions of the language whose value is there only later.
    #[serde(default)]
    pub later: Vec<String>,
    /// Members of such a value whose own value is there only later.
    #[serde(default)]
    pub later_of: Vec<String>,
}

impl Calls {
    /// Whether a call of this name puts something in.
    pub fn adds(&self, name: &str) -> bool {
        self.adds.iter().any(|n| n == name)
    }

    /// Whether a call of this name takes something out.
    pub fn removes(&self, name: &str) -> bool {
        self.removes.iter().any(|n| n == name)
    }
}

/// What comes with a language, and still has to be brought in by name.
#[derive(Debug, Default, Deserialize)]
#[serde(deny_unknown_fields, default)]
pub struct Imports {
    /// Usual names, each with the module that it comes from.
    pub modules: BTreeMap<String, String>,
    /// Types of the standard library whose module is not told here.
    pub types: Vec<String>,
    /// How a line of code brings in `{name}` from the file `{stem}` beside it, the usual way first.
    pub lines: Vec<String>,
    /// How one brings in a module of the language's own that is called `{name}`; the usual way first,
    /// then what is written in scripts whose other lines begin with that word.
    pub whole: Vec<String>,
    /// How one brings in `{name}` from the language's own `{module}`.
    pub part: Vec<String>,
}

impl Imports {
    /// Whether it is a type of the standard library.
    pub fn has_type(&self, name: &str) -> bool {
        self.types.iter().any(|t| t == name) || self.modules.contains_key(name)
    }

    /// The line that brings in a name of the language's own library, where it is known; `begins` says
    /// whether lines of the script bring in what they need with this first word.
    pub fn standard_line(&self, name: &str, begins: impl Fn(&str) -> bool) -> Option<String> {
        let module = self.modules.get(name)?;
        let ways = if module == name { &self.whole } else { &self.part };
        let word = |way: &String| way.split_whitespace().next().is_some_and(&begins);
        let way = ways.iter().find(|w| word(w)).or(ways.first())?;
        Some(way.replace("{module}", module).replace("{name}", name))
    }
}

#[derive(Debug, Default, Deserialize)]
#[serde(deny_unknown_fields, default)]
struct Names {
    /// What is there without bringing anything in; all are divided by white space.
    builtins: String,
    /// Members of the types that come with the language.
    members: String,
    /// Usual modules and packages, and what they hold.
    modules: String,
    /// What no runtime tells: of pages, of other versions.
    more: String,
    /// Events that the surroundings of a program fire.
    events: String,
}

impl Dialect {
    /// Whether there is code in it.
    pub fn is_code(&self) -> bool {
        self.data.is_none() && !self.styles || self.within
    }

    /// Whether there is data in it: keys and values.
    pub fn is_data(&self) -> bool {
        self.data.is_some()
    }

    /// Whether names of the other's code may stand in this one's.
    pub fn shares_names_with(&self, other: &Dialect) -> bool {
        self.world.is_some() && self.world == other.world
    }

    /// The names that come with the language and its libraries.
    pub fn names(&self) -> impl Iterator<Item = &str> {
        let Names { builtins, members, modules, more, events: _ } = &self.names;
        [builtins, members, modules, more].into_iter().flat_map(|n| n.split_whitespace())
    }

    /// The names that one may have meant who asks an object for a member, or who writes a name that
    /// stands alone. What only a module holds is left out: it has words enough for every word to be
    /// near one.
    pub fn meant(&self, member: bool) -> impl Iterator<Item = &str> {
        let Names { builtins, members, more, .. } = &self.names;
        let first = if member { members } else { builtins };
        [first, more].into_iter().flat_map(|n| n.split_whitespace())
    }

    /// Whether one of [`Dialect::names`] is called so.
    pub fn has_name(&self, name: &str) -> bool {
        self.by_name.get_or_init(|| self.names().map(Box::from).collect()).contains(name)
    }

    /// Events that the surroundings of a program fire by themselves.
    pub fn names_of_events(&self) -> impl Iterator<Item = &str> {
        self.names.events.split_whitespace()
    }

    /// Whether a module of the language's own holds this name, which has to be brought in.
    /// Some modules hand out members of an object of theirs by their bare names.
    pub fn is_in_module(&self, name: &str) -> bool {
        let Names { modules, members, .. } = &self.names;
        [modules, members].into_iter().any(|n| n.split_whitespace().any(|n| n == name))
    }

    /// Whether the word closes a block, or the sign a bracket.
    pub fn closes(&self, text: &str) -> bool {
        matches!(text, ")" | "]" | "}") || self.blocks.pairs.iter().any(|p| p.close == text)
    }

    /// The block that a word opens.
    pub fn block_of(&self, opener: &str) -> Option<&BlockWords> {
        self.blocks.pairs.iter().find(|p| p.open == opener)
    }

    /// Whether a word divides a block.
    pub fn is_middle(&self, word: &str) -> bool {
        self.blocks.middles.iter().any(|m| m == word)
    }

    /// Its name as a filling of a sentence: it is no name of the project.
    pub fn said(&self) -> crate::claim::Slot {
        crate::claim::Slot::words(self.name.as_ref())
    }

    /// The language's word for nothing, as a sentence about it says it.
    pub fn nothing_in(&self, sentence: &str) -> &str {
        let said = self.nothing.iter().skip(1).find(|word| sentence.contains(word.as_str()));
        said.or(self.nothing.first()).map_or("null", String::as_str)
    }

    /// The id under which ways to mend are kept: that of the one it is based on.
    pub fn base_id(&self) -> &str {
        self.base.as_deref().unwrap_or(&self.id)
    }

    /// Reads one from the text of its file.
    fn read(
        id: &str,
        text: &str,
        base: impl Fn(&str) -> Option<&'static str>,
    ) -> Result<Dialect, String> {
        let mut table: toml::Table = toml::from_str(text).map_err(|e| format!("{id}.toml: {e}"))?;
        if let Some(of) = table.get("base").and_then(|b| b.as_str()) {
            let said = base(of).ok_or_else(|| format!("{id}.toml: there is no {of}"))?;
            let below: toml::Table = toml::from_str(said).map_err(|e| format!("{of}.toml: {e}"))?;
            for (key, value) in below {
                table.entry(key).or_insert(value);
            }
        }
        let mut dialect: Dialect = table.try_into().map_err(|e| format!("{id}.toml: {e}"))?;
        dialect.id = id.to_owned();
        Ok(dialect)
    }
}

macro_rules! dialects {
    ($($id:literal),* $(,)?) => {
        &[$(($id, include_str!(concat!("../dialects/", $id, ".toml")))),*]
    };
}

/// The languages that ship with Izba.
static FILES: &[(&str, &str)] = dialects![
    "component",
    "cpp",
    "csharp",
    "css",
    "dart",
    "go",
    "html",
    "ini",
    "java",
    "javascript",
    "json",
    "kotlin",
    "lua",
    "perl",
    "php",
    "python",
    "ruby",
    "rust",
    "shell",
    "swift",
    "table",
    "toml",
    "tsx",
    "typescript",
    "xml",
    "yaml",
];

fn file(id: &str) -> Option<&'static str> {
    FILES.iter().find(|(known, _)| *known == id).map(|(_, text)| *text)
}

static ALL: LazyLock<RwLock<Vec<Language>>> = LazyLock::new(|| {
    let read = |(id, text): &(&str, &str)| {
        Dialect::read(id, text, file).expect("a test reads every file of dialects")
    };
    RwLock::new(FILES.iter().map(read).map(Language::keep).collect())
});

/// A language that Izba knows. Cheap to copy; what is known of it is reached through it.
#[derive(Clone, Copy)]
pub struct Language(&'static Dialect);

impl Language {
    /// Dialects are as few as languages, and stay.
    fn keep(dialect: Dialect) -> Language {
        Language(Box::leak(Box::new(dialect)))
    }

    /// All that are known, in order of their ids as far as they ship with Izba.
    pub fn all() -> Vec<Language> {
        ALL.read().map(|all| all.clone()).unwrap_or_default()
    }

    fn find(fits: impl Fn(&Dialect) -> bool) -> Option<Language> {
        ALL.read().ok()?.iter().copied().find(|l| fits(l))
    }

    /// The language of a file by its ending.
    pub fn of(path: &str) -> Option<Language> {
        let name = path.rsplit('/').next().unwrap_or(path);
        let ending = name.rsplit_once('.')?.1.to_ascii_lowercase();
        Language::find(|d| d.endings.contains(&ending))
    }

    /// The language with this id.
    pub fn of_id(id: &str) -> Option<Language> {
        Language::find(|d| d.id == id)
    }

    /// The language whose consoles this reader reads.
    pub fn of_reader(reader: &str) -> Option<Language> {
        Language::find(|d| d.readers.iter().any(|r| r == reader))
    }

    /// Adds a language for as long as the program runs, from the text of a file like those in
    /// `dialects/`.
    ///
    /// # Errors
    ///
    /// A sentence when the text says something that no dialect says, or one of that id is known.
    pub fn learn(id: &str, text: &str) -> Result<Language, String> {
        let dialect = Dialect::read(id, text, file)?;
        let mut all = ALL.write().map_err(|_| "the list of languages is lost".to_owned())?;
        if all.iter().any(|l| l.id == id) {
            return Err(format!("{id} is known already"));
        }
        let language = Language::keep(dialect);
        all.push(language);
        Ok(language)
    }
}

impl Language {
    /// What is known of it, for as long as the program runs.
    pub fn known(self) -> &'static Dialect {
        self.0
    }
}

impl Deref for Language {
    type Target = Dialect;

    fn deref(&self) -> &Dialect {
        self.0
    }
}

impl PartialEq for Language {
    fn eq(&self, other: &Language) -> bool {
        std::ptr::eq(self.0, other.0)
    }
}

impl Eq for Language {}

impl Hash for Language {
    fn hash<H: Hasher>(&self, state: &mut H) {
        self.0.id.hash(state);
    }
}

impl fmt::Debug for Language {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.0.id)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_file_is_read_and_no_ending_belongs_to_two() {
        let all = Language::all();
        assert!(FILES.is_sorted_by_key(|(id, _)| *id));
        let folder = concat!(env!("CARGO_MANIFEST_DIR"), "/dialects");
        let files = std::fs::read_dir(folder).expect("it is there").count();
        assert_eq!(files, FILES.len(), "a file of dialects is not listed");
        for language in &all {
            for ending in &language.endings {
                assert_eq!(Language::of(&format!("x.{ending}")), Some(*language), "{ending}");
            }
            for reader in &language.readers {
                assert_eq!(Language::of_reader(reader), Some(*language), "{reader}");
            }
        }
    }

    #[test]
    fn what_a_dialect_leaves_out_its_base_says() {
        let script = Language::of("a.ts").expect("known");
        assert_eq!((script.name.as_str(), script.checked), ("TypeScript", true));
        assert_eq!(script.signs.template_quote.as_deref(), Some("`"));
        assert!(script.names().any(|n| n == "console"));
        assert!(script.shares_names_with(&Language::of("b.mjs").expect("known")));
        assert_eq!(script.base_id(), "javascript");
    }

    #[test]
    fn a_dialect_that_says_something_unknown_is_refused_with_its_line() {
        let wrong = Language::learn("made-up", "name = \"M\"\nendings = []\ncolour = 3\n");
        assert!(wrong.is_err_and(|e| e.contains("made-up.toml") && e.contains("colour")));
        assert!(Language::learn("lua", "name = \"L\"\nendings = []\n").is_err());
    }
}
