-- +goose Up
CREATE TABLE traces (
    rule  TEXT NOT NULL,
    id    INTEGER NOT NULL, -- of the journal entry that the run began with
    at    INTEGER NOT NULL, -- milliseconds since 1970, UTC
    trace TEXT NOT NULL,    -- JSON
    PRIMARY KEY (rule, id)
) WITHOUT ROWID;
