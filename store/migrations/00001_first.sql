-- +goose Up
CREATE TABLE definitions (
    kind     TEXT NOT NULL,
    id       TEXT NOT NULL,
    revision INTEGER NOT NULL,
    document TEXT NOT NULL,
    removed  INTEGER NOT NULL DEFAULT 0,
    PRIMARY KEY (kind, id)
) WITHOUT ROWID;

CREATE TABLE revisions (
    kind     TEXT NOT NULL,
    id       TEXT NOT NULL,
    revision INTEGER NOT NULL,
    at       INTEGER NOT NULL, -- milliseconds since 1970, UTC
    removed  INTEGER NOT NULL DEFAULT 0,
    document TEXT NOT NULL,
    PRIMARY KEY (kind, id, revision)
) WITHOUT ROWID;

CREATE TABLE states (
    kind  TEXT NOT NULL, -- property, rule, schedule
    owner TEXT NOT NULL,
    name  TEXT NOT NULL,
    state TEXT NOT NULL,
    PRIMARY KEY (kind, owner, name)
) WITHOUT ROWID;

CREATE TABLE journal (
    id       INTEGER PRIMARY KEY,
    parent   INTEGER,
    at       INTEGER NOT NULL,
    kind     TEXT NOT NULL,
    device   TEXT,
    rule     TEXT,
    entry    TEXT NOT NULL
);
CREATE INDEX journal_device ON journal (device, id) WHERE device IS NOT NULL;
CREATE INDEX journal_rule ON journal (rule, id) WHERE rule IS NOT NULL;
CREATE INDEX journal_parent ON journal (parent) WHERE parent IS NOT NULL;
CREATE INDEX journal_at ON journal (at);

CREATE TABLE series (
    id     INTEGER PRIMARY KEY,
    device TEXT NOT NULL,
    name   TEXT NOT NULL,
    UNIQUE (device, name)
);

CREATE TABLE samples (
    series INTEGER NOT NULL,
    at     INTEGER NOT NULL,
    value  REAL NOT NULL,
    PRIMARY KEY (series, at)
) WITHOUT ROWID;

CREATE TABLE settings (
    name  TEXT PRIMARY KEY,
    value TEXT NOT NULL
) WITHOUT ROWID;

CREATE TABLE secrets (
    name   TEXT PRIMARY KEY,
    sealed BLOB NOT NULL
) WITHOUT ROWID;
