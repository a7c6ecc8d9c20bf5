// Prints the names that come with Node: globals, members of their prototypes, built-in modules.
const told = new Set();
function tell(kind, name) {
  if (!/^[A-Za-z$][\w$]*$/.test(name) || told.has(kind + name)) return;
  told.add(kind + name);
  console.log(kind, name);
}
const members = (thing) => {
  if (thing === null || !["object", "function"].includes(typeof thing)) return;
  for (const name of Object.getOwnPropertyNames(thing)) {
    if (!["caller", "callee", "arguments"].includes(name)) tell("members", name);
  }
};
for (const name of Object.getOwnPropertyNames(globalThis).sort()) {
  tell("builtins", name);
  let thing;
  try { thing = globalThis[name]; } catch { continue; }
  members(thing);
  if (typeof thing === "function") members(thing.prototype);
}
for (const name of ["require", "module", "exports", "arguments", "__dirname", "__filename"]) {
  console.log("builtins", name);
}
members(Object.getPrototypeOf(function* () {}.prototype));
members(Object.getPrototypeOf(Object.getPrototypeOf([][Symbol.iterator]())));
const usual = ["assert", "child_process", "crypto", "events", "fs", "fs/promises", "http", "https",
  "net", "os", "path", "process", "querystring", "readline", "stream", "timers", "url", "util",
  "worker_threads", "zlib"];
for (const name of usual) {
  name.split("/").forEach((part) => tell("modules", part));
  const held = require(name);
  for (const each of Object.keys(held)) {
    if (each === each.toUpperCase()) continue;
    tell("modules", each);
    if (typeof held[each] === "function") members(held[each].prototype);
  }
}
