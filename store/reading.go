package store

import (
	"cmp"
	"database/sql"
	"iter"
	"slices"
	"strings"
)

// reading is one to keep.
type reading struct {
	of    seriesKey
	at    int64 // in milliseconds since 1970
	value float64
}

// kept is what a transaction has yet to insert of readings and their roll-ups: many rows with one statement, and
// those of one series together, since they are kept together; both cost a fraction of one after the other.
type kept struct {
	readings []keptReading
	rollups  []keptRollup
	values   []any // of one statement; kept to be used again
}

type keptReading struct {
	series int64
	reading
}

type keptRollup struct {
	series, span int64
	bucket
}

const (
	readingInto = `INSERT OR REPLACE INTO samples (series, at, value) VALUES `
	readingRow  = `(?, ?, ?)`
	rollupInto  = `INSERT OR REPLACE INTO rollups (series, span, at, least, most, area, seconds) VALUES `
	rollupRow   = `(?, ?, ?, ?, ?, ?, ?)`
	// together is how many rows go into one statement, where there are so many.
	together = 50
)

func (k *kept) read(series int64, r reading) {
	k.readings = append(k.readings, keptReading{series, r})
}

func (k *kept) roll(series, span int64, b bucket) {
	k.rollups = append(k.rollups, keptRollup{series, span, b})
}

// keep inserts what is to be inserted, or gives it up.
func (t *transaction) keep() error {
	k := &t.kept
	defer func() { k.readings, k.rollups = k.readings[:0], k.rollups[:0] }()
	// Of two of the same moment the later must stay the later.
	slices.SortStableFunc(k.readings, func(a, b keptReading) int {
		return cmp.Or(cmp.Compare(a.series, b.series), cmp.Compare(a.at, b.at))
	})
	slices.SortStableFunc(k.rollups, func(a, b keptRollup) int {
		return cmp.Or(cmp.Compare(a.series, b.series), cmp.Compare(a.span, b.span), cmp.Compare(a.at, b.at))
	})
	for rows := range chunks(k.readings) {
		k.values = k.values[:0]
		for _, r := range rows {
			k.values = append(k.values, r.series, r.at, r.value)
		}
		if err := t.insert(readingInto, readingRow, len(rows)); err != nil {
			return err
		}
	}
	for rows := range chunks(k.rollups) {
		k.values = k.values[:0]
		for _, r := range rows {
			k.values = append(k.values, r.series, r.span, r.at, r.least, r.most, r.area, r.seconds)
		}
		if err := t.insert(rollupInto, rollupRow, len(rows)); err != nil {
			return err
		}
	}
	return nil
}

// chunks yields as many rows as go together, then the rest one by one, so that there are two statements only.
func chunks[T any](rows []T) iter.Seq[[]T] {
	return func(yield func([]T) bool) {
		for len(rows) > 0 {
			n := 1
			if len(rows) >= together {
				n = together
			}
			if !yield(rows[:n]) {
				return
			}
			rows = rows[n:]
		}
	}
}

func (t *transaction) insert(into, row string, rows int) error {
	_, err := t.Exec(into+strings.TrimSuffix(strings.Repeat(row+",", rows), ","), t.kept.values...)
	return err
}

// take takes a reading and rolls it up.
func (s *Store) take(tx *transaction, r reading) error {
	series, err := s.series(tx, r.of)
	if err != nil {
		return err
	}
	tx.kept.read(series.id, r)
	if series.known && r.at < series.last {
		// The clock was set back: once it has caught up, what was rolled up from there on is made anew.
		if !series.behind || r.at < series.from {
			series.behind, series.from = true, r.at
		}
		return nil
	}
	if series.behind {
		return s.reroll(tx, series, series.from)
	}
	return series.roll(r.at, r.value, func(span int64, b bucket) error {
		tx.kept.roll(series.id, span, b)
		return nil
	})
}

// series returns a series at work; the first time it is made, or taken up where it stood. It runs in the writer.
func (s *Store) series(tx *transaction, key seriesKey) (*rolling, error) {
	if r := s.rolling[key]; r != nil {
		return r, nil
	}
	if _, err := tx.Exec(`INSERT OR IGNORE INTO series (device, name) VALUES (?, ?)`, key.device, key.name); err != nil {
		return nil, err
	}
	r := &rolling{}
	if err := tx.QueryRow(`SELECT id FROM series WHERE device = ? AND name = ?`, key.device, key.name).Scan(&r.id); err != nil {
		return nil, err
	}
	var last sql.NullInt64
	if err := tx.QueryRow(`SELECT MAX(at) FROM samples WHERE series = ?`, r.id).Scan(&last); err != nil {
		return nil, err
	}
	if last.Valid {
		if err := s.takeUp(tx, r); err != nil {
			return nil, err
		}
	}
	s.rolling[key] = r
	return r, nil
}

// takeUp makes the spans again that were open when the hub ended, and so were not written, from their day's readings.
func (s *Store) takeUp(tx *transaction, r *rolling) error {
	var rolled sql.NullInt64
	if err := tx.QueryRow(`SELECT MAX(at) FROM rollups WHERE series = ? AND span = ?`, r.id, spanDay).Scan(&rolled); err != nil {
		return err
	}
	from := ever
	if rolled.Valid {
		from = rolled.Int64 + spanDay*1000
	}
	return s.reroll(tx, r, from)
}
