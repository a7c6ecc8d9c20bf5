// The demo's page in a real JavaScript runtime: prints `kind file:line` for each error.
// Usage: node page.mjs DOCUMENT FOLDER, or node page.mjs --module FILE
import fs from "node:fs";
import path from "node:path";
import vm from "node:vm";
import { pathToFileURL } from "node:url";

function told(error) {
  const place = /([^\s()]*\/)?((?:js|modules)\/[\w.-]+):(\d+)/.exec(error.stack ?? "");
  process.stdout.write(error.name + " " + (place ? place[2] + ":" + place[3] : "nowhere") + "\n");
}

if (process.argv[2] === "--module") {
  try {
    await import(pathToFileURL(path.resolve(process.argv[3])).href);
  } catch (error) {
    told(error);
  }
} else {
  const [, , documentFile, folder] = process.argv;
  const html = fs.readFileSync(path.join(folder, "index.html"), "utf8");
  const host = {
    elements: [...html.matchAll(/<(\w+)[^>]*\sid="([^"]*)"/g)].map((m) => [m[1], m[2]]),
    ticketService: "none",
    now: () => 0,
    say: () => {},
    fetch: (url) => {
      const file = path.join(folder, url);
      return fs.existsSync(file) ? [200, fs.readFileSync(file, "utf8")] : [0, ""];
    },
    guarded: (run) => {
      try {
        run();
      } catch (error) {
        told(error);
      }
    },
  };
  process.on("unhandledRejection", told);
  vm.runInThisContext(fs.readFileSync(documentFile, "utf8"))(host);
  for (const script of html.matchAll(/<script src="(js\/[^"]*)"/g)) {
    const file = path.join(folder, script[1]);
    if (fs.existsSync(file)) host.guarded(() => vm.runInThisContext(fs.readFileSync(file, "utf8"), { filename: file }));
  }
  host.drive.load();
}
