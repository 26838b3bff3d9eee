package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"math"
	"time"
)

type seriesKey struct{ device, name string }

// ever is before all readings.
const ever int64 = math.MinInt64

// AddSample keeps a reading, soon, and rolls it up. Of several within a millisecond the last counts. What is no
// number is left out.
func (s *Store) AddSample(device, name string, sample Sample) {
	if math.IsNaN(sample.Value) || math.IsInf(sample.Value, 0) {
		return
	}
	at := sample.At.UnixMilli()
	for newest := s.newest.Load(); at > newest && !s.newest.CompareAndSwap(newest, at); newest = s.newest.Load() {
	}
	s.jobs <- job{reading: reading{of: seriesKey{device, name}, at: at, value: sample.Value}}
}

// AddUnknown keeps that from a moment on nothing is known of a property, until its next reading: its device fell silent.
func (s *Store) AddUnknown(device, name string, at time.Time) {
	s.jobs <- job{reading: reading{of: seriesKey{device, name}, at: at.UnixMilli(), value: unknown}}
}

// reroll makes the roll-ups of a series anew from the hour on that a moment is in.
func (s *Store) reroll(tx *transaction, r *rolling, from int64) error {
	if from != ever {
		from = floor(from, spanHour)
	}
	if err := tx.keep(); err != nil {
		return err // what follows reads what is kept
	}
	for _, span := range spans { // one after the other, since the spans come before the times in the table's order
		if _, err := tx.Exec(`DELETE FROM rollups WHERE series = ? AND span = ? AND at >= ?`, r.id, span, from); err != nil {
			return err
		}
	}
	*r = rolling{id: r.id}
	before := int64(0)
	var value float64
	switch err := tx.QueryRow(`SELECT at, value FROM samples WHERE series = ? AND at < ? ORDER BY at DESC LIMIT 1`, r.id, from).Scan(&before, &value); {
	case errors.Is(err, sql.ErrNoRows):
	case err != nil:
		return err
	default:
		r.begin(before, value) // what was held into the hour; its own hour is rolled up already
	}
	rows, err := tx.tx.Query(`SELECT at, value FROM samples WHERE series = ? AND at >= ? ORDER BY at`, r.id, from)
	if err != nil {
		return err
	}
	defer func() { _ = rows.Close() }()
	write := func(span int64, b bucket) {
		if b.at >= from {
			tx.kept.roll(r.id, span, b)
		}
	}
	for rows.Next() {
		var at int64
		if err := rows.Scan(&at, &value); err != nil {
			return err
		}
		r.roll(at, value, write)
	}
	return rows.Err()
}

// Point is a span of a history: its readings' mean over time, and the least and the most of them.
type Point struct {
	At          time.Time
	Mean        float64
	Least, Most float64
	// Known is for how long anything was known in it; 0 of a reading.
	Known time.Duration
}

// Gap is a stretch of time of which nothing is known, since the device was silent.
type Gap struct{ From, To time.Time }

// History is what is known of a series between two times.
type History struct {
	// Span is how long each point lasts, or about so long where it is days; 0 where the points are the readings themselves.
	Span   time.Duration
	Points []Point
	// Gaps are between readings; between spans there is no point where nothing is known.
	Gaps []Gap
}

// rawAtMost is how many readings are returned as they are.
const rawAtMost = 4000

// History returns about so many points, at most, of a series between two times, with the reading before the first
// where there is one: the readings themselves where they are few, else their roll-ups. Days are those of a zone. A value
// holds until the next reading, or until its device fell silent, and so to the end.
func (s *Store) History(ctx context.Context, device, name string, from, to time.Time, points int, zone *time.Location) (History, error) {
	var id int64
	err := s.read.QueryRowContext(ctx, `SELECT id FROM series WHERE device = ? AND name = ?`, device, name).Scan(&id)
	if errors.Is(err, sql.ErrNoRows) {
		return History{}, nil
	}
	if err != nil {
		return History{}, err
	}
	var count int
	if err := s.read.QueryRowContext(ctx, `SELECT COUNT(*) FROM (SELECT 1 FROM samples WHERE series = ? AND at >= ? AND at < ? LIMIT ?)`,
		id, from.UnixMilli(), to.UnixMilli(), rawAtMost+1).Scan(&count); err != nil {
		return History{}, err
	}
	// What was rolled up may be all that is left, once the readings were given up.
	var given bool
	if err := s.read.QueryRowContext(ctx, `SELECT EXISTS (SELECT 1 FROM rollups WHERE series = ?1 AND span = ?2 AND at >= ?3 AND at < ?4
		AND at + ?2 * 1000 <= COALESCE((SELECT at FROM samples WHERE series = ?1 AND at >= ?3 ORDER BY at LIMIT 1), ?4))`,
		id, spanTen, from.UnixMilli(), to.UnixMilli()).Scan(&given); err != nil {
		return History{}, err
	}
	if count <= rawAtMost && !given {
		return s.readings(ctx, id, from, to)
	}
	return s.rolled(ctx, id, from, to, points, zone)
}

func (s *Store) readings(ctx context.Context, id int64, from, to time.Time) (History, error) {
	h := History{Points: []Point{}}
	rows, err := s.read.QueryContext(ctx, `SELECT at, value FROM samples WHERE series = ?1
		AND at >= COALESCE((SELECT MAX(at) FROM samples WHERE series = ?1 AND at < ?2), ?2) AND at < ?3 ORDER BY at`, id, from.UnixMilli(), to.UnixMilli())
	if err != nil {
		return h, err
	}
	defer func() { _ = rows.Close() }()
	silent := time.Time{}
	for rows.Next() {
		var at int64
		var value float64
		if err := rows.Scan(&at, &value); err != nil {
			return h, err
		}
		moment := time.UnixMilli(at)
		if !isKnown(value) {
			if silent.IsZero() {
				silent = moment
			}
			continue
		}
		if !silent.IsZero() {
			h.Gaps, silent = append(h.Gaps, Gap{silent, moment}), time.Time{}
		}
		h.Points = append(h.Points, Point{At: moment, Mean: value, Least: value, Most: value})
	}
	if !silent.IsZero() {
		h.Gaps = append(h.Gaps, Gap{silent, to})
	}
	return h, rows.Err()
}

// Size is what the store takes on the disk.
type Size struct {
	Bytes int64
	// Oldest is the oldest reading that is still there as it was; zero where there is none.
	Oldest time.Time
}

// Size returns what the store takes on the disk.
func (s *Store) Size(ctx context.Context) (Size, error) {
	var size Size
	var oldest sql.NullInt64
	if err := s.read.QueryRowContext(ctx, `SELECT (SELECT page_count FROM pragma_page_count()) * (SELECT page_size FROM pragma_page_size())`).Scan(&size.Bytes); err != nil {
		return size, err
	}
	err := s.read.QueryRowContext(ctx, `SELECT MIN((SELECT at FROM samples WHERE series = s.id ORDER BY at LIMIT 1)) FROM series s`).Scan(&oldest)
	if oldest.Valid {
		size.Oldest = time.UnixMilli(oldest.Int64)
	}
	return size, err
}

// Forget gives up readings from before a time; their roll-ups stay, and so does the last of each series, whose value is held
// into what is kept.
func (s *Store) Forget(ctx context.Context, before time.Time) (forgotten int64, err error) {
	rows, err := s.read.QueryContext(ctx, `SELECT id FROM series`)
	if err != nil {
		return 0, err
	}
	var all []int64
	for rows.Next() {
		var id int64
		if err := rows.Scan(&id); err != nil {
			return 0, errors.Join(err, rows.Close())
		}
		all = append(all, id)
	}
	if err := errors.Join(rows.Err(), rows.Close()); err != nil {
		return 0, err
	}
	for _, id := range all {
		until, err := s.forgettable(ctx, id, before.UnixMilli())
		if err != nil {
			return forgotten, fmt.Errorf("giving up old readings: %w", err)
		}
		for {
			var gone int64
			err := s.now(ctx, func(tx *transaction) error {
				result, err := tx.Exec(
					`DELETE FROM samples WHERE series = ?1 AND at IN (
						SELECT at FROM samples
						WHERE series = ?1 AND at < COALESCE((SELECT MAX(at) FROM samples WHERE series = ?1 AND at <= ?2), ?2)
						ORDER BY at LIMIT ?3
					)`,
					id,
					until,
					forgetAtOnce,
				)
				if err != nil {
					return err
				}
				gone, err = result.RowsAffected()
				return err
			})
			if err != nil {
				return forgotten, fmt.Errorf("giving up old readings: %w", err)
			}
			forgotten += gone
			if gone < forgetAtOnce {
				break
			}
		}
	}
	gone, err := s.forgetStays(ctx, before)
	return forgotten + gone, err
}

// forgettable returns before when readings of a series may be given up: those of the hour of the last one are not rolled up
// yet, so they stay.
func (s *Store) forgettable(ctx context.Context, id, before int64) (int64, error) {
	var last sql.NullInt64
	err := s.read.QueryRowContext(ctx, `SELECT MAX(at) FROM samples WHERE series = ?`, id).Scan(&last)
	if last.Valid {
		before = min(before, floor(last.Int64, spanHour))
	}
	return before, err
}
