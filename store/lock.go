package store

import (
	"fmt"
	"os"
	"path/filepath"
	"syscall"
)

// lockFolder keeps a second Amvek out of the folder for as long as the file stays open.
func lockFolder(folder string) (*os.File, error) {
	f, err := os.OpenFile(filepath.Join(folder, "lock"), os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return nil, fmt.Errorf("the data folder %s cannot be written: %w", folder, err)
	}
	if err := syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		_ = f.Close()
		return nil, ErrInUse
	}
	return f, nil
}

// Probe makes sure that no Amvek uses a folder, and returns the names of the files that Amvek
// keeps in it.
func Probe(folder string) ([]string, error) {
	names := []string{FileName, FileName + "-wal", FileName + "-shm", "key", "house.json"}
	if _, err := os.Stat(folder); err != nil {
		return nil, nil // nothing there yet
	}
	lock, err := lockFolder(folder)
	if err != nil {
		return nil, err
	}
	return names, lock.Close()
}
