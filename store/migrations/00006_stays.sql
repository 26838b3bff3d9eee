-- +goose Up
-- What a property was that is no number: a choice, a text, a color. One holds until the next.
CREATE TABLE stays (
    series INTEGER NOT NULL,
    at     INTEGER NOT NULL, -- milliseconds since 1970, UTC
    value  TEXT,             -- JSON; NULL from where on nothing is known
    PRIMARY KEY (series, at)
) WITHOUT ROWID;
