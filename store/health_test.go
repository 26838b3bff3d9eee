package store_test

import (
	"context"
	"log/slog"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/store"
)

// found listens to what is wrong with a store.
func found(s *store.Store) <-chan string {
	told := make(chan string, 20)
	s.OnFinding(func(f store.Finding, well bool) {
		if well {
			told <- "well: " + f.What
		} else {
			told <- f.Title + " " + f.Text
		}
	})
	return told
}

func heard(t *testing.T, told <-chan string) string {
	t.Helper()
	select {
	case words := <-told:
		return words
	case <-time.After(20 * time.Second):
		require.Fail(t, "nothing was told")
		return ""
	}
}

func TestAnyPathOfAFolderWillDo(t *testing.T) {
	for _, name := range []string{"a?b", "a#b", "a%41b", "a b", "ä+b", "a&mode=memory"} {
		folder := filepath.Join(t.TempDir(), name)
		s := open(t, folder)
		require.NoError(t, s.PutSetting(context.Background(), "x", "kept"))
		require.NoError(t, s.Close())
		_, err := os.Stat(filepath.Join(folder, store.FileName))
		require.NoError(t, err, name)
		s = open(t, folder)
		kept, err := s.Setting(context.Background(), "x")
		require.NoError(t, err)
		assert.Equal(t, "kept", kept, name)
		require.NoError(t, s.Close())
	}
}

func TestAKeyFileThatIsNotTheRightOneIsTold(t *testing.T) {
	ctx := context.Background()
	folder := t.TempDir()
	key := filepath.Join(folder, "key")
	s := open(t, folder)
	require.NoError(t, s.PutSecret(ctx, "door", "1234"))
	require.NoError(t, s.Close())
	right, err := os.ReadFile(key)
	require.NoError(t, err)
	for name, spoil := range map[string]func(){
		"missing": func() { require.NoError(t, os.Remove(key)) },
		"short":   func() { require.NoError(t, os.WriteFile(key, right[:7], 0o600)) },
		"another": func() { require.NoError(t, os.WriteFile(key, make([]byte, 32), 0o600)) },
	} {
		spoil()
		s := open(t, folder)
		words := heard(t, found(s))
		assert.Contains(t, words, "The key file of the data folder is missing, damaged or another one.", name)
		assert.Contains(t, words, "1 keys and passwords cannot be read", name)
		_, err := s.Secret(ctx, "door")
		assert.Error(t, err, name)
		require.NoError(t, s.Close())

		require.NoError(t, os.WriteFile(key, right, 0o600))
		s = open(t, folder)
		secret, err := s.Secret(ctx, "door")
		require.NoError(t, err, "put back, it is the right one again")
		assert.Equal(t, "1234", secret)
		require.NoError(t, s.Close())
	}
}

func TestADatabaseThatIsTakenAwayIsNoticed(t *testing.T) {
	ctx := context.Background()
	folder := t.TempDir()
	s := open(t, folder)
	defer func() { require.NoError(t, s.Close()) }()
	told := found(s)
	path := filepath.Join(folder, store.FileName)
	require.NoError(t, os.Rename(path, path+".away"))
	assert.Contains(t, heard(t, told), "The database was removed or replaced")
	assert.ErrorIs(t, s.PutSetting(ctx, "x", "y"), store.ErrGone, "nothing is acknowledged that is kept nowhere")
	require.NoError(t, os.WriteFile(path, []byte("another"), 0o600))
	assert.ErrorIs(t, s.PutSetting(ctx, "x", "y"), store.ErrGone)
	require.NoError(t, os.Rename(path+".away", path))
	assert.Equal(t, "well: gone", heard(t, told))
	require.NoError(t, s.PutSetting(ctx, "x", "y"))
}

// Whatever page of the database is damaged, it is told, and what the owner made is there from its newest revisions.
func TestDamagedPagesAreTold(t *testing.T) {
	ctx := context.Background()
	folder := t.TempDir()
	s := open(t, folder)
	for i := range 300 {
		_, err := s.Write(
			ctx,
			time.Now(),
			store.Change{
				Kind:     "room",
				ID:       "room-" + string(rune('a'+i%26)) + string(rune('a'+i/26)),
				Document: []byte(`{"title":"A room with a rather long name, so that there are many pages of them"}`),
			},
		)
		require.NoError(t, err)
	}
	require.NoError(t, s.Close())
	path := filepath.Join(folder, store.FileName)
	whole, err := os.ReadFile(path)
	require.NoError(t, err)
	told := 0
	const page = 4096
	for at := page; at+page <= len(whole); at += page {
		spoiled := append([]byte(nil), whole...)
		for i := at; i < at+page; i += 7 {
			spoiled[i] ^= 0x5a
		}
		require.NoError(t, os.WriteFile(path, spoiled, 0o600))
		s, err := store.Open(ctx, folder, slog.New(slog.DiscardHandler))
		if err != nil {
			assert.ErrorContains(t, err, folder, "page %d", at/page)
			continue
		}
		early := found(s)
		all, err := s.Definitions(ctx)
		if err == nil && len(all) == 300 {
			told++
		}
		select {
		case words := <-early:
			assert.Contains(t, words, "The database is damaged.")
		default:
		}
		require.NoError(t, s.Close())
	}
	assert.Greater(t, told, 5, "most damages leave what the owner made")
}
