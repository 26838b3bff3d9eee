package store_test

import (
	"context"
	"database/sql"
	"log/slog"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/core/cause"
	"amvek/store"
)

var at = time.Date(2026, 11, 20, 22, 0, 0, 0, time.UTC)

func open(t *testing.T, folder string) *store.Store {
	t.Helper()
	s, err := store.Open(context.Background(), folder, slog.New(slog.DiscardHandler))
	require.NoError(t, err)
	return s
}

func opened(t *testing.T) *store.Store {
	s := open(t, t.TempDir())
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	return s
}

func TestDefinitionsKeepEveryRevision(t *testing.T) {
	ctx := context.Background()
	folder := t.TempDir()
	s := open(t, folder)
	for i, title := range []string{"a", "b"} {
		revisions, err := s.Write(ctx, at, store.Change{Kind: "scene", ID: "s", Document: []byte(`{"title":"` + title + `"}`)})
		require.NoError(t, err)
		assert.Equal(t, []int{i + 1}, revisions)
	}
	require.NoError(t, s.Close())

	s = open(t, folder)
	defer func() { _ = s.Close() }()
	d, err := s.Definition(ctx, "scene", "s")
	require.NoError(t, err)
	assert.JSONEq(t, `{"title":"b"}`, string(d.Document))
	_, err = s.Definition(ctx, "scene", "other")
	assert.ErrorIs(t, err, store.ErrAbsent)
}

func TestAChangeOfAnOldRevisionIsRefusedAndNothingOfItsBatchKept(t *testing.T) {
	ctx := context.Background()
	s := opened(t)
	one := store.Change{Kind: "rule", ID: "r", Document: []byte(`{}`)}
	_, err := s.Write(ctx, at, one)
	require.NoError(t, err)
	_, err = s.Write(ctx, at, one)
	require.NoError(t, err)
	one.Revision = 1
	_, err = s.Write(ctx, at, store.Change{Kind: "rule", ID: "new", Document: []byte(`{}`)}, one)
	assert.ErrorIs(t, err, store.ErrRevision)
	_, err = s.Definition(ctx, "rule", "new")
	assert.ErrorIs(t, err, store.ErrAbsent, "all or none")
}

func TestRemovedDefinitionsAreKeptButNotListed(t *testing.T) {
	ctx := context.Background()
	s := opened(t)
	_, err := s.Write(ctx, at, store.Change{Kind: "rule", ID: "r", Document: []byte(`{"title":"Gone"}`), Removed: true})
	require.NoError(t, err)
	list, err := s.Definitions(ctx)
	require.NoError(t, err)
	assert.Empty(t, list)
	titles, err := s.Titles(ctx)
	require.NoError(t, err)
	assert.Equal(t, "Gone", titles["r"], "the journal still speaks of it")
}

func TestJournalFiltersAndChains(t *testing.T) {
	ctx := context.Background()
	s := opened(t)
	for i, e := range []cause.Entry{
		{ID: 1, Kind: cause.Reported, Device: "eye"}, {ID: 2, Parent: 1, Kind: cause.Began, Rule: "r"},
		{ID: 3, Parent: 2, Kind: cause.Commanded, Device: "lamp"}, {ID: 4, Kind: cause.Reported, Device: "eye"},
		{ID: 5, Parent: 2, Kind: cause.Commanded, Device: "other"},
	} {
		e.At = at.Add(time.Duration(i) * time.Second)
		s.AddEntry(e)
	}
	require.NoError(t, s.Flush(ctx))
	ids := func(list []cause.Entry, err error) (ids []cause.ID) {
		require.NoError(t, err)
		for _, e := range list {
			ids = append(ids, e.ID)
		}
		return ids
	}
	assert.Equal(t, []cause.ID{5, 4, 3, 2, 1}, ids(s.Journal(ctx, store.JournalQuery{Limit: 10})))
	assert.Equal(t, []cause.ID{4, 1}, ids(s.Journal(ctx, store.JournalQuery{Device: "eye", Limit: 10})))
	assert.Equal(t, []cause.ID{1}, ids(s.Journal(ctx, store.JournalQuery{Device: "eye", Before: 4, Limit: 10})))
	assert.Equal(t, []cause.ID{2}, ids(s.Journal(ctx, store.JournalQuery{Kinds: []cause.Kind{cause.Began}, Limit: 10})))
	assert.Equal(t, []cause.ID{3, 2}, ids(s.Journal(ctx, store.JournalQuery{From: at.Add(time.Second), To: at.Add(3 * time.Second), Limit: 10})))
	assert.Equal(t, []cause.ID{1, 2, 3}, ids(s.Chain(ctx, 3)), "up to the beginning, not to what else followed from it")
	assert.Equal(t, []cause.ID{1, 2, 3, 5}, ids(s.Chain(ctx, 1)), "and down to all that followed")
	last, when, err := s.LastEntry(ctx)
	require.NoError(t, err)
	assert.Equal(t, cause.ID(5), last)
	assert.WithinDuration(t, at, when, time.Minute)
}

func TestSamplesBeginWithTheOneBefore(t *testing.T) {
	ctx := context.Background()
	s := opened(t)
	for i := range 5 {
		s.AddSample("eye", "light", store.Sample{At: at.Add(time.Duration(i) * time.Hour), Value: float64(i)})
	}
	require.NoError(t, s.Flush(ctx))
	list, err := s.Samples(ctx, "eye", "light", at.Add(150*time.Minute), at.Add(4*time.Hour))
	require.NoError(t, err)
	require.Len(t, list, 2)
	assert.Equal(t, 2.0, list[0].Value)
	list, err = s.Samples(ctx, "eye", "motion", at, at.Add(time.Hour))
	require.NoError(t, err)
	assert.Empty(t, list)
}

func TestSecretsAreNotReadableInTheFile(t *testing.T) {
	ctx := context.Background()
	folder := t.TempDir()
	s := open(t, folder)
	require.NoError(t, s.PutSecret(ctx, "connection/c", "brass-otter-42"))
	got, err := s.Secret(ctx, "connection/c")
	require.NoError(t, err)
	assert.Equal(t, "brass-otter-42", got)
	none, err := s.Secret(ctx, "connection/x")
	require.NoError(t, err)
	assert.Empty(t, none)
	require.NoError(t, s.Close())
	files, err := filepath.Glob(filepath.Join(folder, "*"))
	require.NoError(t, err)
	for _, f := range files {
		data, err := os.ReadFile(f)
		require.NoError(t, err)
		assert.NotContains(t, string(data), "brass-otter", f)
	}
	require.NoError(t, os.WriteFile(filepath.Join(folder, "key"), make([]byte, 32), 0o600))
	s = open(t, folder)
	defer func() { _ = s.Close() }()
	_, err = s.Secret(ctx, "connection/c")
	assert.ErrorContains(t, err, "cannot be opened with this folder's key file")
}

func TestOpenSaysWhatIsWrongWithTheFolder(t *testing.T) {
	ctx := context.Background()
	log := slog.New(slog.DiscardHandler)

	file := filepath.Join(t.TempDir(), "file")
	require.NoError(t, os.WriteFile(file, nil, 0o600))
	_, err := store.Open(ctx, filepath.Join(file, "data"), log)
	assert.ErrorContains(t, err, "cannot be made")

	folder := t.TempDir()
	s := open(t, folder)
	_, err = store.Open(ctx, folder, log)
	assert.ErrorIs(t, err, store.ErrInUse)
	require.NoError(t, s.Close())

	db, err := sql.Open("sqlite", filepath.Join(folder, "amvek.db"))
	require.NoError(t, err)
	_, err = db.Exec(`INSERT INTO goose_db_version (version_id, is_applied) VALUES (9999, 1)`)
	require.NoError(t, err)
	require.NoError(t, db.Close())
	_, err = store.Open(ctx, folder, log)
	assert.ErrorIs(t, err, store.ErrNewer)

	damaged := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(damaged, "amvek.db"), []byte("this is no database, but long enough to be taken for one"), 0o600))
	_, err = store.Open(ctx, damaged, log)
	assert.ErrorContains(t, err, "is damaged, or no database")
}
