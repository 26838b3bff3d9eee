package outside_test

import (
	"context"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amvek/connect/outside"
)

func TestAWebAddressAnswersOrSaysWhyNot(t *testing.T) {
	hang := make(chan struct{})
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		switch r.URL.Path {
		case "/temp":
			_, _ = w.Write([]byte(`{"main":{"temp":11.5,"list":["a","b"]}}`))
		case "/away":
			http.Redirect(w, r, "http://198.51.100.1/", http.StatusFound)
		case "/huge":
			line := []byte(strings.Repeat("x", 1<<16))
			for range 1 << 14 {
				if _, err := w.Write(line); err != nil {
					return
				}
			}
		case "/hang":
			select {
			case <-hang:
			case <-r.Context().Done():
			}
		case "/said":
			assert.Equal(t, "application/json", r.Header.Get("Content-Type"))
		default:
			http.NotFound(w, r)
		}
	}))
	defer server.Close()
	defer close(hang)
	for path, want := range map[string]string{"/away": "leads elsewhere", "/huge": "more than", "/none": "404", "/hang": "in time"} {
		ctx, cancel := context.WithTimeout(context.Background(), 300*time.Millisecond)
		if path == "/huge" {
			cancel()
			ctx, cancel = context.WithTimeout(context.Background(), time.Minute)
		}
		_, err := outside.Web(ctx, outside.Client(true), outside.Request{Address: server.URL + path})
		cancel()
		assert.ErrorContains(t, err, want, path)
	}
	answer, err := outside.Web(context.Background(), outside.Client(true), outside.Request{Address: server.URL + "/temp"})
	require.NoError(t, err)
	for pointer, want := range map[string]string{"/main/temp": "11.5", "/main/list/1": "b", "": answer} {
		part, err := outside.Pick(answer, pointer)
		require.NoError(t, err)
		assert.Equal(t, want, part)
	}
	for _, pointer := range []string{"/main/none", "/main/list/9", "/main/temp/deep"} {
		_, err := outside.Pick(answer, pointer)
		assert.ErrorContains(t, err, "no such part")
	}
	_, err = outside.Pick("<html>", "/a")
	assert.ErrorContains(t, err, "no JSON")
	_, err = outside.Web(context.Background(), outside.Client(true), outside.Request{Address: server.URL + "/said", Method: "POST", Body: `{"a":1}`})
	assert.NoError(t, err)
	_, err = outside.Web(context.Background(), outside.Client(true), outside.Request{Address: "http://127.0.0.1:1/"})
	assert.ErrorContains(t, err, "could not be reached")
	_, err = outside.Web(context.Background(), outside.Client(true), outside.Request{Address: "http://%zz"})
	assert.ErrorContains(t, err, "cannot be read")
}

func TestOnlyProgramsOfTheFolderAreRunAndWithinTheirLimits(t *testing.T) {
	folder := t.TempDir()
	program := func(name, text string, mode os.FileMode) {
		require.NoError(t, os.WriteFile(filepath.Join(folder, name), []byte("#!/bin/sh\n"+text+"\n"), mode))
	}
	program("greet", `echo "hello $1"`, 0o755)
	program("fail", "exit 3", 0o755)
	program("flood", "while :; do echo xxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxxx; done", 0o755)
	program("hang", "sleep 60 & wait", 0o755)
	program("note", "echo no", 0o644)
	require.NoError(t, os.Symlink("/bin/true", filepath.Join(folder, "link")))
	require.NoError(t, os.Mkdir(filepath.Join(folder, "sub"), 0o755))
	programs := outside.Programs{Folder: folder}
	assert.Equal(t, []string{"fail", "flood", "greet", "hang"}, programs.List())
	said, err := programs.Run(context.Background(), "greet", []string{"you; rm -rf /"})
	require.NoError(t, err)
	assert.Equal(t, "hello you; rm -rf /\n", said, "no shell comes between")
	for name, want := range map[string]string{"fail": "ended with 3", "flood": "more than", "note": "cannot be run", "link": "a link", "sub": "cannot be run", "gone": "no such program", "../greet": "only programs", "/bin/true": "only programs", "": "only programs", ".hidden": "only programs"} {
		_, err := programs.Run(context.Background(), name, nil)
		assert.ErrorContains(t, err, want, name)
	}
	ctx, cancel := context.WithTimeout(context.Background(), 200*time.Millisecond)
	defer cancel()
	began := time.Now()
	_, err = programs.Run(ctx, "hang", nil)
	assert.ErrorContains(t, err, "too long")
	assert.Less(t, time.Since(began), 30*time.Second, "it is not waited for")
	assert.Empty(t, outside.Programs{}.List())
}

// What a program leaves behind ends with it, also in a session of its own, and whether or not it ended in time.
func TestNothingThatAProgramStartsOutlivesIt(t *testing.T) {
	folder := t.TempDir()
	for name, text := range map[string]string{
		"leave": "setsid sleep 300 >/dev/null 2>&1 &\necho $! > left\nsetsid sh -c 'sleep 300 & sleep 300' &\necho done",
		"hang":  "setsid sleep 300 >/dev/null 2>&1 &\necho $! > left\nsleep 300",
	} {
		require.NoError(t, os.WriteFile(filepath.Join(folder, name), []byte("#!/bin/sh\n"+text+"\n"), 0o755))
		ctx, cancel := context.WithCancel(context.Background())
		go func() {
			for name == "hang" && ctx.Err() == nil {
				if pid, _ := os.ReadFile(filepath.Join(folder, "left")); len(pid) > 0 {
					cancel()
				}
			}
		}()
		said, err := outside.Programs{Folder: folder}.Run(ctx, name, nil)
		cancel()
		if name == "leave" {
			require.NoError(t, err)
			assert.Equal(t, "done\n", said)
		} else {
			require.Error(t, err)
		}
		pid, err := os.ReadFile(filepath.Join(folder, "left"))
		require.NoError(t, err)
		require.Eventually(t, func() bool {
			stat, err := os.ReadFile("/proc/" + strings.TrimSpace(string(pid)) + "/stat")
			return err != nil || strings.Contains(string(stat), ") Z ")
		}, 5*time.Second, time.Millisecond, name)
		require.NoError(t, os.Remove(filepath.Join(folder, "left")))
	}
}

func FuzzPick(f *testing.F) {
	f.Add(`{"a":[1,{"b":"c"}]}`, "/a/1/b")
	f.Add(`[]`, "/~1~0")
	f.Fuzz(func(_ *testing.T, answer, pointer string) { _, _ = outside.Pick(answer, pointer) })
}
