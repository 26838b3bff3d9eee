package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"time"

	"modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"
)

// ErrGone says that the database was removed, or another put in its place, while it is in use.
var ErrGone = errors.New("the database was removed or replaced while the hub runs, so nothing can be kept; put it back, or start the hub anew")

// Finding is something that is wrong with what the data folder keeps, in words for the owner.
type Finding struct {
	// What names it, so that it is told once.
	What  string
	Title string
	// Text says what that means, and what can be done.
	Text string
}

const (
	findingKey    = "key"
	findingDamage = "damage"
	findingGone   = "gone"
)

// quickLimit is for how long a start waits for the quick check of the database; what it does not get through is checked
// beside the work.
const quickLimit = 2 * time.Second

// OnFinding lets f be called with what is found to be wrong, or well again, while the store is open. F returns at once. What
// was found when the store was opened is told at once.
func (s *Store) OnFinding(f func(found Finding, well bool)) {
	s.findings.Lock()
	s.found = f
	early := s.early
	s.early = nil
	s.findings.Unlock()
	for _, one := range early {
		f(one, false)
	}
}

// tell tells what is found; until somebody listens it is kept.
func (s *Store) tell(found Finding, well bool) {
	if well {
		s.log.Info("the data folder is well again", "what", found.What)
	} else {
		s.log.Error("something is wrong with the data folder", "what", found.Title)
	}
	s.findings.Lock()
	f := s.found
	if f == nil && !well {
		s.early = append(s.early, found)
	}
	s.findings.Unlock()
	if f != nil {
		f(found, well)
	}
}

// watchFile notices that the database's file is no longer the one that is open.
func (s *Store) watchFile(opened os.FileInfo) {
	path := filepath.Join(s.folder, FileName)
	ticker := time.NewTicker(watchEvery)
	defer ticker.Stop()
	for {
		select {
		case <-s.closing:
			return
		case <-ticker.C:
		}
		now, err := os.Stat(path)
		gone := err != nil || !os.SameFile(opened, now)
		if gone != s.gone.Load() {
			s.gone.Store(gone)
			s.tell(
				Finding{
					What:  findingGone,
					Title: "The database was removed or replaced while the hub runs.",
					Text:  "Nothing is kept of what happens now, and nothing can be saved. Put the file " + path + " back as it was, or stop the hub and start it anew with what is there.",
				},
				!gone,
			)
		}
	}
}

const watchEvery = time.Second

// quickCheck looks whether the database is damaged, for as long as a start may wait, and then wholly beside the work.
func (s *Store) quickCheck(ctx context.Context) {
	limited, cancel := context.WithTimeout(ctx, quickLimit)
	defer cancel()
	if s.check(limited, "quick_check") {
		return // it is damaged, and told
	}
	s.watchers.Go(func() {
		giveWay()
		ctx, cancel := context.WithCancel(context.Background())
		defer cancel()
		go func() {
			select {
			case <-s.closing:
				cancel()
			case <-ctx.Done():
			}
		}()
		s.check(ctx, "integrity_check")
	})
}

// check runs one of SQLite's checks and tells what it finds; it is true where it found something.
func (s *Store) check(ctx context.Context, pragma string) (damaged bool) {
	db, err := sql.Open("sqlite", s.address()+"?_pragma=query_only(1)&_pragma=busy_timeout(5000)")
	if err != nil {
		return false
	}
	defer func() { _ = db.Close() }()
	var said []string
	rows, err := db.QueryContext(ctx, "PRAGMA "+pragma+"(20)")
	if err == nil {
		for rows.Next() {
			var line string
			if err = rows.Scan(&line); err != nil {
				break
			}
			said = append(said, line)
		}
		err = errors.Join(err, rows.Err(), rows.Close())
	}
	switch {
	case ctx.Err() != nil, len(said) == 1 && said[0] == "ok":
		return false
	case err != nil && !damage(err):
		s.log.Warn("the database could not be checked", "error", err)
		return false
	}
	s.tell(s.damaged(ctx, db, said), false)
	return true
}

// damage reports whether an error says that the database is damaged.
func damage(err error) bool {
	var said *sqlite.Error
	return errors.As(err, &said) && (said.Code()&0xff == sqlite3.SQLITE_CORRUPT || said.Code()&0xff == sqlite3.SQLITE_NOTADB)
}

var treeNumber = regexp.MustCompile(`(?i)tree (\d+)`)

// tableWords are what the tables keep, in words for the owner.
var tableWords = map[string]string{
	"definitions": "what you made: devices, rules, scenes and the like", "revisions": "their earlier versions",
	"states":  "how the home stands, such as holds and waiting rules",
	"journal": "the journal", "series": "the history", "samples": "the history", "rollups": "the history",
	"traces": "what rules did lately", "drafts": "drafts", "settings": "settings of the hub",
	"secrets": "keys and passwords",
}

func (s *Store) damaged(ctx context.Context, db *sql.DB, said []string) Finding {
	var affected []string
	add := func(table string) {
		if words := tableWords[table]; words != "" && !slices.Contains(affected, words) {
			affected = append(affected, words)
		}
	}
	text := strings.Join(said, "\n")
	for _, match := range treeNumber.FindAllStringSubmatch(text, -1) {
		var table string
		if db.QueryRowContext(ctx, `SELECT tbl_name FROM sqlite_schema WHERE rootpage = ?`, match[1]).Scan(&table) == nil {
			add(table)
		}
	}
	for table := range tableWords {
		if strings.Contains(text, table) {
			add(table)
		}
	}
	slices.Sort(affected)
	of := "Which part is not known."
	if len(affected) > 0 {
		of = "Affected: " + strings.Join(affected, "; ") + "."
	}
	return Finding{
		What:  findingDamage,
		Title: "The database is damaged.",
		Text: fmt.Sprintf(
			"%s What can be read is used. Copy the data folder %s as it is, before anything else; then start with an earlier copy of it, or make anew what is missing.",
			of,
			s.folder,
		),
	}
}
