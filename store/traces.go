package store

import (
	"context"
	"math"
	"time"

	"amvek/core/cause"
)

// tracesAtMost is how many traces of a rule are kept, the newest.
const tracesAtMost = 300

// Trace is what one run of a rule did, as JSON.
type Trace struct {
	Rule string
	ID   cause.ID
	At   time.Time
	JSON []byte
}

// AddTrace keeps a trace, soon; the oldest of the rule go.
func (s *Store) AddTrace(t Trace) {
	s.later(func(tx *transaction) error {
		if _, err := tx.Exec(`INSERT OR REPLACE INTO traces (rule, id, at, trace) VALUES (?, ?, ?, ?)`, t.Rule, t.ID, t.At.UnixMilli(), string(t.JSON)); err != nil {
			return err
		}
		_, err := tx.Exec(
			`DELETE FROM traces WHERE rule = ?1 AND id <= (SELECT id FROM traces WHERE rule = ?1 ORDER BY id DESC LIMIT 1 OFFSET ?2)`,
			t.Rule,
			tracesAtMost,
		)
		return err
	})
}

// Traces returns the newest traces of a rule before an entry, or at all, newest first.
func (s *Store) Traces(ctx context.Context, rule string, before cause.ID, limit int) ([]Trace, error) {
	if before == 0 {
		before = math.MaxInt64
	}
	rows, err := s.read.QueryContext(ctx, `SELECT id, at, trace FROM traces WHERE rule = ? AND id < ? ORDER BY id DESC LIMIT ?`, rule, number(before), limit)
	if err != nil {
		return nil, err
	}
	defer func() { _ = rows.Close() }()
	list := []Trace{}
	for rows.Next() {
		t := Trace{Rule: rule}
		var at int64
		if err := rows.Scan(&t.ID, &at, &t.JSON); err != nil {
			return nil, err
		}
		t.At = time.UnixMilli(at)
		list = append(list, t)
	}
	return list, rows.Err()
}
