package store

import (
	"errors"
	"time"

	"modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"
)

// ErrFull says that the disk, or what the database may take of it, is full.
var ErrFull = errors.New("the disk is full; free some room on the hub's machine")

// Trouble is that records cannot be kept at present.
type Trouble struct {
	// Reason says why, in words for the owner.
	Reason string
	Since  time.Time
	// Lost is how many records could not be kept since.
	Lost int
}

// Trouble returns why records cannot be kept at present, nil while all are.
func (s *Store) Trouble() *Trouble { return s.trouble.Load() }

// OnTrouble lets f be called when records can no longer be kept, and when they are kept again. F returns at once.
func (s *Store) OnTrouble(f func()) { s.troubled.Store(&f) }

// judge takes what became of a batch: whether records are lost is said once, not for each.
func (s *Store) judge(lost int, cause error) {
	before := s.trouble.Load()
	switch {
	case cause == nil && before == nil:
		return
	case cause == nil:
		s.log.Info("records are kept again", "lost", before.Lost)
		s.trouble.Store(nil)
	case before == nil:
		s.log.Error("records cannot be kept", "error", cause)
		s.trouble.Store(&Trouble{Reason: cause.Error(), Since: time.Now(), Lost: lost})
	default:
		now := *before
		now.Lost += lost
		s.trouble.Store(&now)
		return
	}
	if f := s.troubled.Load(); f != nil {
		(*f)()
	}
}

// plain says what is meant where the database says it in its own words.
func plain(err error) error {
	var said *sqlite.Error
	if errors.As(err, &said) && said.Code()&0xff == sqlite3.SQLITE_FULL {
		return ErrFull
	}
	return err
}
