//! A project on disk: which files are its own, where it begins, which saves are news.

use izba_files::{find_maps, find_root, read_maps, scan, watch_saves};
use std::path::{Path, PathBuf};
use std::sync::mpsc;
use std::time::Duration;

const BOUND: Duration = Duration::from_secs(30);

fn write(folder: &Path, name: &str, text: &[u8]) {
    let path = folder.join(name);
    std::fs::create_dir_all(path.parent().expect("it lies in a folder")).expect("room");
    std::fs::write(path, text).expect("room");
}

#[test]
fn own_files_are_those_that_nobody_fetched_built_or_ignored() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    for (name, text) in [
        ("main.lua", "print(1)\n"),
        ("scripts/tide.lua", "return {}\n"),
        ("node_modules/x/index.js", "x\n"),
        ("target/debug/y.rs", "y\n"),
        ("secret/z.lua", "z\n"),
        (".gitignore", "secret/\n"),
        ("game.log", "line\n"),
    ] {
        write(folder.path(), name, text.as_bytes());
    }
    write(folder.path(), "scene.bin", b"a\0b");
    write(folder.path(), "large.lua", &vec![b'x'; 2 << 20]);
    let project = scan(folder.path());
    let files: Vec<String> = project
        .files()
        .iter()
        .map(|f| format!("{}{}", f.path, if f.text.is_some() { "" } else { " (no text)" }))
        .collect();
    assert_eq!(
        files,
        ["large.lua (no text)", "main.lua", "scene.bin (no text)", "scripts/tide.lua"]
    );
    assert_eq!(project.line("scripts/tide.lua", 1), Some("return {}"));
}

#[test]
fn a_project_begins_at_the_nearest_mark_upwards() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let root: PathBuf = folder.path().canonicalize().expect("it is there");
    write(&root, "ferry/izba.toml", b"");
    write(&root, "ferry/page/package.json", b"{}");
    write(&root, "ferry/scripts/deep/a.lua", b"");
    write(&root, "loose/a.lua", b"");
    write(&root, "tool/Gate.csproj", b"");
    assert_eq!(find_root(&root.join("ferry/scripts/deep")), root.join("ferry"));
    assert_eq!(find_root(&root.join("ferry/page")), root.join("ferry/page"));
    assert_eq!(find_root(&root.join("tool")), root.join("tool"));
    assert_eq!(find_root(&root.join("loose")), root.join("loose"));
}

#[test]
fn saves_are_noticed_once_and_only_when_they_change_something() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    write(folder.path(), "scripts/tide.lua", b"return 1\n");
    write(folder.path(), "main.lua", b"print(1)\n");
    let project = scan(folder.path());
    let (send, saved) = mpsc::channel();
    let _watch = watch_saves(&project, move |s| {
        send.send((s.path.to_string(), s.file.and_then(|f| f.text))).unwrap_or_default()
    })
    .expect("inotify is there");
    write(folder.path(), "scripts/.tide.lua.swp", b"an editor's own");
    write(folder.path(), "main.lua", b"print(1)\n");
    write(folder.path(), "scripts/tide.lua", b"return 2\n");
    let first = saved.recv_timeout(BOUND).expect("a save");
    assert_eq!((first.0.as_str(), first.1.as_deref()), ("scripts/tide.lua", Some("return 2\n")));
    std::fs::remove_file(folder.path().join("main.lua")).expect("it is there");
    let second = saved.recv_timeout(BOUND).expect("a removal");
    assert_eq!((second.0.as_str(), second.1), ("main.lua", None));
}

#[test]
fn what_everybody_may_lay_down_above_leads_nowhere() {
    use std::os::unix::fs::PermissionsExt;
    let folder = tempfile::tempdir().expect("a temporary folder");
    let root: PathBuf = folder.path().canonicalize().expect("it is there");
    write(&root, "shared/izba.toml", b"");
    write(&root, "shared/mine/a.lua", b"");
    let open = std::fs::Permissions::from_mode(0o1777);
    std::fs::set_permissions(root.join("shared"), open).expect("it is ours");
    assert_eq!(find_root(&root.join("shared/mine")), root.join("shared/mine"));
    // Who works in it means it.
    assert_eq!(find_root(&root.join("shared")), root.join("shared"));
}

#[test]
fn no_more_of_maps_is_read_than_fits() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    for at in 0..5 {
        write(folder.path(), &format!("dist/{at}.js.map"), &vec![b' '; 12 << 20]);
    }
    write(folder.path(), "dist/large.js.map", &vec![b' '; 17 << 20]);
    let found = find_maps(folder.path());
    assert_eq!(found.len(), 4);
    assert_eq!(read_maps(&found).len(), 4);
}

#[test]
fn what_is_no_file_is_not_waited_for() {
    let folder = tempfile::tempdir().expect("a temporary folder");
    write(folder.path(), "main.lua", b"print(1)\n");
    let project = scan(folder.path());
    let (send, saved) = mpsc::channel();
    let _watch = watch_saves(&project, move |s| {
        send.send(s.file.and_then(|f| f.text)).unwrap_or_default();
    })
    .expect("inotify is there");
    let pipe = folder.path().join("pipe.lua");
    nix::unistd::mkfifo(&pipe, nix::sys::stat::Mode::S_IRWXU).expect("a pipe");
    // An own file becomes a pipe: it is gone. Then one again: it is back.
    std::fs::rename(&pipe, folder.path().join("main.lua")).expect("it moves");
    assert_eq!(saved.recv_timeout(BOUND).expect("it is gone"), None);
    std::fs::remove_file(folder.path().join("main.lua")).expect("it is there");
    write(folder.path(), "main.lua", b"print(2)\n");
    let back = saved.recv_timeout(BOUND).expect("the watch lives").expect("a text");
    assert_eq!(&*back, "print(2)\n");
}
