//! What a source would do beyond reading in the project's own folder, so that the user can be asked
//! before a stranger's settings do it.

use izba_sources::is_loopback;
use std::net::SocketAddr;
use std::path::{Component, Path, PathBuf};

/// One thing that a source would do.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Act {
    /// What it does, as a part of a sentence: `run lua5.4 main.lua`.
    pub does: String,
    /// Set when it reaches beyond the folder or this machine, or decides what else is loaded: such
    /// an act is allowed by this name only.
    pub name: Option<String>,
}

impl Act {
    /// What is allowed together with the rest.
    pub fn plain(does: impl Into<String>) -> Act {
        Act { does: does.into(), name: None }
    }

    /// What is allowed by its name only.
    pub fn named(name: impl Into<String>, does: impl Into<String>) -> Act {
        Act { does: does.into(), name: Some(name.into()) }
    }

    /// To take what is sent to an address of this machine.
    pub fn listen(what: &str) -> Vec<Act> {
        match what.parse::<SocketAddr>() {
            Ok(at) if is_loopback(at.ip()) => {
                vec![Act::plain(format!("take what programs of this machine send to {at}"))]
            }
            Ok(at) => {
                let does = format!("take what anybody who reaches this machine sends to {at}");
                vec![Act::named(at.to_string(), does)]
            }
            Err(_) => Vec::new(),
        }
    }

    /// To ask for something at an address.
    pub fn connect(what: &str, does: &str) -> Vec<Act> {
        match what.parse::<SocketAddr>() {
            Ok(at) if is_loopback(at.ip()) => vec![Act::plain(format!("{does} {at}"))],
            Ok(at) => vec![Act::named(at.to_string(), format!("{does} {at}, another machine"))],
            Err(_) => Vec::new(),
        }
    }

    /// To read what lies at a path; nothing to ask about inside the project.
    pub fn read(root: &Path, path: &Path) -> Option<Act> {
        is_outside(root, path).then(|| {
            let told = path.display().to_string();
            let does = format!("read {told}, which lies outside this folder");
            Act::named(told, does)
        })
    }
}

/// Whether a path leads out of the project's folder: by its own words or by links on its way.
pub fn is_outside(root: &Path, path: &Path) -> bool {
    let Ok(root) = root.canonicalize() else { return true };
    let mut whole = PathBuf::new();
    for part in root.join(path).components() {
        match part {
            // Behind a link `..` is another folder, so that it is resolved first.
            Component::ParentDir => {
                whole = whole.canonicalize().unwrap_or(whole);
                whole.pop();
            }
            Component::CurDir => {}
            other => whole.push(other),
        }
    }
    let there = whole.ancestors().find_map(|a| Some((a, a.canonicalize().ok()?)));
    let resolved = there.map(|(above, real)| match whole.strip_prefix(above) {
        Ok(rest) => real.join(rest),
        Err(_) => real,
    });
    !resolved.is_some_and(|path| path.starts_with(&root))
}

/// Whether a variable decides which other code a program loads or runs.
pub fn loads_code(variable: &str) -> bool {
    const BEGINNINGS: &[&str] = &["LD_", "DYLD_", "GIT_", "BASH_FUNC_", "npm_config_"];
    const NAMES: &[&str] = &[
        "PATH",
        "ENV",
        "BASH_ENV",
        "SHELL",
        "IFS",
        "PROMPT_COMMAND",
        "GCONV_PATH",
        "NODE_OPTIONS",
        "NODE_PATH",
        "PYTHONPATH",
        "PYTHONSTARTUP",
        "PYTHONHOME",
        "PYTHONINSPECT",
        "PERL5OPT",
        "PERL5LIB",
        "RUBYOPT",
        "RUBYLIB",
        "LUA_INIT",
        "LUA_PATH",
        "LUA_CPATH",
        "JAVA_TOOL_OPTIONS",
        "JDK_JAVA_OPTIONS",
        "_JAVA_OPTIONS",
        "CLASSPATH",
        "PHPRC",
        "PHP_INI_SCAN_DIR",
        "DOTNET_STARTUP_HOOKS",
        "CORECLR_PROFILER_PATH",
        "RUSTC_WRAPPER",
        "CARGO_HOME",
        "HOME",
        "EDITOR",
        "VISUAL",
        "PAGER",
        "BROWSER",
    ];
    let versioned = variable.starts_with("LUA_INIT_")
        || variable.starts_with("LUA_PATH_")
        || variable.starts_with("LUA_CPATH_");
    versioned
        || NAMES.contains(&variable)
        || BEGINNINGS.iter().any(|beginning| variable.starts_with(beginning))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_leads_out_of_the_folder_is_seen_through_links_and_dots() {
        let folder = tempfile::tempdir().expect("a folder");
        let root = folder.path().join("ferry");
        std::fs::create_dir_all(root.join("logs")).expect("room");
        std::os::unix::fs::symlink("/etc", root.join("away")).expect("a link");
        std::os::unix::fs::symlink("logs", root.join("here")).expect("a link");
        for inside in ["tide.log", "logs/../tide.log", "here/tide.log", "gone/tide.log", "."] {
            assert!(!is_outside(&root, Path::new(inside)), "{inside}");
        }
        for outside in
            ["/etc/passwd", "../x.log", "away/passwd", "here/../../x.log", "gone/../../x"]
        {
            assert!(is_outside(&root, Path::new(outside)), "{outside}");
        }
    }

    #[test]
    fn addresses_of_this_machine_and_of_others_are_told_apart() {
        let name = |acts: Vec<Act>| acts.into_iter().next().and_then(|a| a.name);
        assert_eq!(name(Act::listen("127.0.0.1:5514")), None);
        assert_eq!(name(Act::listen("[::1]:5514")), None);
        assert_eq!(name(Act::listen("[::ffff:127.0.0.1]:5514")), None);
        assert_eq!(name(Act::listen("0.0.0.0:5514")), Some("0.0.0.0:5514".into()));
        assert_eq!(name(Act::listen("[::]:5514")), Some("[::]:5514".into()));
        assert_eq!(name(Act::connect("192.0.2.1:9", "ask")), Some("192.0.2.1:9".into()));
    }

    #[test]
    fn variables_that_load_code_are_known() {
        for name in ["LD_PRELOAD", "NODE_OPTIONS", "LUA_INIT_5_4", "PATH"] {
            assert!(loads_code(name), "{name}");
        }
        for name in ["FERRY_SEED", "LUA", "LANG", "PORT", "PATHS"] {
            assert!(!loads_code(name), "{name}");
        }
    }
}
