-- +goose Up
-- Connections are of the kinds of their drivers, which name no maker.
UPDATE definitions SET document = replace(document, '"kind":"lumbrookBridge"', '"kind":"bridge"') WHERE kind = 'connection';
UPDATE revisions SET document = replace(document, '"kind":"lumbrookBridge"', '"kind":"bridge"') WHERE kind = 'connection';
