package store

import (
	"context"
	"database/sql"
	"errors"
	"time"
)

// Revision is a definition as it once was.
type Revision struct {
	Definition
	At time.Time
}

// Revisions returns the newest revisions of a definition, newest first.
func (s *Store) Revisions(ctx context.Context, kind, id string, limit int) ([]Revision, error) {
	rows, err := s.read.QueryContext(
		ctx,
		`SELECT revision, at, removed, document FROM revisions WHERE kind = ? AND id = ? ORDER BY revision DESC LIMIT ?`,
		kind,
		id,
		limit,
	)
	if err != nil {
		return nil, err
	}
	defer func() { _ = rows.Close() }()
	list := []Revision{}
	for rows.Next() {
		r := Revision{Definition: Definition{Kind: kind, ID: id}}
		var at int64
		if err := rows.Scan(&r.Revision, &at, &r.Removed, &r.Document); err != nil {
			return nil, err
		}
		r.At = time.UnixMilli(at)
		list = append(list, r)
	}
	return list, rows.Err()
}

// RevisionAt returns a definition as it was at a time; it fails with [ErrAbsent] when it was not there yet.
func (s *Store) RevisionAt(ctx context.Context, kind, id string, at time.Time) (Revision, error) {
	r := Revision{Definition: Definition{Kind: kind, ID: id}}
	var since int64
	err := s.read.QueryRowContext(ctx, `
		SELECT revision, at, removed, document FROM revisions
		WHERE kind = ? AND id = ? AND at <= ?
		ORDER BY revision DESC LIMIT 1`, kind, id, at.UnixMilli()).
		Scan(&r.Revision, &since, &r.Removed, &r.Document)
	if errors.Is(err, sql.ErrNoRows) {
		return r, ErrAbsent
	}
	r.At = time.UnixMilli(since)
	return r, err
}

// RevisionOf returns one revision of a definition; it fails with [ErrAbsent] when there is none.
func (s *Store) RevisionOf(ctx context.Context, kind, id string, revision int) (Revision, error) {
	r := Revision{Definition: Definition{Kind: kind, ID: id, Revision: revision}}
	var at int64
	err := s.read.QueryRowContext(ctx, `SELECT at, removed, document FROM revisions WHERE kind = ? AND id = ? AND revision = ?`, kind, id, revision).
		Scan(&at, &r.Removed, &r.Document)
	if errors.Is(err, sql.ErrNoRows) {
		return r, ErrAbsent
	}
	r.At = time.UnixMilli(at)
	return r, err
}
