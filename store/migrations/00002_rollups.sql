-- +goose Up
CREATE TABLE rollups (
    series  INTEGER NOT NULL,
    span    INTEGER NOT NULL, -- seconds: 600, 3600 or 86400
    at      INTEGER NOT NULL, -- milliseconds since 1970, UTC, where the span begins
    least   REAL NOT NULL,
    most    REAL NOT NULL,
    area    REAL NOT NULL,    -- value times seconds, so that the mean is area / seconds
    seconds REAL NOT NULL,    -- for how long the value was known
    PRIMARY KEY (series, span, at)
) WITHOUT ROWID;
