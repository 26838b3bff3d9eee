package store

import (
	"database/sql"
	"errors"
	"runtime"
	"slices"
)

// yieldEvery is after how many jobs others get their turn: each turn costs as much as some jobs.
const yieldEvery = 20

// transaction is what a job writes in. Its statements are compiled once for all jobs of the transaction.
type transaction struct {
	tx    *sql.Tx
	ready map[string]*sql.Stmt
	kept  kept
}

func (t *transaction) statement(query string) (*sql.Stmt, error) {
	if ready := t.ready[query]; ready != nil {
		return ready, nil
	}
	compiled, err := t.tx.Prepare(query)
	if err == nil {
		t.ready[query] = compiled
	}
	return compiled, err
}

// Exec runs a statement.
func (t *transaction) Exec(query string, args ...any) (sql.Result, error) {
	statement, err := t.statement(query)
	if err != nil {
		return nil, err
	}
	return statement.Exec(args...)
}

// QueryRow runs a query for one row.
func (t *transaction) QueryRow(query string, args ...any) *sql.Row {
	return t.tx.QueryRow(query, args...)
}

// attempt writes a batch in one transaction and returns what went wrong, with each job and with all of
// it. Without a way back the first job that fails ends it, with nothing written.
func (s *Store) attempt(batch []job, wayBack bool) (errs []error, err error) {
	errs = make([]error, len(batch))
	if err := s.synchronize(slices.ContainsFunc(batch, func(j job) bool { return j.answer != nil })); err != nil {
		return errs, err
	}
	tx, err := s.db.Begin()
	if err != nil {
		return errs, err
	}
	defer func() { _ = tx.Rollback() }()
	t := &transaction{tx: tx, ready: map[string]*sql.Stmt{}}
	for i, j := range batch {
		if i%yieldEvery == 0 {
			runtime.Gosched() // nobody waits for a record that is kept "soon": whoever moves a lamp goes first
		}
		if wayBack {
			if _, err := t.Exec("SAVEPOINT job"); err != nil {
				return errs, err
			}
		}
		if errs[i] = s.run(t, j, wayBack); errs[i] != nil {
			if !wayBack {
				return errs, nil
			}
			if err := plain(errs[i]); errors.Is(err, ErrFull) {
				return errs, err // the database has given up the whole transaction
			}
			if _, err := t.Exec("ROLLBACK TO job"); err != nil {
				return errs, err
			}
		}
		if wayBack {
			if _, err := t.Exec("RELEASE job"); err != nil {
				return errs, err
			}
		}
	}
	if err := t.keep(); err != nil {
		if wayBack {
			return errs, err
		}
		errs[len(errs)-1] = err
		return errs, nil
	}
	return errs, tx.Commit()
}

// run does one job. Readings wait for others to be inserted with, until something else is to be written, which may
// read them.
func (s *Store) run(t *transaction, j job, wayBack bool) error {
	if j.do == nil {
		if err := s.rollUp(t, j.reading); err != nil || !wayBack {
			return err
		}
		return t.keep()
	}
	if err := t.keep(); err != nil {
		return err
	}
	return j.do(t)
}
