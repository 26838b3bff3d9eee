package store

import (
	"context"
	"encoding/json"
	"strings"
	"time"

	"amvek/core/cause"
	"amvek/core/thing"
)

// lookedBack is what the index journal_lookback has; a query must say the same to use it.
const lookedBack = "kind IN ('began', 'ran', 'notStarted', 'stopped', 'cutShort', 'failed', 'fellSilent', 'written', 'byDevice', 'kept')"

// RuleCount is how often there was an entry of a kind for a rule.
type RuleCount struct {
	Rule  string
	Kind  cause.Kind
	Count int
	// Last is the newest of them.
	Last time.Time
}

// RuleCounts counts what the journal says of each rule since a time: began, ran, notStarted, stopped and cutShort.
func (s *Store) RuleCounts(ctx context.Context, from time.Time) ([]RuleCount, error) {
	rows, err := s.read.QueryContext(ctx, `SELECT rule, kind, COUNT(*), MAX(at) FROM journal WHERE `+lookedBack+`
		AND kind IN ('began', 'ran', 'notStarted', 'stopped', 'cutShort') AND at >= ? AND rule IS NOT NULL GROUP BY rule, kind ORDER BY rule, kind`, from.UnixMilli())
	if err != nil {
		return nil, err
	}
	defer func() { _ = rows.Close() }()
	counts := []RuleCount{}
	for rows.Next() {
		var c RuleCount
		var last int64
		if err := rows.Scan(&c.Rule, &c.Kind, &c.Count, &last); err != nil {
			return nil, err
		}
		c.Last = time.UnixMilli(last)
		counts = append(counts, c)
	}
	return counts, rows.Err()
}

// LookBack returns entries of some of the kinds of [lookedBack] since a time, newest first.
func (s *Store) LookBack(ctx context.Context, from time.Time, limit int, kinds ...cause.Kind) ([]cause.Entry, error) {
	args := []any{from.UnixMilli()}
	for _, k := range kinds {
		args = append(args, string(k))
	}
	return s.entries(ctx, `SELECT entry FROM journal WHERE `+lookedBack+` AND at >= ?
		AND kind IN (?`+strings.Repeat(", ?", len(kinds)-1)+`) ORDER BY at DESC LIMIT ?`, append(args, limit)...)
}

// Act is a command to a property that a rule gave as it acted.
type Act struct {
	Rule  string
	At    time.Time
	Value thing.Value
}

// Acts returns the commands to a property since a time that rules gave as they began or ran, or went on after a wait, in the
// order of time; those by which a rule or a hold of it let go are none.
func (s *Store) Acts(ctx context.Context, ref thing.Ref, from time.Time, limit int) ([]Act, error) {
	rows, err := s.read.QueryContext(ctx, `WITH RECURSIVE
		commands(id, parent, at, entry) AS (SELECT id, parent, at, entry FROM journal
			WHERE device = ?1 AND kind = 'commanded' AND at >= ?2 AND json_extract(entry, '$.name') = ?3 ORDER BY id DESC LIMIT ?4),
		up(command, parent, kind, rule) AS (SELECT id, parent, NULL, NULL FROM commands
			UNION ALL SELECT up.command, j.parent, j.kind, j.rule FROM up JOIN journal j ON j.id = up.parent
				WHERE up.rule IS NULL AND up.kind IS NOT 'holdExpired')
		SELECT up.rule, commands.at, commands.entry FROM up JOIN commands ON commands.id = up.command
			WHERE up.rule IS NOT NULL AND up.kind IN ('began', 'ran', 'waited') ORDER BY commands.id`, ref.Device, from.UnixMilli(), ref.Name, limit)
	if err != nil {
		return nil, err
	}
	defer func() { _ = rows.Close() }()
	acts := []Act{}
	for rows.Next() {
		var a Act
		var at int64
		var data []byte
		if err := rows.Scan(&a.Rule, &at, &data); err != nil {
			return nil, err
		}
		var e cause.Entry
		if err := json.Unmarshal(data, &e); err != nil {
			return nil, err
		}
		a.At, a.Value = time.UnixMilli(at), e.Value
		acts = append(acts, a)
	}
	return acts, rows.Err()
}
