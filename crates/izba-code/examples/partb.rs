use izba_code::mend;
use izba_core::code::Language;
fn main() {
    let (mut n, mut t1, mut t3) = (0, 0, 0);
    let only = std::env::args().nth(1);
    let mut slow: f64 = 0.0;
    let mut sum = 0.0;
    let mut dirs: Vec<_> = std::fs::read_dir("/tmp/g/cases").unwrap().map(|d| d.unwrap().path()).collect();
    dirs.sort();
    for dir in dirs {
        let truth: serde_json::Value = serde_json::from_str(&std::fs::read_to_string(dir.join("truth.json")).unwrap()).unwrap();
        if truth["part"] != "B" {
            continue;
        }
        let name = dir.file_name().unwrap().to_str().unwrap().to_owned();
        if only.as_ref().is_some_and(|o| !o.is_empty() && *o != name) {
            continue;
        }
        let c = &truth["culprits"][0];
        let file = c["file"].as_str().unwrap();
        let text = std::fs::read_to_string(dir.join("project").join(file)).unwrap();
        let line = truth["reported"]["line"].as_u64().unwrap() as u32;
        let start = std::time::Instant::now();
        let noticed = if std::env::var("BLIND").is_ok() {
            None
        } else {
            Some(mend::Noticed {
                line,
                opener: None,
                near: truth["message"]
                    .as_str()
                    .and_then(|m| {
                        m.split("near '")
                            .nth(1)
                            .or(m.split("Unexpected identifier '").nth(1))
                            .or(m.split("Unexpected token '").nth(1))
                            .or(m.split("symbol `").nth(1))
                    })
                    .map(|m| m.split('\'').next().unwrap().to_owned()),
            })
        };
        let faults = mend::faults(Language::of(file).unwrap(), &text, noticed);
        let took = start.elapsed().as_secs_f64();
        sum += took;
        slow = slow.max(took);
        let mut lines: Vec<(u32, String)> = faults.first().map(|f| (f.line, f.what.clone())).into_iter().collect();
        if let Some(f) = faults.first() {
            lines.extend(f.others.iter().map(|o| (o.0, o.1.clone())));
        }
        let hit = |l: u32| (c["from"].as_u64().unwrap() as u32..=c["to"].as_u64().unwrap() as u32).contains(&l);
        n += 1;
        let ok = lines.first().is_some_and(|l| hit(l.0));
        t1 += ok as u32;
        t3 += lines.iter().take(3).any(|l| hit(l.0)) as u32;
        if !ok || only.is_some() {
            println!(
                "{name} {} {} want {}-{} rep {line} n={} got {:?} | {}",
                truth["language"].as_str().unwrap(),
                truth["operator"].as_str().unwrap(),
                c["from"],
                c["to"],
                faults.len(),
                lines.iter().take(4).map(|l| format!("{} {}", l.0, l.1)).collect::<Vec<_>>(),
                truth["cause"].as_str().unwrap()
            );
        }
    }
    println!("n {n} first {t1} three {t3}; mean {:.1} ms slowest {:.0} ms", sum / n as f64 * 1e3, slow * 1e3);
}
