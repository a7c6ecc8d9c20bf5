//! A disk that is full, in a process of its own: a bound on the length of files stands for it.

use izba_model::Stream;
use izba_sources::{Event, SpoolReader, SpoolWriter, aside_folder, put_away};
use nix::sys::resource::{Resource, getrlimit, setrlimit};
use nix::sys::signal::{SigHandler, Signal, signal};
use std::sync::{Arc, Mutex};

/// Files are at most this long, in bytes.
const LONGEST: u64 = 64 << 10;

#[test]
fn what_finds_no_room_on_the_disk_goes_on_in_memory_and_is_heard_in_any_case() {
    // SAFETY: the signal is ignored, no handler runs.
    unsafe { signal(Signal::SIGXFSZ, SigHandler::SigIgn) }.expect("it can be ignored");
    let (_, most) = getrlimit(Resource::RLIMIT_FSIZE).expect("there is one");
    setrlimit(Resource::RLIMIT_FSIZE, LONGEST, most).expect("a lower bound");
    let folder = tempfile::tempdir().expect("a temporary folder");
    let path = folder.path().join("a.seg");
    let heard = Arc::new(Mutex::new(Vec::new()));
    let all = heard.clone();
    let hear = move |_: Stream, bytes: &[u8]| all.lock().expect("ours").extend_from_slice(bytes);
    let mut writer = SpoolWriter::create(&path).expect("a new file").heard_by(Some(Arc::new(hear)));
    let mut reader = SpoolReader::open(&path).expect("it is there");
    let line = |number: u32| format!("{number:099}\n").into_bytes();
    let lines = 1_500;
    for number in 0..lines {
        // An error is told once; what cannot be kept is counted.
        let _ = writer.append(&Event::Bytes(Stream::Out), &line(number));
    }
    assert!(writer.is_aside());
    let mut read = Vec::new();
    while let Some(record) = reader.next_record().expect("whole records") {
        read.extend(record.bytes);
    }
    let whole: Vec<u8> = (0..lines).flat_map(line).collect();
    let kept = whole.len() as u64 - writer.lost();
    assert_eq!(read.len() as u64, kept);
    assert!(read.len() as u64 > LONGEST, "more than the disk took: {}", read.len());
    assert!(whole.starts_with(&read), "what is kept is whole and in order");
    assert_eq!(*heard.lock().expect("ours"), whole, "all of it is passed on");
    assert_eq!(reader.backlog(), 0);
    // Any part of it is read again.
    let again = reader.reopen_at(120 * 1_000).expect("a reader").next_record().expect("whole");
    assert_eq!(again.expect("it is kept").bytes, line(1_000));
    let aside = aside_folder().expect("it was made");
    put_away();
    assert!(!aside.exists());
    // Where the words of this test itself go to a file, it may be a longer one.
    setrlimit(Resource::RLIMIT_FSIZE, most, most).expect("the bound as it was");
}
