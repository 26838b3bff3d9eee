-- +goose Up
-- Pictures that were uploaded for dashboards, as the hub scaled them. The id is the beginning of the SHA-256 of what was uploaded.
CREATE TABLE uploads (
    id       TEXT PRIMARY KEY,
    jpeg     BLOB NOT NULL,
    width    INTEGER NOT NULL,
    height   INTEGER NOT NULL,
    darkest  REAL NOT NULL,
    lightest REAL NOT NULL,
    made     INTEGER NOT NULL
);
