-- A ledger as the first version wrote it.
CREATE TABLE run (id INTEGER PRIMARY KEY, segment TEXT NOT NULL UNIQUE, project TEXT NOT NULL, source TEXT NOT NULL, number INTEGER NOT NULL,
    command TEXT NOT NULL, started INTEGER NOT NULL, ran_ms INTEGER NOT NULL DEFAULT 0, ended TEXT, well INTEGER, lines INTEGER NOT NULL DEFAULT 0,
    bytes INTEGER NOT NULL DEFAULT 0, edits TEXT NOT NULL DEFAULT '[]', files TEXT);
CREATE INDEX run_of_source ON run (project, source, number);
CREATE TABLE mistake (id INTEGER PRIMARY KEY, project TEXT NOT NULL, source TEXT NOT NULL, identity TEXT NOT NULL, across TEXT NOT NULL, edited TEXT,
    entry TEXT NOT NULL, gaps TEXT NOT NULL, UNIQUE (project, source, identity));
CREATE TABLE seen (run INTEGER NOT NULL REFERENCES run (id) ON DELETE CASCADE, mistake INTEGER NOT NULL REFERENCES mistake (id) ON DELETE CASCADE,
    count INTEGER NOT NULL, first INTEGER, last INTEGER, line INTEGER NOT NULL, PRIMARY KEY (run, mistake)) WITHOUT ROWID;
CREATE INDEX seen_of_mistake ON seen (mistake);
INSERT INTO run VALUES (1, '20261101T200000000-411/source-1.seg', '/home/me/ferry', 'engine', 4, 'lua main.lua', 1795454000000, 5000, 'ended well', 1, 812, 40000, '["main.lua"]', NULL);
INSERT INTO mistake VALUES (1, '/home/me/ferry', 'engine', 'wick', 'across wick', NULL,
    '{"report":{"reader":"lua","level":"error","kind":null,"code":null,"message":"attempt to index a nil value (local ''wick'')","frames":[],"causes":[],"head":null,"head_leads":true,"caret":null,"details":[],"object":null,"handler":null,"speaker":null},"place":null,"function":null,"line_text":null,"root_message":"attempt to index a nil value (local ''wick'')","root_kind":null,"token":null,"time":null}',
    '{"list":[],"starts":[]}');
INSERT INTO seen VALUES (1, 1, 119, 1795454000100, 1795454004000, 7);
PRAGMA user_version = 1;
