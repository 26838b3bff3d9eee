package store

import (
	"context"
	"database/sql"
	"errors"
	"time"
)

// Stay is a stretch of time in which a property was at something that is no number: a choice, a text, a color.
type Stay struct {
	From, To time.Time
	// Value is JSON; nil where nothing is known.
	Value []byte
}

// staysAtMost bounds how many stretches are returned.
const staysAtMost = 5000

// AddStay keeps what a property is at from a moment on, in JSON, soon; nil keeps that nothing is known from there on. What
// is so already is not kept again.
func (s *Store) AddStay(device, name string, at time.Time, value []byte) {
	s.later(func(tx *transaction) error {
		series, err := s.series(tx, seriesKey{device, name})
		if err != nil {
			return err
		}
		var before sql.NullString
		err = tx.QueryRow(`SELECT value FROM stays WHERE series = ? AND at <= ? ORDER BY at DESC LIMIT 1`, series.id, at.UnixMilli()).Scan(&before)
		switch {
		case errors.Is(err, sql.ErrNoRows):
			if value == nil {
				return nil
			}
		case err != nil:
			return err
		case before.Valid == (value != nil) && before.String == string(value):
			return nil
		}
		_, err = tx.Exec(
			`INSERT OR REPLACE INTO stays (series, at, value) VALUES (?, ?, ?)`,
			series.id,
			at.UnixMilli(),
			sql.NullString{String: string(value), Valid: value != nil},
		)
		return err
	})
}

// Stays returns what a property was at between two times, the newest stretches where there are very many, and for how long
// each value was there in all, by its JSON. A value holds until the next, or until its device fell silent, and so to the end.
func (s *Store) Stays(ctx context.Context, device, name string, from, to time.Time) (list []Stay, shares map[string]time.Duration, err error) {
	shares = map[string]time.Duration{}
	rows, err := s.read.QueryContext(ctx, `WITH wanted AS (SELECT id FROM series WHERE device = ?1 AND name = ?2)
		SELECT at, value FROM stays WHERE series = (SELECT id FROM wanted)
			AND at >= COALESCE((SELECT MAX(at) FROM stays WHERE series = (SELECT id FROM wanted) AND at <= ?3), ?3) AND at < ?4 ORDER BY at`,
		device, name, from.UnixMilli(), to.UnixMilli())
	if err != nil {
		return nil, nil, err
	}
	defer func() { _ = rows.Close() }()
	var open *Stay
	end := func(at time.Time) {
		if open == nil || !open.From.Before(at) {
			return
		}
		open.To = at
		if open.Value != nil {
			shares[string(open.Value)] += at.Sub(open.From)
		}
		if list = append(list, *open); len(list) >= 2*staysAtMost {
			list = append(list[:0], list[len(list)-staysAtMost:]...)
		}
	}
	for rows.Next() {
		var at int64
		var value sql.NullString
		if err := rows.Scan(&at, &value); err != nil {
			return nil, nil, err
		}
		begin := time.UnixMilli(at)
		if begin.Before(from) {
			begin = from
		}
		end(begin)
		open = &Stay{From: begin}
		if value.Valid {
			open.Value = []byte(value.String)
		}
	}
	end(to)
	return list[max(0, len(list)-staysAtMost):], shares, rows.Err()
}

// forgetStays gives up what properties were at before a time, but the last of each, which is held into what is kept.
func (s *Store) forgetStays(ctx context.Context, before time.Time) (int64, error) {
	return s.forget(ctx, "old states", `DELETE FROM stays WHERE (series, at) IN (SELECT a.series, a.at FROM stays a
		WHERE a.at < ?1 AND EXISTS (SELECT 1 FROM stays b WHERE b.series = a.series AND b.at > a.at AND b.at <= ?1) LIMIT ?2)`, before.UnixMilli())
}
