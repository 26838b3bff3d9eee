package outside

import (
	"bytes"
	"os"
	"path/filepath"
	"strconv"
	"syscall"
)

// rounds is how often what a program left behind is looked for: what is ended may just have started another.
const rounds = 20

// endAll ends all processes that have a mark in their environment: those of a program, also where they made themselves a
// session of their own.
func endAll(mark string) {
	for range rounds {
		found := false
		for _, pid := range marked(mark) {
			found = syscall.Kill(pid, syscall.SIGKILL) == nil || found
		}
		if !found {
			return
		}
	}
}

func marked(mark string) (pids []int) {
	paths, err := filepath.Glob("/proc/[0-9]*/environ")
	if err != nil {
		return nil
	}
	for _, path := range paths {
		pid, err := strconv.Atoi(filepath.Base(filepath.Dir(path)))
		if err != nil || pid == os.Getpid() {
			continue
		}
		environment, err := os.ReadFile(path)
		if err == nil && bytes.Contains(append([]byte{0}, environment...), []byte("\x00"+mark+"\x00")) {
			pids = append(pids, pid)
		}
	}
	return pids
}
