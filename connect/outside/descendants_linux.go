package outside

import (
	"bytes"
	"os"
	"path/filepath"
	"strconv"
	"syscall"
	"time"
)

const (
	// rounds is how often what a program left behind is looked for at most, and pause how long is waited in between: what is
	// ended may just have started another, and a process that is just becoming another program shows no environment meanwhile.
	rounds = 100
	pause  = 2 * time.Millisecond
)

// endAll ends all processes that have a mark in their environment: those of a program, also where they made themselves a
// session of their own.
func endAll(mark string) {
	for range rounds {
		pids, unsure := marked(mark)
		for _, pid := range pids {
			_ = syscall.Kill(pid, syscall.SIGKILL)
		}
		if len(pids) == 0 && !unsure {
			return
		}
		time.Sleep(pause)
	}
}

// marked returns the processes that have a mark, and whether there are some of which it cannot be told.
func marked(mark string) (pids []int, unsure bool) {
	paths, err := filepath.Glob("/proc/[0-9]*/environ")
	if err != nil {
		return nil, false
	}
	for _, path := range paths {
		pid, err := strconv.Atoi(filepath.Base(filepath.Dir(path)))
		if err != nil || pid == os.Getpid() {
			continue
		}
		environment, err := os.ReadFile(path)
		switch {
		case err != nil:
		case len(environment) == 0:
			// What is at its end, or belongs to the kernel, runs no program.
			_, err := os.Readlink(filepath.Join(filepath.Dir(path), "exe"))
			unsure = unsure || err == nil
		case bytes.Contains(append([]byte{0}, environment...), []byte("\x00"+mark+"\x00")):
			pids = append(pids, pid)
		}
	}
	return pids, unsure
}
