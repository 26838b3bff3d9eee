// Package store keeps the home in one SQLite file: definitions with all their
// revisions, the state to continue from after a start, the journal of causes, and
// the history of readings. One goroutine writes; what is many and small is written in
// batches, definitions are acknowledged only after their commit. It decides nothing.
package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"net/url"
	"os"
	"path/filepath"
	"slices"
	"sync"
	"sync/atomic"
	"time"

	"github.com/pressly/goose/v3"
	_ "modernc.org/sqlite" // registers the driver "sqlite"
)

//go:embed migrations/*.sql
var migrations embed.FS

// ErrNewer says that the data was written by a newer version of Amvek.
var ErrNewer = errors.New("the data folder was written by a newer version of Amvek; start that version, or choose another folder with --data")

// ErrInUse says that another Amvek has the data folder open.
var ErrInUse = errors.New("another Amvek is already using this data folder; stop it, or choose another folder with --data")

// Store is an open data folder. Its methods may be called from any goroutine.
type Store struct {
	folder  string
	db      *sql.DB // one connection, for the writer
	read    *sql.DB
	lock    *os.File
	log     *slog.Logger
	jobs    chan job
	done    chan struct{}
	keys    *sealer
	rolling map[seriesKey]*rolling // the series being written; the writer's
	newest  atomic.Int64           // when the last reading was made, in milliseconds since 1970
	full    bool                   // whether commits now wait for the disk; the writer's
	// gone says that the database's file is no longer the one that is open.
	gone     atomic.Bool
	closing  chan struct{}
	watchers sync.WaitGroup
	// findings guards found, who is told of what is wrong, and early, what was found before anybody listened.
	findings sync.Mutex
	found    func(found Finding, well bool)
	early    []Finding
	// trouble is why records cannot be kept at present, and troubled who is told of it.
	trouble  atomic.Pointer[Trouble]
	troubled atomic.Pointer[func()]
}

const (
	batchSize  = 500
	batchDelay = 100 * time.Millisecond
	queueSize  = 4096
)

// FileName is the name of the database in the data folder.
const FileName = "amvek.db"

// Open opens or makes the data folder and brings its database up to date.
func Open(ctx context.Context, folder string, log *slog.Logger) (*Store, error) {
	if err := os.MkdirAll(folder, 0o700); err != nil {
		return nil, fmt.Errorf("the data folder %s cannot be made: %w", folder, err)
	}
	lock, err := lockFolder(folder)
	if err != nil {
		return nil, err
	}
	s := &Store{
		folder:  folder,
		lock:    lock,
		log:     log,
		jobs:    make(chan job, queueSize),
		done:    make(chan struct{}),
		closing: make(chan struct{}),
		rolling: map[seriesKey]*rolling{},
	}
	if err := s.open(ctx); err != nil {
		_ = s.closeFiles()
		return nil, err
	}
	opened, err := os.Stat(filepath.Join(folder, FileName))
	if err != nil {
		_ = s.closeFiles()
		return nil, err
	}
	go s.write()
	s.watchers.Go(func() { s.watchFile(opened) })
	s.quickCheck(ctx)
	return s, nil
}

func (s *Store) open(ctx context.Context) error {
	var err error
	path := s.address()
	const options = "?_pragma=journal_mode(WAL)&_pragma=synchronous(NORMAL)&_pragma=busy_timeout(5000)&_pragma=cache_size(-8000)"
	// A page that many batches change is taken over into the database once for several of them: at 16 MB and not at 4.
	const writing = "&_pragma=wal_autocheckpoint(4000)"
	if s.db, err = sql.Open("sqlite", path+options+writing); err != nil {
		return fmt.Errorf("opening %s: %w", path, err)
	}
	s.db.SetMaxOpenConns(1)
	if err = s.migrate(ctx); err != nil {
		return err
	}
	if s.read, err = sql.Open("sqlite", path+options+"&_pragma=query_only(1)"); err != nil {
		return fmt.Errorf("opening %s: %w", path, err)
	}
	s.read.SetMaxOpenConns(4)
	return s.openKey(ctx)
}

// address is that of the database, for any path of a folder: in the path of an address ?, # and % would mean something.
func (s *Store) address() string {
	path, err := filepath.Abs(filepath.Join(s.folder, FileName))
	if err != nil {
		path = filepath.Join(s.folder, FileName)
	}
	return (&url.URL{Scheme: "file", Path: path}).String()
}

func (s *Store) migrate(ctx context.Context) error {
	folder, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	provider, err := goose.NewProvider(goose.DialectSQLite3, s.db, folder)
	if err != nil {
		return fmt.Errorf("reading the migrations: %w", err)
	}
	version, err := provider.GetDBVersion(ctx)
	if err != nil && damage(err) {
		return fmt.Errorf(
			"the file %s is damaged, or no database: put an earlier copy of it in its place, or choose another folder with --data (%w)",
			filepath.Join(s.folder, FileName),
			err,
		)
	}
	if err != nil {
		return fmt.Errorf("the database in %s cannot be read: %w", s.folder, err)
	}
	sources := provider.ListSources()
	if version > sources[len(sources)-1].Version {
		return ErrNewer
	}
	if _, err := provider.Up(ctx); err != nil {
		return fmt.Errorf("bringing the database in %s up to date: %w", s.folder, err)
	}
	return nil
}

// Close writes what is waiting and closes the files.
func (s *Store) Close() error {
	close(s.closing)
	s.watchers.Wait()
	close(s.jobs)
	<-s.done
	return s.closeFiles()
}

func (s *Store) closeFiles() error {
	var errs []error
	for _, db := range []*sql.DB{s.read, s.db} {
		if db != nil {
			errs = append(errs, db.Close())
		}
	}
	return errors.Join(append(errs, s.lock.Close())...)
}

// job is one write: of a reading where do is nil. A job with an answer is committed before the answer comes.
type job struct {
	do      func(tx *transaction) error
	answer  chan error
	reading reading
}

// later queues a write that may be lost when the machine loses power within the next moment.
func (s *Store) later(do func(tx *transaction) error) { s.jobs <- job{do: do} }

// now runs a write and returns after its commit.
func (s *Store) now(ctx context.Context, do func(tx *transaction) error) error {
	if s.gone.Load() {
		return ErrGone
	}
	j := job{do: do, answer: make(chan error, 1)}
	select {
	case s.jobs <- j:
	case <-ctx.Done():
		return ctx.Err()
	}
	select {
	case err := <-j.answer:
		return err
	case <-ctx.Done():
		return ctx.Err()
	}
}

// Flush returns when all that was queued before is committed.
func (s *Store) Flush(ctx context.Context) error {
	return s.now(ctx, func(*transaction) error { return nil })
}

// Hurry has what was queued before committed at once and for good, without waiting for it.
func (s *Store) Hurry() {
	s.jobs <- job{do: func(*transaction) error { return nil }, answer: make(chan error, 1)}
}

// write commits what is queued, in order. What nobody waits for is committed on a thread that gives way;
// as soon as somebody waits, or would because the queue fills, the writing is as important as any other work.
func (s *Store) write() {
	defer close(s.done)
	batches, committed := make(chan []job), make(chan struct{})
	defer close(batches)
	go func() {
		giveWay()
		for batch := range batches {
			s.commit(batch)
			committed <- struct{}{}
		}
	}()
	for first := range s.jobs {
		batch, waitedFor := s.gather(first)
		if waitedFor || len(batch) > queueSize/4 {
			s.commit(batch)
			continue
		}
		batches <- batch
		<-committed
	}
}

// gather returns the next batch, which starts with a job, and whether anybody waits for it.
func (s *Store) gather(first job) (batch []job, waitedFor bool) {
	batch, waitedFor = []job{first}, first.answer != nil
	timeout := time.After(batchDelay)
	for len(batch) < batchSize {
		if waitedFor && len(s.jobs) == 0 {
			break
		}
		select {
		case j, open := <-s.jobs:
			if !open {
				return batch, waitedFor
			}
			batch = append(batch, j)
			waitedFor = waitedFor || j.answer != nil
		case <-timeout:
			return batch, waitedFor
		}
	}
	// The more are written at once, the fewer pages are written for each: what has piled up goes along.
	for len(batch) < queueSize {
		select {
		case j, open := <-s.jobs:
			if !open {
				return batch, waitedFor
			}
			batch = append(batch, j)
			waitedFor = waitedFor || j.answer != nil
		default:
			return batch, waitedFor
		}
	}
	return batch, waitedFor
}

// synchronize makes the next commit wait for the disk or not: what is acknowledged must outlive
// a power cut, what is merely many may lose its last moment (SQLite: PRAGMA synchronous).
func (s *Store) synchronize(full bool) error {
	if s.full == full {
		return nil
	}
	mode := "NORMAL"
	if full {
		mode = "FULL"
	}
	if _, err := s.db.Exec("PRAGMA synchronous = " + mode); err != nil {
		return err
	}
	s.full = full
	return nil
}

// commit writes a batch in one transaction. A job that fails spoils only itself: the batch is written
// again, this time with a way back before each job, which costs more.
func (s *Store) commit(batch []job) {
	failed := func(err error) bool { return err != nil }
	errs, err := s.attempt(batch, false)
	if slices.ContainsFunc(errs, failed) {
		clear(s.rolling) // they have taken what was not written; they are taken up from what was
		errs, err = s.attempt(batch, true)
	}
	if err != nil || slices.ContainsFunc(errs, failed) {
		clear(s.rolling)
	}
	lost := 0
	var cause error
	results := make([]error, len(batch))
	for i, j := range batch {
		results[i] = plain(errors.Join(err, errs[i]))
		if j.answer == nil && results[i] != nil {
			lost, cause = lost+1, results[i]
		}
		if errors.Is(results[i], ErrFull) {
			cause = results[i]
		}
	}
	if flushed := !slices.ContainsFunc(batch, job.records); cause != nil || !flushed {
		s.judge(lost, cause)
	}
	// Who waits goes on when it is known how records fare.
	for i, j := range batch {
		if j.answer != nil {
			j.answer <- results[i]
		}
	}
}

// records reports whether the job keeps something nobody waits for.
func (j job) records() bool { return j.answer == nil }
