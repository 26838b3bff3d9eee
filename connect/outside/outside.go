// Package outside does what rules ask for beyond the devices: it calls web addresses and runs programs of one folder.
// Each has a limit of time and size, so that what hangs or never ends costs nothing but its own answer. It decides
// nothing and knows no rule.
package outside

import (
	"context"
	"crypto/rand"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"syscall"
	"time"

	"amvek/core/pointer"
)

// MaximumAnswer is how many bytes of an answer are read; one that is longer is a failure.
const MaximumAnswer = 256 * 1024

// errTooLong is a failure of what says more than anybody can use.
var errTooLong = fmt.Errorf("it said more than %d kB", MaximumAnswer/1024)

// Request is a web address to call.
type Request struct {
	Address, Method, Body string
	// AtMost is how many bytes of the answer are read; MaximumAnswer where it is 0.
	AtMost int64
}

// Web calls a web address and returns what it answered. An answer that leads elsewhere is not followed, and one that
// is no success is a failure.
func Web(ctx context.Context, client *http.Client, r Request) (string, error) {
	method := r.Method
	if method == "" {
		method = http.MethodGet
	}
	request, err := http.NewRequestWithContext(ctx, method, r.Address, strings.NewReader(r.Body))
	if err != nil {
		return "", errors.New("the address cannot be read")
	}
	if r.Body != "" {
		request.Header.Set("Content-Type", "text/plain; charset=utf-8")
		if json.Valid([]byte(r.Body)) {
			request.Header.Set("Content-Type", "application/json")
		}
	}
	response, err := client.Do(request)
	if err != nil {
		if ctx.Err() != nil {
			return "", errors.New("it did not answer in time")
		}
		if errors.Is(err, errOwnMachine) {
			return "", errOwnMachine
		}
		return "", errors.New("it could not be reached")
	}
	defer func() { _ = response.Body.Close() }()
	most := r.AtMost
	if most == 0 {
		most = MaximumAnswer
	}
	answer, err := io.ReadAll(io.LimitReader(response.Body, most+1))
	switch {
	case ctx.Err() != nil:
		return "", errors.New("it did not answer in time")
	case err != nil:
		return "", errors.New("its answer broke off")
	case int64(len(answer)) > most:
		return "", fmt.Errorf("it said more than %d kB", most/1024)
	case response.StatusCode >= 300 && response.StatusCode < 400:
		return "", errors.New("it leads elsewhere, which is not followed")
	case response.StatusCode >= 400:
		return "", fmt.Errorf("it answered %s", response.Status)
	}
	return string(answer), nil
}

// Pick takes a part of an answer in JSON, by a JSON pointer (RFC 6901).
func Pick(answer, at string) (string, error) {
	if at == "" {
		return answer, nil
	}
	var document any
	decoder := json.NewDecoder(strings.NewReader(answer))
	decoder.UseNumber()
	if err := decoder.Decode(&document); err != nil {
		return "", errors.New("its answer is no JSON")
	}
	part, err := pointer.At(document, at)
	if err != nil {
		return "", fmt.Errorf("its answer: %w", err)
	}
	if text, is := part.(string); is {
		return text, nil
	}
	data, err := json.Marshal(part)
	return string(data), err
}

// Programs are those of a folder.
type Programs struct {
	// Folder is where they are; "" allows none.
	Folder string
}

// List returns the names of the programs that can be run, in order.
func (p Programs) List() []string {
	names := []string{}
	entries, err := os.ReadDir(p.Folder)
	if err != nil {
		return names
	}
	for _, e := range entries {
		if _, err := p.find(e.Name()); err == nil {
			names = append(names, e.Name())
		}
	}
	slices.Sort(names)
	return names
}

// find returns the path of a program, which is a file that can be run, in the folder itself: no link, and nothing
// that leads out of it.
func (p Programs) find(name string) (string, error) {
	if p.Folder == "" || name == "" || name != filepath.Base(name) || strings.HasPrefix(name, ".") {
		return "", errors.New("only programs of the programs folder can be run")
	}
	path := filepath.Join(p.Folder, name)
	info, err := os.Lstat(path)
	switch {
	case err != nil:
		return "", errors.New("there is no such program in the programs folder")
	case info.Mode()&os.ModeSymlink != 0:
		return "", errors.New("it is a link, which is not followed")
	case !info.Mode().IsRegular() || info.Mode().Perm()&0o111 == 0:
		return "", errors.New("it cannot be run: it is no file, or not marked as a program")
	}
	return path, nil
}

// Run runs a program and returns what it said. When it ends, or its time is over, all that it started is ended too.
func (p Programs) Run(ctx context.Context, name string, arguments []string) (string, error) {
	path, err := p.find(name)
	if err != nil {
		return "", err
	}
	ctx, stop := context.WithCancelCause(ctx)
	defer stop(nil)
	command := exec.CommandContext(ctx, path, arguments...)
	command.Dir = p.Folder
	mark := "AMVEK_RUN=" + rand.Text()
	defer endAll(mark)
	command.Env = []string{"PATH=" + os.Getenv("PATH"), "HOME=" + p.Folder, "LANG=C.UTF-8", mark}
	command.SysProcAttr = &syscall.SysProcAttr{Setpgid: true}
	command.Cancel = func() error { return syscall.Kill(-command.Process.Pid, syscall.SIGKILL) }
	command.WaitDelay = time.Second
	said := &bounded{full: func() { stop(errTooLong) }}
	command.Stdout = said
	err = command.Run()
	var exit *exec.ExitError
	switch {
	case errors.Is(context.Cause(ctx), errTooLong):
		return "", errTooLong
	case ctx.Err() != nil:
		return "", errors.New("it took too long and was ended")
	case errors.As(err, &exit):
		return "", fmt.Errorf("it ended with %d", exit.ExitCode())
	case err != nil && !errors.Is(err, exec.ErrWaitDelay): // it has ended, and left something behind that could still speak
		return "", errors.New("it could not be run: " + err.Error())
	}
	return string(said.data), nil
}

// bounded takes what a program says, until it is too much.
type bounded struct {
	data []byte
	full func()
}

func (b *bounded) Write(data []byte) (int, error) {
	if len(b.data)+len(data) > MaximumAnswer {
		b.full()
		return 0, errTooLong
	}
	b.data = append(b.data, data...)
	return len(data), nil
}
