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
	order  int // in which it came, of those that are to be inserted
	reading
}

type keptRollup struct {
	series, span int64
	bucket
}

const (
	readingInto = `INSERT OR REPLACE INTO samples (series, at, value) VALUES `
	readingRow  = `(?, ?, ?)`
	rollupInto  = `INSERT OR REPLACE INTO rollups (series, span, at, least, most, area, seconds, held) VALUES `
	rollupRow   = `(?, ?, ?, ?, ?, ?, ?, ?)`
)

// together is how many rows go into one statement: as many as there are of the largest number that is not more.
var together = [...]int{50, 10, 1}

func (k *kept) read(series int64, r reading) {
	k.readings = append(k.readings, keptReading{series, len(k.readings), r})
}

func (k *kept) roll(series, span int64, b bucket) {
	k.rollups = append(k.rollups, keptRollup{series, span, b})
}

// keep inserts what is to be inserted, or gives it up.
func (t *transaction) keep() error {
	k := &t.kept
	defer func() { k.readings, k.rollups = k.readings[:0], k.rollups[:0] }()
	// Of two of the same moment the later must stay the later.
	slices.SortFunc(k.readings, func(a, b keptReading) int {
		return cmp.Or(cmp.Compare(a.series, b.series), cmp.Compare(a.at, b.at), cmp.Compare(a.order, b.order))
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
			k.values = append(k.values, r.series, r.span, r.at, r.least, r.most, r.area, r.seconds, sql.NullFloat64{Float64: r.held, Valid: isKnown(r.held)})
		}
		if err := t.insert(rollupInto, rollupRow, len(rows)); err != nil {
			return err
		}
	}
	return nil
}

// chunks yields as many rows as go together, then the rest by fewer, so that there are few statements.
func chunks[T any](rows []T) iter.Seq[[]T] {
	return func(yield func([]T) bool) {
		for _, n := range together {
			for len(rows) >= n {
				if !yield(rows[:n]) {
					return
				}
				rows = rows[n:]
			}
		}
	}
}

func (t *transaction) insert(into, row string, rows int) error {
	_, err := t.Exec(into+strings.TrimSuffix(strings.Repeat(row+",", rows), ","), t.kept.values...)
	return err
}

// rollUp takes a reading and rolls it up.
func (s *Store) rollUp(tx *transaction, r reading) error {
	series, err := s.series(tx, r.of)
	if err != nil {
		return err
	}
	if series.known && r.at < series.last {
		return s.late(tx, series, r)
	}
	tx.kept.read(series.id, r)
	if series.behind {
		return s.reroll(tx, series, series.from)
	}
	series.roll(r.at, r.value, func(span int64, b bucket) { tx.kept.roll(series.id, span, b) })
	return nil
}

// late takes a reading that is older than the last: the clock was set back. What was rolled up from there on goes, and is made
// anew once the clock has caught up, or the hub starts again. A reading of a time whose readings were given up is left out.
func (s *Store) late(tx *transaction, series *rolling, r reading) error {
	if series.behind && r.at >= series.from {
		tx.kept.read(series.id, r)
		return nil
	}
	if err := tx.keep(); err != nil {
		return err // what follows reads what is kept
	}
	var givenUp bool
	if err := tx.QueryRow(`
		SELECT EXISTS (
			SELECT 1 FROM rollups
			WHERE series = ?1 AND span = ?2 AND at + ?2 * 1000 <= (SELECT MIN(at) FROM samples WHERE series = ?1)
		) AND ?3 < (SELECT MIN(at) FROM samples WHERE series = ?1)`,
		series.id, spanTen, r.at).Scan(&givenUp); err != nil ||
		givenUp {
		return err
	}
	tx.kept.read(series.id, r)
	series.behind, series.from = true, r.at
	for _, span := range spans {
		if _, err := tx.Exec(`DELETE FROM rollups WHERE series = ? AND span = ? AND at >= ?`, series.id, span, floor(r.at, spanHour)); err != nil {
			return err
		}
	}
	return nil
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
		if err := s.resume(tx, r, last.Int64); err != nil {
			return nil, err
		}
	}
	s.rolling[key] = r
	return r, nil
}

// resume makes the spans again that were open when the hub ended, and so were not written: those after the last that was,
// and of the last reading at least.
func (s *Store) resume(tx *transaction, r *rolling, last int64) error {
	from := floor(last, spanHour)
	for _, span := range spans {
		var rolled sql.NullInt64
		if err := tx.QueryRow(`SELECT MAX(at) FROM rollups WHERE series = ? AND span = ?`, r.id, span).Scan(&rolled); err != nil {
			return err
		}
		if !rolled.Valid {
			return s.reroll(tx, r, ever)
		}
		from = min(from, rolled.Int64+span*1000)
	}
	return s.reroll(tx, r, from)
}
