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

// reroll makes the roll-ups of a series anew from the day on that a moment is in.
func (s *Store) reroll(tx *transaction, r *rolling, from int64) error {
	if from != ever {
		from = floor(from, spanDay)
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
		// The value that was held into the day; its own day is rolled up already.
		r.known, r.last, r.value = true, before, value
		for i, span := range spans {
			r.buckets[i] = bucket{at: floor(before, span)}
		}
	}
	rows, err := tx.tx.Query(`SELECT at, value FROM samples WHERE series = ? AND at >= ? ORDER BY at`, r.id, from)
	if err != nil {
		return err
	}
	defer func() { _ = rows.Close() }()
	write := func(span int64, b bucket) error {
		if b.at >= from {
			tx.kept.roll(r.id, span, b)
		}
		return nil
	}
	for rows.Next() {
		var at int64
		if err := rows.Scan(&at, &value); err != nil {
			return err
		}
		if err := r.roll(at, value, write); err != nil {
			return err
		}
	}
	return rows.Err()
}

// Point is a span of a history: its readings' mean over time, and the least and the most of them.
type Point struct {
	At          time.Time
	Mean        float64
	Least, Most float64
}

// History is what is known of a series between two times.
type History struct {
	// Span is how long each point lasts; 0 where the points are the readings themselves.
	Span   time.Duration
	Points []Point
}

// rawAtMost is how many readings are returned as they are.
const rawAtMost = 4000

// History returns about so many points, at most, of a series between two times, with the reading before the first
// where there is one: the readings themselves where they are few, else their roll-ups.
func (s *Store) History(ctx context.Context, device, name string, from, to time.Time, points int) (History, error) {
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
	var rolled int
	if err := s.read.QueryRowContext(ctx, `SELECT EXISTS (SELECT 1 FROM rollups WHERE series = ?1 AND span = ?2 AND at >= ?3 AND at + ?2 * 1000 <= COALESCE((SELECT MIN(at) FROM samples WHERE series = ?1), ?4) AND at < ?4 LIMIT 1)`,
		id, spanTen, from.UnixMilli(), to.UnixMilli()).Scan(&rolled); err != nil {
		return History{}, err
	}
	if count <= rawAtMost && rolled == 0 {
		return s.readings(ctx, device, name, from, to)
	}
	return s.rolled(ctx, id, from, to, points)
}

func (s *Store) readings(ctx context.Context, device, name string, from, to time.Time) (History, error) {
	samples, err := s.Samples(ctx, device, name, from, to)
	h := History{Points: make([]Point, len(samples))}
	for i, sample := range samples {
		h.Points[i] = Point{sample.At, sample.Value, sample.Value, sample.Value}
	}
	return h, err
}

// rolled returns roll-ups, several put together where there would be more than wanted. What is not rolled up yet
// is so at once.
func (s *Store) rolled(ctx context.Context, id int64, from, to time.Time, points int) (History, error) {
	wanted := to.Sub(from) / time.Duration(max(points, 1))
	span := int64(spanTen)
	for _, longer := range spans[1:] {
		if wanted >= time.Duration(longer)*time.Second {
			span = longer
		}
	}
	together := max(span, int64(wanted/time.Second)/span*span)
	rows, err := s.read.QueryContext(ctx, `SELECT at / ?1 * ?1, MIN(least), MAX(most), SUM(area), SUM(seconds), MAX(at) FROM rollups
		WHERE series = ?2 AND span = ?3 AND at >= ?4 AND at < ?5 GROUP BY at / ?1`, together*1000, id, span, floor(from.UnixMilli(), span), to.UnixMilli())
	if err != nil {
		return History{}, err
	}
	defer func() { _ = rows.Close() }()
	h := History{Span: time.Duration(together) * time.Second, Points: []Point{}}
	open := bucket{at: math.MinInt64}
	end := floor(from.UnixMilli(), span)
	put := func(b *bucket) {
		if open.at != floor(b.at, together) {
			h.add(&open)
			open = bucket{at: floor(b.at, together)}
		}
		open.merge(b)
	}
	for rows.Next() {
		var b bucket
		var last int64
		if err := rows.Scan(&b.at, &b.least, &b.most, &b.area, &b.seconds, &last); err != nil {
			return History{}, err
		}
		put(&b)
		end = last + span*1000
	}
	if err := rows.Err(); err != nil {
		return History{}, err
	}
	err = s.tail(ctx, id, end, min(to.UnixMilli(), s.newest.Load()+1000), put)
	h.add(&open)
	return h, err
}

func (h *History) add(b *bucket) {
	if b.seconds > 0 {
		h.Points = append(h.Points, Point{time.UnixMilli(b.at), b.mean(), b.least, b.most})
	}
}

// tail rolls up what was read after the last span that is written.
func (s *Store) tail(ctx context.Context, id, from, to int64, put func(*bucket)) error {
	rows, err := s.read.QueryContext(ctx, `SELECT at, value FROM samples WHERE series = ? AND at >= ? AND at < ? ORDER BY at`, id, from, to)
	if err != nil {
		return err
	}
	defer func() { _ = rows.Close() }()
	r := rolling{}
	write := func(of int64, b bucket) error {
		if of == spanTen {
			put(&b)
		}
		return nil
	}
	for rows.Next() {
		var at int64
		var value float64
		if err := rows.Scan(&at, &value); err != nil {
			return err
		}
		if err := r.roll(at, value, write); err != nil {
			return err
		}
	}
	if r.known {
		if err := r.hold(to, write); err != nil {
			return err
		}
		if r.buckets[0].seconds > 0 {
			put(&r.buckets[0])
		}
	}
	return rows.Err()
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

// forgetAtOnce bounds how many readings one transaction gives up, so that nobody waits for it for long.
const forgetAtOnce = 5000

// Forget gives up readings from before a time; their roll-ups stay.
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
		for {
			var gone int64
			err := s.now(ctx, func(tx *transaction) error {
				result, err := tx.Exec(`DELETE FROM samples WHERE series = ?1 AND at IN (SELECT at FROM samples WHERE series = ?1 AND at < ?2 ORDER BY at LIMIT ?3)`, id, before.UnixMilli(), forgetAtOnce)
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
	return forgotten, nil
}
