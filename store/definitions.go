package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"time"
)

// Definition is a document the owner made, at its newest revision.
type Definition struct {
	Kind     string
	ID       string
	Revision int
	Document []byte
	Removed  bool
}

// ErrRevision says that the definition has changed since the revision that was edited.
var ErrRevision = errors.New("it was changed meanwhile, perhaps in another window")

// ErrAbsent says that there is no such definition.
var ErrAbsent = errors.New("there is no such definition")

// Definitions returns all that are not removed, by kind and id.
func (s *Store) Definitions(ctx context.Context) ([]Definition, error) {
	all, err := s.definitions(ctx, `SELECT kind, id, revision, document FROM definitions WHERE removed = 0 ORDER BY kind, id`)
	if err != nil && damage(err) {
		s.log.Error("the definitions are damaged; their newest revisions are used", "error", err)
		return s.definitions(ctx, `SELECT kind, id, revision, document FROM revisions AS r WHERE removed = 0
			AND revision = (SELECT MAX(revision) FROM revisions WHERE kind = r.kind AND id = r.id) ORDER BY kind, id`)
	}
	return all, err
}

// Removed returns all of a kind that are removed, as they last were, by id.
func (s *Store) Removed(ctx context.Context, kind string) ([]Definition, error) {
	return s.definitions(ctx, `SELECT kind, id, revision, document FROM definitions WHERE removed = 1 AND kind = ? ORDER BY id`, kind)
}

func (s *Store) definitions(ctx context.Context, query string, args ...any) ([]Definition, error) {
	rows, err := s.read.QueryContext(ctx, query, args...)
	if err != nil {
		return nil, err
	}
	defer func() { _ = rows.Close() }()
	var all []Definition
	for rows.Next() {
		var d Definition
		if err := rows.Scan(&d.Kind, &d.ID, &d.Revision, &d.Document); err != nil {
			return nil, err
		}
		all = append(all, d)
	}
	return all, rows.Err()
}

// Removal is a definition that was removed, and when.
type Removal struct {
	Kind, ID string
	At       time.Time
	Document []byte
}

// LastRemoved returns the definitions that were removed last and are not back, the latest first.
func (s *Store) LastRemoved(ctx context.Context, most int) ([]Removal, error) {
	rows, err := s.read.QueryContext(ctx, `SELECT d.kind, d.id, r.at, d.document FROM definitions AS d
		JOIN revisions AS r ON r.kind = d.kind AND r.id = d.id AND r.revision = d.revision
		WHERE d.removed = 1 ORDER BY r.at DESC, d.kind, d.id LIMIT ?`, most)
	if err != nil {
		return nil, fmt.Errorf("reading what was removed: %w", err)
	}
	defer func() { _ = rows.Close() }()
	var all []Removal
	for rows.Next() {
		var r Removal
		var at int64
		if err := rows.Scan(&r.Kind, &r.ID, &at, &r.Document); err != nil {
			return nil, fmt.Errorf("reading what was removed: %w", err)
		}
		r.At = time.UnixMilli(at).UTC()
		all = append(all, r)
	}
	return all, rows.Err()
}

// Definition returns one definition, also a removed one; it fails with [ErrAbsent] when there never was one.
func (s *Store) Definition(ctx context.Context, kind, id string) (Definition, error) {
	d := Definition{Kind: kind, ID: id}
	err := s.read.QueryRowContext(ctx, `SELECT revision, document, removed FROM definitions WHERE kind = ? AND id = ?`, kind, id).
		Scan(&d.Revision, &d.Document, &d.Removed)
	if errors.Is(err, sql.ErrNoRows) {
		return d, ErrAbsent
	}
	return d, err
}

// Change is one definition to write.
type Change struct {
	Kind, ID string
	// Revision is the one that was edited; 0 writes whatever is there.
	Revision int
	Document []byte
	Removed  bool
}

// Batch is changes of definitions and secrets that are made all or none.
type Batch struct {
	Changes []Change
	// Secrets are what is kept encrypted, by name; an empty one is forgotten.
	Secrets map[string]string
}

// Write commits changes, all or none, each as a new revision, and returns those revisions.
func (s *Store) Write(ctx context.Context, at time.Time, changes ...Change) ([]int, error) {
	return s.WriteBatch(ctx, at, Batch{Changes: changes})
}

// WriteBatch commits changes and secrets, all or none, and returns the revisions of the changes.
func (s *Store) WriteBatch(ctx context.Context, at time.Time, b Batch) ([]int, error) {
	revisions := make([]int, len(b.Changes))
	sealed, err := s.sealAll(b.Secrets)
	if err != nil {
		return nil, err
	}
	err = s.now(ctx, func(tx *transaction) error {
		for i, c := range b.Changes {
			var err error
			if revisions[i], err = writeChange(tx, at, c); err != nil {
				return err
			}
		}
		return putAll(tx, sealed)
	})
	return revisions, err
}

func writeChange(tx *transaction, at time.Time, c Change) (revision int, err error) {
	var current int
	err = tx.QueryRow(`SELECT revision FROM definitions WHERE kind = ? AND id = ?`, c.Kind, c.ID).Scan(&current)
	if err != nil && !errors.Is(err, sql.ErrNoRows) {
		return 0, err
	}
	if c.Revision != 0 && c.Revision != current {
		return 0, ErrRevision
	}
	if _, err := tx.Exec(`INSERT INTO definitions (kind, id, revision, document, removed) VALUES (?, ?, ?, ?, ?)
		ON CONFLICT (kind, id) DO UPDATE SET revision = excluded.revision, document = excluded.document, removed = excluded.removed`,
		c.Kind, c.ID, current+1, string(c.Document), c.Removed); err != nil {
		return 0, err
	}
	_, err = tx.Exec(`INSERT INTO revisions (kind, id, revision, at, removed, document) VALUES (?, ?, ?, ?, ?, ?)`,
		c.Kind, c.ID, current+1, at.UnixMilli(), c.Removed, string(c.Document))
	return current + 1, err
}

// Firsts returns when each definition of a kind was first written.
func (s *Store) Firsts(ctx context.Context, kind string) (map[string]time.Time, error) {
	rows, err := s.read.QueryContext(ctx, `SELECT id, MIN(at) FROM revisions WHERE kind = ? GROUP BY id`, kind)
	if err != nil {
		return nil, err
	}
	defer func() { _ = rows.Close() }()
	firsts := map[string]time.Time{}
	for rows.Next() {
		var id string
		var at int64
		if err := rows.Scan(&id, &at); err != nil {
			return nil, err
		}
		firsts[id] = time.UnixMilli(at)
	}
	return firsts, rows.Err()
}

// Titles returns the newest title of every definition there ever was, removed ones included, by id; the id itself where
// there is none, or the document is damaged.
func (s *Store) Titles(ctx context.Context) (map[string]string, error) {
	rows, err := s.read.QueryContext(ctx, `SELECT id, COALESCE(CASE WHEN json_valid(document) THEN json_extract(document, '$.title') END, id) FROM definitions`)
	if err != nil {
		return nil, err
	}
	defer func() { _ = rows.Close() }()
	titles := map[string]string{}
	for rows.Next() {
		var id, title string
		if err := rows.Scan(&id, &title); err != nil {
			return nil, err
		}
		titles[id] = title
	}
	return titles, rows.Err()
}
