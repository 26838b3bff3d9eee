-- +goose Up
-- The value with which a span ended, which holds into those that follow it without a row; NULL where nothing was known then.
ALTER TABLE rollups ADD COLUMN held REAL;
