-- +goose Up
CREATE TABLE drafts (
    kind     TEXT NOT NULL,
    id       TEXT NOT NULL, -- of the definition
    version  INTEGER NOT NULL, -- grows with each change; 0 is none yet
    based    INTEGER NOT NULL, -- the revision that was edited
    at       INTEGER NOT NULL, -- milliseconds since 1970, UTC
    document TEXT NOT NULL,    -- JSON; empty where the draft is gone, so that versions go on growing
    PRIMARY KEY (kind, id)
) WITHOUT ROWID;
