package store

import (
	"context"
	"database/sql"
	"errors"
	"time"
)

// Draft is a definition as somebody works on it, beside what is live.
type Draft struct {
	Kind, ID string
	// Version grows with each change. Based is the revision of the definition that was edited.
	Version  int
	Based    int
	At       time.Time
	Document []byte
}

// Drafts returns all drafts of a kind, by id.
func (s *Store) Drafts(ctx context.Context, kind string) ([]Draft, error) {
	rows, err := s.read.QueryContext(ctx, `SELECT id, version, based, at, document FROM drafts WHERE kind = ? AND document <> '' ORDER BY id`, kind)
	if err != nil {
		return nil, err
	}
	defer func() { _ = rows.Close() }()
	var all []Draft
	for rows.Next() {
		d := Draft{Kind: kind}
		var at int64
		if err := rows.Scan(&d.ID, &d.Version, &d.Based, &at, &d.Document); err != nil {
			return nil, err
		}
		d.At = time.UnixMilli(at)
		all = append(all, d)
	}
	return all, rows.Err()
}

// WriteDraft commits a draft that was made after the version it carries, and returns the new version; without a
// document the draft is gone. It fails with [ErrRevision] where another version is there.
// What the draft hides in its addresses is kept with it, by name.
func (s *Store) WriteDraft(ctx context.Context, d Draft, secrets map[string]string) (version int, err error) {
	sealed, err := s.sealAll(secrets)
	if err != nil {
		return 0, err
	}
	err = s.now(ctx, func(tx *transaction) error {
		var current int
		var there bool
		err := tx.QueryRow(`SELECT version, document <> '' FROM drafts WHERE kind = ? AND id = ?`, d.Kind, d.ID).Scan(&current, &there)
		if err != nil && !errors.Is(err, sql.ErrNoRows) {
			return err
		}
		// One that begins anew follows on nothing, whatever the version of the last that is gone.
		if d.Version != current && (there || d.Version != 0) {
			return ErrRevision
		}
		version = current + 1
		if err := putAll(tx, sealed); err != nil {
			return err
		}
		_, err = tx.Exec(`INSERT INTO drafts (kind, id, version, based, at, document) VALUES (?, ?, ?, ?, ?, ?)
			ON CONFLICT (kind, id) DO UPDATE SET version = excluded.version, based = excluded.based, at = excluded.at, document = excluded.document`,
			d.Kind, d.ID, version, d.Based, d.At.UnixMilli(), string(d.Document))
		return err
	})
	return version, err
}
