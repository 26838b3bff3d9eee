package store

import (
	"os"
	"runtime"
)

// MakeRoom lets one more thread run than there are cores, for the program to call when it starts: the
// writer's, which gives way to all others. With as many threads as cores, a commit would keep a core
// from whoever must act at once. GOMAXPROCS in the environment counts instead where it is set.
func MakeRoom() {
	if os.Getenv("GOMAXPROCS") == "" {
		runtime.GOMAXPROCS(runtime.GOMAXPROCS(0) + 1)
	}
}
