package store

import (
	"database/sql"
	"runtime"
	"slices"
)

// transaction is what a job writes in. Its statements are compiled once for all jobs of the transaction.
type transaction struct {
	tx    *sql.Tx
	ready map[string]*sql.Stmt
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
		// Nobody waits for a record that is kept "soon": whoever moves a lamp goes first.
		runtime.Gosched()
		if wayBack {
			if _, err := t.Exec("SAVEPOINT job"); err != nil {
				return errs, err
			}
		}
		if errs[i] = j.do(t); errs[i] != nil {
			if !wayBack {
				return errs, nil
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
	return errs, tx.Commit()
}
