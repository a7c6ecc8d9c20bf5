#!/usr/bin/env python3
"""Makes the set of labelled entries by which grouping is scored (see README.md beside this file).

For each language two programs of the Night Ferry are written from the mistakes below, each mistake with an id. A program runs each
of its mistakes many times over, in a changing order and with changing data; before each it prints a mark with the id, which is
taken out of the console again and becomes the label of the line below it. Between the first and the second run of a program its
source is edited: functions change places, comments come in above, the file moves into another folder.

Usage: make.py [LANGUAGE...]   writes <program>/run-1.log.zst, run-2.log.zst, labels.tsv, src-1/, src-2/
"""
import os, random, re, shutil, subprocess, sys, tempfile

HERE = os.path.dirname(os.path.abspath(__file__))
TIMES = 17

# Each mistake: an id and the body of a function with two parameters: i, a number, and who, a name. `{}` in a body is a word of
# the program that differs from program to program.
LUA = {
    "nil-field": "local crew = {}\n  return crew[who].{0}",
    "nil-local": "local {0}\n  return {0}.level",
    "nil-global": "return tide{0} * i",
    "nil-call": "local {0} = {{}}\n  {0}.ring(i)",
    "nil-method": "local {0} = {{}}\n  {0}:ring(i)",
    "join-nil": "local {0}\n  return 'to ' .. {0}",
    "compare": "local {0} = 'seven'\n  return {0} < i",
    "text-number": "return ('{0} ' .. who) + i",
    "told": "error('no {0} for ' .. who .. ' at pier ' .. i)",
    "told-number": "error('{0} ' .. i .. ' is taken since ' .. i % 24 .. ':05')",
    "asserted": "assert(i < 0, 'the {0} must be below zero, it is ' .. i)",
    "file-a": "assert(io.open('packs/{0}_night.json'))",
    "file-b": "assert(io.open('packs/{0}_day' .. i .. '.json'))",
    "twice-a": "local a, b\n  if i % 1 == 0 then\n    a = b.{0}\n  end\n  return a",
    "deep": "local function inner(n) if n == 0 then error('{0} of depth ' .. i) end return inner(n - 1) + 1 end\n  return inner(3 + i % 3)",
}
PYTHON = {
    "none-attr": "{0} = None\n    return {0}.level",
    "key": "crew = {{}}\n    return crew[who]",
    "index": "{0} = [1, 2, 3]\n    return {0}[i + 3]",
    "name": "return tide{0} * i",
    "call-none": "{0} = None\n    return {0}(i)",
    "concat": "return '{0} ' + i",
    "int": "return int('{0} ' + who)",
    "told": "raise ValueError(f'no {0} for {{who}} at pier {{i}}')",
    "told-id": "raise RuntimeError('{0} %08x is lost' % (i * 2654435761 % 2**32))",
    "asserted": "assert i < 0, f'the {0} must be below zero, it is {{i}}'",
    "file-a": "return open('packs/{0}_night.json')",
    "file-b": "return open(f'packs/{0}_day{{i}}.json')",
    "zero": "{0} = 0\n    return i / {0}",
    "attr": "{0} = 'rope'\n    return {0}.ring(i)",
    "caused": "try:\n        return {{}}['{0}']\n    except KeyError as e:\n        raise RuntimeError(f'cannot board {{who}}') from e",
}
NODE = {
    "undef-prop": "const {0} = undefined;\n  return {0}.level;",
    "null-prop": "const {0} = null;\n  return {0}.level;",
    "name": "return tide{0} * i;",
    "no-function": "const {0} = {{}};\n  return {0}.ring(i);",
    "constant": "const {0} = 1;\n  {0} = i;",
    "told": "throw new Error(`no {0} for ${{who}} at pier ${{i}}`);",
    "told-kind": "throw new RangeError('the {0} is at ' + i + ' of 6');",
    "json": "return JSON.parse('{{\"{0}\": ' + i + ',}}');",
    "length": "return new Array(-1 - i);",
    "file-a": "return require('fs').readFileSync('packs/{0}_night.json');",
    "file-b": "return require('fs').readFileSync('packs/{0}_day' + i + '.json');",
    "iterate": "const {0} = i;\n  return [...{0}];",
    "caused": "try {{ return undefined.{0}; }} catch (e) {{ throw new Error('cannot board ' + who, {{ cause: e }}); }}",
    "url": "return new URL('{0} ' + i);",
}
JAVA = {
    "null": "String {0} = null; return {0}.length();",
    "index": "int[] {0} = new int[6]; return {0}[6 + i];",
    "list": "return new java.util.ArrayList<String>().get(i);",
    "cast": "Object {0} = who; return (Integer) {0};",
    "number": "return Integer.parseInt(\"{0} \" + who);",
    "told": "throw new IllegalStateException(\"no {0} for \" + who + \" at pier \" + i);",
    "told-id": "throw new IllegalArgumentException(\"{0} \" + Long.toHexString(i * 2654435761L + 4294967296L) + \" is lost\");",
    "zero": "int {0} = 0; return i / {0};",
    "file-a": "try {{ return new java.io.FileReader(\"packs/{0}_night.json\").read(); }} catch (java.io.IOException e) {{ throw new java.io.UncheckedIOException(e); }}",
    "file-b": "try {{ return new java.io.FileReader(\"packs/{0}_day\" + i + \".json\").read(); }} catch (java.io.IOException e) {{ throw new java.io.UncheckedIOException(e); }}",
    "caused": "try {{ String {0} = null; return {0}.length(); }} catch (RuntimeException e) {{ throw new RuntimeException(\"cannot board \" + who, e); }}",
    "empty": "return java.util.Optional.empty().get().hashCode();",
    "iterate": "java.util.List<Integer> {0} = new java.util.ArrayList<>(java.util.List.of(1, 2)); for (Integer n : {0}) {0}.add(n + i); return 0;",
    "size": "return new int[-1 - i].length;",
}
CSHARP = {
    "null": "string {0} = null; return {0}.Length;",
    "index": "var {0} = new int[6]; return {0}[6 + i];",
    "list": "return new System.Collections.Generic.List<int>()[i];",
    "key": "return new System.Collections.Generic.Dictionary<string, int>()[who];",
    "cast": "object {0} = who; return (int) {0};",
    "number": "return int.Parse(\"{0} \" + who);",
    "told": "throw new System.InvalidOperationException(\"no {0} for \" + who + \" at pier \" + i);",
    "told-argument": "throw new System.ArgumentException(\"the {0} is at \" + i + \" of 6\");",
    "zero": "int {0} = 0; return i / {0};",
    "file-a": "return System.IO.File.ReadAllText(\"packs/{0}_night.json\").Length;",
    "file-b": "return System.IO.File.ReadAllText(\"packs/{0}_day\" + i + \".json\").Length;",
    "caused": "try {{ string {0} = null; return {0}.Length; }} catch (System.Exception e) {{ throw new System.Exception(\"cannot board \" + who, e); }}",
    "empty": "return new System.Collections.Generic.Queue<int>().Dequeue();",
    "over": "return checked((byte) (i + 300));",
}
RUBY = {
    "nil": "{0} = nil\n  {0}.level",
    "name": "tide{0} * i",
    "key": "{{}}.fetch(who)",
    "index": "[1, 2].fetch(i + 2)",
    "convert": "Integer('{0} ' + who)",
    "add": "'{0} ' + i",
    "told": "raise ArgumentError, \"no {0} for #{{who}} at pier #{{i}}\"",
    "told-id": "raise \"{0} %08x is lost\" % (i * 2654435761 % 2**32)",
    "zero": "{0} = 0\n  i / {0}",
    "file-a": "File.read('packs/{0}_night.json')",
    "file-b": "File.read(\"packs/{0}_day#{{i}}.json\")",
    "method": "{0} = 'rope'\n  {0}.ring(i)",
    "caused": "begin\n    nil.{0}\n  rescue NoMethodError\n    raise \"cannot board #{{who}}\"\n  end",
    "frozen": "'{0}'.freeze << who",
}
PHP = {
    "null-call": "${0} = null;\n  return ${0}->ring($i);",
    "undefined": "return tide{0}($i);",
    "kind": "return strlen([]) + $i;",
    "told": "throw new RuntimeException(\"no {0} for $who at pier $i\");",
    "told-id": "throw new LogicException('{0} ' . dechex($i * 2654435761 % 4294967296 + 4294967296) . ' is lost');",
    "zero": "${0} = 0;\n  return intdiv($i, ${0});",
    "add": "return '{0}' + $i;",
    "class": "return new Tide{0}($i);",
    "constant": "return {0}_LEVEL + $i;",
    "json": "return json_decode('{{\"{0}\": ' . $i . ',}}', false, 9, JSON_THROW_ON_ERROR);",
    "caused": "try {{ return intdiv(1, 0); }} catch (Error $e) {{ throw new RuntimeException('cannot board ' . $who, 0, $e); }}",
    "argument": "return (function (int ${0}) {{ return ${0}; }})($who);",
}
NAMES = ["Ada Reed", "Bo", "Clementine Marsh", "Dov", "Elin of the Jetty", "Finn", "Gro Nilsen", "Hedy", "Ivo"]
WORDS = {
    1: ["wick", "rope", "plank", "buoy", "berth", "oar", "sail", "lamp", "bell", "reed", "hull", "mast", "keel", "tiller", "anchor", "galley"],
    2: ["ticket", "fare", "gate", "seat", "stamp", "quay", "crew", "dock", "cargo", "deck", "chart", "wave", "moon", "lock", "knot", "ramp"],
}


def functions(mistakes, number):
    words = WORDS[number]
    return [(name, words[at % len(words)], body.replace('{0}', words[at % len(words)]).replace('{{', '{').replace('}}', '}')) for at, (name, body) in enumerate(mistakes.items())]


def label(number, name):
    return f"{name}-{number}"


# For each language: the file, how one function is written, and what stands around them. The driver takes the number of the run
# and whether a logger speaks.
def lua(fns, logs):
    out = ["-- A part of the Night Ferry.", "local deeds = {}"]
    blocks = [f"deeds['{name}'] = function(i, who)\n  {body}\nend" for name, _, body in fns]
    # One helper that two objects call is one mistake; the same words on two lines are two.
    blocks.append("local function moor(boat)\n  return boat.name .. boat.pier\nend\ndeeds['helper'] = function(i, who) return moor({ name = who }) end\ndeeds['helper#2'] = function(i, who) return moor({ name = who .. i }) end")
    blocks.append("deeds['pair-a'] = function(i)\n  local x\n  return x.y\nend\ndeeds['pair-b'] = function(i)\n  local x\n  return x.y\nend")
    head = "io.stdout:write(string.format('20:%02d:%02d.%03d | error | Ferry#1.tick | ', n % 60, n % 59, n % 1000))" if logs else "io.stdout:write('lua: ')"
    tail = f"""
local order, seed = {{}}, tonumber(arg[1])
for name in pairs(deeds) do order[#order + 1] = name end
table.sort(order)
local names = {{ {', '.join(repr(n) for n in NAMES)} }}
local n = seed * 1000
for round = 1, {TIMES} do
  for at = 1, #order do
    n = n + 1
    local name = order[(at * 7 + round * 3) % #order + 1]
    local ok, why = xpcall(function() return deeds[name](n % 90 + 1, names[n % #names + 1]) end, debug.traceback)
    print('@@' .. name:gsub('#.*', ''))
    {head}
    print(why)
    print('the ferry goes on, ' .. n .. ' m')
  end
end"""
    return "ferry.lua", out, blocks, tail, lambda path, run: ["lua5.4", path, str(run)]


def python(fns, logs):
    out = ["# A part of the Night Ferry.", "import logging, sys, traceback", "deeds = {}"]
    blocks = [f"def deed_{name.replace('-', '_')}(i, who):\n    {body}\ndeeds['{name}'] = deed_{name.replace('-', '_')}" for name, _, body in fns]
    blocks.append("def moor(boat):\n    return boat['name'] + boat['pier']\ndef quay(i, who):\n    return moor({'name': who})\ndef harbour(i, who):\n    return moor({'name': who, 'i': i})\ndeeds['helper'] = quay\ndeeds['helper#2'] = harbour")
    blocks.append("def pair(i, who):\n    x = None\n    if i % 2:\n        return x.y\n    z = x\n    return x.y\ndeeds['pair-a'] = lambda i, who: pair(1, who)\ndeeds['pair-b'] = lambda i, who: pair(2, who)")
    how = "logging.error('a deed failed', exc_info=True)" if logs else "traceback.print_exc(file=sys.stdout)"
    tail = f"""
logging.basicConfig(stream=sys.stdout, format='%(asctime)s %(levelname)s [ferry] %(message)s')
names = {NAMES!r}
order = sorted(deeds)
n = int(sys.argv[1]) * 1000
for turn in range({TIMES}):
    for at in range(len(order)):
        n += 1
        name = order[(at * 7 + turn * 3) % len(order)]
        print('@@' + name.split('#')[0])
        try:
            deeds[name](n % 90, names[n % len(names)])
        except Exception:
            {how}
        print('the ferry goes on,', n, 'm')"""
    return "ferry.py", out, blocks, tail, lambda path, run: ["python3", path, str(run)]


def node(fns, logs):
    out = ["// A part of the Night Ferry.", "const deeds = {};"]
    blocks = [f"deeds['{name}'] = function deed_{name.replace('-', '_')}(i, who) {{\n  {body}\n}};" for name, _, body in fns]
    blocks.append("function moor(boat) {\n  return boat.pier.name;\n}\ndeeds['helper'] = function quay(i, who) { return moor({ who }); };\ndeeds['helper#2'] = function harbour(i, who) { return moor({ i }); };")
    blocks.append("function pair(i) {\n  let x;\n  if (i % 2) return x.y;\n  return x.y.z;\n}\ndeeds['pair-a'] = () => pair(1);\ndeeds['pair-b'] = () => pair(2);")
    how = "console.log(`{\"level\":50,\"time\":${1795454000000 + n},\"pid\":${n % 977},\"msg\":\"a deed failed\",\"err\":{\"type\":${JSON.stringify(e.name)},\"message\":${JSON.stringify(e.message)},\"stack\":${JSON.stringify(e.stack)}}}`)" if logs else "console.log(e.stack + (e.cause ? '\\n  [cause]: ' + e.cause.stack.replace(/\\n/g, '\\n  ') : ''))"
    tail = f"""
const names = {NAMES!r};
const order = Object.keys(deeds).sort();
let n = Number(process.argv[2]) * 1000;
for (let turn = 0; turn < {TIMES}; turn++) for (let at = 0; at < order.length; at++) {{
  n++;
  const name = order[(at * 7 + turn * 3) % order.length];
  console.log('@@' + name.split('#')[0]);
  try {{ deeds[name](n % 90, names[n % names.length]); console.log('nothing failed: ' + name); }} catch (e) {{ {how}; }}
  console.log('the ferry goes on, ' + n + ' m');
}}"""
    return "ferry.js", out, blocks, tail, lambda path, run: ["node", path, str(run)]


def java(fns, logs):
    out = ["// A part of the Night Ferry.", "public class Ferry {", "  interface Deed { Object run(int i, String who); }", "  static java.util.TreeMap<String, Deed> deeds = new java.util.TreeMap<>();"]
    blocks = [f"  static Object {camel(name)}(int i, String who) {{\n    {body}\n  }}\n  static {{ deeds.put(\"{name}\", Ferry::{camel(name)}); }}" for name, _, body in fns]
    blocks.append("  static Object moor(String boat) {\n    return boat.trim();\n  }\n  static Object quay(int i, String who) { return moor(null); }\n  static Object harbour(int i, String who) { return moor(null); }\n  static { deeds.put(\"helper\", Ferry::quay); deeds.put(\"helper#2\", Ferry::harbour); }")
    how = "System.out.printf(\"%02d:%02d:%02d.%03d [main] ERROR night.Ferry - a deed failed%n\", n % 24, n % 60, n % 59, n % 1000); e.printStackTrace(System.out);" if logs else "e.printStackTrace(System.out);"
    tail = f"""
  public static void main(String[] args) {{
    String[] names = {{ {', '.join('"' + n + '"' for n in NAMES)} }};
    String[] order = deeds.keySet().toArray(new String[0]);
    int n = Integer.parseInt(args[0]) * 1000;
    for (int turn = 0; turn < {TIMES}; turn++) for (int at = 0; at < order.length; at++) {{
      n++;
      String name = order[(at * 7 + turn * 3) % order.length];
      System.out.println("@@" + name.split("#")[0]);
      try {{ deeds.get(name).run(n % 90, names[n % names.length]); }} catch (RuntimeException e) {{ {how} }}
      System.out.println("the ferry goes on, " + n + " m");
    }}
  }}
}}"""
    return "Ferry.java", out, blocks, tail, lambda path, run: ["sh", "-c", f"javac -d /tmp/izba-groups {path} && java -cp /tmp/izba-groups Ferry {run}"]


def csharp(fns, logs):
    out = ["// A part of the Night Ferry.", "using System;", "public class Ferry {", "  static System.Collections.Generic.SortedDictionary<string, Func<int, string, object>> deeds = new System.Collections.Generic.SortedDictionary<string, Func<int, string, object>>(StringComparer.Ordinal);"]
    cap = lambda name: camel(name)[0].upper() + camel(name)[1:]
    blocks = [f"  static object {cap(name)}(int i, string who) {{\n    {body}\n  }}" for name, _, body in fns]
    blocks.append("  static object Moor(string boat) {\n    return boat.Trim();\n  }\n  static object Quay(int i, string who) { return Moor(null); }\n  static object Harbour(int i, string who) { return Moor(null); }")
    adds = "\n".join(f"    deeds[\"{name}\"] = {cap(name)};" for name, _, _ in fns)
    how = "Console.WriteLine(\"{0:D2}:{1:D2}:{2:D2} ERROR Ferry: a deed failed\", n % 24, n % 60, n % 59); Console.WriteLine(e);" if logs else "Console.WriteLine(\"Unhandled Exception:\"); Console.WriteLine(e);"
    tail = f"""
  public static void Main(string[] args) {{
{adds}
    deeds["helper"] = Quay; deeds["helper#2"] = Harbour;
    string[] names = {{ {', '.join('"' + n + '"' for n in NAMES)} }};
    var order = new System.Collections.Generic.List<string>(deeds.Keys);
    int n = int.Parse(args[0]) * 1000;
    for (int turn = 0; turn < {TIMES}; turn++) for (int at = 0; at < order.Count; at++) {{
      n++;
      string name = order[(at * 7 + turn * 3) % order.Count];
      Console.WriteLine("@@" + name.Split('#')[0]);
      try {{ deeds[name](n % 90, names[n % names.Length]); }} catch (Exception e) {{ {how} }}
      Console.WriteLine("the ferry goes on, " + n + " m");
    }}
  }}
}}"""
    return "Ferry.cs", out, blocks, tail, lambda path, run: ["sh", "-c", f"mcs -debug -optimize- -out:/tmp/izba-groups/Ferry.exe {path} 2>/dev/null && MONO_INLINELIMIT=0 mono --debug -O=-inline /tmp/izba-groups/Ferry.exe {run}"]


def ruby(fns, logs):
    out = ["# A part of the Night Ferry.", "require 'logger'", "DEEDS = {}"]
    blocks = [f"def deed_{name.replace('-', '_')}(i, who)\n  {body}\nend\nDEEDS['{name}'] = method(:deed_{name.replace('-', '_')})" for name, _, body in fns]
    blocks.append("def moor(boat)\n  boat[:pier].name\nend\ndef quay(i, who) = moor({ who: who })\ndef harbour(i, who) = moor({ i: i })\nDEEDS['helper'] = method(:quay)\nDEEDS['helper#2'] = method(:harbour)")
    how = "LOG.error(e)" if logs else "puts e.full_message(highlight: false, order: :top)"
    tail = f"""
$stdout.sync = true
LOG = Logger.new($stdout)
names = {NAMES!r}
order = DEEDS.keys.sort
n = ARGV[0].to_i * 1000
{TIMES}.times do |turn|
  order.size.times do |at|
    n += 1
    name = order[(at * 7 + turn * 3) % order.size]
    puts '@@' + name.split('#')[0]
    begin
      DEEDS[name].call(n % 90, names[n % names.size].dup)
    rescue StandardError, FrozenError => e
      {how}
    end
    puts "the ferry goes on, #{{n}} m"
  end
end"""
    return "ferry.rb", out, blocks, tail, lambda path, run: ["ruby", path, str(run)]


def php(fns, logs):
    out = ["<?php // A part of the Night Ferry.", "$deeds = [];"]
    blocks = [f"function deed_{name.replace('-', '_')}($i, $who) {{\n  {body}\n}}\n$deeds['{name}'] = 'deed_{name.replace('-', '_')}';" for name, _, body in fns]
    blocks.append("function moor($boat) {\n  return $boat->ring();\n}\nfunction quay($i, $who) { return moor(null); }\nfunction harbour($i, $who) { return moor(null); }\n$deeds['helper'] = 'quay';\n$deeds['helper#2'] = 'harbour';")
    how = "echo '[' . gmdate('d-M-Y H:i:s', 1795454000 + $n) . ' UTC] PHP Fatal error:  Uncaught ' . $e . \"\\n  thrown in \" . $e->getFile() . ' on line ' . $e->getLine() . \"\\n\";" if logs else "echo 'PHP Fatal error:  Uncaught ' . $e . \"\\n  thrown in \" . $e->getFile() . ' on line ' . $e->getLine() . \"\\n\";"
    names = "[" + ", ".join("'" + n + "'" for n in NAMES) + "]"
    tail = f"""
$names = {names};
ksort($deeds, SORT_STRING);
$order = array_keys($deeds);
$n = intval($argv[1]) * 1000;
for ($turn = 0; $turn < {TIMES}; $turn++) for ($at = 0; $at < count($order); $at++) {{
  $n++;
  $name = $order[($at * 7 + $turn * 3) % count($order)];
  echo '@@' . explode('#', $name)[0] . "\\n";
  try {{ $deeds[$name]($n % 90, $names[$n % count($names)]); }} catch (Throwable $e) {{ {how} }}
  echo "the ferry goes on, $n m\\n";
}}"""
    return "ferry.php", out, blocks, tail, lambda path, run: ["php", path, str(run)]


def camel(name):
    first, *rest = name.split("-")
    return first + "Deed" + "".join(r.capitalize() for r in rest)


LANGUAGES = {"lua": (lua, LUA), "python": (python, PYTHON), "node": (node, NODE), "java": (java, JAVA), "csharp": (csharp, CSHARP), "ruby": (ruby, RUBY), "php": (php, PHP)}


def make(language, number):
    write, mistakes = LANGUAGES[language]
    name = f"{language}-{number}"
    folder = os.path.join(HERE, name)
    shutil.rmtree(folder, ignore_errors=True)
    file, head, blocks, tail, command = write(functions(mistakes, number), logs=number == 2)
    os.makedirs("/tmp/izba-groups", exist_ok=True)
    dice = random.Random(name)
    labels = []
    for run in (1, 2):
        text, blocks_now = list(head), list(blocks)
        if run == 2:
            dice.shuffle(blocks_now)
        mark = {"lua": "--", "python": "#", "ruby": "#"}.get(language, "//")
        for block in blocks_now:
            if run == 2:
                text += [f"{mark} {dice.choice(['Mended', 'Looked at', 'Written'])} on an evening in {dice.choice(['May', 'June'])}."] * dice.randint(0, 3)
            text += ["", block]
        folder_in = "scripts" if run == 1 else "scripts/night"
        if language in ("java", "csharp"):
            folder_in = "src" if run == 1 else "src/night"
        source = os.path.join(folder, f"src-{run}", folder_in)
        os.makedirs(source)
        with open(os.path.join(source, file), "w") as out:
            out.write("\n".join(text) + "\n" + tail.lstrip("\n") + "\n")
        done = subprocess.run(command(os.path.join(folder_in, file), run), cwd=os.path.join(folder, f"src-{run}"), capture_output=True, text=True)
        lines, console, found = done.stdout.split("\n"), [], 0
        for line in lines:
            if line.startswith("@@"):
                labels.append((run, len(console), line[2:]))
                found += 1
            else:
                console.append(line)
        if found < 50:
            sys.exit(f"{name}: only {found} marks\n{done.stdout[-500:]}\n{done.stderr[-2000:]}")
        packed = subprocess.run(["zstd", "-19", "-q", "-c"], input="\n".join(console).encode(), capture_output=True, check=True)
        with open(os.path.join(folder, f"run-{run}.log.zst"), "wb") as out:
            out.write(packed.stdout)
        for junk in ("__pycache__",):
            shutil.rmtree(os.path.join(source, junk), ignore_errors=True)
    with open(os.path.join(folder, "labels.tsv"), "w") as out:
        out.write("run\tline\tid\n" + "".join(f"{run}\t{line}\t{name}\n" for run, line, name in labels))
    print(name, len(labels), "entries,", len({l for _, _, l in labels}), "mistakes")


for language in sys.argv[1:] or LANGUAGES:
    for number in (1, 2):
        make(language, number)
