//! Sources with real programs and files: what they put into the spool, and what they say when they
//! cannot.

use izba_model::Stream;
use izba_sources::{
    Bell, Command, CommandSpec, Event, Running, SpoolReader, SpoolWriter, Store, connect, follow,
    listen,
};
use std::path::Path;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex, mpsc};
use std::time::{Duration, Instant};

const BOUND: Duration = Duration::from_secs(30);

struct Spool {
    folder: tempfile::TempDir,
    writer: Arc<Mutex<SpoolWriter>>,
    reader: SpoolReader,
    rung: mpsc::Receiver<()>,
    bell: Bell,
    told: Vec<(Event, String)>,
}

fn spool() -> Spool {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let path = folder.path().join("x.seg");
    let writer = Arc::new(Mutex::new(SpoolWriter::create(&path).expect("a new file")));
    let reader = SpoolReader::open(&path).expect("it was made");
    let (ring, rung) = mpsc::channel();
    Spool {
        folder,
        writer,
        reader,
        rung,
        bell: Arc::new(move || ring.send(()).unwrap_or_default()),
        told: Vec::new(),
    }
}

impl Spool {
    fn start(&self, words: &[&str], pipes: bool) -> Result<Running, izba_sources::SourceError> {
        let words = words.iter().map(Into::into).collect();
        let spec = CommandSpec {
            words,
            folder: self.folder.path().to_owned(),
            environment: Vec::new(),
            pipes,
            inherit_input: false,
        };
        Command::new(spec)?.start(self.writer.clone(), self.bell.clone())
    }

    /// Reads until `enough` is true of what was told.
    #[track_caller]
    fn wait(
        &mut self,
        what: &str,
        enough: impl Fn(&[(Event, String)]) -> bool,
    ) -> &[(Event, String)] {
        let begun = Instant::now();
        loop {
            while let Some(record) = self.reader.next_record().expect("whole records") {
                self.told.push((record.event, String::from_utf8_lossy(&record.bytes).into_owned()));
            }
            if enough(&self.told) {
                return &self.told;
            }
            assert!(begun.elapsed() < BOUND, "waited in vain for {what}: {:?}", self.told);
            let _ = self.rung.recv_timeout(Duration::from_millis(100));
        }
    }

    fn text(&self, stream: Stream) -> String {
        self.told
            .iter()
            .filter(|(e, _)| *e == Event::Bytes(stream))
            .map(|(_, t)| t.as_str())
            .collect()
    }
}

fn ended(told: &[(Event, String)]) -> bool {
    told.iter().any(|(e, _)| matches!(e, Event::End { .. }))
}

fn end_of(told: &[(Event, String)]) -> (bool, String) {
    told.iter()
        .find_map(
            |(e, t)| if let Event::End { well } = e { Some((*well, t.clone())) } else { None },
        )
        .expect("it ended")
}

#[test]
fn a_command_has_a_terminal_and_its_errors_are_told_apart() {
    for pipes in [false, true] {
        let mut spool = spool();
        let running = spool.start(
            &[
                "sh",
                "-c",
                "test -t 1 && echo terminal || echo pipe; test -t 2 && echo terminal >&2 || \
                echo pipe >&2; exit 3",
            ],
            pipes,
        );
        let mut running = running.expect("sh is there");
        spool.wait("the end", ended);
        running.wait();
        assert_eq!((running.has_ended(), running.code()), (true, 3));
        assert_eq!(
            spool.text(Stream::Out),
            if pipes { "pipe\n" } else { "terminal\n" },
            "no carriage return is added"
        );
        assert_eq!(spool.text(Stream::Err), "pipe\n");
        assert_eq!(spool.told[0].0, Event::Start);
        assert_eq!(end_of(&spool.told), (false, "ended with exit code 3".to_owned()));
    }
}

#[test]
fn what_is_typed_is_read_by_the_program() {
    let mut spool = spool();
    let running = spool
        .start(&["sh", "-c", "printf 'who? '; read who; echo \"welcome $who\""], false)
        .expect("sh is there");
    spool.wait("the question", |t| t.iter().any(|(_, t)| t.contains("who? ")));
    running.type_in("Ada\n").expect("it reads");
    spool.wait("the end", ended);
    assert!(spool.text(Stream::Out).contains("welcome Ada\n"));
    assert_eq!(end_of(&spool.told), (true, "ended well".to_owned()));
}

#[test]
fn a_program_that_will_not_stop_is_stopped_with_all_its_children() {
    let mut spool = spool();
    let script = "trap '' TERM HUP; sh -c 'trap \"\" TERM HUP; echo $$ > grandchild; while :; do sleep \
        1; done' & echo up; while :; do sleep 1; done";
    let mut running = spool.start(&["sh", "-c", script], false).expect("sh is there");
    let grandchild = spool.folder.path().join("grandchild");
    spool.wait("both", |_| std::fs::read_to_string(&grandchild).is_ok_and(|t| t.ends_with('\n')));
    running.stop();
    spool.wait("the end", ended);
    running.wait();
    assert_eq!(running.code(), 128 + 9);
    assert_eq!(end_of(&spool.told), (true, "was stopped".to_owned()), "the user wanted it");
    let pid = std::fs::read_to_string(grandchild).expect("it wrote its number");
    let begun = Instant::now();
    let lives = || {
        std::fs::read_to_string(format!("/proc/{}/stat", pid.trim()))
            .is_ok_and(|s| !s.contains(") Z"))
    };
    while lives() {
        assert!(begun.elapsed() < BOUND, "the grandchild still lives");
        std::thread::sleep(Duration::from_millis(20));
    }
}

#[test]
fn commands_started_together_bear_different_marks() {
    // By its mark everything that a command started is ended with it; with the same mark one would
    // take others along.
    let mut spool = spool();
    let all: Vec<_> = (0..40)
        .map(|_| spool.start(&["printenv", "IZBA_RUN"], true).expect("it is there"))
        .collect();
    spool.wait("all marks", |told| {
        told.iter().filter(|(e, _)| matches!(e, Event::End { .. })).count() == all.len()
    });
    let text = spool.text(Stream::Out);
    let marks: std::collections::BTreeSet<&str> = text.lines().collect();
    assert_eq!(marks.len(), all.len(), "{marks:?}");
}

#[test]
fn a_command_that_is_not_there_is_told_in_a_sentence() {
    let spool = spool();
    let error = spool.start(&["no-such-ferry", "--now"], false).expect_err("it is not there");
    assert_eq!(error.sentence(), "cannot start \"no-such-ferry\": no such file or directory");
}

#[test]
fn a_screen_that_a_program_clears_leaves_no_blank_lines_and_others_stay() {
    let mut spool = spool();
    let blank = "printf '%0.s\\n' $(seq 38)";
    let script = format!(
        "echo tide; {blank}; printf '\\033[1;1H\\033[0J'; echo pier; {blank}; echo quay; {blank}"
    );
    let _running = spool.start(&["sh", "-c", &script], false).expect("sh is there");
    spool.wait("the end", ended);
    let many = "\n".repeat(38);
    let wanted = format!("tide\n\u{1b}[1;1H\u{1b}[0Jpier\n{many}quay\n{many}");
    // The line end behind which a screen is cleared may stay.
    assert_eq!(spool.text(Stream::Out).replace("tide\n\n", "tide\n"), wanted);
}

#[test]
fn output_before_an_error_is_read_before_it() {
    let mut spool = spool();
    let script =
        "i=0; while [ $i -lt 3000 ]; do echo \"tide $i\"; i=$((i+1)); done; echo failed >&2";
    let _running = spool.start(&["sh", "-c", script], false).expect("sh is there");
    spool.wait("the end", ended);
    let failed =
        spool.told.iter().position(|(e, _)| *e == Event::Bytes(Stream::Err)).expect("it failed");
    let before: String = spool.told[..failed]
        .iter()
        .filter(|(e, _)| *e == Event::Bytes(Stream::Out))
        .map(|(_, t)| t.as_str())
        .collect();
    assert_eq!(before.lines().count(), 3000);
}

#[test]
fn a_file_is_waited_for_followed_and_followed_again_when_it_is_replaced() {
    let mut spool = spool();
    let (path, stop) = (spool.folder.path().join("game.log"), Arc::new(AtomicBool::new(false)));
    let thread = follow(&path, spool.writer.clone(), spool.bell.clone(), stop.clone())
        .expect("a file that is not there yet");
    let append = |text: &str| {
        use std::io::Write;
        let file = std::fs::OpenOptions::new().create(true).append(true).open(&path);
        file.and_then(|mut f| f.write_all(text.as_bytes())).expect("room");
    };
    append("one\n");
    spool.wait("the first line", |t| t.iter().any(|(_, t)| t.contains("one")));
    append("two\n");
    spool.wait("the second line", |t| t.iter().any(|(_, t)| t.contains("two")));
    std::fs::rename(&path, path.with_extension("old")).expect("it is there");
    append("three\n");
    spool.wait("the line of the new file", |t| t.iter().any(|(_, t)| t.contains("three")));
    std::fs::write(&path, "4\n").expect("room");
    spool.wait("the line of the truncated file", |t| t.iter().any(|(_, t)| t == "4\n"));
    stop.store(true, Ordering::Release);
    thread.join().expect("it ends");
    assert_eq!(
        spool.told.iter().filter(|(e, _)| *e == Event::Start).count(),
        3,
        "each file is a run: {:?}",
        spool.told
    );
    assert_eq!(spool.text(Stream::Out), "one\ntwo\nthree\n4\n");
}

#[test]
fn a_device_is_waited_for_fetched_and_fetched_again_when_it_is_back() {
    use std::io::Write;
    let mut spool = spool();
    let address = std::net::TcpListener::bind("127.0.0.1:0")
        .and_then(|l| l.local_addr())
        .expect("a free port");
    let stop = Arc::new(AtomicBool::new(false));
    let thread =
        connect(address, spool.writer.clone(), spool.bell.clone(), stop.clone()).expect("a thread");
    for (time, text) in ["first\n", "second\n"].into_iter().enumerate() {
        // The port may be held for a moment by somebody else's connection.
        let begun = std::time::Instant::now();
        let device = loop {
            match std::net::TcpListener::bind(address) {
                Ok(device) => break device,
                Err(e) => assert!(
                    begun.elapsed() < std::time::Duration::from_secs(20),
                    "the port is free again: {e}"
                ),
            }
            std::thread::yield_now();
        };
        let (mut accepted, _) = device.accept().expect("it is looked for");
        // Nobody may come again to what is about to go.
        drop(device);
        accepted.write_all(text.as_bytes()).expect("somebody listens");
        drop(accepted);
        spool.wait("the device to go away", |told| {
            told.iter().filter(|(e, _)| matches!(e, Event::End { .. })).count() == time + 1
        });
    }
    assert_eq!(spool.text(Stream::Out), "first\nsecond\n");
    assert_eq!(spool.told.iter().filter(|(e, _)| *e == Event::Start).count(), 2);
    assert_eq!(end_of(&spool.told), (true, "went away".into()));
    stop.store(true, Ordering::Release);
    thread.join().expect("it ends");
}

#[test]
fn senders_of_syslog_are_heard_over_tcp_and_udp_and_too_many_are_turned_away() {
    use std::io::{Read, Write};
    let mut spool = spool();
    let stop = Arc::new(AtomicBool::new(false));
    let any = "127.0.0.1:0".parse().expect("an address");
    let address =
        listen(any, spool.writer.clone(), spool.bell.clone(), stop.clone()).expect("a free port");
    let taken = listen(address, spool.writer.clone(), spool.bell.clone(), stop.clone())
        .expect_err("it is taken")
        .sentence();
    assert!(taken.contains("listen at this address") && taken.contains("in use"), "{taken}");
    let send = |text: &[u8]| {
        std::net::TcpStream::connect(address)
            .expect("somebody listens")
            .write_all(text)
            .expect("it is read")
    };
    send(b"<11>1 - h a - - - by line\n<14>1 - h a - - - unfinished");
    send(b"24 <11>1 - h a - - - counte<14>");
    std::net::UdpSocket::bind("127.0.0.1:0")
        .and_then(|s| s.send_to(b"<12>1 - h a - - - by datagram", address))
        .expect("it is sent");
    let heard = |told: &[(Event, String)], text: &str| told.iter().any(|(_, t)| t == text);
    spool.wait("all messages", |told| {
        [
            "<11>1 - h a - - - by line\n",
            "<14>1 - h a - - - unfinished\n",
            "<11>1 - h a - - - counte\n",
            "<12>1 - h a - - - by datagram\n",
        ]
        .iter()
        .all(|t| heard(told, t))
    });
    let mut many: Vec<_> =
        (0..260).filter_map(|_| std::net::TcpStream::connect(address).ok()).collect();
    spool.wait("the last ones to be turned away", |told| {
        told.iter().any(|(_, t)| t.contains("was turned away: 200 senders are connected already"))
    });
    // One that was turned away is told by the end of its connection; one that is heard goes on.
    let last = many.last_mut().expect("many");
    assert_eq!(last.read(&mut [0; 8]).unwrap_or(0), 0);
    many[0].write_all(b"<14>1 - h a - - - still here\n").expect("it is read");
    spool.wait("the first of them", |told| heard(told, "<14>1 - h a - - - still here\n"));
    stop.store(true, Ordering::Release);
    spool.wait("the end", ended);
}

#[test]
fn datagrams_that_come_too_fast_are_counted_and_told() {
    let mut spool = spool();
    let stop = Arc::new(AtomicBool::new(false));
    let address = listen(
        "127.0.0.1:0".parse().expect("an address"),
        spool.writer.clone(),
        spool.bell.clone(),
        stop.clone(),
    )
    .expect("a free port");
    let sender = std::net::UdpSocket::bind("127.0.0.1:0").expect("a port");
    {
        // While the spool is held nobody reads, and the system's buffer is soon full.
        let _held = spool.writer.lock().expect("nobody panicked");
        for _ in 0..4_000 {
            sender.send_to(&[b'x'; 1_000], address).expect("it is sent");
        }
    }
    let told = spool.wait("the count of what is lost", |told| {
        told.iter().any(|(_, t)| t.contains("datagrams came faster than they could be read"))
    });
    let lost: usize = told
        .iter()
        .filter_map(|(_, t)| {
            t.split(" - - - ").nth(1)?.split(" datagrams").next()?.parse::<usize>().ok()
        })
        .sum();
    let heard = told.iter().filter(|(_, t)| t.starts_with("xxx")).count();
    assert_eq!(lost + heard, 4_000);
    stop.store(true, Ordering::Release);
    spool.wait("the end", ended);
}

#[test]
fn of_a_folder_the_newest_file_is_followed_and_wide_text_is_read() {
    let mut spool = spool();
    let logs = spool.folder.path().join("logs");
    write(&logs, "monday.log", b"one\n");
    let stop = Arc::new(AtomicBool::new(false));
    let thread =
        follow(&logs, spool.writer.clone(), spool.bell.clone(), stop.clone()).expect("a folder");
    spool.wait("the only file", |t| t.iter().any(|(_, t)| t.contains("one")));
    let wide: Vec<u8> = "\u{feff}two ≈ 2\n".encode_utf16().flat_map(u16::to_le_bytes).collect();
    write(&logs, "tuesday.log", &wide);
    spool.wait("the newer file", |t| t.iter().any(|(_, t)| t.contains("two ≈ 2")));
    stop.store(true, Ordering::Release);
    thread.join().expect("it ends");
    assert_eq!(
        spool.told.iter().filter(|(e, _)| *e == Event::Start).count(),
        2,
        "each file is a run: {:?}",
        spool.told
    );
}

#[test]
fn a_program_that_starts_anew_in_the_same_file_begins_a_run() {
    use std::io::Write;
    let mut spool = spool();
    let path = spool.folder.path().join("deck.log");
    let stop = Arc::new(AtomicBool::new(false));
    let thread = follow(&path, spool.writer.clone(), spool.bell.clone(), stop.clone())
        .expect("a file that is not there yet");
    for run in 0..3 {
        let mut file =
            std::fs::OpenOptions::new().create(true).append(true).open(&path).expect("room");
        // Line by line, as programs write.
        for line in 0..12 {
            let text = match line {
                0 => format!("marsh engine 1.4, process {}\n", 400 + run),
                1 => "loads scene.json\n".to_owned(),
                _ => format!("tide {line}\n"),
            };
            file.write_all(text.as_bytes()).expect("room");
        }
        write!(file, "end of {run}, without a line end")
            .and_then(|()| file.write_all(b"\n"))
            .expect("room");
        spool.wait("the end of the run", |t| {
            t.iter().any(|(_, t)| t.contains(&format!("end of {run}")))
        });
    }
    stop.store(true, Ordering::Release);
    thread.join().expect("it ends");
    assert_eq!(
        spool.told.iter().filter(|(e, _)| *e == Event::Start).count(),
        3,
        "{:?}",
        spool.told
    );
    assert_eq!(end_of(&spool.told), (true, "was started anew".into()));
    assert_eq!(spool.text(Stream::Out).lines().count(), 39);
}

#[test]
fn a_file_that_is_rotated_while_it_is_written_loses_no_line() {
    use std::io::Write;
    let mut spool = spool();
    let path = spool.folder.path().join("deck.log");
    let stop = Arc::new(AtomicBool::new(false));
    let thread = follow(&path, spool.writer.clone(), spool.bell.clone(), stop.clone())
        .expect("a file that is not there yet");
    let rotated = path.clone();
    // A writer of 3,000 lines that puts the file aside twice, the first time in the middle of a
    // line, and never waits for anybody.
    let writer = std::thread::spawn(move || {
        let open =
            || std::fs::OpenOptions::new().create(true).append(true).open(&rotated).expect("room");
        let mut file = open();
        for number in 0..3_000 {
            write!(file, "{number},").expect("room");
            if number % 1_000 == 999 && number < 2_999 {
                // The one that rotates waits as long as a follower looks away, as those do that
                // keep what they put aside.
                std::thread::sleep(Duration::from_millis(120));
                std::fs::rename(&rotated, rotated.with_extension(format!("{number}")))
                    .expect("it is there");
                file = open();
            }
        }
    });
    writer.join().expect("it ends");
    spool.wait("the last number", |t| t.iter().any(|(_, t)| t.ends_with("2999,")));
    stop.store(true, Ordering::Release);
    thread.join().expect("it ends");
    let told: Vec<u32> =
        spool.text(Stream::Out).split_terminator(',').filter_map(|n| n.parse().ok()).collect();
    assert_eq!(told, (0..3_000).collect::<Vec<_>>());
}

#[test]
fn a_thousand_senders_of_logs_are_all_answered_and_a_bad_one_hurts_nobody() {
    use izba_sources::take_telemetry;
    use std::io::{Read, Write};
    let mut spool = spool();
    let stop = Arc::new(AtomicBool::new(false));
    let any = "127.0.0.1:0".parse().expect("an address");
    let address = take_telemetry(
        any,
        spool.writer.clone(),
        spool.bell.clone(),
        stop.clone(),
        izba_sources::Admission::default(),
    )
    .expect("a free port");
    // One that never ends its request, and one that sends more than is taken.
    let mut slow = std::net::TcpStream::connect(address).expect("somebody listens");
    slow.write_all(b"POST /v1/logs HTTP/1.1\r\nHost: localhost\r\nContent-Length: 500\r\n\r\n{")
        .expect("it is taken");
    let ask = |head: &str, body: &str| {
        let mut stream = std::net::TcpStream::connect(address).expect("somebody listens");
        let _ = write!(
            stream,
            "POST /v1/logs HTTP/1.1\r\nHost: localhost\r\nConnection: \
                close\r\n{head}Content-Length: {}\r\n\r\n{body}",
            body.len()
        );
        let mut answer = String::new();
        let _ = stream.read_to_string(&mut answer);
        answer.lines().next().unwrap_or_default().to_owned()
    };
    assert!(
        ask("Content-Type: application/json\r\n", &format!("\"{}\"", "x".repeat(9 << 20)))
            .contains("413")
    );
    let one = |number: usize| {
        let body = format!(
            r#"{{"resourceLogs":[{{"scopeLogs":[{{"logRecords":[{{"severityNumber":17,"body":{{"stringValue":"no seat {number}."}}}}]}}]}}]}}"#
        );
        ask("Content-Type: application/json\r\n", &body)
    };
    std::thread::scope(|scope| {
        for from in 0..20 {
            scope.spawn(move || (0..50).for_each(|n| assert!(one(from * 50 + n).contains("200"))));
        }
    });
    spool.wait("all thousand", |told| {
        told.iter().map(|(_, t)| t.matches("no seat").count()).sum::<usize>() == 1_000
    });
    stop.store(true, Ordering::Release);
    spool.wait("the end", ended);
}

fn write(folder: &Path, name: &str, text: &[u8]) {
    let path = folder.join(name);
    std::fs::create_dir_all(path.parent().expect("it lies in a folder")).expect("room");
    std::fs::write(path, text).expect("room");
}

#[test]
fn sessions_are_private_and_counted() {
    use std::os::unix::fs::PermissionsExt;
    let folder = tempfile::tempdir().expect("a temporary folder");
    let store = Store::open(Some(folder.path().join("state/izba"))).expect("room");
    let session = store.session().expect("room");
    let mut writer = SpoolWriter::create(&session.join("a.seg")).expect("room");
    writer.append(&Event::Start, b"ferry").expect("room");
    let mode =
        |path: &Path| std::fs::metadata(path).expect("it is there").permissions().mode() & 0o777;
    assert_eq!((mode(&session), mode(&session.join("a.seg"))), (0o700, 0o600));
    assert_eq!(store.sessions(), [(session, 25)]);
}

#[test]
fn a_log_that_was_written_anew_is_read_anew_however_long_it_is() {
    let mut spool = spool();
    let path = spool.folder.path().join("tide.log");
    std::fs::write(&path, "one\ntwo\n").expect("room");
    let stop = Arc::new(AtomicBool::new(false));
    let thread =
        follow(&path, spool.writer.clone(), spool.bell.clone(), stop.clone()).expect("a thread");
    spool.wait("the first lines", |told| told.iter().any(|(_, t)| t.contains("two")));
    // In its place, without a moment in which it is shorter.
    let file = std::fs::OpenOptions::new().write(true).open(&path).expect("it is there");
    std::os::unix::fs::FileExt::write_all_at(&file, b"six\nten\nten\n", 0).expect("room");
    spool.wait("the new lines", |told| told.iter().any(|(_, t)| t.contains("six\nten\nten")));
    // What only grows is no other.
    std::fs::OpenOptions::new()
        .append(true)
        .open(&path)
        .and_then(|mut file| std::io::Write::write_all(&mut file, b"elf\n"))
        .expect("room");
    spool.wait("what was added", |told| told.iter().any(|(_, t)| t.contains("elf")));
    stop.store(true, Ordering::Release);
    thread.join().expect("it ends");
    let starts = spool.told.iter().filter(|(e, _)| *e == Event::Start).count();
    assert_eq!((starts, spool.text(Stream::Out).matches("six").count()), (2, 1));
}

/// Everything that comes back until the other side ends it.
fn answer_of(stream: &mut std::net::TcpStream) -> String {
    use std::io::Read;
    stream.set_read_timeout(Some(BOUND)).expect("a socket");
    let mut answer = Vec::new();
    let _ = stream.read_to_end(&mut answer);
    String::from_utf8_lossy(&answer).into_owned()
}

#[test]
fn senders_that_take_all_places_all_room_or_all_time_are_answered_and_let_go() {
    use std::io::Write;
    use std::net::TcpStream;
    let spool = spool();
    let stop = Arc::new(AtomicBool::new(false));
    let any = "127.0.0.1:0".parse().expect("an address");
    let (writer, bell) = (spool.writer.clone(), spool.bell.clone());
    let who = izba_sources::Admission::default();
    let address =
        izba_sources::take_reports(any, writer, bell, stop.clone(), who).expect("a free port");
    let begin = |head: &str| {
        let mut stream = TcpStream::connect(address).expect("somebody listens");
        write!(stream, "POST /reports HTTP/1.1\r\nHost: localhost\r\n{head}").expect("taken");
        stream
    };
    let body = |bytes: usize| begin(&format!("Content-Length: {bytes}\r\n\r\n["));
    // Bodies that never end: what fits is waited for, the rest is told to come later.
    let mut unfinished: Vec<TcpStream> = (0..4).map(|_| body(4 << 20)).collect();
    let later = answer_of(&mut body(4 << 20));
    assert!(later.starts_with("HTTP/1.1 429") && later.contains("retry-after: 1"), "{later}");
    let large = answer_of(&mut body(5 << 20));
    assert!(large.starts_with("HTTP/1.1 413"), "{large}");
    let many = format!("[{}]", "{},".repeat(50_000));
    let mut objects = begin(&format!("Content-Length: {}\r\n\r\n", many.len()));
    objects.write_all(many.as_bytes()).expect("taken");
    // Those that never end are let go, so that there is room again.
    for stream in &mut unfinished {
        let ended = answer_of(stream);
        assert!(ended.starts_with("HTTP/1.1 408"), "{ended}");
    }
    // Half heads take all places; others are told so at once, and they are let go too.
    let mut half: Vec<TcpStream> = (0..200).map(|_| begin("X-Tide: ")).collect();
    let told = (0..400).find_map(|_| {
        let told = answer_of(&mut begin("Connection: close\r\nContent-Length: 2\r\n\r\n[]"));
        told.starts_with("HTTP/1.1 503").then_some(told)
    });
    assert!(told.is_some_and(|t| t.contains("retry-after")));
    half.iter_mut().for_each(|stream| drop(answer_of(stream)));
    let well = answer_of(&mut begin("Connection: close\r\nContent-Length: 2\r\n\r\n[]"));
    assert!(well.starts_with("HTTP/1.1 204"), "{well}");
    // A page that nobody named, or a name that leads here by a trick, sends nothing.
    for (head, status) in [
        ("Origin: https://elsewhere.example\r\n", "403"),
        ("Origin: http://localhost:8000\r\n", "204"),
    ] {
        let mut page = begin(&format!("{head}Connection: close\r\nContent-Length: 2\r\n\r\n[]"));
        let told = answer_of(&mut page);
        assert!(told.starts_with(&format!("HTTP/1.1 {status}")), "{told}");
        assert_eq!(told.contains("access-control-allow-origin"), status == "204", "{told}");
    }
    stop.store(true, Ordering::Release);
}
