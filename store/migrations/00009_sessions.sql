-- +goose Up
-- Browsers that were let in. Of the secret that a browser shows only its SHA-256 is kept.
CREATE TABLE sessions (
    key     BLOB PRIMARY KEY,
    person  TEXT NOT NULL,
    looksAs TEXT NOT NULL DEFAULT '',
    device  TEXT NOT NULL DEFAULT '',
    address TEXT NOT NULL DEFAULT '',
    began   INTEGER NOT NULL,
    used    INTEGER NOT NULL
) WITHOUT ROWID;
