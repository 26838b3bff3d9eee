package store

import (
	"context"
	"database/sql"
	"errors"
	"time"
)

// AddPanelPicture keeps a picture that a panel took, and of those that it took no more than so many, the newest.
func (s *Store) AddPanelPicture(ctx context.Context, panel string, made time.Time, jpeg []byte, most int) error {
	return s.now(ctx, func(tx *transaction) error {
		if _, err := tx.Exec(`INSERT OR REPLACE INTO panel_pictures (panel, made, jpeg) VALUES (?, ?, ?)`, panel, made.UnixMilli(), jpeg); err != nil {
			return err
		}
		_, err := tx.Exec(`DELETE FROM panel_pictures WHERE panel = ? AND made NOT IN (
			SELECT made FROM panel_pictures WHERE panel = ? ORDER BY made DESC LIMIT ?)`, panel, panel, most)
		return err
	})
}

// PanelPictures returns when a panel took the pictures that are kept, the newest first.
func (s *Store) PanelPictures(ctx context.Context, panel string) ([]time.Time, error) {
	rows, err := s.read.QueryContext(ctx, `SELECT made FROM panel_pictures WHERE panel = ? ORDER BY made DESC`, panel)
	if err != nil {
		return nil, err
	}
	defer func() { _ = rows.Close() }()
	all := []time.Time{}
	for rows.Next() {
		var made int64
		if err := rows.Scan(&made); err != nil {
			return nil, err
		}
		all = append(all, time.UnixMilli(made))
	}
	return all, rows.Err()
}

// PanelPicture returns the picture that a panel took at a time, nil where there is none.
func (s *Store) PanelPicture(ctx context.Context, panel string, made time.Time) (jpeg []byte, err error) {
	err = s.read.QueryRowContext(ctx, `SELECT jpeg FROM panel_pictures WHERE panel = ? AND made = ?`, panel, made.UnixMilli()).Scan(&jpeg)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	return jpeg, err
}

// DropPanelPictures forgets all pictures that a panel took.
func (s *Store) DropPanelPictures(ctx context.Context, panel string) error {
	return s.now(ctx, func(tx *transaction) error {
		_, err := tx.Exec(`DELETE FROM panel_pictures WHERE panel = ?`, panel)
		return err
	})
}
