//! Steps of the JVM: `canal.Shop.open(Shop.java:14)`, with module and loader prefixes.

use super::at_form::AtForm;
use izba_model::StackFrame;
use izba_model::pattern::Pattern;

pub(super) static FORM: AtForm = AtForm { id: "jvm", step };

static STEP: Pattern = Pattern::new(concat!(
    r"^(?:[\w.$@-]*/)*(?P<method>[\w$.<>]+)\((?:(?P<file>[\w$-]+\.(?:java|kt|scala",
    r"|groovy))(?::(?P<line>\d+))?|Native Method|Unknown Source)\)"
));

/// Packages of the platform itself: never own, whatever file of that name the project has.
const PLATFORM: [&str; 6] = ["java.", "javax.", "jdk.", "sun.", "kotlin.", "com.sun."];

fn step(text: &str) -> Option<StackFrame> {
    let found = STEP.found(text)?;
    let method = &found["method"];
    let platform = PLATFORM.iter().any(|p| method.starts_with(p));
    // The package tells the folder: night.ferry.Main.run in Main.java stands in
    // night/ferry/Main.java.
    let file = found.name("file").map(|f| {
        let class = method.rsplit_once('.').map_or("", |(class, _)| class);
        let folder = class
            .rsplit_once('.')
            .map_or(String::new(), |(package, _)| package.replace('.', "/") + "/");
        let scheme = if platform { "/usr/lib/jvm/" } else { "" };
        format!("{scheme}{folder}{}", f.as_str())
    });
    Some(StackFrame {
        file,
        line: found.name("line").and_then(|l| l.as_str().parse().ok()),
        function: Some(method.to_owned()),
        ..StackFrame::default()
    })
}
