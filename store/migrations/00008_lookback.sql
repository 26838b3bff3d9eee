-- +goose Up
-- What is looked back at when somebody comes home to the hub: how rules acted, what failed, and what hands did.
CREATE INDEX journal_lookback ON journal (kind, at, rule)
    WHERE kind IN ('began', 'ran', 'notStarted', 'stopped', 'cutShort', 'failed', 'fellSilent', 'written', 'byDevice', 'kept');
CREATE INDEX journal_commands ON journal (device, at) WHERE kind = 'commanded';
