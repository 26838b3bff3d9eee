package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"math"
	"strings"
	"time"

	"amvek/core/cause"
)

// State is what something remembers from one start to the next.
type State struct {
	Kind, Owner, Name string
	JSON              []byte
}

// PutState keeps a state, soon.
func (s *Store) PutState(st State) {
	s.later(func(tx *transaction) error {
		_, err := tx.Exec(`INSERT INTO states (kind, owner, name, state) VALUES (?, ?, ?, ?)
			ON CONFLICT (kind, owner, name) DO UPDATE SET state = excluded.state`, st.Kind, st.Owner, st.Name, string(st.JSON))
		return err
	})
}

// RemoveState forgets a state.
func (s *Store) RemoveState(kind, owner string) {
	s.later(func(tx *transaction) error {
		_, err := tx.Exec(`DELETE FROM states WHERE kind = ? AND owner = ?`, kind, owner)
		return err
	})
}

// States returns all kept states.
func (s *Store) States(ctx context.Context) ([]State, error) {
	rows, err := s.read.QueryContext(ctx, `SELECT kind, owner, name, state FROM states`)
	if err != nil {
		return nil, err
	}
	defer func() { _ = rows.Close() }()
	var all []State
	for rows.Next() {
		var st State
		if err := rows.Scan(&st.Kind, &st.Owner, &st.Name, &st.JSON); err != nil {
			return nil, err
		}
		all = append(all, st)
	}
	return all, rows.Err()
}

// AddEntry writes a journal entry, soon.
func (s *Store) AddEntry(e cause.Entry) {
	s.later(func(tx *transaction) error {
		data, err := json.Marshal(e)
		if err != nil {
			return err
		}
		_, err = tx.Exec(`INSERT OR REPLACE INTO journal (id, parent, at, kind, device, rule, entry) VALUES (?, ?, ?, ?, ?, ?, ?)`,
			e.ID, nullable(e.Parent), e.At.UnixMilli(), string(e.Kind), nullable(e.Device), nullable(e.Rule), string(data))
		return err
	})
}

func nullable[T comparable](v T) any {
	var zero T
	if v == zero {
		return nil
	}
	return v
}

// LastEntry returns the id and the time of the newest journal entry, 0 when there is none.
func (s *Store) LastEntry(ctx context.Context) (id cause.ID, at time.Time, err error) {
	var milliseconds int64
	err = s.read.QueryRowContext(ctx, `SELECT id, at FROM journal ORDER BY id DESC LIMIT 1`).Scan(&id, &milliseconds)
	switch {
	case errors.Is(err, sql.ErrNoRows):
		return 0, time.Time{}, nil
	case err != nil && damage(err):
		// Above all that were there: a home does not write a thousand entries a millisecond for long.
		return cause.ID(time.Now().UnixMilli() * 1000), time.Time{}, nil
	}
	return id, time.UnixMilli(milliseconds), err
}

// JournalQuery chooses journal entries; zero fields choose all.
type JournalQuery struct {
	Device string
	Name   string // of a property, event or action of the device
	Rule   string
	Kinds  []cause.Kind
	From   time.Time
	To     time.Time
	// Before chooses entries with lower ids.
	Before cause.ID
	Limit  int
}

// Journal returns entries, newest first.
func (s *Store) Journal(ctx context.Context, q JournalQuery) ([]cause.Entry, error) {
	where, args := []string{"1 = 1"}, []any{}
	add := func(clause string, values ...any) {
		where = append(where, clause)
		args = append(args, values...)
	}
	if q.Device != "" {
		add("device = ?", q.Device)
	}
	if q.Name != "" {
		add("json_extract(entry, '$.name') = ?", q.Name)
	}
	if q.Rule != "" {
		add("rule = ?", q.Rule)
	}
	if q.Before != 0 {
		add("id < ?", number(q.Before))
	}
	if !q.From.IsZero() {
		add("at >= ?", q.From.UnixMilli())
	}
	if !q.To.IsZero() {
		add("at < ?", q.To.UnixMilli())
	}
	if len(q.Kinds) > 0 {
		values := make([]any, len(q.Kinds))
		for i, k := range q.Kinds {
			values[i] = string(k)
		}
		add("kind IN (?"+strings.Repeat(", ?", len(values)-1)+")", values...)
	}
	return s.entries(ctx, "SELECT entry FROM journal WHERE "+strings.Join(where, " AND ")+" ORDER BY id DESC LIMIT ?", append(args, q.Limit)...)
}

// Chain returns an entry's whole chain: from where it began down to it, and all that followed
// from it, in the order of time. It is empty when there is no such entry.
func (s *Store) Chain(ctx context.Context, id cause.ID) ([]cause.Entry, error) {
	return s.entries(ctx, `WITH RECURSIVE
		up(id, parent) AS (SELECT id, parent FROM journal WHERE id = ?1 UNION ALL SELECT j.id, j.parent FROM journal j JOIN up ON j.id = up.parent),
		down(id) AS (SELECT id FROM journal WHERE id = ?1 UNION SELECT j.id FROM journal j JOIN down ON j.parent = down.id)
		SELECT entry FROM journal WHERE id IN (SELECT id FROM up UNION SELECT id FROM down) ORDER BY id LIMIT 500`, number(id))
}

// number is an entry's id as the database keeps it; no entry ever has one that is larger.
func number(id cause.ID) int64 { return int64(min(id, math.MaxInt64)) }

func (s *Store) entries(ctx context.Context, query string, args ...any) ([]cause.Entry, error) {
	rows, err := s.read.QueryContext(ctx, query, args...)
	if err != nil {
		return nil, err
	}
	defer func() { _ = rows.Close() }()
	list := []cause.Entry{}
	for rows.Next() {
		var data []byte
		var e cause.Entry
		if err := rows.Scan(&data); err != nil {
			return nil, err
		}
		if err := json.Unmarshal(data, &e); err != nil {
			return nil, err
		}
		list = append(list, e)
	}
	return list, rows.Err()
}

// Sample is one reading in the history of a property.
type Sample struct {
	At    time.Time
	Value float64
}

// Samples returns the readings from one time to another, in order, with the last one before
// it first, so that a line can be drawn from the edge.
func (s *Store) Samples(ctx context.Context, device, name string, from, to time.Time) ([]Sample, error) {
	rows, err := s.read.QueryContext(ctx, `WITH wanted AS (SELECT id FROM series WHERE device = ?1 AND name = ?2)
		SELECT at, value FROM samples WHERE series = (SELECT id FROM wanted)
			AND at >= COALESCE((SELECT MAX(at) FROM samples WHERE series = (SELECT id FROM wanted) AND at < ?3), ?3) AND at < ?4 AND value < ?5 ORDER BY at`,
		device, name, from.UnixMilli(), to.UnixMilli(), unknown)
	if err != nil {
		return nil, err
	}
	defer func() { _ = rows.Close() }()
	list := []Sample{}
	for rows.Next() {
		var at int64
		var sample Sample
		if err := rows.Scan(&at, &sample.Value); err != nil {
			return nil, err
		}
		sample.At = time.UnixMilli(at)
		list = append(list, sample)
	}
	return list, rows.Err()
}

// PutSetting keeps a small fact about this installation.
func (s *Store) PutSetting(ctx context.Context, name, value string) error {
	return s.PutSettings(ctx, map[string]string{name: value})
}

// PutSettings keeps several facts, all or none.
func (s *Store) PutSettings(ctx context.Context, settings map[string]string) error {
	return s.now(ctx, func(tx *transaction) error {
		for name, value := range settings {
			if _, err := tx.Exec(`INSERT INTO settings (name, value) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET value = excluded.value`, name, value); err != nil {
				return err
			}
		}
		return nil
	})
}

// Setting returns a kept fact; it is empty when there is none.
func (s *Store) Setting(ctx context.Context, name string) (string, error) {
	var value string
	err := s.read.QueryRowContext(ctx, `SELECT value FROM settings WHERE name = ?`, name).Scan(&value)
	if errors.Is(err, sql.ErrNoRows) {
		return "", nil
	}
	return value, err
}
