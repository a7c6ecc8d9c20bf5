//! The ways to mend: an example is a line of this very program, and holds no word of the sentence
//! as if it were a variable.

use super::{files, found};

/// The example that is given for a program and what its console said.
fn example(text: &str, console: &str) -> Option<String> {
    found(&files(text), console)?.ways?.sketch
}

#[test]
fn an_example_is_the_line_as_it_would_be_and_can_be_read() {
    let called = "@@ kite.py\nclass Spool:\n    def __init__(self):\n        self.line = None\n\n    def \
        wind(self):\n        self.line = 'cord'\n\n\nspool = Spool()\nspool.wind\n\
        print(spool.line.strip())\n";
    let said = "Traceback (most recent call last):\n  File \"kite.py\", line 11, in <module>\n    \
        print(spool.line.strip())\n          ^^^^^^^^^^^^^^^^\nAttributeError: 'NoneType' object has \
        no attribute 'strip'\n";
    let slip = "@@ pier.lua\nlocal planks = 4\nlocal function rest()\n  return plnaks - 1\nend\n\
        print(planks, rest())\n";
    let of_slip = "lua: pier.lua:3: attempt to perform arithmetic on a nil value (global 'plnaks')\n\
        stack traceback:\n\tpier.lua:3: in local 'rest'\n\tpier.lua:5: in main chunk\n";
    let one = example(called, said);
    let other = example(slip, of_slip);
    assert_eq!(
        (one.as_deref(), other.as_deref()),
        (Some("spool.wind()"), Some("return planks - 1"))
    );
    for (path, text, wrong, right) in [
        ("kite.py", called, "spool.wind\n", one.unwrap_or_default() + "\n"),
        ("pier.lua", slip, "return plnaks - 1", other.unwrap_or_default()),
    ] {
        let mended = files(text)[0].1.replace(wrong, &right);
        let file = izba_code::read(&path.into(), &mended.into()).expect("a script");
        assert!(!file.broken, "{path}");
    }
}

#[test]
fn no_example_takes_a_word_of_the_sentence_for_a_variable() {
    let program = "@@ kite.py\nlength = input()\nprint(length + 1)\n";
    let said = "Traceback (most recent call last):\n  File \"kite.py\", line 2, in <module>\n    \
        print(length + 1)\n          ~~~~~~~^~~\nTypeError: can only concatenate str (not \"int\") to \
        str\n";
    for (text, console) in [
        (program, said),
        (
            "@@ rope.lua\nlocal t = {}\nprint(t < 3)\n",
            "lua: rope.lua:2: attempt to compare table with \
            number\nstack traceback:\n\trope.lua:2: in main chunk\n",
        ),
        (
            "@@ Mast.java\nclass Mast {\n    public static void main(String[] a) {\n        Object o = \
            \"x\";\n        Integer i = (Integer) o;\n    }\n}\n",
            "Exception in thread \"main\" \
            java.lang.ClassCastException: class java.lang.String cannot be cast to class \
            java.lang.Integer\n\tat Mast.main(Mast.java:4)\n",
        ),
    ] {
        let Some(line) = example(text, console) else { continue };
        for word in ["str", "int", "string", "table", "number", "String", "Integer"] {
            for around in ["{}(string)", "str({})", "int({})", "tostring({})", "tonumber({})"] {
                let taken = around.replace("{}", word);
                assert!(!line.contains(&taken), "{line}");
            }
        }
    }
}
