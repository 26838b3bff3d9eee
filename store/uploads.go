package store

import (
	"context"
	"database/sql"
	"errors"
	"time"
)

// Upload is a picture that was uploaded for dashboards.
type Upload struct {
	ID            string
	JPEG          []byte
	Width, Height int
	// Darkest and Lightest are relative luminances, from 0 to 1.
	Darkest, Lightest float64
	Made              time.Time
}

// PutUpload keeps a picture, once.
func (s *Store) PutUpload(ctx context.Context, u *Upload) error {
	return s.now(ctx, func(tx *transaction) error {
		_, err := tx.Exec(`INSERT OR IGNORE INTO uploads (id, jpeg, width, height, darkest, lightest, made) VALUES (?, ?, ?, ?, ?, ?, ?)`,
			u.ID, u.JPEG, u.Width, u.Height, u.Darkest, u.Lightest, u.Made.UnixMilli())
		return err
	})
}

// Upload returns a picture that was uploaded, nil where there is none of this id.
func (s *Store) Upload(ctx context.Context, id string) (*Upload, error) {
	u := Upload{ID: id}
	var made int64
	err := s.read.QueryRowContext(ctx, `SELECT jpeg, width, height, darkest, lightest, made FROM uploads WHERE id = ?`, id).
		Scan(&u.JPEG, &u.Width, &u.Height, &u.Darkest, &u.Lightest, &made)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	u.Made = time.UnixMilli(made)
	return &u, err
}

// Uploads returns all pictures that were uploaded without what they show, the newest first.
func (s *Store) Uploads(ctx context.Context) ([]Upload, error) {
	rows, err := s.read.QueryContext(ctx, `SELECT id, width, height, darkest, lightest, made FROM uploads ORDER BY made DESC, id`)
	if err != nil {
		return nil, err
	}
	defer func() { _ = rows.Close() }()
	all := []Upload{}
	for rows.Next() {
		var u Upload
		var made int64
		if err := rows.Scan(&u.ID, &u.Width, &u.Height, &u.Darkest, &u.Lightest, &made); err != nil {
			return nil, err
		}
		u.Made = time.UnixMilli(made)
		all = append(all, u)
	}
	return all, rows.Err()
}

// DropUnusedUploads forgets the pictures that were uploaded before a time and stand in no revision of a dashboard.
func (s *Store) DropUnusedUploads(ctx context.Context, before time.Time) error {
	return s.now(ctx, func(tx *transaction) error {
		_, err := tx.Exec(`DELETE FROM uploads WHERE made < ? AND NOT EXISTS (
			SELECT 1 FROM revisions WHERE kind = 'dashboard' AND instr(document, uploads.id) > 0)`, before.UnixMilli())
		return err
	})
}
