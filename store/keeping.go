package store

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"maps"
	"time"
)

// forgetAtOnce bounds how many rows one transaction gives up, so that nobody waits long for the writer.
const forgetAtOnce = 5000

// ForgetJournal gives up the entries of the journal from before a time, and returns how many. The newest entry stays, since
// numbers go on from it.
func (s *Store) ForgetJournal(ctx context.Context, before time.Time) (forgotten int64, err error) {
	return s.forget(
		ctx,
		"the journal",
		`DELETE FROM journal WHERE id IN (SELECT id FROM journal WHERE at < ?1 AND id < (SELECT MAX(id) FROM journal) ORDER BY at LIMIT ?2)`,
		before.UnixMilli(),
	)
}

// ForgetRevisions gives up earlier versions of definitions, but so many of the newest of each, and the first, which says
// since when it is there. It returns how many.
func (s *Store) ForgetRevisions(ctx context.Context, most int) (forgotten int64, err error) {
	return s.forget(ctx, "earlier versions", `DELETE FROM revisions WHERE (kind, id, revision) IN (
		SELECT r.kind, r.id, r.revision FROM revisions r JOIN definitions d ON d.kind = r.kind AND d.id = r.id
		WHERE r.revision > 1 AND r.revision <= d.revision - ?1 LIMIT ?2)`, most)
}

// ForgetUnused gives up the secrets whose names begin with a prefix and go on with what stands in no definition, in no
// version of one and in no draft. It returns how many.
func (s *Store) ForgetUnused(ctx context.Context, prefix string) (forgotten int64, err error) {
	return s.forget(ctx, "what is hidden", `DELETE FROM secrets WHERE name IN (SELECT s.name FROM secrets s
		WHERE substr(s.name, 1, length(?1)) = ?1
			AND NOT EXISTS (SELECT 1 FROM revisions WHERE instr(document, substr(s.name, length(?1) + 1)))
			AND NOT EXISTS (SELECT 1 FROM drafts WHERE instr(document, substr(s.name, length(?1) + 1))) LIMIT ?2)`, prefix)
}

// forget deletes some rows at a time until none are left to delete.
func (s *Store) forget(ctx context.Context, what, query string, bound any) (forgotten int64, err error) {
	for {
		var gone int64
		err := s.now(ctx, func(tx *transaction) error {
			result, err := tx.Exec(query, bound, forgetAtOnce)
			if err == nil {
				gone, err = result.RowsAffected()
			}
			return err
		})
		if err != nil {
			return forgotten, fmt.Errorf("giving up %s: %w", what, err)
		}
		forgotten += gone
		if gone < forgetAtOnce {
			return forgotten, nil
		}
	}
}

// Rewrite changes the documents of some kinds where they are, in all their versions and drafts, without a new version: for
// what must no longer stand in any of them. change returns the new document, or the same; what it returns beside it is kept
// encrypted, by name. All is changed or nothing.
func (s *Store) Rewrite(ctx context.Context, kinds []string, change func(kind string, document []byte) ([]byte, map[string]string)) error {
	for _, kind := range kinds {
		err := s.now(ctx, func(tx *transaction) error {
			for _, table := range []struct{ name, key string }{{"definitions", "id"}, {"revisions", "id || ' ' || revision"}, {"drafts", "id"}} {
				if err := s.rewrite(tx, kind, table.name, table.key, change); err != nil {
					return err
				}
			}
			return nil
		})
		if err != nil {
			return fmt.Errorf("writing %s anew: %w", kind, err)
		}
	}
	return nil
}

func (s *Store) rewrite(tx *transaction, kind, table, key string, change func(kind string, document []byte) ([]byte, map[string]string)) error {
	rows, err := tx.tx.Query(`SELECT `+key+`, document FROM `+table+` WHERE kind = ?`, kind)
	if err != nil {
		return err
	}
	changed := map[string][]byte{}
	secrets := map[string]string{}
	for rows.Next() {
		var at string
		var document []byte
		if err := rows.Scan(&at, &document); err != nil {
			return errors.Join(err, rows.Close())
		}
		if now, hidden := change(kind, document); !bytes.Equal(now, document) {
			changed[at] = now
			maps.Copy(secrets, hidden)
		}
	}
	if err := errors.Join(rows.Err(), rows.Close()); err != nil {
		return err
	}
	for at, document := range changed {
		if _, err := tx.Exec(`UPDATE `+table+` SET document = ? WHERE kind = ? AND `+key+` = ?`, string(document), kind, at); err != nil {
			return err
		}
	}
	sealed, err := s.sealAll(secrets)
	if err != nil {
		return err
	}
	return putAll(tx, sealed)
}
