package store

import (
	"context"
	"time"
)

// Session is a browser that was let in.
type Session struct {
	// Key is the SHA-256 of the secret that the browser shows.
	Key []byte
	// Person is the id of who was let in, "" where that was whoever is at the hub's own machine.
	Person string
	// LooksAs is the id of the person through whose eyes an owner looks for now; "" is their own.
	LooksAs string
	// Device says what the browser runs on, and Address where it was last used from.
	Device, Address string
	Began, Used     time.Time
}

// Sessions returns all sessions, those that began first first.
func (s *Store) Sessions(ctx context.Context) ([]Session, error) {
	rows, err := s.read.QueryContext(ctx, `SELECT key, person, looksAs, device, address, began, used FROM sessions ORDER BY began, key`)
	if err != nil {
		return nil, err
	}
	defer func() { _ = rows.Close() }()
	all := []Session{}
	for rows.Next() {
		var one Session
		var began, used int64
		if err := rows.Scan(&one.Key, &one.Person, &one.LooksAs, &one.Device, &one.Address, &began, &used); err != nil {
			return nil, err
		}
		one.Began, one.Used = time.UnixMilli(began), time.UnixMilli(used)
		all = append(all, one)
	}
	return all, rows.Err()
}

// PutSession keeps a session, in the place of the one of the same key.
func (s *Store) PutSession(ctx context.Context, one Session) error {
	return s.now(ctx, func(tx *transaction) error {
		_, err := tx.Exec(`INSERT OR REPLACE INTO sessions (key, person, looksAs, device, address, began, used) VALUES (?, ?, ?, ?, ?, ?, ?)`,
			one.Key, one.Person, one.LooksAs, one.Device, one.Address, one.Began.UnixMilli(), one.Used.UnixMilli())
		return err
	})
}

// DropSessions forgets sessions by their keys.
func (s *Store) DropSessions(ctx context.Context, keys [][]byte) error {
	return s.now(ctx, func(tx *transaction) error {
		for _, key := range keys {
			if _, err := tx.Exec(`DELETE FROM sessions WHERE key = ?`, key); err != nil {
				return err
			}
		}
		return nil
	})
}
