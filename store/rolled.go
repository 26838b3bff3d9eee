package store

import (
	"context"
	"database/sql"
	"errors"
	"math"
	"time"
)

// grouping says into which stretches spans are put together: of so many seconds, or of so many days of a zone.
type grouping struct {
	seconds int64
	days    int64
	zone    *time.Location
}

// of returns the beginning and the end of the stretch that a moment is in, in milliseconds since 1970.
func (g grouping) of(at int64) (begin, end int64) {
	if g.days == 0 {
		begin = floor(at, g.seconds)
		return begin, begin + g.seconds*1000
	}
	local := time.UnixMilli(at).In(g.zone)
	number := time.Date(local.Year(), local.Month(), local.Day(), 0, 0, 0, 0, time.UTC).Unix() / day // of the day since 1970
	first := number - (number%g.days+g.days)%g.days
	midnight := func(number int64) int64 {
		date := time.Unix(number*day, 0).UTC()
		return time.Date(date.Year(), date.Month(), date.Day(), 0, 0, 0, 0, g.zone).UnixMilli()
	}
	return midnight(first), midnight(first + g.days)
}

// line puts what is known of a series together, in order of time.
type line struct {
	of      grouping
	history *History
	open    bucket
	end     int64 // where the open stretch ends
	any     bool
}

// at makes the stretch that a moment is in the open one.
func (l *line) at(moment int64) {
	if l.any && moment < l.end {
		return
	}
	l.close()
	l.any = true
	l.open.at, l.end = l.of.of(moment)
}

func (l *line) close() {
	if l.any && l.open.some {
		l.history.Points = append(
			l.history.Points,
			Point{
				At:    time.UnixMilli(l.open.at),
				Mean:  l.open.mean(),
				Least: l.open.least,
				Most:  l.open.most,
				Known: time.Duration(l.open.seconds * float64(time.Second)),
			},
		)
	}
	l.open = bucket{}
}

// hold takes a value that was held from a moment to another.
func (l *line) hold(from, to int64, value float64) {
	for isKnown(value) && from < to {
		l.at(from)
		until := min(to, l.end)
		l.open.add(value, float64(until-from)/1000)
		from = until
	}
}

// rolled returns roll-ups, put together where there would be more than wanted. What is not rolled up yet is so at once.
func (s *Store) rolled(ctx context.Context, id int64, from, to time.Time, points int, zone *time.Location) (History, error) {
	wanted := int64(to.Sub(from) / time.Second / time.Duration(max(points, 1)))
	span := int64(spanTen)
	if _, offset := from.In(zone).Zone(); wanted >= spanHour && offset%spanHour == 0 {
		span = spanHour
	}
	of := grouping{seconds: max(span, wanted/span*span), zone: zone}
	if wanted >= day {
		of.days, of.seconds = wanted/day, wanted/day*day
	}
	h := History{Span: time.Duration(of.seconds) * time.Second, Points: []Point{}}
	l := line{of: of, history: &h}
	begin, end := floor(from.UnixMilli(), span), to.UnixMilli()
	held, err := s.heldAt(ctx, id, span, begin)
	if err != nil {
		return h, err
	}
	at := begin // up to where all is put together
	rows, err := s.read.QueryContext(
		ctx,
		`SELECT at, least, most, area, seconds, held FROM rollups WHERE series = ? AND span = ? AND at >= ? AND at < ? ORDER BY at`,
		id,
		span,
		begin,
		end,
	)
	if err != nil {
		return h, err
	}
	defer func() { _ = rows.Close() }()
	for rows.Next() {
		b := bucket{some: true}
		var holds sql.NullFloat64
		if err := rows.Scan(&b.at, &b.least, &b.most, &b.area, &b.seconds, &holds); err != nil {
			return h, err
		}
		l.hold(at, b.at, held)
		l.at(b.at)
		b.some = b.seconds > 0
		l.open.merge(&b)
		at, held = b.at+span*1000, heldIn(holds)
	}
	if err := errors.Join(rows.Err(), rows.Close()); err != nil {
		return h, err
	}
	err = s.tail(ctx, id, span, at, end, held, &l)
	l.close()
	return h, err
}

func heldIn(holds sql.NullFloat64) float64 {
	if holds.Valid {
		return holds.Float64
	}
	return unknown
}

// heldAt returns the value that a span begins with: what the last one before it ended with.
func (s *Store) heldAt(ctx context.Context, id, span, begin int64) (float64, error) {
	var holds sql.NullFloat64
	err := s.read.QueryRowContext(ctx, `SELECT held FROM rollups WHERE series = ? AND span = ? AND at < ? ORDER BY at DESC LIMIT 1`, id, span, begin).
		Scan(&holds)
	if errors.Is(err, sql.ErrNoRows) {
		return unknown, nil
	}
	return heldIn(holds), err
}

// tail puts together what was read after the last span that is written, which is open as long as nothing follows: from at on,
// before which all is put together, with the value held into it.
func (s *Store) tail(ctx context.Context, id, span, at, end int64, held float64, l *line) error {
	var last sql.NullInt64
	if err := s.read.QueryRowContext(ctx, `SELECT MAX(at) FROM rollups WHERE series = ? AND span = ?`, id, span).Scan(&last); err != nil {
		return err
	}
	open := int64(math.MinInt64)
	if last.Valid {
		open = last.Int64 + span*1000
	}
	rows, err := s.read.QueryContext(ctx, `SELECT at, value FROM samples WHERE series = ? AND at >= ? AND at < ? ORDER BY at`, id, open, end)
	if err != nil {
		return err
	}
	defer func() { _ = rows.Close() }()
	for rows.Next() {
		var next int64
		var value float64
		if err := rows.Scan(&next, &value); err != nil {
			return err
		}
		if next > at {
			l.hold(at, next, held)
			at = next
		}
		held = value
		if next >= at && isKnown(value) {
			l.at(next)
			l.open.touch(value)
		}
	}
	l.hold(at, end, held)
	return rows.Err()
}
