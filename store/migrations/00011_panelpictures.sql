-- +goose Up
-- Pictures that panels took of what is before them, the newest of each.
CREATE TABLE panel_pictures (
    panel TEXT NOT NULL,
    made  INTEGER NOT NULL,
    jpeg  BLOB NOT NULL,
    PRIMARY KEY (panel, made)
) WITHOUT ROWID;
